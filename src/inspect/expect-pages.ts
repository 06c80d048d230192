import { UnknownNameError } from '../model/unknown-name.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'

/** @throws {UnknownNameError} For the first id that is no page of the site. */
export function expectPages(resolved: ResolvedSite, ids: readonly string[] | undefined): void {
  for (const id of ids ?? [])
    if (!resolved.site.pageData(id)) throw new UnknownNameError('page', id, resolved.site.pageIds)
}
