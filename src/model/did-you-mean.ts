import { distance } from 'fastest-levenshtein'

/** Two letters that changed places in a word of five count as two wrong ones. */
const MOST_WRONG = 0.4

/** A word that was cut short (`posn` for `position`) is nearer to what it stands for than its letters suggest. */
const LEFT_OUT = 0.4

/** Longer words are no names that somebody mistyped. */
const MOST_LETTERS = 80

/** A known word, and what tells at a glance that it is far from another. */
interface Known {
  readonly word: string
  readonly lower: string
  /** The letters that are in it, as bits. */
  readonly letters: number
}

const prepared = new WeakMap<readonly string[], readonly Known[]>()

function prepare(words: Iterable<string>): readonly Known[] {
  const known = Array.isArray(words) ? prepared.get(words as readonly string[]) : undefined
  if (known) return known
  const made = [...words].flatMap((word): Known[] => {
    const lower = word.toLowerCase()
    return word.length > MOST_LETTERS ? [] : [{ word, lower, letters: lettersOf(lower) }]
  })
  if (Array.isArray(words)) prepared.set(words as readonly string[], made)
  return made
}

/** One bit for each letter; some letters share one. */
function lettersOf(word: string): number {
  let bits = 0
  for (let n = 0; n < word.length; n++) bits |= 1 << (word.charCodeAt(n) & 31)
  return bits
}

function countBits(bits: number): number {
  let count = 0
  for (let left = bits; left !== 0; left &= left - 1) count++
  return count
}

/** The known word that a mistyped one most likely meant; `undefined` when none is near. */
export function didYouMean(word: string, known: Iterable<string>): string | undefined {
  if (word.length > MOST_LETTERS) return undefined
  let best: string | undefined
  let least = Math.max(1, Math.floor(word.length * MOST_WRONG)) + 1
  const typed = word.toLowerCase()
  const letters = lettersOf(typed)
  for (const { word: candidate, lower: meant, letters: others } of prepare(known)) {
    let apart: number
    if ((letters & ~others) === 0 && isWithin(typed, meant)) apart = (meant.length - typed.length) * LEFT_OUT
    // Each letter that is wrong takes one away and brings another.
    else if (Math.abs(meant.length - typed.length) >= least || countBits(letters ^ others) / 2 >= least) continue
    else apart = isSwapped(typed, meant) ? 1 : distance(typed, meant)
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
