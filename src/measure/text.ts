import LineBreaker from 'linebreak'
import type { TextMeasurer } from '../model/files.js'

export type { TextMeasurer }

/** Half the size for a character: the contract's guess where there is no font file. */
export const ESTIMATE: TextMeasurer = { certainty: 'estimated', width: (text, size) => 0.5 * size * [...text].length }

/** A rounding allowance in px: a line that is full to the last bit still fits. */
const FITS = 1e-3
/** Share of a line by which kerning between its pieces may change its width; nearer than that the line is measured whole. */
const KERNING = 0.04

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
  if (width === Infinity || fitsOneLine(measurer, plain, size, width)) return 1
  let lines = 1
  let lineStart = 0
  let filled = 0 // px of the line up to the last break, the space at its end included
  let start = 0
  for (const end of breaksOf(plain)) {
    const piece = plain.slice(start, end)
    let needed = filled + measurer.width(piece.trimEnd(), size)
    // Pieces add up to a little more or less than the whole line, by the kerning between them.
    if (filled > 0 && Math.abs(needed - width) < KERNING * width)
      needed = measurer.width(plain.slice(lineStart, end).trimEnd(), size)
    if (filled > 0 && needed > width + FITS) {
      lines += 1
      filled = 0
      lineStart = start
    }
    filled += measurer.width(piece, size)
    start = end
  }
  return lines
}

/** A long text is measured whole only where its words leave that open: words come again, and their widths are kept. */
function fitsOneLine(measurer: TextMeasurer, plain: string, size: number, width: number): boolean {
  let sum = 0
  for (const word of plain.split(' ')) {
    sum += measurer.width(word, size)
    if (sum > (1 + KERNING) * width) return false
  }
  return measurer.width(plain, size) <= width + FITS
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
