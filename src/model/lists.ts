/** Adds a value to the list under a key, which is begun with the first one. */
export function addToList<K, V>(lists: Map<K, V[]>, key: K, value: V): void {
  const known = lists.get(key)
  if (known) known.push(value)
  else lists.set(key, [value])
}

/** Values by a key, in their order; the keys in the order in which they come. */
export function listsBy<K, V>(values: Iterable<V>, keyOf: (value: V) => K): Map<K, V[]> {
  const lists = new Map<K, V[]>()
  for (const value of values) addToList(lists, keyOf(value), value)
  return lists
}

/** Whether two objects have the same values under the same keys; values that are objects are the same if they are one. */
export function isSameRecord(
  a: Readonly<Record<string, unknown>> | undefined,
  b: Readonly<Record<string, unknown>> | undefined,
  isSame: (x: unknown, y: unknown) => boolean = Object.is,
): boolean {
  if (a === b) return true
  if (!a || !b) return false
  const keys = Object.keys(a)
  return keys.length === Object.keys(b).length && keys.every((key) => Object.hasOwn(b, key) && isSame(a[key], b[key]))
}

/** Whether two lists hold the same things, in the same order. */
export const isSameList = (a: readonly unknown[], b: readonly unknown[]): boolean =>
  a === b || (a.length === b.length && a.every((each, n) => each === b[n]))
