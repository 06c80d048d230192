import { checkNames } from './check-names.js'
import { checkSchema } from './check-schema.js'
import { NO_FILES, type Files } from './files.js'
import { fromPointer } from './json.js'
import { LayeredMap } from './layered-map.js'
import { loadSite, type Merged } from './load.js'
import { locateOrigin } from './origin.js'
import { SiteError, type Problem } from './problem.js'
import type { SiteData } from './schema.js'
import { siteOf, viewportsIn, type Site } from './site.js'

/** Where a site file comes from, and how the files beside it are reached. */
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
 * @example
 * readSite(text).data.site.name // => 'Harbor'
 */
export function readSite(text: string, options: ReadOptions = {}): Site {
  const { file = 'site.yaml', files = NO_FILES } = options
  if (typeof text !== 'string')
    throw new SiteError([
      { code: 'wrong-type', message: `expected the text of a site file, got ${typeof text}`, file, line: 1, column: 1 },
    ])
  return siteFrom(loadSite(text, file, files), file, files)
}

/** The site that was loaded. @throws {SiteError} Every problem found. */
export function siteFrom(loaded: Merged, file: string, files: Files): Site {
  const { part, viewports, problems: found, sources, nearness, tokens } = loaded
  const problems: Problem[] = [...found]
  if (part) {
    const { value, origin } = part
    const at = (path: readonly PropertyKey[], what: 'key' | 'value') => locateOrigin(origin, path.map(String), what)
    // With a file missing or broken, what should be in it is missing too: only what is wrong in itself is reported.
    const incomplete = problems.length > 0
    for (const p of checkSchema(value, Object.keys(viewports)))
      if (!incomplete || p.code !== 'missing-key')
        problems.push({ ...at(p.path, p.what), code: p.code, message: p.message })
    if (problems.length === 0)
      for (const p of checkNames(value as unknown as SiteData)) {
        const other = p.other === undefined ? undefined : at(fromPointer(p.other), 'key')
        const also = other ? ` (the other is at ${other.file}:${other.line}:${other.column})` : ''
        problems.push({ ...at(fromPointer(p.pointer), 'key'), code: p.code, message: p.message + also })
      }
    if (problems.length === 0) {
      const { pages, ...rest } = value as unknown as SiteData
      const named = viewportsIn(viewports as unknown as NonNullable<SiteData['viewports']>)
      const held = LayeredMap.of(new Map(Object.entries(pages))) // quicker to ask than an object of 100,000 keys
      return siteOf({
        ...{ file, rest, pages: held, viewports: named, files, tokens, sources, nearness, origin },
        ...{ load: {}, printed: {} },
      })
    }
  }
  throw new SiteError(sorted(problems, file))
}

function sorted(problems: readonly Problem[], file: string): Problem[] {
  const rank = (p: Problem): number => (p.file === file ? 0 : 1)
  // A shorthand that stands for several properties would be reported once for each.
  const once = new Map(problems.map((p) => [`${p.file}:${p.line}:${p.column} ${p.message}`, p]))
  return [...once.values()].sort(
    (a, b) => rank(a) - rank(b) || a.file.localeCompare(b.file) || a.line - b.line || a.column - b.column,
  )
}
