import LineBreaker from 'linebreak'
import type { TextMeasurer } from '../model/files.js'

export type { TextMeasurer }

/** Half the size for a character: the contract's guess where there is no font file. */
export const ESTIMATE: TextMeasurer = { certainty: 'estimated', width: (text, size) => 0.5 * size * [...text].length }

/** A rounding allowance in px: a line that is full to the last bit still fits. */
const FITS = 1e-3
/**
 * Share of a line by which it may be wider or narrower than its pieces with the pairs where they meet; nearer than that to
 * the line's end it is measured whole. The second is for scripts of which more than two letters may shape one another.
 */
const NEAR = { pairs: 0.004, shaped: 0.04 }
/** Letters, digits and signs that stand by themselves: Latin, and general punctuation without joiners. */
const STANDS_ALONE = /^[ -~\u00a0-\u024f\u2010-\u2027\u2030-\u205e\u20ac]*$/

/**
 * How many lines a text takes, broken greedily where Unicode's line breaking rules (UAX #14) allow it.
 * White space collapses as in HTML; a word longer than the line sticks out, it is not broken.
 *
 * @param width - In px; `Infinity` never breaks.
 */
export function countLines(measurer: TextMeasurer, text: string, size: number, width: number): number {
  let ofMeasurer = counted.get(measurer)
  if (!ofMeasurer) counted.set(measurer, (ofMeasurer = new Map()))
  const key = `${size} ${width} ${text}`
  let lines = ofMeasurer.get(key)
  if (lines === undefined) {
    lines = breakLines(measurer, text, size, width)
    if (ofMeasurer.size > MOST_KEPT) ofMeasurer.clear()
    ofMeasurer.set(key, lines)
  }
  return lines
}

/** Lines of texts that were counted: a change in memory leaves most texts as they are. */
const counted = new WeakMap<TextMeasurer, Map<string, number>>()
/** For how many texts and widths the lines of one font are kept. */
const MOST_KEPT = 20_000

function breakLines(measurer: TextMeasurer, text: string, size: number, width: number): number {
  const plain = text.replace(/[ \t\n\r\f]+/g, ' ').trim()
  if (plain === '') return 0
  if (width === Infinity) return 1
  const near = (STANDS_ALONE.test(plain) ? NEAR.pairs : NEAR.shaped) * width
  if (fitsOneLine(measurer, plain, size, width, near)) return 1
  let lines = 1
  let lineStart = 0
  let filled = 0 // px of the line up to the last break, the space at its end included
  let start = 0
  for (const end of breaksOf(plain)) {
    const word = plain.slice(start, end).trimEnd()
    const own = measurer.width(word, size)
    let needed = filled + own + (filled > 0 ? meeting(measurer, plain, start, size) : 0)
    if (filled > 0 && Math.abs(needed - width) < near)
      needed = measurer.width(plain.slice(lineStart, start + word.length), size)
    if (filled > 0 && needed > width + FITS) {
      lines += 1
      needed = own
      lineStart = start
    }
    filled = needed + (start + word.length < end ? measurer.width(' ', size) : 0)
    start = end
  }
  return lines
}

/** Px by which the pair of letters where a piece begins moves together or apart, over a space or not. */
function meeting(measurer: TextMeasurer, text: string, at: number, size: number): number {
  const isSpaced = text[at - 1] === ' '
  const [before, gap, after] = [text[isSpaced ? at - 2 : at - 1] ?? '', isSpaced ? ' ' : '', text[at] ?? '']
  const apart = measurer.width(before, size) + (isSpaced ? measurer.width(gap, size) : 0) + measurer.width(after, size)
  return measurer.width(before + gap + after, size) - apart
}

/** A long text is measured whole only where its words leave that open: words come again, and their widths are kept. */
function fitsOneLine(measurer: TextMeasurer, plain: string, size: number, width: number, near: number): boolean {
  let sum = 0
  for (let start = 0; start < plain.length;) {
    const space = plain.indexOf(' ', start)
    const end = space < 0 ? plain.length : space
    if (start > 0) sum += measurer.width(' ', size) + meeting(measurer, plain, start, size)
    sum += measurer.width(plain.slice(start, end), size)
    if (sum > width + near) return false
    start = end + 1
  }
  return sum < width - near || measurer.width(plain, size) <= width + FITS
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
