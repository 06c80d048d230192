import { sortBy } from 'es-toolkit'
import { LayeredMap } from '../../model/layered-map.js'
import { jsonPointer } from '../../model/entries.js'
import type { ResolvedSite } from '../../resolve/resolve-site.js'
import { Allowances, type Usage } from '../allowances.js'
import { factsByKey, groupOf, type RuleGroup } from '../groups.js'
import type { Allowance, SiteRule } from '../rule.js'
import { siteFact, type RuleFact } from '../rule-fact.js'
import { RULES } from '../rules/index.js'
import type { Look } from '../seen.js'
import { Survey } from '../survey.js'
import { Looker, type AskedRules, type PageMeasures } from '../look.js'
import type { ReadKey } from './reads.js'
import { tallyOf, type Marks } from './tally.js'
import { measurePage } from '../../measure/page.js'

/** The marks and facts of a site rule, by key. */
export interface Judged {
  readonly marks: LayeredMap<Marks>
  readonly facts: LayeredMap<readonly RuleFact[]>
}

/** Readers (pages or keys) by what they read; may contain readers that have stopped reading it. */
export type Readers = Map<ReadKey, Set<string>>

export function addReaders(readers: Readers, reads: Iterable<ReadKey>, reader: string): void {
  for (const key of reads) {
    const known = readers.get(key)
    if (known) known.add(reader)
    else readers.set(key, new Set([reader]))
  }
}

/** The results for one state of a site; later states share what is unchanged. */
export interface KnownParts {
  readonly looks: LayeredMap<Look>
  readonly judged: ReadonlyMap<SiteRule, Judged>
  /** Pages by what their looks read of the rest of the site. */
  readonly readers: Readers
  /** For each rule, the keys by what judging them read. */
  readonly judgedReaders: ReadonlyMap<SiteRule, Readers>
}

/** Number of pages whose measures are kept. */
const MOST_MEASURED = 200

/** The facts of all rules for one state of a site; a `Step` derives those of a changed site. */
export class SiteFacts {
  readonly resolved: ResolvedSite
  readonly rules: AskedRules
  readonly now: Date
  readonly parts: KnownParts
  readonly allowances: Allowances
  readonly #measures = new Map<string, PageMeasures>()
  #all: readonly RuleFact[] | undefined
  #usage: Usage = new Map()
  #byKey: ReadonlyMap<string, readonly RuleFact[]> | undefined

  constructor(
    resolved: ResolvedSite,
    { rules, now }: Pick<SiteFacts, 'rules' | 'now'>,
    parts: KnownParts,
    allowances = new Allowances(resolved),
  ) {
    this.resolved = resolved
    this.rules = rules
    this.now = now
    this.parts = parts
    this.allowances = allowances
  }

  /**
   * Looks at every page of a site, then judges it; yields the number of pages that were looked at.
   *
   * @param isLast - Whether nothing will be asked about a changed site.
   */
  static *gather(resolved: ResolvedSite, rules: AskedRules, now: Date, isLast = false): Generator<number, SiteFacts> {
    const looker = new Looker(resolved, rules, now, !isLast)
    const looks = new Map<string, Look>()
    const marks = new Map(rules.ofSite.map((rule) => [rule, new Map<string, Look['marks'][number][]>()]))
    const readers: Readers = new Map()
    for (const id of resolved.pageIds) {
      const { look } = looker.glance(id)
      // Looks keep marks only for judging a changed site.
      looks.set(id, isLast ? { ...look, marks: [] } : look)
      if (!isLast) addReaders(readers, look.reads, id)
      for (const mark of look.marks) {
        const byKey = marks.get(mark.rule)
        const list = byKey?.get(mark.key)
        if (list) list.push(mark)
        else byKey?.set(mark.key, [mark])
      }
      yield looks.size
    }
    const judgedReaders = new Map(rules.ofSite.map((rule) => [rule, new Map() as Readers]))
    const judged = new Map<SiteRule, Judged>()
    for (const [rule, byKey] of marks) {
      const facts = new Map<string, readonly RuleFact[]>()
      for (const key of new Set([...(rule.keys ?? []), ...byKey.keys()])) {
        const found = judge(looker, rule, now, key, byKey.get(key) ?? [], judgedReaders.get(rule))
        if (found.length > 0) facts.set(key, found)
        yield looks.size
      }
      judged.set(rule, { marks: LayeredMap.of(isLast ? new Map() : byKey), facts: LayeredMap.of(facts) })
      if (isLast) byKey.clear()
    }
    const parts = { looks: LayeredMap.of(looks), judged, readers, judgedReaders }
    return new SiteFacts(resolved, { rules, now }, parts)
  }

