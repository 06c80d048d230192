import LineBreaker from 'linebreak'
import type { TextMeasurer } from '../model/files.js'

export type { TextMeasurer }

/** Half the size for a character: the contract's guess where there is no font file. */
export const ESTIMATE: TextMeasurer = { certainty: 'estimated', width: (text, size) => 0.5 * size * characters(text) }

/** How many characters a text has: a pair of surrogates is one. */
function characters(text: string): number {
  let count = text.length
  for (let n = 1; n < text.length; n++) if (isLow(text.charCodeAt(n)) && isHigh(text.charCodeAt(n - 1))) count--
  return count
}

const isHigh = (unit: number): boolean => unit >= 0xd800 && unit < 0xdc00
const isLow = (unit: number): boolean => unit >= 0xdc00 && unit < 0xe000

/** A rounding allowance in px: a line that is full to the last bit still fits. */
const FITS = 1e-3
/** Share of a line by which kerning between its words may change its width; nearer to its end each pair is asked for. */
const KERNING = 0.04
/** The same where each pair of letters over a space was asked for; nearer than that the line is measured whole. */
const SHAPING = 0.004
/** Letters, digits and signs that stand by themselves: Latin, and general punctuation without joiners. */
const STANDS_ALONE = /^[ -~\u00a0-\u024f\u2010-\u2027\u2030-\u205e\u20ac]*$/

/**
 * How many lines a text takes, broken greedily where Unicode's line breaking rules (UAX #14) allow it.
 * White space collapses as in HTML; a word longer than the line sticks out, it is not broken.
 *
 * @param width - In px; `Infinity` never breaks.
 */
export function countLines(measurer: TextMeasurer, text: string, size: number, width: number): number {
  let ofMeasurer = read.get(measurer)
  if (!ofMeasurer) read.set(measurer, (ofMeasurer = new Map()))
  let known = ofMeasurer.get(text)
  if (!known) {
    if (ofMeasurer.size >= MOST_KEPT) ofMeasurer.clear()
    ofMeasurer.set(text, (known = new ReadText(measurer, text)))
  }
  return known.lines(size, width)
}

/** How many lines a text takes at a size within a width, both in px. */
interface Counted {
  readonly size: number
  readonly width: number
  readonly lines: number
}

/** A text in a font: what all widths have in common is worked out once. */
class ReadText {
  readonly #measurer: TextMeasurer
  /** With white space collapsed. */
  readonly #plain: string
  readonly #counted: Counted[] = []
  #breaks: readonly number[] | undefined
  /** Px of its words and spaces, each by itself, at the size that was asked for last. */
  #pieces: { readonly size: number; readonly sum: number } | undefined

