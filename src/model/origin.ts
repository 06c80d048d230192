import { fromPointer, isObject, toPointer, valueAt, type Json } from './json.js'
import type { Place } from './problem.js'
import type { Source } from './source.js'

/** Where a part of the merged site was written; children are where a part was put together from several. */
export interface Origin {
  readonly source: Source
  readonly pointer: string
  readonly children?: ReadonlyMap<string, Origin>
}

/** Where a part of a part was written. */
export function childOrigin(origin: Origin, key: string): Origin {
  return origin.children?.get(key) ?? { source: origin.source, pointer: origin.pointer + toPointer([key]) }
}

/** Where a pointer of the merged site was written. */
export function locateOrigin(root: Origin, path: readonly string[], what: 'key' | 'value'): Place {
  const { origin, depth } = originOf(root, path)
  return origin.source.locate(origin.pointer + toPointer(path.slice(depth)), what)
}

/** The origins of a document in which one part is written elsewhere. */
export const placeAt = (root: Origin, path: readonly string[], origin: Origin): Origin => withOrigin(root, path, origin)

/** The nearest known origin above a path, and how far down the path it is. */
export function originOf(root: Origin, path: readonly string[]): { origin: Origin; depth: number } {
  let origin = root
  let depth = 0
  for (; depth < path.length; depth++) {
    const next = origin.children?.get(path[depth] as string)
    if (!next) break
    origin = next
  }
  return { origin, depth }
}

/** An origin with another below it at a path. */
function withOrigin(root: Origin, path: readonly string[], origin: Origin | undefined): Origin {
  const [key, ...rest] = path
  if (key === undefined) return origin ?? root
  const children = new Map(root.children)
  if (rest.length > 0) children.set(key, withOrigin(childOrigin(root, key), rest, origin))
  else if (origin) children.set(key, origin)
  else children.delete(key)
  return { ...root, children }
}

/** Where a new entry of a list is reported to be: at the list itself, for it is in no file yet. */
const newEntry = ({ source, pointer }: Origin): Origin => ({ source, pointer: `${pointer}/-` })

/** The list in a file that an entry is in. */
const listAround = ({ source, pointer }: Origin): Origin => ({
  source,
  pointer: toPointer(fromPointer(pointer).slice(0, -1)),
})

/** The entries of a list, each with where it was written. */
const entryOrigins = (list: Origin, length: number): Origin[] =>
  Array.from({ length }, (_, index) => childOrigin(list, String(index)))

const asChildren = (entries: readonly Origin[]): ReadonlyMap<string, Origin> =>
  new Map(entries.map((entry, index) => [String(index), entry]))

/**
 * Where the parts of a document were written once a JSON Patch operation is applied to it: entries of a list keep
 * their places when others before them come or go, and what moves takes its place along.
 *
 * @param before - The document that the operation was applied to.
 */
export function moveOrigins(root: Origin, before: Json, { op, path, from }: OriginStep): Origin {
  if (op === 'test') return root
  const source = from === undefined ? undefined : fromPointer(from)
  const carried = source && settled(originOf(root, source), source)
  const rest = op === 'move' && source ? without(root, before, source) : root
  // What the target's list holds once the moved entry is out of it.
  const list = op === 'move' && source ? afterRemoval(before, source) : before
  const target = fromPointer(path)
  if (op === 'remove') return without(root, before, target)
  if (op === 'replace') return replaced(rest, target)
  return added(rest, list, target, carried)
}

interface OriginStep {
  readonly op: string
  readonly path: string
  readonly from?: string
}

function settled({ origin, depth }: { origin: Origin; depth: number }, path: readonly string[]): Origin {
  return depth === path.length
    ? origin
    : { source: origin.source, pointer: origin.pointer + toPointer(path.slice(depth)) }
}

const lengthOf = (document: Json, holder: readonly string[]): number | undefined => {
  const value = valueAt(document, toPointer(holder))
  return Array.isArray(value) ? (value as readonly Json[]).length : undefined
}

