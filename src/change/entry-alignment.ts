import canonicalize from 'canonicalize'
import { fromPointer, toPointer } from '../model/json.js'
import type { EntryList } from '../model/entries.js'
import { remembered } from '../model/remembered.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'

const LISTS: readonly EntryList[] = ['assign', 'inserts']

/** The entries of each list as texts that are the same for equal entries. */
export interface EntryRecords {
  readonly assign?: readonly string[]
  readonly inserts?: readonly string[]
}

/** A short text for what is long; equal for equal texts, and for no others that a site is likely to have (FNV-1a, 2 x 32 bit). */
function digest(text: string): string {
  let [a, b] = [0x811c9dc5, 0x1b873593]
  for (let n = 0; n < text.length; n++) {
    a = Math.imul(a ^ text.charCodeAt(n), 0x01000193)
    b = Math.imul(b ^ text.charCodeAt(text.length - 1 - n), 0x85ebca6b)
  }
  return [a, b].map((part) => (part >>> 0).toString(16).padStart(8, '0')).join('')
}

const digestOf = remembered((entry: object) => digest(canonicalize(entry) ?? ''))

/** The entries of a site's lists. */
export const recordEntries = ({ site: { data } }: ResolvedSite): EntryRecords =>
  Object.fromEntries(
    LISTS.flatMap((list) => {
      const entries = data[list] as readonly object[] | undefined
      return entries ? [[list, entries.map(digestOf)]] : []
    }),
  )

/** Where what a pointer into the earlier state names is in the later one. */
export type Alignment = (pointer: string) => string

/**
 * Which entries of two states are the same: equal ones in their order, wherever they are; then, where as many are left on
 * both sides, the first with the first and so on, for these were edited. A pointer into an entry that is gone names nothing
 * in the later state.
 */
export function entryAlignment(before: EntryRecords, after: EntryRecords): Alignment {
  const lists = new Map(LISTS.map((list) => [list as string, positionsOf(before[list] ?? [], after[list] ?? [])]))
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