  look(id: string): Look | undefined {
    return this.parts.looks.get(id)
  }

  /** The measures of a page that is not dormant. */
  measuresOf(id: string): PageMeasures {
    const known = this.#measures.get(id)
    if (known) return known
    const page = this.resolved.page(id)
    const made = new Map(this.resolved.site.viewports.map(({ name }) => [name, measurePage(page, name)]))
    if (this.#measures.size >= MOST_MEASURED) this.#measures.clear()
    this.#measures.set(id, made)
    return made
  }

  /** The facts of all rules, without allowed ones. */
  get all(): readonly RuleFact[] {
    if (!this.#all) {
      const passed = this.allowances.pass([...this.everyFact()], (this.#usage = new Map()))
      this.#all = [...passed, ...this.unusedFacts(this.#usage)]
    }
    return this.#all
  }

  /** How often each entry of `allow` was used. */
  get usage(): Usage {
    void this.all
    return this.#usage
  }

  /** `all` by rule and deciding place. */
  get byKey(): ReadonlyMap<string, readonly RuleFact[]> {
    return (this.#byKey ??= factsByKey(this.all))
  }

  /** `all` as groups, in no order. */
  *groups(): Iterable<RuleGroup> {
    for (const facts of this.byKey.values()) yield groupOf(facts, this.resolved)
  }

  /** Every fact, allowed or not: of pages in their order, then of the site. */
  *everyFact(): Iterable<RuleFact> {
    const { looks, judged } = this.parts
    for (const id of this.resolved.pageIds) yield* looks.get(id)?.facts ?? []
    for (const { facts } of judged.values())
      for (const key of inDocumentOrder(facts.keys, this.resolved)) yield* facts.get(key) ?? []
  }

  /** The facts about entries of `allow` that were not used; none unless every rule was asked. */
  unusedFacts(usage: Usage): readonly RuleFact[] {
    const { all } = this.rules
    const severity = this.resolved.site.data.severity ?? {}
    const last = all.filter((rule) => rule.scope === 'allow')
    if (last.length === 0 || this.allowances.isEmpty) return []
    if (!RULES.every((rule) => all.includes(rule) || severity[rule.id] === 'none')) return []
    const unused = this.allowances.all.filter((gate) => (usage.get(gate.data) ?? 0) === 0 && isEnforceable(gate))
    const found: RuleFact[] = []
    for (const rule of last) rule.check(unused, (fact) => void found.push(siteFact(rule, fact, [])))
    return found
  }
}

/** Keys ordered by their JSON Pointers: entry ids differ in a site that is read again. */
function inDocumentOrder(keys: readonly string[], { site }: ResolvedSite): readonly string[] {
  const placed = keys.map((key) => ({ key, pointer: jsonPointer(site.data, key) }))
  return sortBy(placed, ['pointer']).map(({ key }) => key)
}

const OF_REALITY: ReadonlySet<string> = new Set(RULES.filter((rule) => rule.scope === 'reality').map((rule) => rule.id))
/** Rules that only observing real pages can report may still use an entry. */
const isEnforceable = ({ rules }: Allowance): boolean => !rules.every((rule) => OF_REALITY.has(rule))

/** Judges a rule under one key; `readers` records what it reads of the site. */
export function judge(
  looker: Looker,
  rule: SiteRule,
  now: Date,
  key: string,
  marks: Marks,
  readers?: Readers,
): readonly RuleFact[] {
  const found: RuleFact[] = []
  const reads = new Set<ReadKey>()
  looker.during((resolved) => {
    const survey = new Survey(resolved, now)
    rule.judge(tallyOf(marks), survey, (fact) => void found.push(siteFact(rule, fact, survey.viewports)), key)
  }, reads)
  if (readers) addReaders(readers, reads, key)
  return found
}
