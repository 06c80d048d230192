import { segmentsOf } from './page-facts.js'

/** A path glob, read once: `*` is anything within one segment, `**` whole segments, none included. */
export interface PathPattern {
  /** Segments without any `*`: what counts for specificity. */
  readonly literals: number
  /** Literal segments before the first `*`: what every path it means begins with. */
  readonly prefix: readonly string[]
  /** Whether the segments of a path match. */
  readonly matches: (segments: readonly string[]) => boolean
}

export function pathPattern(glob: string): PathPattern {
  const parts = segmentsOf(glob.startsWith('/') ? glob : `/${glob}`)
  const firstWild = parts.findIndex((part) => part.includes('*'))
  return {
    literals: parts.filter((part) => !part.includes('*')).length,
    prefix: firstWild === -1 ? parts : parts.slice(0, firstWild),
    matches: matcherOf(parts),
  }
}

/** The usual globs (a literal prefix and then `*` or `**`) are answered without searching. */
function matcherOf(parts: readonly string[]): PathPattern['matches'] {
  const last = parts.at(-1)
  const literals = parts.slice(0, -1)
  if (literals.some((part) => part.includes('*')) || (last !== '*' && last !== '**'))
    return (segments) => matchSegments(parts, segments)
  const open = last === '**'
  return (segments) => {
    if (open ? segments.length < literals.length : segments.length !== literals.length + 1) return false
    for (let n = 0; n < literals.length; n++) if (literals[n] !== segments[n]) return false
    return true
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
