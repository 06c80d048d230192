import { checkNames } from './check-names.js'
import { checkSchema } from './check-schema.js'
import { NO_FILES, type Files } from './files.js'
import { fromPointer, toPointer, type Json } from './json.js'
import { loadSite } from './load.js'
import { locateOrigin, originOf, type Origin } from './merge.js'
import { SiteError, type Problem, type SourcePlace } from './problem.js'
import type { PageData, SiteData } from './schema.js'
import type { Source } from './source.js'
import type { Tokens } from './tokens.js'

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
  /** In the order of the file. */
  readonly viewports: readonly Viewport[]
  /** How pictures, fonts and style sheets are reached. */
  readonly files: Files
  /** The design tokens that may be used in it, by name. */
  readonly tokens: Tokens
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
    if (problems.length === 0)
      return makeSite(file, value as unknown as SiteData, viewports, files, sources, nearness, origin, tokens)
  }
  throw new SiteError(sorted(problems, file))
}

function makeSite(
  file: string,
  data: SiteData,
  viewports: Json,
  files: Files,
  sources: readonly Source[],
  nearness: ReadonlyMap<string, number>,
  origin: Origin,
  tokens: Tokens,
): Site {
  const pages = new Map(Object.entries(data.pages)) // quicker to ask than an object of 100,000 keys
  const named = Object.entries(viewports as Record<string, { width: number; height: number }>)
  return {
    file,
    data,
    pageData: (id) => pages.get(id),
    pageIds: [...pages.keys()],
    viewports: named.map(([name, { width, height }]) => ({ name, width, height })),
    files,
    tokens,
    sources,
    locate: (pointer, what = 'key') => {
      const path = fromPointer(pointer)
      return { ...locateOrigin(origin, path, what), pointer }
    },
    origin: (pointer) => {
      const path = fromPointer(pointer)
      const { origin: found, depth } = originOf(origin, path)
      const { file: own, value } = found.source
      return { file: own, pointer: found.pointer + toPointer(path.slice(depth)), source: value }
    },
    nearness: (pointer) => nearness.get(originOf(origin, fromPointer(pointer)).origin.source.file) ?? 0,
  }
}

function sorted(problems: readonly Problem[], file: string): Problem[] {
  const rank = (p: Problem): number => (p.file === file ? 0 : 1)
  // A shorthand that stands for several properties would say the same thing once for each.
  const once = new Map(problems.map((p) => [`${p.file}:${p.line}:${p.column} ${p.message}`, p]))
  return [...once.values()].sort(
    (a, b) => rank(a) - rank(b) || a.file.localeCompare(b.file) || a.line - b.line || a.column - b.column,
  )
}
