import { FetchError } from './source.js'

/** Browsers give up at 512 elements within one another, parsers of scripts somewhat later. */
const DEEPEST = 1000
const MOST_ELEMENTS = 50_000
/** Elements without an end, or whose end may be left out: they count, but nothing is within them for certain. */
const WITHOUT_END = new Set(
  'area base br col embed hr img input link meta param source track wbr p li dt dd tr td th thead tbody tfoot option optgroup colgroup rp rt'.split(
    ' ',
  ),
)

/** What is within these is text to the parser, whatever it looks like. */
const RAW = ['script', 'style', 'title', 'textarea', '!--']

/** Where things end that have an end of their own; once there is no more of one, it is not looked for again. */
export class Ends {
  readonly #text: string
  readonly #ends: Map<string, RegExp>

  constructor(text: string, names: readonly string[]) {
    this.#text = text
    this.#ends = new Map(names.map((name) => [name, new RegExp(name === '!--' ? '-->' : `</${name}\\s*>`, 'gi')]))
  }

  /** Where a thing that begins before `from` is over; `undefined` where it has no end, or none of its own. */
  after(name: string, from: number): number | undefined {
    const end = this.#ends.get(name)
    if (!end) return undefined
    end.lastIndex = from
    if (end.test(this.#text)) return end.lastIndex
    this.#ends.delete(name)
    return undefined
  }
}

/**
 * Goes through a page's tags once, before anything is built of them.
 *
 * @throws {FetchError} For more elements than can be gone through, or nested deeper than any browser follows.
 */
export function expectBounded(text: string): void {
  const tag = /<(\/?)([a-z][\w-]*|!--)/gi
  const ends = new Ends(text, RAW)
  let [elements, depth, close] = [0, 0, -1]
  for (let found = tag.exec(text); found; found = tag.exec(text)) {
    const name = (found[2] ?? '').toLowerCase()
    // Where this tag ends; one search serves all that begin before it.
    if (found.index > close) close = text.indexOf('>', found.index)
    if (close < 0) close = text.length
    const isEnd = found[1] === '/'
    const isAlone = WITHOUT_END.has(name) || name === '!--' || text[close - 1] === '/'
    const after = isEnd ? undefined : ends.after(name, tag.lastIndex)
    if (after !== undefined) tag.lastIndex = after
    if (name !== '!--' && !isEnd) elements += 1
    if (!isAlone && after === undefined) depth = isEnd ? Math.max(0, depth - 1) : depth + 1
    if (elements > MOST_ELEMENTS) throw tooLarge(`it has more than ${MOST_ELEMENTS} elements`)
    if (depth > DEEPEST) throw tooLarge(`its elements are nested more than ${DEEPEST} deep`)
  }
}

const tooLarge = (why: string): FetchError => new FetchError('too-large', `the page cannot be gone through: ${why}`)
