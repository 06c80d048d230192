import type { Font, Glyph } from 'fontkit'

/** What the library has of a font's layout tables, of which its types say nothing. */
interface Lookup {
  readonly lookupType: number
  readonly subTables: Iterable<SubTable>
}
interface SubTable {
  readonly lookupType?: number
  readonly extension?: SubTable
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
  readonly #singles = new Map<string, Glyph | undefined>()
  readonly #moved = new Map<string, number | undefined>()

  private constructor(font: Font) {
    this.#font = font
  }

  /** `undefined` where more than two letters may count. */
  static of(font: Font): Pairs | undefined {
    const { GSUB, GPOS, morx } = font as WithTables
    if (morx || font.availableFeatures.some((tag) => CONTEXTUAL.has(tag))) return undefined
    const arePairs = lookups(GPOS, 'kern').every(({ type }) => type === PAIR)
    const areShort = lookups(GSUB, 'liga').every(({ type, table }) => type === LIGATURE && beginsWithTwo(table))
    return arePairs && areShort ? new Pairs(font) : undefined
  }

  /** In the font's units; `undefined` for what must be laid out as a whole. */
  width(word: string): number | undefined {
    if (!LATIN.test(word)) return undefined
    let width = 0
    for (let n = 0; n < word.length; n++) {
      const glyph = this.#single(word.charAt(n))
      const moved = n === 0 ? 0 : this.#pair(word.slice(n - 1, n + 1))
      if (!glyph || moved === undefined) return undefined
      width += glyph.advanceWidth + moved
    }
    return width
  }

  #single(letter: string): Glyph | undefined {
    if (!this.#singles.has(letter)) {
      const { glyphs, advanceWidth } = this.#font.layout(letter)
      const [only] = glyphs
      const isItself = glyphs.length === 1 && only?.advanceWidth === advanceWidth
      this.#singles.set(letter, isItself ? only : undefined)
    }
    return this.#singles.get(letter)
  }

  /** How far two letters are moved apart, most often by less than 0; `undefined` where others stand for them. */
  #pair(two: string): number | undefined {
    if (!this.#moved.has(two)) {
      const [a, b] = [this.#single(two.charAt(0)), this.#single(two.charAt(1))]
      const { glyphs, advanceWidth } = this.#font.layout(two)
      const areThey = a && b && glyphs.length === 2 && glyphs[0]?.id === a.id && glyphs[1]?.id === b.id
      this.#moved.set(two, areThey ? advanceWidth - a.advanceWidth - b.advanceWidth : undefined)
    }
    return this.#moved.get(two)
  }
}

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
