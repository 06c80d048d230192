import { distance } from 'fastest-levenshtein'

/** Two letters that changed places in a word of five count as two wrong ones. */
const MOST_WRONG = 0.4

/** The known word that a mistyped one most likely meant; `undefined` when none is near. */
export function didYouMean(word: string, known: Iterable<string>): string | undefined {
  let best: string | undefined
  let least = Math.max(1, Math.floor(word.length * MOST_WRONG)) + 1
  for (const candidate of known) {
    const apart = distance(word.toLowerCase(), candidate.toLowerCase())
    if (apart < least) [best, least] = [candidate, apart]
  }
  return best
}
