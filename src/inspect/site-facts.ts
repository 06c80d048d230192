import { LayeredMap } from '../model/layered-map.js'
import { listsBy } from '../model/lists.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { Allowances, type Usage } from './allowances.js'
import { factsByKey, groupOf, type RuleGroup } from './groups.js'
import { HeldTally } from './held-tally.js'
import { addReaders, factsIn, judge, type Judged, type Readers } from './judged.js'
import { Looker, type AskedRules } from './look.js'
import { Measures } from './measures.js'
import type { ReadKey } from './reads.js'
import type { Allowance, SiteRule } from './rule.js'
import type { Look, Mark } from './seen.js'
import { siteFact, type RuleFact } from './rule-fact.js'
import { RULES } from './rules/index.js'

/** Which pages rest on what of the rest of the site; put together once somebody asks, and added to after that. */
class PageReaders {
  readonly #looks: LayeredMap<Look>
  #known: Readers<string> | undefined

  constructor(looks: LayeredMap<Look>) {
    this.#looks = looks
  }

  get #readers(): Readers<string> {
    if (!this.#known) {
      this.#known = new Map()
      for (const id of this.#looks.keys) addReaders(this.#known, (this.#looks.get(id) as Look).reads, id)
    }
    return this.#known
  }

  of(key: ReadKey): Iterable<string> {
    return this.#readers.get(key) ?? []
  }

  add(id: string, { reads }: Look): void {
    addReaders(this.#readers, reads, id)
  }
}

/** What is known of one state of a site, which a step to another shares as far as it stays. */
export interface KnownParts {
  readonly looks: LayeredMap<Look>
  readonly readers: PageReaders
  /** By rule, the keys whose judgment rests on what was read. */
  readonly judgments: ReadonlyMap<SiteRule, Readers<string>>
  readonly judged: ReadonlyMap<SiteRule, Judged>
  readonly allowances: Allowances
  readonly measures: Measures
}

/**
 * Of so many pages the measures are kept as they are looked at: changes that are tried come back to each of them. Of more,
 * most are not asked for again, and where some are kept the engine makes all others where only old things are.
 */
const FEW_PAGES = 200

/** All that rules see of a site; what a change makes of it a `Step` works out. */
export class SiteFacts {
  readonly resolved: ResolvedSite
  readonly rules: AskedRules
  readonly now: Date
  readonly parts: KnownParts
  #all: readonly RuleFact[] | undefined
  #usage: Usage | undefined
  #byKey: LayeredMap<readonly RuleFact[]> | undefined

  /** @param byKey - What all rules see, less what is allowed, by rule and deciding place, where that is known. */
  constructor(
    resolved: ResolvedSite,
    { rules, now }: Pick<SiteFacts, 'rules' | 'now'>,
    parts: KnownParts,
    byKey?: LayeredMap<readonly RuleFact[]>,
  ) {
    this.resolved = resolved
    this.rules = rules
    this.now = now
    this.parts = parts
    this.#byKey = byKey
  }

  /**
   * Looks at every page of a site, then judges it; yields the number of pages that were looked at.
   *
   * @param isLast - Whether no step to a changed site will be taken from what is found.
   */
  static *gather(resolved: ResolvedSite, rules: AskedRules, now: Date, isLast = false): Generator<number, SiteFacts> {
    const looker = new Looker(resolved, rules, now, isLast ? { isNoting: false } : {})
    const looks = new Map<string, Look>()
    const marks = new Map<SiteRule, Mark[]>(rules.ofSite.map((rule) => [rule, []]))
    const measures = new Measures(resolved)
    const isKept = !isLast && resolved.pageIds.length <= FEW_PAGES
    for (const id of resolved.pageIds) {
      const glance = looker.glance(id, undefined, !isKept)
      const { look } = glance
      if (isKept && glance.measures) measures.keep(id, glance.measures)
      looks.set(id, look)
      for (const mark of look.marks) marks.get(mark.rule)?.push(mark)
      yield looks.size
    }
    const judgments = new Map(rules.ofSite.map((rule) => [rule, new Map() as Readers<string>]))
    const judged = new Map<SiteRule, Judged>()
    for (const [rule, ofRule] of marks) {
      const tallies = new Map([...listsBy(ofRule, ({ key }) => key)].map(([key, list]) => [key, HeldTally.of(list)]))
      const facts = new Map<string, readonly RuleFact[]>()
      for (const key of new Set([...(rule.keys ?? []), ...tallies.keys()])) {
        const found = judge(looker, rule, now, key, tallies.get(key), judgments.get(rule))
        if (found.length > 0) facts.set(key, found)
        yield looks.size
      }
      judged.set(rule, { tallies: LayeredMap.of(tallies), facts: LayeredMap.of(facts) })
    }
    const allowances = new Allowances(resolved)
    const held = LayeredMap.of(looks)
    const parts = { looks: held, readers: new PageReaders(held), judgments, judged, allowances, measures }
    return new SiteFacts(resolved, { rules, now }, parts)
  }

