import { fromPointer, toPointer } from '../model/json.js'
import { ENTRY_LISTS } from '../model/entries.js'
import { remembered } from '../model/remembered.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { hashJson } from './content-hash.js'

/** A content hash for each entry of the lists. */
export interface EntryRecords {
  readonly assign?: readonly string[]
  readonly inserts?: readonly string[]
}

const hashOf = remembered((entry: object) => hashJson(entry))

/** Hashes the entries of a site's lists. */
export const recordEntries = ({ site: { data } }: ResolvedSite): EntryRecords =>
  Object.fromEntries(
    ENTRY_LISTS.flatMap((list) => {
      const entries = data[list] as readonly object[] | undefined
      return entries ? [[list, entries.map(hashOf)]] : []
    }),
  )

/** Translates a pointer into the earlier state to the later one. */
export type Alignment = (pointer: string) => string

/**
 * Matches the entries of two states: equal entries first, in their order; then, if both sides have the same number left,
 * these in their order, as edited entries. A pointer into a removed entry leads nowhere in the later state.
 */
export function entryAlignment(before: EntryRecords, after: EntryRecords): Alignment {
  const lists = new Map(ENTRY_LISTS.map((list) => [list as string, positionsOf(before[list] ?? [], after[list] ?? [])]))
  return (pointer) => {
    const [list = '', position, ...rest] = fromPointer(pointer)
    const positions = lists.get(list)
    if (!positions || position === undefined) return pointer
    return toPointer([list, positions.get(Number(position)) ?? `${position} (gone)`, ...rest])
  }
}

function positionsOf(before: readonly string[], after: readonly string[]): ReadonlyMap<number, number> {
  const positions = new Map<number, number>()
  const free = new Map<string, number[]>()
  after.forEach((text, n) => free.set(text, [...(free.get(text) ?? []), n]))
  before.forEach((text, n) => {
    const same = free.get(text)?.shift()
    if (same !== undefined) positions.set(n, same)
  })
  const left = before.flatMap((_, n) => (positions.has(n) ? [] : [n]))
  const taken = new Set(positions.values())
  const fresh = after.flatMap((_, n) => (taken.has(n) ? [] : [n]))
  if (left.length === fresh.length) left.forEach((n, k) => positions.set(n, fresh[k] as number))
  return positions
}
