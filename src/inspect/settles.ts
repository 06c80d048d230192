import { listsBy } from '../model/lists.js'
import type { Group, PageRule, Rule, SiteRule, ViewRule } from './rule.js'
import { addCounts, keysOf, type Counts, type RuleFact } from './rule-fact.js'
import type { FactsDelta, Step } from './step.js'
import type { Steps } from './turns.js'

/** What changes of a page's facts, without those of rules that see as much of it as before: these neither grow nor go. */
export function uneven({ gone, came }: FactsDelta): FactsDelta {
  const before = listsBy(gone, ruleOf)
  const even = new Set<Rule>()
  for (const [rule, facts] of listsBy(came, ruleOf))
    // What a rule about the whole site sees of a page by itself counts together with what it judges.
    if (rule.scope !== 'site' && areAsMany(before.get(rule) ?? [], facts)) even.add(rule)
  const isUneven = ({ rule }: RuleFact): boolean => !even.has(rule)
  return { gone: gone.filter(isUneven), came: came.filter(isUneven) }
}

/** Whether facts of a rule about a page are seen at the same viewports. */
const areAsMany = (before: readonly RuleFact[], after: readonly RuleFact[]): boolean =>
  before.length === after.length &&
  before.every(({ cases }, n) => {
    const now = after[n]?.cases ?? []
    return cases.length === now.length && cases.every(({ viewport }, at) => viewport === now[at]?.viewport)
  })

const ruleOf = ({ rule }: RuleFact): Rule => rule

/** How often each case of a group is seen. */
export const countsOf = (rule: Rule, { worst, cases }: Group): Counts =>
  addCounts(new Map(), [{ rule, fact: worst, cases, page: undefined }])

/** Whether a rule sees less of what it saw of a page before a step. */
export function isSettledOn(step: Step, rule: ViewRule | PageRule, id: string, mine: Counts): boolean {
  const { base, allowances } = step
  const before = base.look(id)?.facts.filter((fact) => fact.rule === rule) ?? []
  const counts = addCounts(new Map(), base.allowances.pass(before), -1)
  const isSettled = (key: string): boolean => !mine.has(key) || (counts.get(key) ?? 0) <= -(mine.get(key) ?? 0)
  // What is seen at one viewport may be enough: more of it only adds.
  for (const facts of step.factsInTurn(id, rule)) {
    const came = allowances.pass(facts)
    addCounts(counts, came)
    if (!came.flatMap(keysOf).every(isSettled)) return false
  }
  return [...counts.keys()].every(isSettled)
}

/** Whether a rule about the whole site, asked alone, sees less than before. */
export function* settlesSite(step: Step, rule: SiteRule, mine: Counts): Steps<boolean> {
  for (const id of step.affected) {
    step.glance(id)?.ofSite(rule)
    yield
  }
  const { gone, came } = step.ofRule(rule)
  const counts = addCounts(addCounts(new Map(), gone, -1), came)
  return [...mine].every(([key, times]) => (counts.get(key) ?? 0) <= -times)
}

/** Whether any place of a fact has more of its rule than before. */
export const isGrown = (fact: RuleFact, counts: Counts): boolean =>
  keysOf(fact).some((key) => (counts.get(key) ?? 0) > 0)
