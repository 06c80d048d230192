import { isSameList } from '../model/lists.js'
import type { RuleFact } from './rule-fact.js'
import type { Case, Fact, Group, Rule } from './rule.js'

/** All that one rule saw at one deciding place. */
export interface RuleGroup {
  readonly rule: Rule
  readonly group: Group
  /** The key of the finding that it makes: rule and place. */
  readonly key: string
}

/** One group for each rule and deciding place. */
export const toGroups = (facts: readonly RuleFact[]): readonly RuleGroup[] =>
  [...factsByKey(facts)].map(([key, each]) => groupOf(key, each))

/** Facts by rule and deciding place, in their order. */
export function factsByKey(facts: Iterable<RuleFact>): Map<string, RuleFact[]> {
  const lists = new Map<string, RuleFact[]>()
  // A key is put together once for all facts that have it.
  const byRule = new Map<string, Map<string, RuleFact[]>>()
  for (const each of facts) {
    const { rule, fact } = each
    let ofRule = byRule.get(rule.id)
    if (!ofRule) byRule.set(rule.id, (ofRule = new Map<string, RuleFact[]>()))
    const list = ofRule.get(fact.at)
    if (list) {
      list.push(each)
      continue
    }
    const key = keyOf(each)
    const begun = [each]
    ofRule.set(fact.at, begun)
    lists.set(key, begun)
  }
  return lists
}

/** The key of the finding that a fact belongs to: rule and place. */
export const keyOf = ({ rule, fact }: RuleFact): string => `${rule.id}@${fact.at}`

/** Groups by their first fact: after a change most are made of the same facts as before. */
const known = new WeakMap<RuleFact, { readonly facts: readonly RuleFact[]; readonly group: RuleGroup }>()

/** All facts of one key as a group. */
export function groupOf(key: string, facts: readonly RuleFact[]): RuleGroup {
  const first = facts[0] as RuleFact
  const before = known.get(first)
  if (before && isSameList(before.facts, facts)) return before.group
  const made: RuleGroup = { key, rule: first.rule, group: toGroup(facts) }
  known.set(first, { facts, group: made })
  return made
}

/** How much a fact of a rule weighs: its first number that is there, the worst the most. */
function weightIn(rule: Rule, { numbers }: Fact): number {
  for (const name of rule.numbers) {
    const number = numbers[name]
    if (number !== undefined) return rule.worst === 'smallest' ? -number : number
  }
  return -Infinity
}

function toGroup(facts: readonly RuleFact[]): Group {
  const [{ rule, fact: first, cases: ofFirst }] = facts as readonly [RuleFact]
  // Most are seen once, and are what they are made of.
  if (facts.length === 1 && ofFirst.length <= 1)
    return { at: first.at, cases: ofFirst, pages: ofFirst.map(({ page }) => page), worst: first }
  const cases: Case[] = []
  const pages: string[] = []
  const seen = new Set<string>()
  let worst = first
  let most = weightIn(rule, first)
  const weigh = (fact: Fact): void => {
    const weight = weightIn(rule, fact)
    if (!(weight > most)) return
    worst = fact
    most = weight
  }
  for (const { fact } of facts) weigh(fact)
  for (const each of facts)
    for (const found of each.cases) {
      cases.push(found)
      // What is seen on a page is nearly always seen there at all viewports.
      if (found.page !== pages.at(-1) && !seen.has(found.page)) {
        seen.add(found.page)
        pages.push(found.page)
      }
      if (found !== each.fact) weigh(found)
    }
  return { at: first.at, cases, pages, worst }
}

/** A group as if it were of some of its pages only. */
export const ofPages = (rule: Rule, group: Group, pages: readonly string[]): Group =>
  toGroup([{ rule, fact: group.worst, cases: group.cases.filter((c) => pages.includes(c.page)), page: undefined }])
