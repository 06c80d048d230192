/** A picture's points, row by row: red, green, blue and alpha, 0 to 255 each. */
export interface Pixels {
  readonly width: number
  readonly height: number
  readonly data: Uint8Array
}

/** How wide a run of text is. */
export interface TextMeasurer {
  /** `computed` from a font's own glyphs, or `estimated`. */
  readonly certainty: 'computed' | 'estimated'
  /** Width in px of text set on one line at a size in px. */
  readonly width: (text: string, size: number) => number
  /** Announces a text before its words are measured, so that a font can prepare all of them at once. */
  readonly expect?: (text: string) => void
}

/** How a site's other files are reached; the core itself touches no disk. Paths are as `resolve` gives them. */
export interface Files {
  /** A file's text; `undefined` when it is not there. */
  readonly read: (path: string) => string | undefined
  /** Why a file that `read` does not give cannot be read, in words; default: there is no such file. */
  readonly whyNot?: (path: string) => string | undefined
  /** A file's bytes; `undefined` when it is not there. */
  readonly bytes: (path: string) => Uint8Array | undefined
  /** A picture's points; `undefined` (or no such function) where it cannot be read. */
  readonly pixels?: (path: string) => Pixels | undefined
  /** A font file, to measure text by; `undefined` (or no such function) where it cannot be read: text is then estimated. */
  readonly font?: (path: string) => TextMeasurer | undefined
  /** A file's lines, one at a time; `undefined` when it is not there. */
  readonly lines: (path: string) => Iterable<string> | undefined
  /** The files that a glob means, sorted. */
  readonly list: (pattern: string) => readonly string[]
  /** A path that was written in the file `from`. */
  readonly resolve: (from: string, path: string) => string
}

/** A site that is one file only. */
export const NO_FILES: Files = {
  read: () => undefined,
  bytes: () => undefined,
  lines: () => undefined,
  list: () => [],
  resolve: (from, path) => joinPath(from, path),
}

/**
 * Files held in memory, by path: for a browser and for tests. Globs know `*` within one segment.
 *
 * @param readFont - What reads fonts, such as `fontMeasurer` of `wembra/fonts`; without it text is estimated.
 * @example
 * const files = memoryFiles({ 'base.yaml': text })
 * readSite('wembra: 1\nextends: [ base.yaml ]', { files }).data.site.name // => 'Harbor'
 */
export function memoryFiles(
  files: Readonly<Record<string, string | Uint8Array>>,
  readFont?: (bytes: Uint8Array) => TextMeasurer | undefined,
): Files {
  const known = new Map(Object.entries(files))
  const text = (path: string): string | undefined => {
    const found = known.get(path)
    return typeof found === 'string' ? found : undefined
  }
  const bytes = (path: string): Uint8Array | undefined => {
    const found = known.get(path)
    return typeof found === 'string' ? new TextEncoder().encode(found) : found
  }
  return {
    read: text,
    bytes,
    ...(readFont && {
      font: (path: string) => {
        const found = bytes(path)
        return found && readFont(found)
      },
    }),
    lines: (path) => text(path)?.split('\n'),
    list: (pattern) => {
      const parts = pattern.split('*').map((part) => part.replace(/[\\^$.|?+()[\]{}]/g, '\\$&'))
      const expression = new RegExp(`^${parts.join('[^/]*')}$`)
      return [...known.keys()].filter((path) => expression.test(path)).sort()
    },
    resolve: joinPath,
  }
}

/** `path` as seen from the folder of `from`, with `.` and `..` taken out; an absolute one stays. */
export function joinPath(from: string, path: string): string {
  if (path.startsWith('/')) return path
  const parts = from.split('/').slice(0, -1)
  for (const part of path.split('/')) {
    if (part === '..' && parts.length > 0 && parts.at(-1) !== '..') parts.pop()
    else if (part !== '.' && part !== '') parts.push(part)
  }
  return parts.join('/')
}
