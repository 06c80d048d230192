import type { create as createFont, Font } from 'fontkit'
import type { TextMeasurer } from '../model/files.js'

/** How many words' widths are kept for a font; past this they are measured anew. */
const KEPT_WORDS = 50_000

/**
 * Measures text by a font's own glyphs: advances, kerning and ligatures, as a browser sets it.
 *
 * @param create - The font library's own, so that who calls decides when it is loaded.
 * @param bytes - A TrueType, OpenType, WOFF or WOFF2 file.
 * @returns `undefined` when the bytes are no font.
 */
export function measurerOf(create: typeof createFont, bytes: Uint8Array): TextMeasurer | undefined {
  const font = open(create, bytes)
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

function open(create: typeof createFont, bytes: Uint8Array): Font | undefined {
  try {
    const font = create(bytes as Buffer)
    return 'layout' in font ? font : undefined
  } catch {
    return undefined // a broken font measures nothing; texts are then estimated, and marked so
  }
}
