import { isObject, type Json, type JsonObject } from './json.js'
import { childOrigin, type Origin } from './origin.js'
import { JOINED_LISTS, sectionsWith } from './sections.js'
import type { Source } from './source.js'

/** A value together with where it was written. */
export interface Part {
  readonly value: Json
  readonly origin: Origin
}

/** Called for a key that a file and one it includes both give. */
export type OnConflict = (path: readonly string[], first: Origin, second: Origin) => void

/** Maps at the top whose keys are ids. */
const ID_MAPS = new Set<string>(sectionsWith('holds', 'map'))

export const partOf = (source: Source, value: Json): Part => ({ value, origin: { source, pointer: '' } })

const child = (part: Part, key: string): Part => ({
  value: (part.value as JsonObject)[key] as Json,
  origin: childOrigin(part.origin, key),
})

/**
 * Lays one file's content over another's: by key, down to a property. A list replaces a list, but the top-level
 * lists are joined; `null` stays, to take away what lies underneath, until `withoutNulls`.
 */
export function layOver(under: Part, over: Part, viewports: ReadonlySet<string>, path: readonly string[] = []): Part {
  if (
    Array.isArray(under.value) &&
    Array.isArray(over.value) &&
    path.length === 1 &&
    JOINED_LISTS.has(path[0] as string)
  )
    return joined(under, over)
  if (!isStructural(under.value, path, viewports) || !isStructural(over.value, path, viewports)) return over
  return byKey(under, over, over.origin, (lower, upper, key) => layOver(lower, upper, viewports, [...path, key]))
}

/** A map of the keys of two; `both` merges one that both have. */
function byKey(
  first: Part,
  second: Part,
  origin: Origin,
  both: (first: Part, second: Part, key: string) => Part,
): Part {
  const value: Record<string, Json> = {}
  const children = new Map<string, Origin>()
  const set = (key: string, part: Part): void => {
    value[key] = part.value
    children.set(key, part.origin)
  }
  const known = first.value as JsonObject
  for (const key of Object.keys(known)) set(key, child(first, key))
  for (const key of Object.keys(second.value as JsonObject)) {
    const added = child(second, key)
    set(key, Object.hasOwn(known, key) ? both(child(first, key), added, key) : added)
  }
  return { value, origin: { source: origin.source, pointer: origin.pointer, children } }
}

/** Adds an included file's content; a key that both give is a conflict, and the including file's stays. */
export function addTo(first: Part, second: Part, onConflict: OnConflict, path: readonly string[] = []): Part {
  if (
    Array.isArray(first.value) &&
    Array.isArray(second.value) &&
    path.length === 1 &&
    JOINED_LISTS.has(path[0] as string)
  )
    return joined(first, second)
  const isId = path.length === 2 && ID_MAPS.has(path[0] as string)
  if (!isObject(first.value) || !isObject(second.value) || isId) {
    if (path.length !== 1 || path[0] !== 'wembra') onConflict(path, first.origin, second.origin)
    return first
  }
  return byKey(first, second, first.origin, (known, added, key) => addTo(known, added, onConflict, [...path, key]))
}

function joined(first: Part, second: Part): Part {
  const lists = [first, second].map((part) =>
    (part.value as readonly Json[]).map((value, index) => ({ value, origin: childOrigin(part.origin, String(index)) })),
  )
  const entries = lists.flat()
  return {
    value: entries.map((entry) => entry.value),
    origin: {
      source: second.origin.source,
      pointer: second.origin.pointer,
      children: new Map(entries.map((entry, index) => [String(index), entry.origin])),
    },
  }
}

/** Whether a map is merged key by key: all but the values by viewport, which are atoms. */
function isStructural(value: Json, path: readonly string[], viewports: ReadonlySet<string>): value is JsonObject {
  if (!isObject(value)) return false
  if (path.length <= 2 || (path.at(-1) === 'items' && path.includes('layout'))) return true
  const keys = Object.keys(value)
  return keys.length === 0 || !keys.every((key) => key === 'else' || viewports.has(key))
}

/** The value without keys that are `null`: what they took away is gone, and they have no other meaning. */
export function withoutNulls(value: Json): Json {
  if (Array.isArray(value)) return mapped(value as readonly Json[])
  if (!isObject(value)) return value
  let changed = false
  const out: Record<string, Json> = {}
  for (const [key, each] of Object.entries(value)) {
    if (each === null) changed = true
    else {
      const kept = withoutNulls(each)
      changed ||= kept !== each
      out[key] = kept
    }
  }
  return changed ? out : value
}

function mapped(list: readonly Json[]): Json {
  const kept = list.map(withoutNulls)
  return kept.some((each, index) => each !== list[index]) ? kept : list
}
