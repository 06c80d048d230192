import { distance } from 'fastest-levenshtein'

/** Two letters that changed places in a word of five count as two wrong ones. */
const MOST_WRONG = 0.4

/** A word that was cut short (`posn` for `position`) is nearer to what it stands for than its letters suggest. */
const LEFT_OUT = 0.4

/** The known word that a mistyped one most likely meant; `undefined` when none is near. */
export function didYouMean(word: string, known: Iterable<string>): string | undefined {
  let best: string | undefined
  let least = Math.max(1, Math.floor(word.length * MOST_WRONG)) + 1
  for (const candidate of known) {
    const [typed, meant] = [word.toLowerCase(), candidate.toLowerCase()]
    const apart = isWithin(typed, meant)
      ? (meant.length - typed.length) * LEFT_OUT
      : isSwapped(typed, meant)
        ? 1
        : distance(typed, meant)
    if (apart < least) [best, least] = [candidate, apart]
  }
  return best
}

/** Whether a word's letters come in another in this order, its first one first. */
function isWithin(word: string, other: string): boolean {
  if (word.length < 3 || word[0] !== other[0]) return false
  let from = 0
  for (const letter of word) {
    from = other.indexOf(letter, from) + 1
    if (from === 0) return false
  }
  return true
}

/** Whether two neighboring letters changed places, and nothing else. */
function isSwapped(word: string, other: string): boolean {
  const at = [...word].findIndex((letter, n) => letter !== other[n])
  return at >= 0 && word.slice(0, at) + (word[at + 1] ?? '') + (word[at] ?? '') + word.slice(at + 2) === other
}
