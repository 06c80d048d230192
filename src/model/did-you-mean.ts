import { distance } from 'fastest-levenshtein'

/** The known word that a mistyped one most likely meant; `undefined` when none is near (more than a third of it wrong). */
export function didYouMean(word: string, known: Iterable<string>): string | undefined {
  let best: string | undefined
  let least = Math.max(1, Math.floor(word.length / 3)) + 1
  for (const candidate of known) {
    const apart = distance(word.toLowerCase(), candidate.toLowerCase())
    if (apart < least) [best, least] = [candidate, apart]
  }
  return best
}
