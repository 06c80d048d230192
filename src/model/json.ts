/** Any JSON value. */
export type Json = null | boolean | number | string | readonly Json[] | JsonObject
/** A JSON object. */
export type JsonObject = { readonly [key: string]: Json }

export const isObject = (value: unknown): value is JsonObject =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

/** Own value of a key: a name such as `constructor` never reaches the prototype. */
export function own<T>(record: Readonly<Record<string, T>> | undefined, key: string): T | undefined {
  return record !== undefined && Object.hasOwn(record, key) ? record[key] : undefined
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

/**
 * Whether a test holds of any value in a value, of lists and maps themselves included, or of how deep one is. Quick:
 * where it holds is not noted, and no stack is used up.
 */
export function holdsAnywhere(root: Json, test: (value: Json, depth: number) => boolean): boolean {
  const open: Json[] = [root]
  const depths: number[] = [0]
  while (open.length > 0) {
    const value = open.pop() as Json
    const depth = depths.pop() as number
    if (test(value, depth)) return true
    if (typeof value !== 'object' || value === null) continue
    if (Array.isArray(value))
      for (const each of value as readonly Json[]) {
        open.push(each)
        depths.push(depth + 1)
      }
    else
      for (const key of Object.keys(value)) {
        open.push((value as JsonObject)[key] as Json)
        depths.push(depth + 1)
      }
  }
  return false
}

/** What is said of such a key. */
export const NO_KEY = 'this cannot be a key; choose another name'

/** Pointers of keys that would reach an object's prototype. */
export function hostileKeys(root: Json): string[] {
  if (!holdsAnywhere(root, (value) => isObject(value) && Object.hasOwn(value, '__proto__'))) return []
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