  constructor(measurer: TextMeasurer, text: string) {
    this.#measurer = measurer
    this.#plain = text.replace(/[ \t\n\r\f]+/g, ' ').trim()
    measurer.expect?.(this.#plain)
  }

  lines(size: number, width: number): number {
    const known = this.#counted.find((each) => each.size === size && each.width === width)
    if (known) return known.lines
    const lines = this.#count(size, width)
    if (this.#counted.length >= MOST_WIDTHS) this.#counted.shift()
    this.#counted.push({ size, width, lines })
    return lines
  }

  #count(size: number, width: number): number {
    if (this.#plain === '') return 0
    return width === Infinity || this.#fitsOneLine(size, width) ? 1 : this.#broken(size, width)
  }

  /** A long text is measured whole only where its words leave that open: words come again, and their widths are kept. */
  #fitsOneLine(size: number, width: number): boolean {
    if (this.#pieces?.size !== size) {
      const space = this.#measurer.width(' ', size)
      let sum = -space
      for (const word of this.#plain.split(' ')) sum += space + this.#measurer.width(word, size)
      this.#pieces = { size, sum }
    }
    return !isWider(this.#measurer, () => this.#plain, this.#pieces.sum, size, width)
  }

  #broken(size: number, width: number): number {
    const [measurer, plain] = [this.#measurer, this.#plain]
    const breaks = (this.#breaks ??= breaksOf(plain))
    let lines = 1
    let lineStart = 0
    let filled = 0 // px of the line up to the last break, the space at its end included
    let start = 0
    for (const end of breaks) {
      const word = plain.slice(start, end).trimEnd()
      const own = measurer.width(word, size)
      const isOver =
        filled > 0 && isWider(measurer, () => plain.slice(lineStart, start + word.length), filled + own, size, width)
      if (isOver) {
        lines += 1
        filled = 0
        lineStart = start
      }
      filled += own + (start + word.length < end ? measurer.width(' ', size) : 0)
      start = end
    }
    return lines
  }
}

/** Texts that were read: a change in memory leaves most texts as they are. */
const read = new WeakMap<TextMeasurer, Map<string, ReadText>>()
/** For how many texts, and widths of each, the lines of one font are kept. */
const MOST_KEPT = 6000
const MOST_WIDTHS = 12

/** Whether a line is wider than what it is in, asked as closely as that needs; `sum` are its pieces and spaces in px. */
function isWider(measurer: TextMeasurer, line: () => string, sum: number, size: number, width: number): boolean {
  if (Math.abs(sum - width) >= KERNING * width) return sum > width
  const text = line()
  if (STANDS_ALONE.test(text)) {
    const closer = pairsWidth(measurer, text, size)
    if (Math.abs(closer - width) >= SHAPING * width) return closer > width
  }
  return measurer.width(text, size) > width + FITS
}

/** The words of a line, with the spaces between them, each as far as the letters beside it let it be. */
function pairsWidth(measurer: TextMeasurer, line: string, size: number): number {
  const letter = (at: number): string => line[at] ?? ''
  let sum = 0
  for (let start = 0; start < line.length;) {
    const space = line.indexOf(' ', start)
    const end = space < 0 ? line.length : space
    sum += measurer.width(line.slice(start, end), size)
    if (space >= 0) {
      const [before, after] = [letter(space - 1), letter(space + 1)]
      sum += measurer.width(`${before} ${after}`, size) - measurer.width(before, size) - measurer.width(after, size)
    }
    start = end + 1
  }
  return sum
}

/** Where a line may end: after each position given, the last being the text's end. */
function breaksOf(text: string): readonly number[] {
  const found: number[] = []
  const breaker = new LineBreaker(text)
  for (let next = breaker.nextBreak(); next; next = breaker.nextBreak())
    if (next.position === text.length || !isKept(text, next.position)) found.push(next.position)
  const hyphens = [...text.matchAll(/-/g)].map(({ index }) => index + 1).filter((at) => endsAtHyphen(text, at))
  const quotes = [...text.matchAll(QUOTE_THEN_BRACKET)].map(({ index }) => index + 2)
  return hyphens.length + quotes.length === 0
    ? found
    : [...new Set([...found, ...hyphens, ...quotes])].sort((a, b) => a - b)
}

/** The library still has the rule LB15, which Unicode 15.1 took back: it kept a bracket with a closing quote before it. */
const QUOTE_THEN_BRACKET = /[”’»"'] (?=[([{])/g

const isAscii = (character: string | undefined): boolean =>
  character !== undefined && character > ' ' && character <= '~'

/**
 * UAX #14 lets a line end after a slash, bar or exclamation mark; between ASCII characters browsers do not, and they
 * are the judge (the agreement test holds this).
 */
const isKept = (text: string, at: number): boolean => '/|!'.includes(text[at - 1] as string) && isAscii(text[at])

/** After a hyphen browsers end a line before a letter or hyphen, and before a digit where it is no minus sign. */
function endsAtHyphen(text: string, at: number): boolean {
  const next = text[at] ?? ''
  return /[a-z-]/i.test(next) || (/\d/.test(next) && /[a-z\d]/i.test(text[at - 2] ?? ''))
}
