import type { SiteData } from '../model/schema.js'

/** Lists of the document whose entries are named by their number. */
export const NUMBERED = ['assign', 'inserts'] as const

/** Where entries of lists are that others were added before or taken from before: from their old number to the new. */
export class Renumbering {
  readonly #numbers: ReadonlyMap<string, ReadonlyMap<number, number>>
  #inverse: Renumbering | undefined

  constructor(numbers: ReadonlyMap<string, ReadonlyMap<number, number>> = new Map()) {
    this.#numbers = numbers
  }

  /** Between two states of a document; entries are recognized by their identity. */
  static between(before: SiteData, after: SiteData): Renumbering {
    const numbers = new Map<string, ReadonlyMap<number, number>>()
    for (const section of NUMBERED) {
      const moved = movedIn(before[section], after[section])
      if (moved.size > 0) numbers.set(section, moved)
    }
    return new Renumbering(numbers)
  }

  get isEmpty(): boolean {
    return this.#numbers.size === 0
  }

  /** The same and then another. */
  then(other: Renumbering): Renumbering {
    if (other.isEmpty) return this
    if (this.isEmpty) return other
    const numbers = new Map<string, ReadonlyMap<number, number>>()
    for (const section of NUMBERED) {
      const [first, second] = [this.#numbers.get(section), other.#numbers.get(section)]
      const both = new Map<number, number>()
      for (const old of new Set([...(first?.keys() ?? []), ...(second?.keys() ?? [])])) {
        const step = first?.get(old) ?? old
        both.set(old, second?.get(step) ?? step)
      }
      if (both.size > 0) numbers.set(section, both)
    }
    return new Renumbering(numbers)
  }

  /** The other way round. */
  get inverse(): Renumbering {
    return (this.#inverse ??= new Renumbering(
      new Map([...this.#numbers].map(([section, moved]) => [section, new Map([...moved].map(([a, b]) => [b, a]))])),
    ))
  }

  /** A text in which pointers and names of entries are those of the new numbers. */
  text(text: string): string {
    if (this.isEmpty || !MENTIONS.test(text)) return text
    return text
      .replace(/\/(assign|inserts)\/(-?\d+)/g, (whole, section: string, number: string) => {
        const now = this.#numbers.get(section)?.get(Number(number))
        return now === undefined ? whole : `/${section}/${now}`
      })
      .replace(/\bassign entry (\d+)/g, (whole, number: string) => {
        const now = this.#numbers.get('assign')?.get(Number(number) - 1)
        return now === undefined ? whole : `assign entry ${now + 1}`
      })
  }

  /** Any plain value, its texts as `text` gives them; the same object where nothing is renamed. */
  value<T>(value: T): T {
    if (typeof value === 'string') return this.text(value) as T
    if (typeof value !== 'object' || value === null) return value
    if (Array.isArray(value)) {
      const list = value.map((each) => this.value(each as unknown))
      return list.some((each, n) => each !== value[n]) ? (list as T) : value
    }
    let isChanged = false
    const out: Record<string, unknown> = {}
    for (const [key, each] of Object.entries(value)) {
      const name = this.text(key)
      out[name] = this.value(each as unknown)
      isChanged ||= name !== key || out[name] !== each
    }
    return isChanged ? (out as T) : value
  }
}

/** Whether a plain value mentions an entry by its number anywhere: else it is the same by any numbers. */
export function mentionsEntries(value: unknown): boolean {
  if (typeof value === 'string') return MENTIONS.test(value)
  if (typeof value !== 'object' || value === null) return false
  return Object.entries(value).some(([key, each]) => MENTIONS.test(key) || mentionsEntries(each))
}

const MENTIONS = /\/(?:assign|inserts)\/-?\d|\bassign entry \d/

/** Numbers of entries where these are not, after or before a change, are below 0, and no two the same. */
let lastNowhere = 0

/** New numbers of entries by the old ones, where these differ. */
function movedIn(before: readonly object[] | undefined, after: readonly object[] | undefined): Map<number, number> {
  const moved = new Map<number, number>()
  if (before === after || !before || !after) return moved
  const { start, old, now, last } = unlikeParts(before, after)
  const numbers = new Map(now.map((entry, n) => [entry, start + n]))
  old.forEach((entry, n) => {
    const number = numbers.get(entry)
    if (number !== undefined && number !== start + n) moved.set(start + n, number)
  })
  const shift = now.length - old.length
  if (shift !== 0) for (let n = last; n < before.length; n++) moved.set(n, n + shift)
  if (moved.size === 0) return moved
  // What is gone must not be taken for what has its number now, nor what is new for what had it.
  const known = new Set(old)
  old.forEach((entry, n) => numbers.has(entry) || moved.set(start + n, --lastNowhere))
  now.forEach((entry, n) => known.has(entry) || moved.set(--lastNowhere, start + n))
  return moved
}

/** What is left of two lists without the entries that both begin with, and those that both end with. */
export interface UnlikeParts<T> {
  /** How many entries both begin with. */
  readonly start: number
  readonly old: readonly T[]
  readonly now: readonly T[]
  /** The number in the earlier list of the first of the entries that both end with. */
  readonly last: number
}

/** Compares two lists by what makes their entries the same: a change nearly always concerns few of them. */
export function unlikeParts<T>(
  before: readonly T[],
  after: readonly T[],
  idOf: (entry: T) => unknown = (entry) => entry,
): UnlikeParts<T> {
  const isSame = (n: number, m: number): boolean => idOf(before[n] as T) === idOf(after[m] as T)
  let start = 0
  const shorter = Math.min(before.length, after.length)
  while (start < shorter && isSame(start, start)) start++
  let end = 0
  while (end < shorter - start && isSame(before.length - 1 - end, after.length - 1 - end)) end++
  const last = before.length - end
  return { start, old: before.slice(start, last), now: after.slice(start, after.length - end), last }
}

/** Whether the entries that stay follow each other as before: in a tie their order decides. */
export function keepsOrder(before: readonly object[] = [], after: readonly object[] = []): boolean {
  const { old, now } = unlikeParts(before, after)
  const numbers = new Map(now.map((entry, n) => [entry, n]))
  const stays = old.flatMap((entry) => numbers.get(entry) ?? [])
  return stays.every((number, n) => n === 0 || number > (stays[n - 1] as number))
}
