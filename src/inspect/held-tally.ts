import { LayeredMap } from '../model/layered-map.js'
import { listsBy } from '../model/lists.js'
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
const NO_VALUES: ReadonlyMap<string, Valued> = new Map()

function byPage(marks: readonly Mark[]): Valued {
  const lists = listsBy(marks, ({ page }) => page)
  return { pages: LayeredMap.of(new Map([...lists].map(([page, list]) => [page, single(list)]))), count: marks.length }
}

/** A tally that gives changed copies of itself: a copy costs what it changes. */
export class HeldTally {
  /** Marks that nobody has changed yet, by value. */
  readonly #lists: ReadonlyMap<string, readonly Mark[]> | undefined
  #pages: ReadonlyMap<string, Valued> | undefined
  #isNumbered: boolean | undefined

  private constructor(lists?: ReadonlyMap<string, readonly Mark[]>, held?: ReadonlyMap<string, Valued>) {
    this.#lists = lists
    this.#pages = held
  }

  static readonly empty = new HeldTally(new Map())

  /** One that holds some marks. */
  static of(marks: readonly Mark[]): HeldTally {
    return new HeldTally(listsBy(marks, ({ value }) => value))
  }

  /** The marks by value and page, as a change needs them: most tallies are never changed. */
  get #held(): ReadonlyMap<string, Valued> {
    return (this.#pages ??= new Map([...(this.#lists ?? [])].map(([value, marks]) => [value, byPage(marks)])))
  }

  get isEmpty(): boolean {
    return (this.#lists ?? this.#held).size === 0
  }

  /** What a rule sees of the tally, its pages in an order. */
  inOrder(position: (page: string) => number): Tally {
    const lists = this.#lists
    const held = lists ? NO_VALUES : this.#held
    const values = lists ?? held
    const ofValue = (value: string): readonly Mark[] => {
      const pages = held.get(value)?.pages
      return lists?.get(value) ?? pages?.keys.flatMap((page) => listOf(pages.get(page))) ?? []
    }
    const countOf = (value: string): number => lists?.get(value)?.length ?? held.get(value)?.count ?? 0
    return {
      count: (value) =>
        value !== undefined ? countOf(value) : [...values.keys()].reduce((sum, each) => sum + countOf(each), 0),
      values: () => [...values.keys()],
      marks: (value) => {
        const found = value === undefined ? [...values.keys()].flatMap(ofValue) : ofValue(value)
        return [...found].sort((a, b) => position(a.page) - position(b.page))
      },
    }
  }

  /** The same with other numbers of list entries in what its marks tell. */
  renamed(renaming: Renumbering): HeldTally {
    if (renaming.isEmpty || !this.#mentionsEntries()) return this
    return new HeldTally(
      undefined,
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
    const does = ({ key, detail }: Mark): boolean => mentionsEntries([key, detail])
    return (this.#isNumbered ??= this.#lists
      ? [...this.#lists].some(([value, marks]) => mentionsEntries(value) || marks.some(does))
      : [...this.#held].some(
          ([value, { pages }]) =>
            mentionsEntries(value) || pages.keys.some((page) => listOf(pages.get(page)).some(does)),
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
    return new HeldTally(undefined, held)
  }
}
