import { everyReference, type Named, type Reference } from '../inspect/references.js'
import { isObject, own, toPointer, type Json, type JsonObject } from '../model/json.js'
import { withoutNulls } from '../model/merge.js'
import type { SiteData } from '../model/schema.js'
import { expandSite } from '../model/shorthand.js'
import type { Source } from '../model/source.js'

/** A section in which things are defined by their ids. */
export type Section =
  | 'pages'
  | 'templates'
  | 'surrounds'
  | 'menus'
  | 'assets'
  | 'kinds'
  | 'builders'
  | 'extensions'
  | 'viewports'

/** What the things of each section are called. */
export const THING: Readonly<Record<Section, string>> = {
  ...{ pages: 'page', templates: 'template', surrounds: 'surround', menus: 'menu', assets: 'picture' },
  ...{ kinds: 'kind', builders: 'builder', extensions: 'extension', viewports: 'viewport' },
}

export const isSection = (key: string | undefined): key is Section => key !== undefined && Object.hasOwn(THING, key)

const DEFINED_IN: Readonly<Record<Named, Section | undefined>> = {
  ...({ page: 'pages', template: 'templates', kind: 'kinds', menu: 'menus', asset: 'assets' } as const),
  ...({ surround: 'surrounds', header: 'surrounds', footer: 'surrounds', sidebar: 'surrounds' } as const),
  ...({ builder: 'builders', extension: 'extensions', tag: undefined } as const),
}

/** Where what a name means is defined; a tag is defined nowhere. */
export const sectionOf = (named: Named): Section | undefined => DEFINED_IN[named]

const EMPTY = { wembra: 1, site: { name: '' }, theme: {}, pages: {} } as const
const known = new WeakMap<Source, readonly Reference[]>()

/** Every name in a document; a tag leads nowhere, and is a name on each page that has it. */
function namesIn(data: SiteData): readonly Reference[] {
  const tags = Object.entries(data.pages as unknown as JsonObject).flatMap(([id, page]) => {
    const all = isObject(page) ? page['tags'] : undefined
    return (Array.isArray(all) ? all : []).flatMap((name: Json, n): Reference[] =>
      typeof name === 'string' ? [{ to: 'tag', name, pointer: toPointer(['pages', id, 'tags', n]) }] : [],
    )
  })
  return [...everyReference(data), ...tags]
}

/** Every name in one file, with its pointer in that file; what files over it replace is included. */
export function referencesIn(source: Source, viewports: readonly string[]): readonly Reference[] {
  let found = known.get(source)
  if (!found) {
    const value = isObject(source.value) ? (withoutNulls(source.value) as JsonObject) : {}
    const data = { ...EMPTY, ...expandSite(value, viewports) } as unknown as SiteData
    known.set(source, (found = namesIn(data)))
  }
  return found
}

/** The files that say something of a thing under its id. */
export const definitionsOf = (sources: readonly Source[], section: Section, id: string): readonly Source[] =>
  sources.filter(({ value }) => {
    const things = isObject(value) ? value[section] : undefined
    return isObject(things) && own(things, id) !== undefined
  })

/** What a name at a path of a site file means, by what names are looked for there; `undefined` where none is. */
export function meaningAt(path: readonly string[]): Named | undefined {
  const MARK = 'wembra0here'
  const expanded = expandSite(only(path, MARK) as JsonObject, [])
  const data = { ...EMPTY, ...expanded } as unknown as SiteData
  return namesIn(data).find(({ name }) => name === MARK)?.to
}

/** A document in which there is nothing but a value at a path. */
function only([step, ...rest]: readonly string[], value: Json): Json {
  if (step === undefined) return value
  const inner = only(rest, value)
  return /^\d+$/.test(step) ? [inner] : { [step]: inner }
}

/** The pointer of a thing in a file that defines it. */
export const definitionPointer = (section: Section, id: string): string => toPointer([section, id])
