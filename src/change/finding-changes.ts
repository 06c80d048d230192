import equal from 'fast-deep-equal'
import { RULES } from '../inspect/rules/index.js'
import type { FindingRecord, FindingRecords } from './changed-findings.js'

/** A finding that is there before and after, on other pages or with another number. */
export interface FindingChange {
  readonly key: string
  readonly before: FindingRecord
  readonly after: FindingRecord
}

/** Findings that came, went, got worse or better. One that only has another place since is none of these. */
export function findingChanges(before: FindingRecords, after: FindingRecords) {
  const gone = Object.keys(before).filter((key) => !Object.hasOwn(after, key))
  const came = Object.keys(after).filter((key) => !Object.hasOwn(before, key))
  const moved = new Set<string>()
  for (const key of gone) {
    const same = came.find(
      (other) => !moved.has(other) && ruleOf(other) === ruleOf(key) && equal(before[key], after[other]),
    )
    if (same !== undefined) for (const each of [key, same]) moved.add(each)
  }
  const stays = Object.keys(before).filter((key) => Object.hasOwn(after, key) && !equal(before[key], after[key]))
  const changes = stays.map((key): FindingChange => ({
    key,
    before: before[key] as FindingRecord,
    after: after[key] as FindingRecord,
  }))
  const cured = gone.filter((key) => !moved.has(key))
  const caused = came.filter((key) => !moved.has(key))
  const pages = (key: string): readonly [number, number] => [
    before[key]?.pages.length ?? 0,
    after[key]?.pages.length ?? 0,
  ]
  return {
    cured,
    caused,
    worse: changes.filter(isWorse),
    better: changes.filter((change) => !isWorse(change)),
    pagesOf: Object.fromEntries([...cured, ...caused, ...stays].map((key) => [key, pages(key)])),
  }
}

const ruleOf = (key: string): string => key.slice(0, key.indexOf('@'))

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
