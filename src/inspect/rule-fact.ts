import type { Case, Fact, Rule, SiteFact } from './rule.js'

/** A fact with the rule that saw it and every place where it holds. */
export interface RuleFact {
  readonly rule: Rule
  readonly fact: Fact
  /** None where it is about no page. */
  readonly cases: readonly Case[]
  /** The page that it was seen on; none where it was judged from what many pages add up to. */
  readonly page?: string
}

/** A fact at one page and viewport. Each property by its name: a spread of what many rules make costs ten times as much. */
export const caseOf = (fact: Fact, page: string, viewport: string): Case => ({
  at: fact.at,
  place: fact.place,
  numbers: fact.numbers,
  certainty: fact.certainty,
  related: fact.related,
  words: fact.words,
  page,
  viewport,
})

/** A fact of a rule at some pages and viewports. */
export function factAt(rule: Rule, fact: Fact, pages: readonly string[], viewports: readonly string[]): RuleFact {
  const cases: Case[] = []
  for (const page of pages) for (const viewport of viewports) cases.push(caseOf(fact, page, viewport))
  return { rule, fact, cases }
}

/** A fact about the site, spread over the pages and viewports at which it holds. */
export const siteFact = (rule: Rule, fact: SiteFact, allViewports: readonly string[]): RuleFact =>
  factAt(rule, fact, fact.pages, fact.viewports ?? allViewports)

/** A fact of a rule that was seen on one page, whatever the viewport. */
export const pageFact = (rule: Rule, fact: Fact, page: string, viewports: readonly string[]): RuleFact => ({
  page,
  ...factAt(rule, fact, [page], viewports),
})

/** How often each rule reports each page at each viewport; pointers may move with a change, these do not. */
export type Counts = Map<string, number>

const known = new WeakMap<RuleFact, readonly string[]>()

/** One key for each page and viewport of a fact; the rule alone where it is about no page. */
export function keysOf(fact: RuleFact): readonly string[] {
  let keys = known.get(fact)
  if (!keys) {
    const { rule, cases } = fact
    keys = cases.length > 0 ? cases.map(({ page, viewport }) => `${rule.id} ${page} ${viewport}`) : [rule.id]
    known.set(fact, keys)
  }
  return keys
}

/** Adds how often facts are seen, or takes it off. */
export function addCounts(counts: Counts, facts: Iterable<RuleFact>, times: 1 | -1 = 1): Counts {
  for (const fact of facts) for (const key of keysOf(fact)) counts.set(key, (counts.get(key) ?? 0) + times)
  return counts
}
