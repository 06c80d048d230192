/** Any JSON value. */
export type Json = null | boolean | number | string | readonly Json[] | JsonObject
/** A JSON object. */
export type JsonObject = { readonly [key: string]: Json }

export const isObject = (value: unknown): value is JsonObject =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

/** What every object has: only of these a value may be none of its own. */
const INHERITED: ReadonlySet<string> = new Set(Object.getOwnPropertyNames(Object.prototype))

/** Own value of a key of a JSON value: a name such as `constructor` never reaches the prototype. */
export function own<T>(record: Readonly<Record<string, T>> | undefined, key: string): T | undefined {
  if (record === undefined) return undefined
  // Asking whether a key is an object's own costs more than its value, and most keys are names that nothing inherits.
  if (!INHERITED.has(key) && !Array.isArray(record)) return record[key]
  return Object.hasOwn(record, key) ? record[key] : undefined
}

/** JSON Pointer (RFC 6901) of a path. */
export const toPointer = (path: readonly PropertyKey[]): string =>
  path.map((key) => `/${escaped(String(key))}`).join('')

const escaped = (key: string): string =>
  key.includes('~') || key.includes('/') ? key.replaceAll('~', '~0').replaceAll('/', '~1') : key

/** Path of a JSON Pointer (RFC 6901). */
export const fromPointer = (pointer: string): string[] =>
  pointer
    .split('/')
    .slice(1)
    .map((key) => (key.includes('~') ? key.replaceAll('~1', '/').replaceAll('~0', '~') : key))

/** What is at a pointer; `undefined` where nothing does. */
export function valueAt(root: Json, pointer: string): Json | undefined {
  let value: Json | undefined = root
  for (const key of fromPointer(pointer)) {
    if (Array.isArray(value)) value = (value as readonly Json[])[Number(key)]
    else if (isObject(value)) value = own(value, key)
    else return undefined
  }
  return value
}

/** What one walk through a value tells of it. */
export interface Traits {
  /** How deep the deepest list or map is; 0 for the value itself. */
  readonly deepest: number
  /** Keys of all maps together. */
  readonly keys: number
  readonly hasNull: boolean
  /** Whether a key would reach an object's prototype. */
  readonly hasProto: boolean
  /** Whether a text begins with a brace. */
  readonly hasBraced: boolean
}

const traits = new WeakMap<object, Traits>()

/** Told of a value once; no stack is used up. */
export function traitsOf(root: Json): Traits {
  const isHeld = typeof root === 'object' && root !== null
  const known = isHeld ? traits.get(root) : undefined
  if (known) return known
  const found = { deepest: 0, keys: 0, hasNull: false, hasProto: false, hasBraced: false }
  const open: Json[] = [root]
  const depths: number[] = [0]
  const look = (value: Json, depth: number): void => {
    if (value === null) found.hasNull = true
    else if (typeof value === 'object') {
      open.push(value)
      depths.push(depth)
    } else if (typeof value === 'string' && value.charCodeAt(0) === 0x7b) found.hasBraced = true
  }
  if (!isHeld) {
    open.pop()
    look(root, 0)
  }
  while (open.length > 0) {
    const value = open.pop() as readonly Json[] | JsonObject
    const depth = depths.pop() as number
    if (depth > found.deepest) found.deepest = depth
    if (Array.isArray(value)) for (const each of value as readonly Json[]) look(each, depth + 1)
    else {
      const keys = Object.keys(value)
      found.keys += keys.length
      for (const key of keys) {
        if (key === '__proto__') found.hasProto = true
        look((value as JsonObject)[key] as Json, depth + 1)
      }
    }
  }
  if (isHeld) traits.set(root, found)
  return found
}

/** What is said of such a key. */
export const NO_KEY = 'this cannot be a key; choose another name'

/** Pointers of keys that would reach an object's prototype. */
export function hostileKeys(root: Json): string[] {
  if (!traitsOf(root).hasProto) return []
  const found: string[] = []
  const open: [Json, readonly string[]][] = [[root, []]]
  for (let next = open.pop(); next; next = open.pop()) {
    const [value, path] = next
    if (typeof value !== 'object' || value === null) continue
    for (const key of Object.keys(value)) {
      if (key === '__proto__') found.push(toPointer([...path, key]))
      else {
        const child = (value as Record<string, Json>)[key] as Json
        if (isObject(child) || Array.isArray(child)) open.push([child, [...path, key]])
      }
    }
  }
  return found
}
