import type { Range } from './text-tree.js'

/** A place in a text; both counted from 1, columns in UTF-16 units. */
export interface TextPlace {
  readonly line: number
  readonly column: number
}

/** From one place to another. */
export interface Span {
  readonly from: TextPlace
  readonly to: TextPlace
}

/** So much of a word is marked at most; a file may be one line. */
const LONGEST_WORD = 300

/** Lines of a text, to turn offsets into places and back. */
export class Lines {
  /** The text itself. */
  readonly text: string
  readonly #starts: readonly number[]

  /** @param text - The whole text. */
  constructor(text: string) {
    this.text = text
    const starts = [0]
    for (let at = text.indexOf('\n'); at !== -1; at = text.indexOf('\n', at + 1)) starts.push(at + 1)
    this.#starts = starts
  }

  /** The offset of a place; of one past the end of a line or text the nearest. */
  offset({ line, column }: TextPlace): number {
    const start = this.#starts[Math.min(Math.max(line, 1), this.#starts.length) - 1] ?? 0
    return Math.min(start + column - 1, this.text.length)
  }

  /** The place of an offset. */
  place(offset: number): TextPlace {
    let [low, high] = [0, this.#starts.length - 1]
    while (low < high) {
      const middle = Math.ceil((low + high) / 2)
      if ((this.#starts[middle] as number) <= offset) low = middle
      else high = middle - 1
    }
    return { line: low + 1, column: offset - (this.#starts[low] as number) + 1 }
  }

  /** The places of a range. */
  span({ from, to }: Range): Span {
    return { from: this.place(from), to: this.place(to) }
  }

  /** The range from a place to the end of the word, quoted text or key that begins there. */
  wordAt(place: TextPlace): Range {
    const from = this.offset(place)
    const [line = ''] = this.text.slice(from, from + LONGEST_WORD).split('\n', 1)
    const [word = ''] = /^"(?:[^"\\]|\\.)*"|^'(?:[^']|'')*'|^[^\s,[\]{}:#][^,[\]{}#:]*|^\S/.exec(line) ?? []
    return { from, to: from + Math.max(1, word.trimEnd().length) }
  }
}

/** How many lines two texts have in common at their beginnings and at their ends; a line is counted once. */
export function sameLines(
  a: readonly string[],
  b: readonly string[],
): { readonly first: number; readonly last: number } {
  const most = Math.min(a.length, b.length)
  let first = 0
  while (first < most && a[first] === b[first]) first++
  let last = 0
  while (last < most - first && a[a.length - 1 - last] === b[b.length - 1 - last]) last++
  return { first, last }
}
