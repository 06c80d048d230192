import type { PageCore } from '../resolve/page.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import type { Measures } from './measures.js'
import { PageSight } from './page-sight.js'
import { ReadSite, type ReadKey } from './reads.js'
import type { PageRule, Rule, SiteRule, ViewRule } from './rule.js'
import { siteFact, type RuleFact } from './rule-fact.js'
import type { TallyMark } from './tally.js'

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

/** What a page adds to the tallies of a rule about the whole site. */
export interface Mark extends TallyMark {
  readonly rule: SiteRule
  readonly key: string
}

/** All that was seen of one page, and what of the rest of the site it rests on. */
export interface Look {
  readonly core: PageCore
  readonly reads: ReadonlySet<ReadKey>
  readonly facts: readonly RuleFact[]
  readonly marks: readonly Mark[]
}

/** Looks at the pages of one state of a site, and notes what of the site each look rests on. */
export class Looker {
  readonly resolved: ResolvedSite
  readonly #now: Date
  readonly #rules: AskedRules
  readonly #seen: ReadSite
  readonly #through: ResolvedSite
  readonly #texts = new Map<string, string>()

  readonly #before: Measures | undefined

  /** @param before - Measures of the pages before a change, which what stays is taken from. */
  constructor(resolved: ResolvedSite, rules: AskedRules, now: Date, before?: Measures) {
    this.resolved = resolved
    this.#before = before
    this.#now = now
    this.#rules = rules
    this.#seen = new ReadSite(resolved.site)
    this.#through = resolved.seenThrough(this.#seen.site)
  }

  /** The site as the rules about it see it; what they read meanwhile is noted, but for what a page reads of itself. */
  during<T>(
    work: (resolved: ResolvedSite) => T,
    reads?: Set<ReadKey>,
    own?: string,
  ): { readonly result: T; readonly reads: Set<ReadKey> } {
    return this.#seen.during(() => work(this.#through), reads, own)
  }

  /** A look at one page that goes only as far as it is asked to. */
  glance(id: string): Glance {
    return new Glance(this, id, this.#rules, (resolved) => {
      return new PageSight(resolved, resolved.page(id), this.#now, this.#before?.known(id))
    })
  }

  /** The same text for equal ones: many pages contribute the same under the same keys. */
  text(text: string): string {
    const known = this.#texts.get(text)
    if (known === undefined) this.#texts.set(text, text)
    return known ?? text
  }
}

/** What one rule about the whole site tallies of a page, and what it sees of it by itself. */
interface OfSiteRule {
  readonly marks: readonly Mark[]
  readonly facts: readonly RuleFact[]
}

/** A look at one page, taken rule by rule; the page is measured once for all. */
export class Glance {
  readonly #looker: Looker
  readonly #rules: AskedRules
  readonly #makeSight: (resolved: ResolvedSite) => PageSight
  readonly #reads = new Set<ReadKey>()
  readonly #found = new Map<Rule, readonly RuleFact[]>()
  readonly #tallied = new Map<SiteRule, OfSiteRule>()
  readonly id: string
  #sight: PageSight | undefined
  #look: Look | undefined

  constructor(looker: Looker, id: string, rules: AskedRules, makeSight: (resolved: ResolvedSite) => PageSight) {
    this.#looker = looker
    this.id = id
    this.#rules = rules
    this.#makeSight = makeSight
  }

  get sight(): PageSight {
    return (this.#sight ??= this.#looker.during((resolved) => this.#makeSight(resolved), this.#reads, this.id).result)
  }

  /** The page's measures, where it was looked at already. */
  get measures(): PageSight['measures'] {
    return this.#sight?.measures
  }

  /** What one rule sees. */
  facts(rule: ViewRule | PageRule): readonly RuleFact[] {
    let found = this.#found.get(rule)
    if (!found) {
      const { sight } = this
      found = sight.page.dormant ? [] : this.#looker.during(() => ask(sight, rule), this.#reads, this.id).result
      this.#found.set(rule, found)
    }
    return found
  }

  /** What one rule about the whole site tallies, and sees of the page by itself. */
  ofSite(rule: SiteRule): OfSiteRule {
    let found = this.#tallied.get(rule)
    if (!found) {
      const { sight } = this
      const isOut = sight.page.dormant && !rule.seesDormant
      found = isOut ? NOTHING : this.#looker.during(() => this.#tally(sight, rule), this.#reads, this.id).result
      this.#tallied.set(rule, found)
    }
    return found
  }

  get look(): Look {
    return (this.#look ??= this.#whole())
  }

  /** Holds on to no more than what was seen. */
  letGo(): void {
    this.#sight = undefined
    this.#found.clear()
    this.#tallied.clear()
  }

  #tally(sight: PageSight, rule: SiteRule): OfSiteRule {
    const marks: Mark[] = []
    const facts: RuleFact[] = []
    rule.marks?.(sight, (key, value, detail) => {
      const [sameKey, sameValue] = [this.#looker.text(key), this.#looker.text(value)]
      marks.push({ rule, key: sameKey, value: sameValue, page: this.id, detail })
    })
    if (!sight.page.dormant)
      rule.onPage?.(sight, (fact) => {
        facts.push({ ...siteFact(rule, { ...fact, pages: [this.id] }, viewportsOf(sight)), page: this.id })
      })
    return marks.length + facts.length > 0 ? { marks, facts } : NOTHING
  }

  #whole(): Look {
    const facts: RuleFact[] = []
    const marks: Mark[] = []
    for (const rule of this.#rules.ofPages) for (const fact of this.facts(rule)) facts.push(fact)
    for (const rule of this.#rules.ofSite) {
      const found = this.ofSite(rule)
      for (const fact of found.facts) facts.push(fact)
      for (const mark of found.marks) marks.push(mark)
    }
    return { core: this.sight.page.core, reads: this.#reads, facts, marks }
  }
}

const NOTHING: OfSiteRule = { marks: [], facts: [] }

const viewportsOf = ({ sights }: PageSight): readonly string[] => sights.map(({ view }) => view.viewport.name)

function ask(sight: PageSight, rule: ViewRule | PageRule): readonly RuleFact[] {
  const found: RuleFact[] = []
  const page = sight.page.id
  if (rule.scope === 'page') {
    rule.check(sight, (fact) => {
      found.push({ rule, fact, cases: viewportsOf(sight).map((viewport) => ({ ...fact, page, viewport })), page })
    })
  } else
    for (const each of sight.sights)
      rule.check(each, (fact) => {
        const seen = { ...fact, page, viewport: each.view.viewport.name }
        found.push({ rule, fact: seen, cases: [seen], page })
      })
  return found
}
