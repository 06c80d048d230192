import equal from 'fast-deep-equal'
import { LayeredMap } from '../model/layered-map.js'
import type { Renumbering } from '../resolve/renumbered.js'
import type { Look, Mark } from './look.js'
import type { RuleFact } from './rule-fact.js'

/** Marks of a page before and after, without those that stay; all of one key and value stay, or none. */
export function unlike(
  before: Look | undefined,
  after: Look | undefined,
  renamed: Renumbering,
): readonly [readonly Mark[], readonly Mark[]] {
  const named = (marks: readonly Mark[]): Map<string, Mark[]> => {
    const found = new Map<string, Mark[]>()
    for (const mark of marks) {
      const name = `${mark.rule.id}\n${mark.key}\n${mark.value}`
      const known = found.get(name)
      if (known) known.push(mark)
      else found.set(name, [mark])
    }
    return found
  }
  const details = (marks: readonly Mark[]): readonly unknown[] => marks.map(({ detail }) => detail)
  const marks = before?.marks ?? []
  const old = named(renamed.isEmpty ? marks : marks.map((mark) => renamedMark(mark, renamed)))
  const now = named(after?.marks ?? [])
  const isSameCore = before?.core === after?.core
  for (const [name, list] of now) {
    const same = old.get(name)
    if (!same || (list[0]?.rule.looksAgain && !isSameCore) || !equal(details(same), details(list))) continue
    old.delete(name)
    now.delete(name)
  }
  return [[...old.values()].flat(), [...now.values()].flat()]
}

export const renamedMark = (mark: Mark, renamed: Renumbering): Mark => {
  const [key, detail] = [renamed.text(mark.key), renamed.value(mark.detail)]
  return key === mark.key && detail === mark.detail ? mark : { ...mark, key, detail }
}

export function renamedFact(each: RuleFact, renamed: Renumbering): RuleFact {
  if (renamed.isEmpty) return each
  const [fact, cases] = [renamed.value(each.fact), renamed.value(each.cases)]
  return fact === each.fact && cases === each.cases ? each : { ...each, fact, cases }
}

export function renamedLook(look: Look, renamed: Renumbering, core: Look['core']): Look {
  const marks = look.marks.map((mark) => renamedMark(mark, renamed))
  return { ...look, core, facts: look.facts.map((fact) => renamedFact(fact, renamed)), marks }
}

export function renamedMap<V>(map: LayeredMap<V>, renamed: Renumbering, rename: (value: V) => V): LayeredMap<V> {
  if (renamed.isEmpty) return map
  return LayeredMap.of(new Map(map.keys.map((key) => [renamed.text(key), rename(map.get(key) as V)])))
}

/** Two lists as one, by a number of each entry; `a` is in order, and no number is in both. */
export function mergedInOrder<T>(a: readonly T[], b: readonly T[], numberOf: (each: T) => number): readonly T[] {
  if (b.length === 0) return a
  const fresh = [...b].sort((x, y) => numberOf(x) - numberOf(y))
  const merged: T[] = []
  let n = 0
  for (const each of a) {
    const number = numberOf(each)
    while (n < fresh.length && numberOf(fresh[n] as T) < number) merged.push(fresh[n++] as T)
    merged.push(each)
  }
  while (n < fresh.length) merged.push(fresh[n++] as T)
  return merged
}
