import { remembered } from './remembered.js'
import type { SiteData } from './schema.js'

/** Lists of the document whose entries pages depend on. */
export type EntryList = 'assign' | 'inserts'

const ids = new WeakMap<object, string>()
let last = 0

/** A name for an entry that stays while it is the same object, wherever it is in its list. */
function idOf(entry: object): string {
  let id = ids.get(entry)
  if (id === undefined) ids.set(entry, (id = `@${++last}`))
  return id
}

const positionsIn = remembered(
  (entries: readonly object[]): ReadonlyMap<string, number> => new Map(entries.map((entry, n) => [idOf(entry), n])),
)

/**
 * A pointer to an entry that holds wherever the entry is: `/assign/@17`. What is known of a page has these in place of
 * JSON Pointers, so that it still holds when entries before it come or go.
 */
export const entryPointer = (list: EntryList, entry: object): string => `/${list}/${idOf(entry)}`

/** The position of an entry in its list, counted from 0; `undefined` where it is not in it. */
export const positionOf = (data: Pick<SiteData, EntryList>, list: EntryList, entry: object): number | undefined =>
  positionsIn((data[list] ?? []) as readonly object[]).get(idOf(entry))

/** The JSON Pointer (RFC 6901) of what a pointer with the id of an entry names; other pointers as they are. */
export function jsonPointer(data: Pick<SiteData, EntryList>, pointer: string): string {
  if (!pointer.startsWith('/assign/@') && !pointer.startsWith('/inserts/@')) return pointer
  const [, list, id, rest] = /^\/(assign|inserts)\/(@\d+)(.*)$/s.exec(pointer) ?? []
  if (id === undefined) return pointer
  const position = positionsIn((data[list as EntryList] ?? []) as readonly object[]).get(id)
  return position === undefined ? pointer : `/${list}/${position}${rest}`
}

/** A list in which no two entries are the same object, as entries of a YAML alias are. */
export const distinctEntries = remembered(<T extends object>(entries: readonly T[]): readonly T[] => {
  const seen = new Set<T>()
  const isTwice = (entry: T): boolean => seen.has(entry) || !seen.add(entry)
  return new Set(entries).size === entries.length
    ? entries
    : entries.map((entry) => (isTwice(entry) ? { ...entry } : entry))
})
