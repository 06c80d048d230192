import type { ItemKind } from '../model/item-kinds.js'
import type { Item } from '../model/site-data.js'

/** How far a number can be trusted, best first. */
export const CERTAINTIES = ['measured', 'declared', 'computed', 'estimated'] as const
/** How far a number can be trusted: measured, declared, computed or estimated. */
export type Certainty = (typeof CERTAINTIES)[number]

/** The least certain of several. */
export const leastCertain = (...all: readonly Certainty[]): Certainty => all.reduce(lessCertain, 'measured')

/** The less certain of two. */
export const lessCertain = (a: Certainty, b: Certainty): Certainty => (RANKS[b] > RANKS[a] ? b : a)

const RANKS: Readonly<Record<Certainty, number>> = { measured: 0, declared: 1, computed: 2, estimated: 3 }

/** One step on the way down to a position: so many px, because of what. */
export interface LedgerEntry {
  readonly px: number
  readonly because: string
  /** JSON Pointer of the setting that gave it, where there is one. */
  readonly pointer?: string
}

/** A rectangle on the page; CSS px from the page's top left. */
export interface Box {
  readonly id: string
  /** The facet or thing that it belongs to: `header`, `section`, `insert`, `item`, … */
  readonly of: string
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
  readonly certainty: Certainty
  /** What in the site file it comes from. */
  readonly pointer?: string
  /** The steps that add up to `y`. */
  readonly ledger: readonly LedgerEntry[]
}

/** Where a printed item is. */
export type ItemPlace = 'header' | 'footer' | 'sidebar' | 'insert' | 'arrange' | 'body'

/** An item that prints something, with its box where the contract gives it one (rows of surrounds do not). */
export interface PrintedItem {
  readonly place: ItemPlace
  readonly kind: ItemKind
  readonly item: Item
  readonly pointer: string
  readonly box?: Box
  /** The innermost section or insert around it. */
  readonly section?: string
}

interface Step {
  readonly entry: LedgerEntry
  readonly before: Step | undefined
  /** How many steps there are up to this one. */
  readonly count: number
}

/** A place on the way down the page: how far, how surely, and by which steps. Never changes. */
export class Cursor {
  static readonly top = new Cursor(0, 'measured', undefined)
  readonly y: number
  readonly certainty: Certainty
  readonly #last: Step | undefined
  #ledger: readonly LedgerEntry[] | undefined

  private constructor(y: number, certainty: Certainty, last: Step | undefined) {
    this.y = y
    this.certainty = certainty
    this.#last = last
  }

  /** The place `px` further down; a step of 0 px leaves no trace. */
  down(px: number, because: string, pointer?: string, certainty: Certainty = 'computed'): Cursor {
    if (px === 0) return this
    const entry: LedgerEntry = pointer === undefined ? { px, because } : { px, because, pointer }
    const step: Step = { entry, before: this.#last, count: this.steps + 1 }
    return new Cursor(this.y + px, lessCertain(this.certainty, certainty), step)
  }

  /** How many steps lead here. */
  get steps(): number {
    return this.#last?.count ?? 0
  }

  get ledger(): readonly LedgerEntry[] {
    if (this.#ledger) return this.#ledger
    const entries: LedgerEntry[] = []
    for (let step = this.#last; step; step = step.before) entries.push(step.entry)
    return (this.#ledger = entries.reverse())
  }
}

export interface BoxDraft {
  readonly id: string
  readonly of: string
  readonly x: number
  readonly at: Cursor
  readonly width: number
  readonly height: number
  /** Of its height; its position's is the cursor's. */
  readonly certainty: Certainty
  readonly pointer?: string | undefined
}

/** A ledger of so many steps costs less than a way to make it when it is asked for. */
const SHORT_LEDGER = 32

/** A box with its ledger, which is its own: copies and JSON have it. A long one is made when it is asked for. */
export function makeBox({ id, of, x, at, width, height, certainty, pointer }: BoxDraft): Box {
  const { y } = at
  const least = lessCertain(at.certainty, certainty)
  if (at.steps <= SHORT_LEDGER) {
    const { ledger } = at
    return pointer === undefined
      ? { id, of, x, y, width, height, certainty: least, ledger }
      : { id, of, x, y, width, height, certainty: least, pointer, ledger }
  }
  return {
    ...{ id, of, x, y, width, height, certainty: least },
    ...(pointer !== undefined && { pointer }),
    get ledger() {
      return at.ledger
    },
  }
}
