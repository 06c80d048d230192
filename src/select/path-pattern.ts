import { segmentsOf } from './page-facts.js'

/** A path glob, read once: `*` is anything within one segment, `**` whole segments, none included. */
export interface PathPattern {
  /** Segments without any `*`: what counts for specificity. */
  readonly literals: number
  /** Literal segments before the first `*`: what every path it means begins with. */
  readonly prefix: readonly string[]
  readonly matches: (segments: readonly string[]) => boolean
}

export function pathPattern(glob: string): PathPattern {
  const parts = segmentsOf(glob)
  const firstWild = parts.findIndex((part) => part.includes('*'))
  return {
    literals: parts.filter((part) => !part.includes('*')).length,
    prefix: firstWild === -1 ? parts : parts.slice(0, firstWild),
    matches: (segments) => matchSegments(parts, segments),
  }
}

/** Greedy with one step back to the last `**`, so that time is at most the product of the two lengths. */
function matchSegments(parts: readonly string[], segments: readonly string[]): boolean {
  return matchWild(parts, segments, (part) => part === '**', matchSegment)
}

function matchSegment(part: string, segment: string): boolean {
  if (!part.includes('*')) return part === segment
  return matchWild(
    [...part],
    [...segment],
    (c) => c === '*',
    (c, d) => c === d,
  )
}

function matchWild(
  parts: readonly string[],
  subject: readonly string[],
  isWild: (part: string) => boolean,
  same: (part: string, each: string) => boolean,
): boolean {
  let p = 0
  let s = 0
  let wild = -1
  let resume = 0
  while (s < subject.length) {
    const part = parts[p]
    if (part !== undefined && isWild(part)) {
      wild = p++
      resume = s
    } else if (part !== undefined && same(part, subject[s] as string)) {
      p++
      s++
    } else if (wild >= 0) {
      p = wild + 1
      s = ++resume
    } else return false
  }
  while (p < parts.length && isWild(parts[p] as string)) p++
  return p === parts.length
}
