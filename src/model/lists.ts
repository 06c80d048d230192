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

/** Whether two lists hold the same things, in the same order. */
export const isSameList = (a: readonly unknown[], b: readonly unknown[]): boolean =>
  a === b || (a.length === b.length && a.every((each, n) => each === b[n]))
