import { isEqual as equal } from 'es-toolkit'
import { RULES } from '../inspect/rules/index.js'
import type { FindingRecord, FindingRecords } from './changed-findings.js'
import type { Alignment } from './entry-alignment.js'

/** A finding that is there before and after, on other pages or with another number. */
export interface FindingChange {
  readonly key: string
  readonly before: FindingRecord
  readonly after: FindingRecord
}

/** Classifies findings as cured, caused, worse or better; one that only moved to another place is none of these. */
export function findingChanges(before: FindingRecords, after: FindingRecords, alignment: Alignment) {
  // Earlier findings by their key in the later state.
  const earlier = new Map(Object.keys(before).map((key) => [keyAfter(key, alignment), key]))
  const gone = [...earlier].flatMap(([now, key]) => (Object.hasOwn(after, now) ? [] : [key]))
  const came = Object.keys(after).filter((key) => !earlier.has(key))
  const moved = new Set<string>()
  for (const key of gone) {
    const same = came.find(
      (other) => !moved.has(other) && ruleOf(other) === ruleOf(key) && equal(before[key], after[other]),
    )
    if (same !== undefined) for (const each of [key, same]) moved.add(each)
  }
  const changes = Object.keys(after).flatMap((key): FindingChange[] => {
    const old = before[earlier.get(key) ?? '']
    const now = after[key] as FindingRecord
    return old && !equal(old, now) ? [{ key, before: old, after: now }] : []
  })
  const cured = gone.filter((key) => !moved.has(key))
  const caused = came.filter((key) => !moved.has(key))
  const pagesOf = new Map<string, [number, number]>()
  const count = (key: string, old: number, now: number): void => {
    const [a, b] = pagesOf.get(key) ?? [0, 0]
    pagesOf.set(key, [a + old, b + now])
  }
  for (const key of cured) count(key, before[key]?.pages.length ?? 0, 0)
  for (const key of caused) count(key, 0, after[key]?.pages.length ?? 0)
  for (const each of changes) count(each.key, each.before.pages.length, each.after.pages.length)
  return {
    cured,
    caused,
    worse: changes.filter(isWorse),
    better: changes.filter((change) => !isWorse(change)),
    pagesOf: Object.fromEntries(pagesOf) as Readonly<Record<string, readonly [number, number]>>,
  }
}

const ruleOf = (key: string): string => key.slice(0, key.indexOf('@'))

const keyAfter = (key: string, alignment: Alignment): string => {
  const pointer = key.indexOf('@') + 1
  return key.slice(0, pointer) + alignment(key.slice(pointer))
}

/** Whether a finding holds on a page that it did not, or its number is worse. */
function isWorse({ key, before, after }: FindingChange): boolean {
  const known = new Set(before.pages)
  if (after.pages.some((page) => !known.has(page))) return true
  const sign = RULES.find(({ id }) => id === ruleOf(key))?.worst === 'smallest' ? -1 : 1
  return before.worst !== null && after.worst !== null && sign * (after.worst - before.worst) > 0
}

/** By page, the rules of findings that hold on it here and not there. */
export function rulesByPage(here: FindingRecords, there: FindingRecords): ReadonlyMap<string, readonly string[]> {
  const count = (findings: FindingRecords): Map<string, Map<string, number>> => {
    const byPage = new Map<string, Map<string, number>>()
    for (const [key, { pages }] of Object.entries(findings)) {
      const rule = ruleOf(key)
      for (const page of pages) {
        const rules = byPage.get(page) ?? new Map<string, number>()
        rules.set(rule, (rules.get(rule) ?? 0) + 1)
        byPage.set(page, rules)
      }
    }
    return byPage
  }
  const others = count(there)
  // Counted by rule, for pointers may move with a change.
  return new Map(
    [...count(here)].map(([page, rules]) => [
      page,
      [...rules].flatMap(([rule, times]) => (times > (others.get(page)?.get(rule) ?? 0) ? [rule] : [])).sort(),
    ]),
  )
}