function without(root: Origin, before: Json, path: readonly string[]): Origin {
  const holder = path.slice(0, -1)
  const length = lengthOf(before, holder)
  if (length === undefined) return originOf(root, path).depth === path.length ? withOrigin(root, path, undefined) : root
  const list = settled(originOf(root, holder), holder)
  const entries = entryOrigins(list, length)
  entries.splice(Number(path.at(-1)), 1)
  return withOrigin(root, holder, { ...list, children: asChildren(entries) })
}

function added(root: Origin, before: Json, path: readonly string[], carried: Origin | undefined): Origin {
  const holder = path.slice(0, -1)
  const length = lengthOf(before, holder)
  if (length === undefined) return carried ? withOrigin(root, path, carried) : replaced(root, path)
  const list = settled(originOf(root, holder), holder)
  const entries = entryOrigins(list, length)
  const at = path.at(-1) === '-' ? length : Number(path.at(-1))
  // It is written before the entry that stands there now, in whichever file that is.
  const next = entries[at]
  entries.splice(at, 0, carried ?? newEntry(next ? listAround(next) : list))
  return withOrigin(root, holder, { ...list, children: asChildren(entries) })
}

/** What is inside a new value is in no file: it gets the place of the old value. */
function replaced(root: Origin, path: readonly string[]): Origin {
  const { origin, depth } = originOf(root, path)
  if (depth < path.length || !origin.children) return root
  return withOrigin(root, path, { source: origin.source, pointer: origin.pointer })
}

function afterRemoval(before: Json, path: readonly string[]): Json {
  const holder = toPointer(path.slice(0, -1))
  const length = lengthOf(before, path.slice(0, -1))
  return length === undefined ? before : withLength(before, fromPointer(holder), length - 1)
}

/** A document in which a list has another length; only lengths are asked of it. */
function withLength(value: Json, path: readonly string[], length: number): Json {
  const [key, ...rest] = path
  if (key === undefined) return new Array<Json>(length).fill(null)
  if (Array.isArray(value))
    return (value as readonly Json[]).map((each, n) => (String(n) === key ? withLength(each, rest, length) : each))
  return isObject(value) ? { ...value, [key]: withLength(value[key] ?? null, rest, length) } : value
}

/** The file that a part is written in, or would be, and the pointer there. */
export function placeIn(root: Origin, path: readonly string[]): { readonly source: Source; readonly pointer: string } {
  const { source, pointer } = settled(originOf(root, path), path)
  return { source, pointer }
}

/**
 * Where the parts of a document are written once an operation is written into the files: as `moveOrigins`, with entries
 * of lists by the numbers that they have in their files then, and a new one where it was put.
 *
 * @param value - The earlier value in the file that is written to.
 */
export function writeOrigins(root: Origin, before: Json, operation: OriginStep, value: Json): Origin {
  const path = fromPointer(operation.path)
  const holder = path.slice(0, -1)
  const moved = moveOrigins(root, before, operation)
  const length = lengthOf(before, holder)
  if (length === undefined || operation.op === 'replace') return moved
  const isAdded = operation.op === 'add'
  const { source, pointer } = placeIn(root, path)
  const local = fromPointer(pointer)
  const list = toPointer(local.slice(0, -1))
  const entries = valueAt(value, list)
  const last = local.at(-1) ?? '-'
  const number = last === '-' ? (Array.isArray(entries) ? entries.length : 0) : Number(last)
  const at = path.at(-1) === '-' ? length : Number(path.at(-1))
  const renumbered = entryOrigins(settled(originOf(moved, holder), holder), length + (isAdded ? 1 : -1)).map(
    (entry, n) => {
      if (isAdded && n === at) return { source, pointer: `${list}/${number}` }
      const keys = fromPointer(entry.pointer)
      const its = Number(keys.at(-1))
      if (entry.source !== source || toPointer(keys.slice(0, -1)) !== list) return entry
      if (isAdded ? its < number : its <= number) return entry
      // Parts of an entry that have places of their own are in lists by themselves, which no other file adds to.
      return { source, pointer: `${list}/${its + (isAdded ? 1 : -1)}` }
    },
  )
  return withOrigin(moved, holder, { ...settled(originOf(moved, holder), holder), children: asChildren(renumbered) })
}
