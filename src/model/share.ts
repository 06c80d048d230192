import { isObject, type Json } from './json.js'

/**
 * A value in which every part that is equal to the old one's is the old object itself: what changed can then be told by
 * identity. Entries of lists that others were added before or taken from before are recognized.
 */
export function shared(old: Json | undefined, now: Json): Json {
  if (old === now || old === undefined) return now
  if (Array.isArray(now)) return Array.isArray(old) ? sharedList(old as readonly Json[], now as readonly Json[]) : now
  if (!isObject(now) || !isObject(old)) return now
  const keys = Object.keys(now)
  const before = Object.keys(old)
  let isSame = keys.length === before.length
  const out: Record<string, Json> = {}
  keys.forEach((key, n) => {
    const value = shared(Object.hasOwn(old, key) ? old[key] : undefined, now[key] as Json)
    out[key] = value
    // The order of keys is that of the file, and counts.
    isSame &&= key === before[n] && value === old[key]
  })
  return isSame ? old : out
}

function sharedList(old: readonly Json[], now: readonly Json[]): Json {
  const most = Math.min(old.length, now.length)
  const out = [...now]
  const take = (mine: number, other: number): boolean => {
    out[mine] = shared(old[other], now[mine] as Json)
    return out[mine] === old[other]
  }
  let first = 0
  while (first < most && take(first, first)) first++
  let last = 0
  while (last < most - first && take(now.length - 1 - last, old.length - 1 - last)) last++
  for (let n = first; n < most - last; n++) take(n, n)
  return old.length === now.length && out.every((each, n) => each === old[n]) ? (old as Json) : out
}
