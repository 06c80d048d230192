import { remembered } from './remembered.js'
import type { SiteData } from './schema.js'

/** Lists of the document whose entries pages depend on. */
export const ENTRY_LISTS = ['assign', 'inserts'] as const
export type EntryList = (typeof ENTRY_LISTS)[number]

const ids = new WeakMap<object, string>()
let last = 0

/** The id of an entry: one per object, whatever its position in the list. */
function idOf(entry: object): string {
  let id = ids.get(entry)
  if (id === undefined) ids.set(entry, (id = `@${++last}`))
  return id
}

const positionsIn = remembered(
  (entries: readonly object[]): ReadonlyMap<string, number> => new Map(entries.map((entry, n) => [idOf(entry), n])),
)

/**
 * A pointer to an entry by its id, such as `/assign/@17`. Results that are kept use these in place of JSON Pointers, so
 * that they stay valid when entries before this one are added or removed.
 */
export const entryPointer = (list: EntryList, entry: object): string => `/${list}/${idOf(entry)}`

/** The position of an entry in its list, counted from 0; `undefined` where it is not in it. */
export const positionOf = (data: Pick<SiteData, EntryList>, list: EntryList, entry: object): number | undefined =>
  positionsIn((data[list] ?? []) as readonly object[]).get(idOf(entry))

/** Converts a pointer with an entry's id to a JSON Pointer (RFC 6901); returns other pointers unchanged. */
export function jsonPointer(data: Pick<SiteData, EntryList>, pointer: string): string {
  if (!pointer.startsWith('/assign/@') && !pointer.startsWith('/inserts/@')) return pointer
  const [, list, id, rest] = /^\/(assign|inserts)\/(@\d+)(.*)$/s.exec(pointer) ?? []
  if (id === undefined) return pointer
  const position = positionsIn((data[list as EntryList] ?? []) as readonly object[]).get(id)
  return position === undefined ? pointer : `/${list}/${position}${rest}`
}

/** Copies entries that are the same object as an earlier one, as those of a YAML alias are. */
export const distinctEntries = remembered(<T extends object>(entries: readonly T[]): readonly T[] => {
  const seen = new Set<T>()
  const isTwice = (entry: T): boolean => seen.has(entry) || !seen.add(entry)
  return new Set(entries).size === entries.length
    ? entries
    : entries.map((entry) => (isTwice(entry) ? { ...entry } : entry))
})
