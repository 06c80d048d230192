import { LayeredMap } from '../model/layered-map.js'
import { mentionsEntries, type Renumbering } from '../resolve/renumbered.js'
import { renamedMark } from './fact-changes.js'
import type { Mark } from './seen.js'
import type { Tally } from './tally.js'

/** The marks of one value, by page. */
interface Valued {
  /** Nearly always one a page. */
  readonly pages: LayeredMap<Mark | readonly Mark[]>
  readonly count: number
}

const single = (marks: readonly Mark[]): Mark | readonly Mark[] => (marks.length === 1 ? (marks[0] as Mark) : marks)
const listOf = (held: Mark | readonly Mark[] | undefined): readonly Mark[] => (held === undefined ? [] : [held].flat())

const NO_MARKS: Valued = { pages: LayeredMap.of(new Map()), count: 0 }

/** A tally that gives changed copies of itself: a copy costs what it changes. */
export class HeldTally {
  readonly #held: ReadonlyMap<string, Valued>
  #isNumbered: boolean | undefined

  constructor(held: ReadonlyMap<string, Valued> = new Map()) {
    this.#held = held
  }

  get isEmpty(): boolean {
    return this.#held.size === 0
  }

  /** One that holds some marks. */
  static of(marks: readonly Mark[]): HeldTally {
    const byValue = new Map<string, { readonly pages: Map<string, Mark | Mark[]>; count: number }>()
    for (const mark of marks) {
      let held = byValue.get(mark.value)
      if (!held) byValue.set(mark.value, (held = { pages: new Map(), count: 0 }))
      held.count++
      const before = held.pages.get(mark.page)
      if (Array.isArray(before)) before.push(mark)
      else held.pages.set(mark.page, before ? [before, mark] : mark)
    }
    return new HeldTally(
      new Map([...byValue].map(([value, { pages, count }]) => [value, { pages: LayeredMap.of(pages), count }])),
    )
  }

  /** What a rule sees of the tally, its pages in an order. */
  inOrder(position: (page: string) => number): Tally {
    const held = this.#held
    const ofValue = (value: string): readonly Mark[] => {
      const pages = held.get(value)?.pages
      return pages?.keys.flatMap((page) => listOf(pages.get(page))) ?? []
    }
    return {
      count: (value) =>
        value !== undefined
          ? (held.get(value)?.count ?? 0)
          : [...held.values()].reduce((sum, { count }) => sum + count, 0),
      values: () => [...held.keys()],
      marks: (value) => {
        const found = value === undefined ? [...held.keys()].flatMap(ofValue) : ofValue(value)
        return [...found].sort((a, b) => position(a.page) - position(b.page))
      },
    }
  }

  /** The same with other numbers of list entries in what its marks tell. */
  renamed(renaming: Renumbering): HeldTally {
    if (renaming.isEmpty || !this.#mentionsEntries()) return this
    return new HeldTally(
      new Map(
        [...this.#held].map(([value, { pages, count }]) => {
          const list = new Map(
            pages.keys.map((page) => [
              page,
              single(listOf(pages.get(page)).map((mark) => renamedMark(mark, renaming))),
            ]),
          )
          return [renaming.text(value), { pages: LayeredMap.of(list), count }]
        }),
      ),
    )
  }

  #mentionsEntries(): boolean {
    return (this.#isNumbered ??= [...this.#held].some(
      ([value, { pages }]) =>
        mentionsEntries(value) ||
        pages.keys.some((page) => listOf(pages.get(page)).some(({ key, detail }) => mentionsEntries([key, detail]))),
    ))
  }

  /** Without what some pages contribute under some values, and with other marks instead. */
  with(gone: readonly Mark[], added: readonly Mark[]): HeldTally {
    const held = new Map(this.#held)
    const edits = new Map<string, Map<string, Mark[]>>()
    const editOf = ({ value, page }: Mark): Mark[] => {
      let pages = edits.get(value)
      if (!pages) edits.set(value, (pages = new Map()))
      let marks = pages.get(page)
      if (!marks) pages.set(page, (marks = []))
      return marks
    }
    for (const mark of gone) editOf(mark)
    for (const mark of added) editOf(mark).push(mark)
    for (const [value, changed] of edits) {
      const { pages, count } = held.get(value) ?? NO_MARKS
      let left = count
      const changes = new Map<string, Mark | readonly Mark[] | undefined>()
      for (const [page, marks] of changed) {
        left += marks.length - listOf(pages.get(page)).length
        changes.set(page, marks.length > 0 ? single(marks) : undefined)
      }
      if (left === 0) held.delete(value)
      else held.set(value, { pages: pages.with(changes), count: left })
    }
    return new HeldTally(held)
  }
}
