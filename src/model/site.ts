import type { Files } from './files.js'
import { distinctEntries } from './entries.js'
import { fromPointer, toPointer, type Json } from './json.js'
import type { LayeredMap } from './layered-map.js'
import { locateOrigin, originOf, type Origin } from './origin.js'
import { pathsOf, plainPath } from './paths.js'
import type { SourcePlace } from './problem.js'
import type { PageData, SiteData } from './schema.js'
import type { Source } from './source.js'
import type { Tokens } from './tokens.js'

/** The kind of a page that sets none. */
export const DEFAULT_KIND = 'page'

/** A named width and height at which a page is looked at, in CSS px. */
export interface Viewport {
  readonly name: string
  readonly width: number
  readonly height: number
}

/** A site as it was read: one merged document, shorthand expanded, and where each part of it is. */
export interface Site {
  /** The file that was named. */
  readonly file: string
  /** The merged document; pointers and patches refer to it. */
  readonly data: SiteData
  /** One page's data, without the others being gathered; `undefined` when there is no such page. */
  readonly pageData: (id: string) => PageData | undefined
  /** In the order of the file. */
  readonly pageIds: readonly string[]
  /** The page that has a path. */
  readonly pageAt: (path: string) => string | undefined
  /** The published pages of a kind, in the order of the file. */
  readonly published: (kind: string) => readonly string[]
  /** In the order of the file. */
  readonly viewports: readonly Viewport[]
  /** How pictures, fonts and style sheets are reached. */
  readonly files: Files
  /** The design tokens that may be used in it, by name. */
  readonly tokens: Tokens
  /** The load that it comes from: what is read of pictures and fonts is kept for one load only. */
  readonly load: object
  /** The same object while nothing changes of what is printed by names (surrounds, menus, assets) and how texts look. */
  readonly printed: object
  /** The files it was put together from. */
  readonly sources: readonly Source[]
  /** Where what a pointer names was written. */
  readonly locate: (pointer: string, what?: 'key' | 'value') => SourcePlace
  /** The file that a pointer's part is written in, or would be, with its pointer and the whole value there. */
  readonly origin: (pointer: string) => { readonly file: string; readonly pointer: string; readonly source: Json }
  /** How near the file is that a pointer was written in: 0 for the site's own file and those it includes. */
  readonly nearness: (pointer: string) => number
}

/** Viewports as a list, in the order of the file. */
export const viewportsIn = (said: NonNullable<SiteData['viewports']>): readonly Viewport[] =>
  Object.entries(said).map(([name, { width, height }]) => ({ name, width, height }))

/** All that a site is made of; what follows from it is worked out when asked for. */
export interface SiteParts {
  readonly file: string
  /** Everything but the pages. */
  readonly rest: Omit<SiteData, 'pages'>
  readonly pages: LayeredMap<PageData>
  readonly viewports: readonly Viewport[]
  readonly files: Files
  readonly tokens: Tokens
  readonly sources: readonly Source[]
  readonly nearness: ReadonlyMap<string, number>
  readonly origin: Origin
  readonly load: object
  readonly printed: object
}

/** Puts a site together; the whole document is gathered only when somebody asks for its pages. */
export function siteOf(given: SiteParts): Site {
  const parts = { ...given, rest: withDistinctEntries(given.rest) }
  const { rest, pages, origin, nearness, ...same } = parts
  let gathered: Record<string, PageData> | undefined
  const gather = (): Record<string, PageData> =>
    (gathered ??= Object.fromEntries(pages.keys.map((id) => [id, pages.get(id) as PageData])))
  const data = Object.defineProperty({ ...rest }, 'pages', { enumerable: true, get: gather }) as SiteData
  const at = (pointer: string) => originOf(origin, fromPointer(pointer))
  const published = new Map<string, readonly string[]>()
  const site: Site = {
    ...same,
    data,
    pageData: (id) => pages.get(id),
    pageIds: pages.keys,
    pageAt: (path) => pathsOf(site).get(plainPath(path)),
    published: (kind) => {
      let ids = published.get(kind)
      if (!ids) {
        ids = pages.keys.filter((id) => {
          const page = pages.get(id)
          return (page?.kind ?? DEFAULT_KIND) === kind && page?.status !== 'draft'
        })
        published.set(kind, ids)
      }
      return ids
    },
    locate: (pointer, what = 'key') => ({ ...locateOrigin(origin, fromPointer(pointer), what), pointer }),
    origin: (pointer) => {
      const { origin: found, depth } = at(pointer)
      const { source } = found
      return {
        file: source.file,
        pointer: found.pointer + toPointer(fromPointer(pointer).slice(depth)),
        get source() {
          return source.value
        },
      }
    },
    // Of one file, as most sites are, no place need be looked for.
    nearness: (pointer) => (nearness.size > 1 ? (nearness.get(at(pointer).origin.source.file) ?? 0) : 0),
  }
  partsOf.set(site, parts)
  return site
}

/** Entries of `assign` and `inserts` are told apart by their identity. */
function withDistinctEntries(rest: SiteParts['rest']): SiteParts['rest'] {
  const assign = rest.assign && distinctEntries(rest.assign)
  const inserts = rest.inserts && distinctEntries(rest.inserts)
  if (assign === rest.assign && inserts === rest.inserts) return rest
  return { ...rest, ...(assign && { assign: [...assign] }), ...(inserts && { inserts: [...inserts] }) }
}

const partsOf = new WeakMap<Site, SiteParts>()

/** What a site was put together from. */
export function sitePartsOf(site: Site): SiteParts {
  const parts = partsOf.get(site)
  if (!parts) throw new TypeError('expected a site as readSite gives it')
  return parts
}
