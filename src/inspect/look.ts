import type { ResolvedSite } from '../resolve/resolve-site.js'
import type { Measures } from './measures.js'
import { PageSight } from './page-sight.js'
import type { Sight } from './sight.js'
import { ReadSite, type ReadKey } from './reads.js'
import type { Fact, PageRule, Rule, SiteRule, ViewRule } from './rule.js'
import { pageFact, viewFact, type RuleFact } from './rule-fact.js'
import type { Look, Mark, SeenByRule } from './seen.js'
import { staysOf, type LookBefore } from './stays.js'

/** The rules that are asked, by what they look at. */
export interface AskedRules {
  readonly all: readonly Rule[]
  readonly ofPages: readonly (ViewRule | PageRule)[]
  readonly ofSite: readonly SiteRule[]
}

export function askedRules(all: readonly Rule[]): AskedRules {
  return {
    all,
    ofPages: all.filter((rule) => rule.scope === 'view' || rule.scope === 'page'),
    ofSite: all.filter((rule) => rule.scope === 'site'),
  }
}

/** How pages are looked at. */
export interface Looking {
  /** Measures of the pages before a change, which what stays is taken from. */
  readonly before?: Measures
  /** Whether no change will be made to what is looked at. */
  readonly isTrial?: boolean
  /** Whether what the looks rest on is noted; default true. */
  readonly isNoting?: boolean
}

/** Looks at the pages of one state of a site, and notes what of the site each look rests on. */
export class Looker {
  readonly resolved: ResolvedSite
  readonly #now: Date
  readonly #rules: AskedRules
  readonly #seen: ReadSite | undefined
  readonly #through: ResolvedSite
  readonly #before: Measures | undefined
  readonly #isTrial: boolean

  constructor(
    resolved: ResolvedSite,
    rules: AskedRules,
    now: Date,
    { before, isTrial = false, isNoting = true }: Looking = {},
  ) {
    this.resolved = resolved
    this.#before = before
    this.#isTrial = isTrial
    this.#now = now
    this.#rules = rules
    this.#seen = isNoting ? new ReadSite(resolved.site) : undefined
    this.#through = resolved.seenThrough(this.#seen?.site ?? resolved.site)
  }

  /** The site as the rules about it see it; what they read meanwhile is noted, but for what a page reads of itself. */
  during<T>(
    work: (resolved: ResolvedSite) => T,
    reads = new Set<ReadKey>(),
    own?: string,
  ): { readonly result: T; readonly reads: Set<ReadKey> } {
    const through = this.#through
    return this.#seen ? this.#seen.during(() => work(through), reads, own) : { result: work(through), reads }
  }

