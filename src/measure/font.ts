import { create, type Font } from 'fontkit'
import type { Site } from '../model/site.js'
import type { TextMeasurer } from './text.js'

/** How many words' widths are kept for a font; past this they are measured anew. */
const KEPT_WORDS = 50_000

/**
 * Measures text by a font's own glyphs: advances, kerning and ligatures, as a browser sets it.
 *
 * @param bytes - A TrueType, OpenType, WOFF or WOFF2 file.
 * @returns `undefined` when the bytes are no font.
 */
export function fontMeasurer(bytes: Uint8Array): TextMeasurer | undefined {
  const font = open(bytes)
  if (!font) return undefined
  const kept = new Map<string, number>()
  const advance = (word: string): number => {
    let width = kept.get(word)
    if (width === undefined) {
      width = font.layout(word).advanceWidth / font.unitsPerEm
      if (kept.size > KEPT_WORDS) kept.clear()
      kept.set(word, width)
    }
    return width
  }
  return { certainty: 'computed', width: (text, size) => advance(text) * size }
}

function open(bytes: Uint8Array): Font | undefined {
  try {
    const font = create(bytes as Buffer)
    return 'layout' in font ? font : undefined
  } catch {
    return undefined // a broken font measures nothing; texts are then estimated, and marked so
  }
}

/** Fonts by their files, for one load: another reads the files anew. */
const fonts = new WeakMap<Site['load'], Map<string, TextMeasurer | undefined>>()

/** The measurer of the site's `typography.file`; `undefined` when it names none, or one that is not there or broken. */
export function siteFont(site: Site): TextMeasurer | undefined {
  const path = fontPath(site)
  if (path === undefined) return undefined
  let known = fonts.get(site.load)
  if (!known) fonts.set(site.load, (known = new Map()))
  if (!known.has(path)) {
    const bytes = site.files.bytes(path)
    known.set(path, bytes && fontMeasurer(bytes))
  }
  return known.get(path)
}

/** Where the site's font file is, as its files are reached. */
export function fontPath(site: Site): string | undefined {
  const file = site.data.typography?.file
  return file === undefined ? undefined : site.files.resolve(site.origin('/typography/file').file, file)
}
