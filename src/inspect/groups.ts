import { jsonPointer } from '../model/entries.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { positionIn } from './positions.js'
import type { RuleFact } from './rule-fact.js'
import type { Fact, Group, Numbers, Rule } from './rule.js'

/** The facts of one rule at one deciding place, for reports: with JSON Pointers in place of entry ids. */
export interface RuleGroup {
  readonly rule: Rule
  readonly group: Group
  /** The group's pages; cheaper than `group`. */
  readonly pages: readonly string[]
  /** The numbers of its worst case. */
  readonly numbers: Numbers
  /** The key of the finding: rule and JSON Pointer. */
  readonly key: string
  /** The key with entry ids, which stays valid from one state of a site to the next. */
  readonly id: string
}

/** A group whose cases are assembled when they are first asked for. */
class FactGroup implements RuleGroup {
  readonly key: string
  readonly id: string
  readonly #facts: readonly RuleFact[]
  readonly #resolved: ResolvedSite
  #pages: readonly string[] | undefined
  #group: Group | undefined

  constructor(facts: readonly RuleFact[], resolved: ResolvedSite) {
    const [{ rule, fact }] = facts as readonly [RuleFact]
    this.#facts = facts
    this.#resolved = resolved
    this.id = `${rule.id}@${fact.at}`
    this.key = `${rule.id}@${jsonPointer(resolved.site.data, fact.at)}`
  }

  get rule(): Rule {
    return (this.#facts[0] as RuleFact).rule
  }

  get pages(): readonly string[] {
    return (this.#pages ??= inSiteOrder(pagesOf(this.#facts), this.#resolved))
  }

  get numbers(): Numbers {
    return worstOf(this.#facts).numbers
  }

  get group(): Group {
    return (this.#group ??= toGroup(
      this.#facts.map((fact) => reportedFact(fact, this.#resolved)),
      this.pages,
    ))
  }
}

function inSiteOrder(pages: readonly string[], resolved: ResolvedSite): readonly string[] {
  const position = positionIn(resolved)
  const isBefore = (page: string, n: number): boolean => n === 0 || position(pages[n - 1] as string) < position(page)
  return pages.every(isBefore) ? pages : [...pages].sort((a, b) => position(a) - position(b))
}

/** Replaces pointers with entry ids by JSON Pointers, and fills in the words for entries. */
function reportedFact(each: RuleFact, { site, nameOfEntry }: ResolvedSite): RuleFact {
  const reported = (pointer: string): string => jsonPointer(site.data, pointer)
  const hasEntry = ({ at, entries, related = [] }: Fact): boolean =>
    entries !== undefined || reported(at) !== at || related.some(({ pointer }) => reported(pointer) !== pointer)
  if (!hasEntry(each.fact) && !each.cases.some(hasEntry)) return each
  const named = (entries: NonNullable<Fact['entries']>): Readonly<Record<string, string>> =>
    Object.fromEntries(Object.entries(entries).map(([word, entry]) => [word, nameOfEntry(entry)]))
  const reportedOf = <F extends Fact>(fact: F): F => ({
    ...fact,
    at: reported(fact.at),
    words: fact.entries ? { ...fact.words, ...named(fact.entries) } : fact.words,
    related: fact.related?.map(({ pointer, because }) => ({ pointer: reported(pointer), because })),
  })
  const cases = each.cases.map(reportedOf)
  const only = each.fact === each.cases[0] ? cases[0] : undefined
  return { rule: each.rule, fact: only ?? reportedOf(each.fact), cases, page: each.page }
}

/** Groups facts by rule and deciding place. */
export const toGroups = (facts: readonly RuleFact[], resolved: ResolvedSite): readonly RuleGroup[] =>
  [...factsByKey(facts).values()].map((each) => groupOf(each, resolved))

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

/** The key of a fact's finding: rule and place. */
export const keyOf = ({ rule, fact }: RuleFact): string => `${rule.id}@${fact.at}`

/** All facts of one key as a group. */
export const groupOf = (facts: readonly RuleFact[], resolved: ResolvedSite): RuleGroup => new FactGroup(facts, resolved)

/** The weight of a fact: its first number, negated for rules whose smallest number is worst. */
function weightIn(rule: Rule, { numbers }: Fact): number {
  for (const name of rule.numbers) {
    const number = numbers[name]
    if (number !== undefined) return rule.worst === 'smallest' ? -number : number
  }
  return -Infinity
}

/** Up to this many pages a linear search is faster than a set. */
const FEW_PAGES = 8

/** The distinct pages of facts in their order. Cases of one page are nearly always adjacent. */
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

/** The fact or case with the largest weight; the first of equal ones. */
function worstOf(facts: readonly RuleFact[]): Fact {
  const [{ rule, fact: first }] = facts as readonly [RuleFact]
  let worst = first
  let most = weightIn(rule, first)
  const weigh = (fact: Fact): void => {
    const weight = weightIn(rule, fact)
    if (!(weight > most)) return
    worst = fact
    most = weight
  }
  for (const { fact } of facts) weigh(fact)
  for (const { fact, cases } of facts) for (const each of cases) if (each !== fact) weigh(each)
  return worst
}

function toGroup(facts: readonly RuleFact[], pages: readonly string[]): Group {
  const [{ fact, cases: ofFirst }] = facts as readonly [RuleFact]
  const cases = facts.length === 1 ? ofFirst : facts.flatMap((each) => each.cases)
  return { at: fact.at, cases, pages, worst: worstOf(facts) }
}

/** Restricts a group to some of its pages. */
export function ofPages(rule: Rule, group: Group, pages: readonly string[]): Group {
  const cases = group.cases.filter((c) => pages.includes(c.page))
  const facts = [{ rule, fact: group.worst, cases, page: undefined }]
  return toGroup(facts, pagesOf(facts))
}
