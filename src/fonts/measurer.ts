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
  let certainty: TextMeasurer['certainty'] = 'computed'
  const advance = (word: string): number => {
    let width = kept.get(word)
    if (width === undefined) {
      const own = ownWidth(font, word)
      if (own === undefined) certainty = 'estimated'
      width = own ?? GUESS * [...word].length
      if (kept.size > KEPT_WORDS) kept.clear()
      kept.set(word, width)
    }
    return width
  }
  return {
    get certainty() {
      return certainty
    },
    width: (text, size) => advance(text) * size,
  }
}

/** Width of a character in em where a font breaks off at its glyphs; the contract's guess without a font. */
const GUESS = 0.5

/** What a font's glyphs come to, in em; `undefined` where the font is broken there. */
function ownWidth(font: Font, word: string): number | undefined {
  try {
    const width = font.layout(word).advanceWidth / font.unitsPerEm
    return Number.isFinite(width) && width >= 0 ? width : undefined
  } catch {
    return undefined // cut off, or with tables that lead nowhere: the library throws what comes of it
  }
}

/** What a usable font has glyphs for. */
const PROBE = 'Aa 0'

function open(create: typeof createFont, bytes: Uint8Array): Font | undefined {
  try {
    const font = create(bytes as Buffer)
    return 'layout' in font && ownWidth(font, PROBE) !== undefined ? font : undefined
  } catch {
    return undefined // a broken font measures nothing; texts are then estimated, and marked so
  }
}
