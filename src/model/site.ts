import { checkNames } from './check-names.js'
import { checkSchema } from './check-schema.js'
import { NO_FILES, type Files } from './files.js'
import { fromPointer, toPointer, type Json } from './json.js'
import { LayeredMap } from './layered-map.js'
import { loadSite } from './load.js'
import { locateOrigin, originOf, type Origin } from './origin.js'
import { pathsOf, plainPath } from './paths.js'
import { SiteError, type Problem, type SourcePlace } from './problem.js'
import type { PageData, SiteData } from './schema.js'
import type { Source } from './source.js'
import type { Tokens } from './tokens.js'

/** The kind of a page that says none. */
export const DEFAULT_KIND = 'page'

/** A named width and height at which a page is looked at, in CSS px. */
export interface Viewport {
  readonly name: string
  readonly width: number
  readonly height: number
}

/** A site as it was read: one merged document, shorthand written out, and where each part of it stands. */
export interface Site {
  /** The file that was named. */
  readonly file: string
  /** The merged document; pointers and patches speak of it. */
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

export interface ReadOptions {
  /** What messages call the file, and what other files' paths are relative to. Default `site.yaml`. */
  readonly file?: string
  /** How other files are reached; without it, `extends` and `include` name files that are not there. */
  readonly files?: Files
}

/**
 * Reads a site file with all it extends and includes.
 *
 * @throws {SiteError} Every problem found, each with code, file, line, column and a way out.
 */
export function readSite(text: string, options: ReadOptions = {}): Site {
  const { file = 'site.yaml', files = NO_FILES } = options
  const { part, viewports, problems: found, sources, nearness, tokens } = loadSite(text, file, files)
  const problems: Problem[] = [...found]
  if (part) {
    const { value, origin } = part
    const at = (path: readonly PropertyKey[], what: 'key' | 'value') => locateOrigin(origin, path.map(String), what)
    // With a file missing or broken, what should be in it is missing too: only what is wrong in itself is said.
    const incomplete = problems.length > 0
    for (const p of checkSchema(value, Object.keys(viewports)))
      if (!incomplete || p.code !== 'missing-key')
        problems.push({ ...at(p.path, p.what), code: p.code, message: p.message })
    if (problems.length === 0)
      for (const p of checkNames(value as unknown as SiteData)) {
        const other = p.other === undefined ? undefined : at(fromPointer(p.other), 'key')
        const also = other ? ` (the other stands at ${other.file}:${other.line}:${other.column})` : ''
        problems.push({ ...at(fromPointer(p.pointer), 'key'), code: p.code, message: p.message + also })
      }
    if (problems.length === 0) {
      const { pages, ...rest } = value as unknown as SiteData
      const named = viewportsIn(viewports as unknown as NonNullable<SiteData['viewports']>)
      const held = LayeredMap.of(new Map(Object.entries(pages))) // quicker to ask than an object of 100,000 keys
      return siteOf({ file, rest, pages: held, viewports: named, files, tokens, sources, nearness, origin, load: {}, printed: {} })
    }
  }
  throw new SiteError(sorted(problems, file))
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
export function siteOf(parts: SiteParts): Site {
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
      const { file, value } = found.source
      return { file, pointer: found.pointer + toPointer(fromPointer(pointer).slice(depth)), source: value }
    },
    nearness: (pointer) => nearness.get(at(pointer).origin.source.file) ?? 0,
  }
  partsOf.set(site, parts)
  return site
}

const partsOf = new WeakMap<Site, SiteParts>()

/** What a site was put together from. */
export function sitePartsOf(site: Site): SiteParts {
  const parts = partsOf.get(site)
  if (!parts) throw new TypeError('expected a site as readSite gives it')
  return parts
}

function sorted(problems: readonly Problem[], file: string): Problem[] {
  const rank = (p: Problem): number => (p.file === file ? 0 : 1)
  // A shorthand that stands for several properties would say the same thing once for each.
  const once = new Map(problems.map((p) => [`${p.file}:${p.line}:${p.column} ${p.message}`, p]))
  return [...once.values()].sort(
    (a, b) => rank(a) - rank(b) || a.file.localeCompare(b.file) || a.line - b.line || a.column - b.column,
  )
}
