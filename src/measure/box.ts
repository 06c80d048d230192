import type { ItemKind } from '../model/item-kinds.js'
import type { Item } from '../model/site-data.js'

/** How far a number can be trusted, best first. */
export const CERTAINTIES = ['measured', 'declared', 'computed', 'estimated'] as const
/** How far a number can be trusted: measured, declared, computed or estimated. */
export type Certainty = (typeof CERTAINTIES)[number]

/** The least certain of several. */
export function leastCertain(...all: readonly Certainty[]): Certainty {
  let least: Certainty = 'measured'
  for (const certainty of all) if (RANKS[certainty] > RANKS[least]) least = certainty
  return least
}

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

interface Step extends LedgerEntry {
  readonly before: Step | undefined
}

/** A place on the way down the page: how far, how surely, and by which steps. Never changes. */
export class Cursor {
  static readonly top = new Cursor(0, 'measured', undefined)
  readonly y: number
  readonly certainty: Certainty
  readonly #last: Step | undefined

  private constructor(y: number, certainty: Certainty, last: Step | undefined) {
    this.y = y
    this.certainty = certainty
    this.#last = last
  }

  /** The place `px` further down; a step of 0 px leaves no trace. */
  down(px: number, because: string, pointer?: string, certainty: Certainty = 'computed'): Cursor {
    if (px === 0) return this
    const step: Step = { px, because, before: this.#last, ...(pointer !== undefined && { pointer }) }
    return new Cursor(this.y + px, leastCertain(this.certainty, certainty), step)
  }

  get ledger(): readonly LedgerEntry[] {
    const entries: LedgerEntry[] = []
    for (let step = this.#last; step; step = step.before) {
      const { px, because, pointer } = step
      entries.push({ px, because, ...(pointer !== undefined && { pointer }) })
    }
    return entries.reverse()
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

/** A box whose ledger costs nothing until it is asked for, and is its own all the same: copies and JSON have it. */
export const makeBox = ({ id, of, x, at, width, height, certainty, pointer }: BoxDraft): Box => ({
  id,
  of,
  x,
  y: at.y,
  width,
  height,
  certainty: leastCertain(at.certainty, certainty),
  ...(pointer !== undefined && { pointer }),
  get ledger() {
    return at.ledger
  },
})
