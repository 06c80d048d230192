import { remembered } from '../model/remembered.js'
import type { Case, Fact, Rule, SiteFact } from './rule.js'

/** A fact with the rule that saw it and every place where it holds. */
export interface RuleFact {
  readonly rule: Rule
  readonly fact: Fact
  /** None where it is about no page. */
  readonly cases: readonly Case[]
  /** The page that it was seen on; none where it was judged from what many pages add up to. */
  readonly page: string | undefined
}

/** A fact at one page and viewport. Each property by its name: a spread of what many rules make costs ten times as much. */
const caseOf = (fact: Fact, page: string, viewport: string): Case => ({
  at: fact.at,
  place: fact.place,
  numbers: fact.numbers,
  certainty: fact.certainty,
  related: fact.related,
  words: fact.words,
  entries: fact.entries,
  page,
  viewport,
})

function casesAt(fact: Fact, pages: readonly string[], viewports: readonly string[]): readonly Case[] {
  const cases: Case[] = []
  for (const page of pages) for (const viewport of viewports) cases.push(caseOf(fact, page, viewport))
  return cases
}

/** A fact of a rule that was seen on one page at one viewport: there may be several for each page of a large site. */
class ViewFact implements RuleFact {
  readonly rule: Rule
  readonly fact: Case

  constructor(rule: Rule, fact: Case) {
    this.rule = rule
    this.fact = fact
  }

  get cases(): readonly Case[] {
    return [this.fact]
  }

  get page(): string {
    return this.fact.page
  }
}

/** A fact of a rule that was seen on one page at one viewport. */
export const viewFact = (rule: Rule, fact: Fact, page: string, viewport: string): RuleFact =>
  new ViewFact(rule, caseOf(fact, page, viewport))

/** A fact of some of its cases. */
export const withCases = ({ rule, fact, page }: RuleFact, cases: readonly Case[]): RuleFact => ({
  ...{ rule, fact, page },
  cases,
})

/** A fact about the site, spread over the pages and viewports at which it holds. */
export const siteFact = (rule: Rule, fact: SiteFact, allViewports: readonly string[]): RuleFact => ({
  rule,
  fact,
  cases: casesAt(fact, fact.pages, fact.viewports ?? allViewports),
  page: undefined,
})

/** A fact of a rule that was seen on one page, whatever the viewport. */
export const pageFact = (rule: Rule, fact: Fact, page: string, viewports: readonly string[]): RuleFact => ({
  rule,
  fact,
  cases: casesAt(fact, [page], viewports),
  page,
})

/** Number of reports by rule, page and viewport, which a change does not rename as it may pointers. */
export type Counts = Map<string, number>

/** One key for each page and viewport of a fact; the rule alone where it is about no page. */
export const keysOf = remembered(({ rule, cases }: RuleFact): readonly string[] =>
  cases.length > 0 ? cases.map(({ page, viewport }) => `${rule.id} ${page} ${viewport}`) : [rule.id],
)

/** Adds facts to counts, or subtracts them. */
export function addCounts(counts: Counts, facts: Iterable<RuleFact>, times: 1 | -1 = 1): Counts {
  for (const fact of facts) for (const key of keysOf(fact)) counts.set(key, (counts.get(key) ?? 0) + times)
  return counts
}
