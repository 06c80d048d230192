import { ARRANGED, DEFAULT_ARRANGE } from '../model/facets.js'
import { own, toPointer } from '../model/json.js'
import type { SiteData, TemplateData } from '../model/schema.js'
import type { ArrangeEntry } from '../model/site-data.js'
import { isOn } from './extensions.js'
import { readSettings, settingsOver, type Settings } from './settings.js'

/** A template with all it takes from its base. */
export interface Template {
  readonly id: string
  readonly data: TemplateData
  /** The template underneath, where it is there. */
  readonly base: Template | undefined
  readonly settings: Settings
  /** Not disabled, nor of an extension that is off. */
  readonly isOn: boolean
  readonly arrange: readonly ArrangeEntry[]
  /** Presences that `arrange` shuts: of what it does not list. */
  readonly shut: ReadonlySet<string>
  /** Where `arrange` was set; `undefined` when it is the default. */
  readonly arrangePointer: string | undefined
  readonly for: readonly string[] | undefined
  readonly builder: string | undefined
  readonly ground: { readonly color?: string | undefined; readonly ink?: string | undefined }
}

/** Every template, base taken in. A base that is not there counts as not set. Those that are as `before` stay the same objects. */
export function readTemplates(site: SiteData, before?: ReadonlyMap<string, Template>): ReadonlyMap<string, Template> {
  const done = new Map<string, Template>()
  const read = (id: string): Template | undefined => {
    const known = done.get(id)
    if (known) return known
    const data = own(site.templates, id)
    if (!data) return undefined
    const base =
      data.base === undefined || !isOn(site, own(site.templates, data.base)?.from) ? undefined : read(data.base)
    const isEnabled = data.enabled !== false && isOn(site, data.from)
    const old = before?.get(id)
    if (old && old.data === data && old.base === base && old.isOn === isEnabled) {
      done.set(id, old)
      return old
    }
    const at = toPointer(['templates', id])
    const settings = readSettings(data.layout, `${at}/layout`, id)
    const arrange: readonly ArrangeEntry[] = data.arrange ?? base?.arrange ?? DEFAULT_ARRANGE
    const template: Template = {
      id,
      data,
      base,
      isOn: isEnabled,
      settings: base ? settingsOver(base.settings, settings) : settings,
      arrange,
      shut: new Set(ARRANGED.filter((facet) => !arrange.includes(facet)).map((facet) => `${facet}.presence`)),
      arrangePointer: data.arrange ? `${at}/arrange` : base?.arrangePointer,
      for: data.for ?? base?.for,
      builder: data.builder ?? base?.builder,
      ground: { ...base?.ground, ...data.ground },
    }
    done.set(id, template)
    return template
  }
  for (const id of Object.keys(site.templates ?? {})) read(id)
  return done
}

/** Why a template cannot be used for a kind; `undefined` when it can. */
export function unusable(
  site: SiteData,
  templates: ReadonlyMap<string, Template>,
  id: string,
  kind: string,
): string | undefined {
  const template = templates.get(id)
  if (!template) return `there is no template "${id}"`
  if (template.data.enabled === false) return `the template "${id}" is disabled`
  if (!isOn(site, template.data.from))
    return `the template "${id}" comes from the extension "${template.data.from}", which is off`
  if (template.for && !template.for.includes(kind)) return `the template "${id}" is not for kind ${kind}`
  return undefined
}