  /**
   * A look at one page that goes only as far as it is asked to.
   *
   * @param before - What was seen of it before a change to nothing but surrounds.
   * @param isLast - Whether nobody will keep its measures.
   */
  glance(id: string, before?: Look, isLast = this.#isTrial): Glance {
    const measures = this.#before?.known(id)
    const makeSight = (resolved: ResolvedSite): PageSight =>
      new PageSight(resolved, resolved.page(id), this.#now, { before: measures, isLast })
    return new Glance(this, id, this.#rules, makeSight, before && measures && { look: before, measures })
  }
}

/** A look at one page, taken rule by rule; the page is measured once for all. */
export class Glance {
  readonly #looker: Looker
  readonly #rules: AskedRules
  readonly #makeSight: (resolved: ResolvedSite) => PageSight
  readonly #reads = new Set<ReadKey>()
  readonly #found = new Map<Rule, readonly RuleFact[]>()
  readonly #tallied = new Map<SiteRule, SeenByRule>()
  readonly id: string
  readonly #before: LookBefore | undefined
  #sight: PageSight | undefined
  #look: Look | undefined

  constructor(
    looker: Looker,
    id: string,
    rules: AskedRules,
    makeSight: (resolved: ResolvedSite) => PageSight,
    before?: LookBefore,
  ) {
    this.#looker = looker
    this.id = id
    this.#rules = rules
    this.#makeSight = makeSight
    this.#before = before
  }

  get sight(): PageSight {
    return (this.#sight ??= this.#looker.during((resolved) => this.#makeSight(resolved), this.#reads, this.id).result)
  }

  /** The page's measures, where it was looked at already. */
  get measures(): PageSight['measures'] {
    return this.#sight?.measures
  }

  /** What of the rest of the site that rests on which it saw up to now. */
  get reads(): ReadonlySet<ReadKey> {
    return this.#reads
  }

  /** What one rule sees. */
  facts(rule: ViewRule | PageRule): readonly RuleFact[] {
    if (this.#look) return this.#look.facts.filter((fact) => fact.rule === rule)
    let found = this.#found.get(rule)
    if (!found) {
      const facts: RuleFact[] = []
      this.#noting((sight) => this.#ask(sight, rule, facts))
      this.#found.set(rule, (found = facts))
    }
    return found
  }

  /** The same viewport by viewport, for who may know enough before the last. */
  *factsInTurn(rule: ViewRule | PageRule): Iterable<readonly RuleFact[]> {
    if (this.#look || this.#found.has(rule) || rule.scope === 'page') return yield this.facts(rule)
    const all: RuleFact[] = []
    for (const each of this.sight.sights) {
      const facts: RuleFact[] = []
      this.#noting((sight) => this.#ask(sight, rule, facts, each))
      for (const fact of facts) all.push(fact)
      yield facts
    }
    this.#found.set(rule, all)
  }

  /** What one rule about the whole site tallies, and sees of the page by itself. */
  ofSite(rule: SiteRule): SeenByRule {
    const mine = (each: { readonly rule: Rule }): boolean => each.rule === rule
    if (this.#look) return { marks: this.#look.marks.filter(mine), facts: this.#look.facts.filter(mine) }
    let found = this.#tallied.get(rule)
    if (!found) {
      const [marks, facts]: [Mark[], RuleFact[]] = [[], []]
      this.#noting((sight) => this.#tally(sight, rule, marks, facts))
      this.#tallied.set(rule, (found = { marks, facts }))
    }
    return found
  }

  get look(): Look {
    return (this.#look ??= this.#noting((sight) => this.#whole(sight)))
  }

  /** Holds on to no more than what was seen. */
  letGo(): void {
    this.#sight = undefined
    this.#found.clear()
    this.#tallied.clear()
  }

  /** Some work that looks at the page; what of the rest of the site it rests on is noted. */
  #noting<T>(work: (sight: PageSight) => T): T {
    const { sight } = this
    return this.#looker.during(() => work(sight), this.#reads, this.id).result
  }

  /** @param at - The one viewport that a rule about viewports is asked at; default all. */
  #ask(sight: PageSight, rule: ViewRule | PageRule, facts: RuleFact[], at?: Sight): void {
    if (sight.page.dormant) return
    const page = this.id
    if (rule.scope === 'page')
      return rule.check(sight, (fact) => void facts.push(pageFact(rule, fact, page, viewportsOf(sight))))
    let viewport = ''
    const report = (fact: Fact): void => {
      facts.push(viewFact(rule, fact, page, viewport))
    }
    for (const each of at ? [at] : sight.sights) {
      viewport = each.view.viewport.name
      rule.check(each, report)
    }
  }

  #tally(sight: PageSight, rule: SiteRule, marks: Mark[], facts: RuleFact[]): void {
    const { dormant } = sight.page
    if (dormant && !rule.seesDormant) return
    const page = this.id
    rule.marks?.(sight, (key, value, detail) => {
      marks.push({ rule, key, value, page, detail })
    })
    if (!dormant) rule.onPage?.(sight, (fact) => void facts.push(pageFact(rule, fact, page, viewportsOf(sight))))
  }

  #whole(sight: PageSight): Look {
    const facts: RuleFact[] = []
    const marks: Mark[] = []
    const stays = this.#before && staysOf(this.#before, sight)
    if (stays && this.#before) for (const read of this.#before.look.reads) this.#reads.add(read)
    for (const rule of this.#rules.ofPages) {
      const found = stays?.(rule)?.facts ?? known(this.#found, rule)
      if (found) for (const fact of found) facts.push(fact)
      else this.#ask(sight, rule, facts)
    }
    for (const rule of this.#rules.ofSite) {
      const found = stays?.(rule) ?? known(this.#tallied, rule)
      if (!found) this.#tally(sight, rule, marks, facts)
      else {
        for (const fact of found.facts) facts.push(fact)
        for (const mark of found.marks) marks.push(mark)
      }
    }
    return { core: sight.page.core, reads: this.#reads, facts, marks }
  }
}

/** Most looks are taken whole, and know of no rule before. */
const known = <K, V>(found: ReadonlyMap<K, V>, rule: K): V | undefined => (found.size > 0 ? found.get(rule) : undefined)

const viewportsOf = ({ sights }: PageSight): readonly string[] => sights.map(({ view }) => view.viewport.name)
