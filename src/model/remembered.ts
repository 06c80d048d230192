import { isSameList } from './lists.js'

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

/**
 * The same for work that rests on other things as well: what came of it is held for each thing with them, the oldest let go
 * first.
 *
 * @param most - For how many others the results are held of one thing.
 */
export function rememberedWith<K extends object, T>(
  most: number,
): (of: K, others: readonly unknown[], work: () => T) => T {
  interface Held {
    readonly others: readonly unknown[]
    readonly result: T
  }
  const known = new WeakMap<K, Held[]>()
  return (of, others, work) => {
    let held = known.get(of)
    if (!held) known.set(of, (held = []))
    const before = held.find((each) => isSameList(each.others, others))
    if (before) return before.result
    const result = work()
    if (held.length >= most) held.shift()
    held.push({ others, result })
    return result
  }
}
