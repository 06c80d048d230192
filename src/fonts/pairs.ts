import type { Font, Glyph, GlyphRun } from 'fontkit'

/** What the library has of a font's layout tables, of which its types say nothing. */
interface Lookup {
  readonly lookupType: number
  readonly subTables: Iterable<SubTable>
}
interface SubTable {
  readonly lookupType?: number
  readonly extension?: SubTable
  /** How a pair adjusts its second letter. */
  readonly valueFormat2?: { readonly xAdvance: boolean }
  readonly ligatureSets?: { toArray(): readonly (readonly Ligature[])[] }
}
interface Ligature {
  readonly components: readonly number[]
}
interface LayoutTable {
  readonly featureList: readonly { readonly tag: string; readonly feature: { readonly lookupListIndexes: number[] } }[]
  readonly lookupList: { get(index: number): Lookup }
}
type WithTables = Font & { readonly GSUB?: LayoutTable; readonly GPOS?: LayoutTable; readonly morx?: unknown }

/** Features that are on by default and may look at more than two letters (OpenType specification, "Registered features"). */
const CONTEXTUAL = new Set(['calt', 'rclt', 'clig', 'rlig', 'curs', 'rvrn', 'dist'])
/** Types of lookups (OpenType specification, "GSUB" and "GPOS"): each stands behind an extension as well. */
const LIGATURE = 4
const PAIR = 2
/** Latin letters and signs without combining marks, which `ccmp` is for. */
const LATIN = /^[\x20-\x7e\u00a0-\u017f\u2010-\u201f\u2026]+$/

/**
 * Widths of words in a font that sets Latin letters by twos: then a word is as wide as its letters and what each two
 * that meet are moved together or apart. There are far fewer of these than words, and laying one out takes long.
 */
export class Pairs {
  readonly #font: Font
  readonly #glyphs = new Map<string, Glyph>()
  readonly #moved = new Map<string, number | undefined>()

  private constructor(font: Font) {
    this.#font = font
  }

  /** `undefined` where more than two letters may count. */
  static of(font: Font): Pairs | undefined {
    const { GSUB, GPOS, morx } = font as WithTables
    if (morx || font.availableFeatures.some((tag) => CONTEXTUAL.has(tag))) return undefined
    const arePairs = lookups(GPOS, 'kern').every(({ type, table }) => type === PAIR && !table.valueFormat2?.xAdvance)
    const areShort = lookups(GSUB, 'liga').every(({ type, table }) => type === LIGATURE && beginsWithTwo(table))
    return arePairs && areShort ? new Pairs(font) : undefined
  }

  /** In the font's units; `undefined` for what must be laid out as a whole. */
  width(word: string): number | undefined {
    if (word.length < 2 || !LATIN.test(word)) return undefined
    this.#measurePairs(this.#unknownIn(word))
    let width = this.#glyph(word.charAt(0)).advanceWidth
    for (const two of pairsIn(word)) {
      const moved = this.#moved.get(two)
      if (moved === undefined) return undefined
      width += moved + this.#glyph(two.charAt(1)).advanceWidth
    }
    return width
  }

  /** Measures the letter pairs of all words of a text with one layout call. */
  learn(text: string): void {
    const unknown = text.split(' ').flatMap((word) => (LATIN.test(word) ? this.#unknownIn(word) : []))
    this.#measurePairs([...new Set(unknown)])
  }

  #unknownIn(word: string): readonly string[] {
    return pairsIn(word).filter((two) => !this.#moved.has(two))
  }

  #glyph(letter: string): Glyph {
    let glyph = this.#glyphs.get(letter)
    if (!glyph) this.#glyphs.set(letter, (glyph = this.#font.glyphForCodePoint(letter.charCodeAt(0))))
    return glyph
  }

  /**
   * Measures how far kerning moves each pair of letters, in the font's units; `undefined` for a pair that the font
   * replaces by other glyphs. A layout call costs about the same for one pair and for ten, so all pairs share one call,
   * with spaces between them; kerning between a second letter and the space after it is not counted.
   */
  #measurePairs(pairs: readonly string[]): void {
    const space = this.#glyph(' ').id
    const others: string[] = []
    for (const two of pairs)
      if ([...two].some((letter) => this.#glyph(letter).id === space))
        this.#moved.set(two, this.#movedIn(two, this.#font.layout(two)))
      else others.push(two)
    if (others.length === 0) return
    const { glyphs, positions } = this.#font.layout(others.join(' '))
    let start = 0
    for (const two of others) {
      const found = glyphs.findIndex(({ id }, n) => n >= start && id === space)
      const end = found < 0 ? glyphs.length : found
      const run = { glyphs: glyphs.slice(start, end), positions: positions.slice(start, end) }
      this.#moved.set(two, this.#movedIn(two, run))
      start = end + 1
    }
  }

  #movedIn(two: string, { glyphs, positions }: Pick<GlyphRun, 'glyphs' | 'positions'>): number | undefined {
    const [a, b] = [this.#glyph(two.charAt(0)), this.#glyph(two.charAt(1))]
    const areThey = glyphs.length === 2 && glyphs[0]?.id === a.id && glyphs[1]?.id === b.id
    return areThey && positions[0] ? positions[0].xAdvance - a.advanceWidth : undefined
  }
}

/** Each two letters that meet in a word. */
const pairsIn = (word: string): readonly string[] =>
  Array.from({ length: word.length - 1 }, (_, n) => word.slice(n, n + 2))

function lookups(table: LayoutTable | undefined, tag: string) {
  const features = [...(table?.featureList ?? [])].filter((each) => each.tag === tag)
  const indexes = new Set(features.flatMap(({ feature }) => [...feature.lookupListIndexes]))
  return [...indexes].flatMap((index) => {
    const { lookupType, subTables } = (table as LayoutTable).lookupList.get(index)
    return [...subTables].map((each) => {
      return { type: each.extension ? each.lookupType : lookupType, table: each.extension ?? each }
    })
  })
}

/** Whether each ligature of three and more begins with one of two, so that its first two letters show it. */
const beginsWithTwo = ({ ligatureSets }: SubTable): boolean =>
  (ligatureSets?.toArray() ?? []).every((set) => {
    const ligatures = [...set]
    const seconds = new Set(ligatures.filter(({ components }) => components.length === 1).map((l) => l.components[0]))
    return ligatures.every(({ components }) => seconds.has(components[0]))
  })
