import { isSameList } from '../model/lists.js'
import type { RuleFact } from './rule-fact.js'
import type { Case, Fact, Group, Rule } from './rule.js'

/** All that one rule saw at one deciding place. */
export interface RuleGroup {
  readonly rule: Rule
  readonly group: Group
  /** The group's pages: all that is needed of most groups. */
  readonly pages: readonly string[]
  /** The key of the finding that it makes: rule and place. */
  readonly key: string
}

/** A group that is put together once somebody asks for more than its pages. */
class FactGroup implements RuleGroup {
  readonly key: string
  readonly facts: readonly RuleFact[]
  #pages: readonly string[] | undefined
  #group: Group | undefined

  constructor(key: string, facts: readonly RuleFact[]) {
    this.key = key
    this.facts = facts
  }

  get rule(): Rule {
    return (this.facts[0] as RuleFact).rule
  }

  get pages(): readonly string[] {
    return (this.#pages ??= pagesOf(this.facts))
  }

  get group(): Group {
    return (this.#group ??= toGroup(this.facts, this.pages))
  }
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
const known = new WeakMap<RuleFact, FactGroup>()

/** All facts of one key as a group. */
export function groupOf(key: string, facts: readonly RuleFact[]): RuleGroup {
  const first = facts[0] as RuleFact
  const before = known.get(first)
  if (before && isSameList(before.facts, facts)) return before
  const made = new FactGroup(key, facts)
  known.set(first, made)
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

/** Among so many pages one is looked for one by one. */
const FEW_PAGES = 8

/** The pages of facts, each once, in their order: what is seen on one is nearly always seen there at all viewports. */
function pagesOf(facts: readonly RuleFact[]): readonly string[] {
  const pages: string[] = []
  let seen: Set<string> | undefined
  for (const { cases } of facts)
    for (const { page } of cases) {
      if (page === pages.at(-1) || (seen ? seen.has(page) : pages.includes(page))) continue
      pages.push(page)
      if (seen) seen.add(page)
      else if (pages.length > FEW_PAGES) seen = new Set(pages)
    }
  return pages
}

function toGroup(facts: readonly RuleFact[], pages: readonly string[]): Group {
  const [{ rule, fact: first, cases: ofFirst }] = facts as readonly [RuleFact]
  // Most are seen once, and are what they are made of.
  if (facts.length === 1 && ofFirst.length <= 1) return { at: first.at, cases: ofFirst, pages, worst: first }
  const cases: Case[] = []
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
      if (found !== each.fact) weigh(found)
    }
  return { at: first.at, cases, pages, worst }
}

/** A group as if it were of some of its pages only. */
export function ofPages(rule: Rule, group: Group, pages: readonly string[]): Group {
  const cases = group.cases.filter((c) => pages.includes(c.page))
  const facts = [{ rule, fact: group.worst, cases, page: undefined }]
  return toGroup(facts, pagesOf(facts))
}
