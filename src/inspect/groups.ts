import type { RuleFact } from './rule-fact.js'
import type { Fact, Group, Rule } from './rule.js'

/** All that one rule saw at one deciding place. */
export interface RuleGroup {
  readonly rule: Rule
  readonly group: Group
}

/** One group for each rule and deciding place. */
export function toGroups(facts: readonly RuleFact[]): readonly RuleGroup[] {
  const byKey = new Map<string, RuleFact[]>()
  for (const each of facts) {
    const key = `${each.rule.id}@${each.fact.at}`
    const known = byKey.get(key)
    if (known) known.push(each)
    else byKey.set(key, [each])
  }
  return [...byKey.values()].map((each) => toGroup(each))
}

function toGroup(facts: readonly RuleFact[]): RuleGroup {
  const { rule, fact: first } = facts[0] as RuleFact
  const sign = rule.worst === 'smallest' ? -1 : 1
  const size = (fact: Fact): number => {
    const number = rule.numbers.map((name) => fact.numbers[name]).find((n) => n !== undefined)
    return number === undefined ? -Infinity : sign * number
  }
  const cases = facts.flatMap((each) => each.cases)
  const worst = [...facts.map((each) => each.fact), ...cases].reduce((a, b) => (size(b) > size(a) ? b : a), first)
  return { rule, group: { at: first.at, cases, pages: [...new Set(cases.map((c) => c.page))], worst } }
}

/** A group as if it were of some of its pages only. */
export const ofPages = (rule: Rule, group: Group, pages: readonly string[]): Group =>
  toGroup([{ rule, fact: group.worst, cases: group.cases.filter((c) => pages.includes(c.page)) }]).group
