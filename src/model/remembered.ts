/**
 * Work that is done once for each thing, for as long as the thing is there. It must rest on nothing else.
 *
 * @param work - Never gives `undefined`.
 */
export function remembered<K extends object, T extends NonNullable<unknown> | null>(work: (of: K) => T): (of: K) => T {
  const known = new WeakMap<K, T>()
  return (of) => {
    let result = known.get(of)
    if (result === undefined) known.set(of, (result = work(of)))
    return result
  }
}
