import { isEqual as equal } from 'es-toolkit'
import { earlierStates, factsOf, gatherFacts } from '../inspect/engine/known-facts.js'
import type { SiteFacts } from '../inspect/engine/site-facts.js'
import { Step, type OnLook } from '../inspect/engine/step.js'
import { keyOf, toGroups } from '../inspect/groups.js'
import type { RuleFact } from '../inspect/rule-fact.js'
import type { Case, Fact } from '../inspect/rule.js'
import { isSameRecord, listsBy } from '../model/lists.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'

/** The parts of a finding that are compared. */
export interface FindingRecord {
  readonly pages: readonly string[]
  /** The first number of the worst case; `null` where the rule has none. */
  readonly worst: number | null
}

/** Findings by their key. */
export type FindingRecords = Readonly<Record<string, FindingRecord>>

/** Groups facts into findings, sorted by key, their pages in the order of the site. */
function recordFindings(resolved: ResolvedSite, facts: readonly RuleFact[]): FindingRecords {
  const found = toGroups(facts, resolved).map(({ rule, numbers, pages, key }): readonly [string, FindingRecord] => {
    const [first] = rule.numbers.map((name) => numbers[name]).filter((n) => n !== undefined)
    const worst = first === undefined ? null : Math.round(first * 1000) / 1000
    return [key, { pages, worst }]
  })
  return Object.fromEntries(found.sort(([a], [b]) => (a < b ? -1 : 1)))
}

/** Every finding of a site. */
export const findingsOf = (resolved: ResolvedSite, now?: Date): FindingRecords =>
  recordFindings(resolved, factsOf(resolved, { now }).all)

/**
 * The findings of two states that a change may affect. If the second state was made from the first, only affected pages
 * are looked at.
 *
 * @param onLook - Called for each page that is looked at, with its measures.
 */
export function* changedFindings(
  before: ResolvedSite,
  after: ResolvedSite,
  now?: Date,
  onLook?: OnLook,
): Generator<unknown, TouchedFindings> {
  if (before === after) return { before: {}, after: {} }
  const isLater = [...earlierStates(after)].includes(before)
  const known = yield* gatherFacts(before, { now })
  if (!isLater) {
    const later = yield* gatherFacts(after, { now })
    return { before: recordFindings(before, known.all), after: recordFindings(after, later.all) }
  }
  const step = new Step(known, after)
  yield* step.looking(onLook)
  return yield* touchedFindings(known, step)
}

/** Findings before and after a change. */
export interface TouchedFindings {
  readonly before: FindingRecords
  readonly after: FindingRecords
}

/** The findings that a step removes, adds or changes. */
export function* touchedFindings(base: SiteFacts, step: Step): Generator<unknown, TouchedFindings> {
  for (const id of step.affected) yield step.look(id)
  const { delta } = step
  const [gone, came] = withoutSame(delta.gone, delta.came)
  const keys = new Set([...gone, ...came].map(keyOf))
  const isGone = new Set(gone)
  const before = [...keys].flatMap((key) => base.byKey.get(key) ?? [])
  yield
  return {
    before: recordFindings(base.resolved, before),
    after: recordFindings(step.after, [...before.filter((fact) => !isGone.has(fact)), ...came]),
  }
}

/** Drops facts that are equal before and after: most facts of a page that is looked at again are. */
function withoutSame(
  gone: readonly RuleFact[],
  came: readonly RuleFact[],
): readonly [readonly RuleFact[], readonly RuleFact[]] {
  const left = listsBy(gone, nameOf)
  const fresh = came.filter((fact) => {
    const same = left.get(nameOf(fact))
    const at = same ? same.findIndex((old) => isSame(old, fact)) : -1
    if (at >= 0) same?.splice(at, 1)
    return at < 0
  })
  return [[...left.values()].flat(), fresh]
}

/** The page and key, by which equal facts are found. */
const nameOf = (fact: RuleFact): string => `${fact.page ?? ''} ${keyOf(fact)}`

/** Compares two facts. The fact of a view rule is its only case, and is compared once. */
function isSame(a: RuleFact, b: RuleFact): boolean {
  const [x, y] = [a.cases, b.cases]
  if (x.length !== y.length || !x.every((each, n) => isSameCase(each, y[n] as Case))) return false
  return (a.fact === x[0] && b.fact === y[0]) || isSameFact(a.fact, b.fact)
}

const isSameCase = (a: Case, b: Case): boolean => a.page === b.page && a.viewport === b.viewport && isSameFact(a, b)

function isSameFact(a: Fact, b: Fact): boolean {
  const [x, y] = [a.related ?? [], b.related ?? []]
  return (
    a.at === b.at &&
    a.certainty === b.certainty &&
    isSameRecord(a.numbers, b.numbers) &&
    isSameRecord(a.words, b.words) &&
    isSameRecord(a.entries, b.entries) &&
    equal(a.place, b.place) &&
    x.length === y.length &&
    x.every(({ pointer, because }, n) => pointer === y[n]?.pointer && because === y[n]?.because)
  )
}
