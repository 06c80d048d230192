import { jsonPointer } from '../model/entries.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { positionIn } from './positions.js'
import type { RuleFact } from './rule-fact.js'
import type { Fact, Group, Numbers, Rule } from './rule.js'

/** All that one rule saw at one deciding place, as it is told: with pointers of the site as it is. */
export interface RuleGroup {
  readonly rule: Rule
  readonly group: Group
  /** The group's pages: all that is needed of most groups. */
  readonly pages: readonly string[]
  /** The numbers of its worst case. */
  readonly numbers: Numbers
  /** The key of the finding that it makes: rule and place. */
  readonly key: string
  /** The same by the identity of entries, which holds from one state of a site to the next. */
  readonly id: string
}

/** A group that is put together once somebody asks for more than its pages. */
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
      this.#facts.map((fact) => toldFact(fact, this.#resolved)),
      this.pages,
    ))
  }
}

function inSiteOrder(pages: readonly string[], resolved: ResolvedSite): readonly string[] {
  const position = positionIn(resolved)
  const isBefore = (page: string, n: number): boolean => n === 0 || position(pages[n - 1] as string) < position(page)
  return pages.every(isBefore) ? pages : [...pages].sort((a, b) => position(a) - position(b))
}

/** A fact with JSON Pointers in place of those that name entries by their identity. */
function toldFact(each: RuleFact, { site, nameOfEntry }: ResolvedSite): RuleFact {
  const told = (pointer: string): string => jsonPointer(site.data, pointer)
  const hasEntry = ({ at, entries, related = [] }: Fact): boolean =>
    entries !== undefined || told(at) !== at || related.some(({ pointer }) => told(pointer) !== pointer)
  if (!hasEntry(each.fact) && !each.cases.some(hasEntry)) return each
  const named = (entries: NonNullable<Fact['entries']>): Readonly<Record<string, string>> =>
    Object.fromEntries(Object.entries(entries).map(([word, entry]) => [word, nameOfEntry(entry)]))
  const toldOf = <F extends Fact>(fact: F): F => ({
    ...fact,
    at: told(fact.at),
    words: fact.entries ? { ...fact.words, ...named(fact.entries) } : fact.words,
    related: fact.related?.map(({ pointer, because }) => ({ pointer: told(pointer), because })),
  })
  const cases = each.cases.map(toldOf)
  const only = each.fact === each.cases[0] ? cases[0] : undefined
  return { rule: each.rule, fact: only ?? toldOf(each.fact), cases, page: each.page }
}

/** One group for each rule and deciding place. */
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

/** What facts of one finding have in common: rule and place. */
export const keyOf = ({ rule, fact }: RuleFact): string => `${rule.id}@${fact.at}`

/** All facts of one key as a group. */
export const groupOf = (facts: readonly RuleFact[], resolved: ResolvedSite): RuleGroup => new FactGroup(facts, resolved)

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

/** The worst of facts and their cases; of several that weigh the same the first. */
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

/** A group as if it were of some of its pages only. */
export function ofPages(rule: Rule, group: Group, pages: readonly string[]): Group {
  const cases = group.cases.filter((c) => pages.includes(c.page))
  const facts = [{ rule, fact: group.worst, cases, page: undefined }]
  return toGroup(facts, pagesOf(facts))
}
