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
  const isSame = (others: readonly RuleFact[]): boolean =>
    others === facts || (others.length === facts.length && facts.every((fact, n) => fact === others[n]))
  if (before && isSame(before.facts)) return before.group
  const group = { key, ...toGroup(facts) }
  known.set(first, { facts, group })
  return group
}

function toGroup(facts: readonly RuleFact[]): Omit<RuleGroup, 'key'> {
  const { rule, fact: first } = facts[0] as RuleFact
  const sign = rule.worst === 'smallest' ? -1 : 1
  const size = (fact: Fact): number => {
    for (const name of rule.numbers) {
      const number = fact.numbers[name]
      if (number !== undefined) return sign * number
    }
    return -Infinity
  }
  const cases: Case[] = []
  const pages = new Set<string>()
  for (const each of facts)
    for (const found of each.cases) {
      cases.push(found)
      pages.add(found.page)
    }
  let worst: Fact = first
  let most = size(first)
  const weigh = (fact: Fact): void => {
    const here = size(fact)
    if (here > most) [worst, most] = [fact, here]
  }
  for (const { fact } of facts) weigh(fact)
  for (const fact of cases) weigh(fact)
  return { rule, group: { at: first.at, cases, pages: [...pages], worst } }
}

/** A group as if it were of some of its pages only. */
export const ofPages = (rule: Rule, group: Group, pages: readonly string[]): Group =>
  toGroup([{ rule, fact: group.worst, cases: group.cases.filter((c) => pages.includes(c.page)) }]).group
