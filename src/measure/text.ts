import LineBreaker from 'linebreak'
import type { Certainty } from './box.js'

/** Tells how wide a run of text is; an argument of measuring, so that a browser can pass its own. */
export interface TextMeasurer {
  readonly certainty: Certainty
  /** Width in px of text set on one line at a size in px. */
  readonly width: (text: string, size: number) => number
}

/** Half the size for a character: the contract's guess where there is no font file. */
export const ESTIMATE: TextMeasurer = { certainty: 'estimated', width: (text, size) => 0.5 * size * [...text].length }

/** A rounding allowance in px: a line that is full to the last bit still fits. */
const FITS = 1e-3

/**
 * How many lines a text takes, broken greedily where Unicode's line breaking rules (UAX #14) allow it.
 * White space collapses as in HTML; a word longer than the line sticks out, it is not broken.
 *
 * @param width - In px; `Infinity` never breaks.
 */
export function countLines(measurer: TextMeasurer, text: string, size: number, width: number): number {
  const plain = text.replace(/[ \t\n\r\f]+/g, ' ').trim()
  if (plain === '') return 0
  if (width === Infinity || measurer.width(plain, size) <= width + FITS) return 1
  const breaker = new LineBreaker(plain)
  let lines = 1
  let start = 0 // of the line
  let fits = 0 // the last break that still fits
  for (let next = breaker.nextBreak(); next; next = breaker.nextBreak()) {
    if (measurer.width(plain.slice(start, next.position).trimEnd(), size) > width + FITS && fits > start) {
      lines += 1
      start = fits
    }
    fits = next.position
  }
  return lines
}
