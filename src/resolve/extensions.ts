import { own } from '../model/json.js'
import type { SiteData } from '../model/schema.js'

/** Whether a thing is there: it comes from no extension, or from one that is listed and switched on. */
export const isOn = (site: Omit<SiteData, 'pages'>, from: string | undefined): boolean =>
  from === undefined || own(site.extensions, from)?.enabled === true

/** The surround of a name; `undefined` when it is not there or its extension is off. */
export function surroundOf(site: Omit<SiteData, 'pages'>, id: string | null | undefined) {
  const surround = id == null ? undefined : own(site.surrounds, id)
  return surround && isOn(site, surround.from) ? surround : undefined
}
