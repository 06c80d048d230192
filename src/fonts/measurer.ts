import type { create as createFont, Font } from 'fontkit'
import type { TextMeasurer } from '../model/files.js'
import { Pairs } from './pairs.js'

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
  const font = opened(create, bytes)
  if (!font) return undefined
  let certainty: TextMeasurer['certainty'] = 'computed'
  const advance = (word: string): number => {
    const own = font.width(word)
    if (own !== undefined) return own
    certainty = 'estimated'
    return GUESS * [...word].length
  }
  return {
    get certainty() {
      return certainty
    },
    width: (text, size) => advance(text) * size,
    expect: (text) => font.expect(text),
  }
}

/** Width of a character in em where a font breaks off at its glyphs; the contract's guess without a font. */
const GUESS = 0.5

/** Fonts that were opened last, by what is in them: a site that is loaded again mostly names the same. */
const recent: { readonly length: number; readonly words: Uint32Array; readonly font: OpenFont | undefined }[] = []
const MOST_RECENT = 4

function opened(create: typeof createFont, bytes: Uint8Array): OpenFont | undefined {
  const { length } = bytes
  // A copy: whoever gave the bytes may write others over them, and a font's tables are read when they are needed.
  const words = new Uint32Array(Math.ceil(length / 4))
  const own = new Uint8Array(words.buffer, 0, length)
  own.set(bytes)
  const known = recent.find((each) => each.length === length && areEqual(each.words, words))
  if (known) return known.font
  const read = open(create, own)
  const font = read && new OpenFont(read)
  if (recent.length >= MOST_RECENT) recent.shift()
  recent.push({ length, words, font })
  return font
}

/** Four bytes at once. */
function areEqual(a: Uint32Array, b: Uint32Array): boolean {
  for (let n = 0; n < a.length; n++) if (a[n] !== b[n]) return false
  return true
}

/** A font, and what was measured with it: the same whichever site asks. */
class OpenFont {
  readonly #font: Font
  readonly #pairs: Pairs | undefined
  readonly #kept = new Map<string, number | undefined>()

  constructor(font: Font) {
    this.#font = font
    this.#pairs = pairsOf(font)
  }

  /** Of a word, in em; `undefined` where the font is broken. */
  width(word: string): number | undefined {
    let width = this.#kept.get(word)
    if (width === undefined && !this.#kept.has(word)) {
      width = ownWidth(this.#font, word, this.#pairs)
      if (this.#kept.size > KEPT_WORDS) this.#kept.clear()
      this.#kept.set(word, width)
    }
    return width
  }

  /** Says what is asked for soon: its words are measured together. */
  expect(text: string): void {
    try {
      this.#pairs?.learn(text)
    } catch {
      // a damaged table: the word that needs it fails again, and is estimated
    }
  }
}

/** What a font's glyphs come to, in em; `undefined` where the font is broken there. */
function ownWidth(font: Font, word: string, pairs?: Pairs): number | undefined {
  try {
    const width = (pairs?.width(word) ?? font.layout(word).advanceWidth) / font.unitsPerEm
    return Number.isFinite(width) && width >= 0 ? width : undefined
  } catch {
    return undefined // cut off, or with tables that lead nowhere: the library throws what comes of it
  }
}

function pairsOf(font: Font): Pairs | undefined {
  try {
    return Pairs.of(font)
  } catch {
    return undefined // tables that lead nowhere: words are laid out as they come
  }
}

/** What fonts begin with that are not compressed: TrueType outlines, OpenType's, and Apple's old word for the first. */
const PLAIN_FONTS: ReadonlySet<number> = new Set([0x00010000, 0x4f54544f, 0x74727565])
const HEAD = 0x68656164

/**
 * Whether the tables of a font are as they were written, by their checksums (OpenType specification, "Calculating
 * checksums"). In a damaged one the library may look for a table's end without end. Compressed fonts break off by
 * themselves.
 *
 * @throws {RangeError} Where the font is cut off.
 */
function isWhole(bytes: Uint8Array): boolean {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  if (!PLAIN_FONTS.has(view.getUint32(0))) return true
  const tables = view.getUint16(4)
  for (let record = 12; record < 12 + tables * 16; record += 16) {
    const [tag, sum, start, length] = [0, 4, 8, 12].map((at) => view.getUint32(record + at)) as [
      number,
      number,
      number,
      number,
    ]
    let found = 0
    for (let at = 0; at < length; at += 4) {
      // The font's own head says what the rest adds up to, and is not part of it.
      if (tag === HEAD && at === 8) continue
      found = (found + wordAt(view, start + at, length - at)) >>> 0
    }
    if (found !== sum) return false
  }
  return true
}

/** Four bytes as a number; a table's last ones count as if zeros followed. */
function wordAt(view: DataView, at: number, left: number): number {
  if (left >= 4) return view.getUint32(at)
  let word = 0
  for (let n = 0; n < 4; n++) word = word * 256 + (n < left ? view.getUint8(at + n) : 0)
  return word
}

/** What a usable font has glyphs for. */
const PROBE = 'Aa 0'

function open(create: typeof createFont, bytes: Uint8Array): Font | undefined {
  try {
    if (!isWhole(bytes)) return undefined
    const font = create(bytes as Buffer)
    return 'layout' in font && ownWidth(font, PROBE) !== undefined ? font : undefined
  } catch {
    return undefined // a broken font measures nothing; texts are then estimated, and marked so
  }
}