  look(id: string): Look | undefined {
    return this.parts.looks.get(id)
  }

  get allowances(): Allowances {
    return this.parts.allowances
  }

  get measures(): Measures {
    return this.parts.measures
  }

  /** What all rules see, less what is allowed. */
  get all(): readonly RuleFact[] {
    return (this.#all ??= [...this.#seen(), ...this.unusedFacts(this.allowances, this.usage)])
  }

  /** The same, where somebody asked for it by key. */
  get knownByKey(): LayeredMap<readonly RuleFact[]> | undefined {
    return this.#byKey
  }

  /** What all rules see, less what is allowed, by rule and deciding place. */
  get byKey(): LayeredMap<readonly RuleFact[]> {
    return (this.#byKey ??= LayeredMap.of<readonly RuleFact[]>(factsByKey(this.all)))
  }

  /** The same as groups, in no order. */
  *groups(): Iterable<RuleGroup> {
    const { byKey } = this
    for (const key of byKey.keys) yield groupOf(key, byKey.get(key) as readonly RuleFact[])
  }

  /** How often each entry of `allow` let something pass. */
  get usage(): Usage {
    if (!this.#usage) this.#seen()
    return this.#usage as Usage
  }

  #seen(): readonly RuleFact[] {
    const usage: Usage = new Map()
    const facts = this.allowances.pass([...this.everyFact()], usage)
    this.#usage = usage
    return facts
  }

  /** Every fact, allowed or not: of pages in their order, then of the site. */
  *everyFact(): Iterable<RuleFact> {
    const { looks } = this.parts
    for (const id of this.resolved.pageIds) yield* looks.get(id)?.facts ?? []
    yield* this.judgedFacts()
  }

  /** Every fact about the site, allowed or not. */
  *judgedFacts(): Iterable<RuleFact> {
    const { judged } = this.parts
    for (const each of judged.values()) yield* factsIn(each)
  }

  /** What is reported about entries of `allow` that let nothing pass; that is known only when every rule was asked. */
  unusedFacts(allowances: Allowances, usage: Usage): readonly RuleFact[] {
    const { all } = this.rules
    const severity = this.resolved.site.data.severity ?? {}
    const last = all.filter((rule) => rule.scope === 'allow')
    if (last.length === 0 || allowances.isEmpty) return []
    if (!RULES.every((rule) => all.includes(rule) || severity[rule.id] === 'none')) return []
    const unused = allowances.all.filter((gate) => (usage.get(gate.data) ?? 0) === 0 && isEnforceable(gate))
    const found: RuleFact[] = []
    for (const rule of last) rule.check(unused, (fact) => void found.push(siteFact(rule, fact, [])))
    return found
  }
}

const OF_REALITY: ReadonlySet<string> = new Set(RULES.filter((rule) => rule.scope === 'reality').map((rule) => rule.id))
/** What only observing real pages may find is not known to be permitted for nothing. */
const isEnforceable = ({ rules }: Allowance): boolean => !rules.every((rule) => OF_REALITY.has(rule))
