import type { TextMeasurer } from '../model/files.js'
import type { Problem } from '../model/problem.js'
import type { Site } from '../model/site.js'

/** Fonts by their files, for one load: another reads the files anew. */
const fonts = new WeakMap<Site['load'], Map<string, TextMeasurer | undefined>>()

interface Found {
  readonly load: Site['load']
  readonly measurer: TextMeasurer | undefined
}

/** What was found for a site's `typography`, which most changes leave the same object. */
const found = new WeakMap<object, Found>()

/** The measurer of the site's `typography.file`; `undefined` when it names none, or one that is not there or broken. */
export function siteFont(site: Site): TextMeasurer | undefined {
  const { typography } = site.data
  if (typography?.file === undefined) return undefined
  const known = found.get(typography)
  if (known?.load === site.load) return known.measurer
  const measurer = findFont(site)
  found.set(typography, { load: site.load, measurer })
  return measurer
}

function findFont(site: Site): TextMeasurer | undefined {
  const path = fontPath(site)
  if (path === undefined) return undefined
  let known = fonts.get(site.load)
  if (!known) fonts.set(site.load, (known = new Map()))
  if (!known.has(path)) known.set(path, site.files.font?.(path))
  return known.get(path)
}

/**
 * Why texts are estimated although the site names a font file: it is not there, or is none. The site can be read all the
 * same. Loads no font: only of one that something was measured by is it known.
 *
 * @returns `undefined` where the font was not needed, is whole, or its host reads no fonts.
 */
export function fontProblem(site: Site): Problem | undefined {
  const { files } = site
  const path = fontPath(site)
  const known = fonts.get(site.load)
  if (path === undefined || !files.font || !known?.has(path) || known.get(path)) return undefined
  const { file, line, column } = site.locate('/typography/file')
  const why = files.bytes(path)
    ? 'it is damaged, or no font (TrueType, OpenType, WOFF or WOFF2)'
    : (files.whyNot?.(path) ?? 'there is no such file')
  const message = `cannot read "${path}": ${why}; fix the path or remove it; until then texts are estimated`
  return { code: 'unreadable', file, line, column, message }
}

/** Where the site's font file is, as its files are reached. */
export function fontPath(site: Site): string | undefined {
  const file = site.data.typography?.file
  return file === undefined ? undefined : site.files.resolve(site.origin('/typography/file').file, file)
}
