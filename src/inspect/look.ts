import type { PageCore } from '../resolve/page.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import type { Measures } from './measures.js'
import { PageSight } from './page-sight.js'
import { ReadSite, type ReadKey } from './reads.js'
import type { Fact, PageRule, Rule, SiteRule, ViewRule } from './rule.js'
import { caseOf, pageFact, type RuleFact } from './rule-fact.js'
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

/** A text of so many characters is looked up, so that it is held once; to look for shorter ones takes more than it saves. */
const WORTH_SHARING = 12

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
    if (text.length < WORTH_SHARING) return text
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
    if (this.#look) return this.#look.facts.filter((fact) => fact.rule === rule)
    let found = this.#found.get(rule)
    if (!found) {
      const facts: RuleFact[] = []
      this.#noting((sight) => this.#ask(sight, rule, facts))
      this.#found.set(rule, (found = facts))
    }
    return found
  }

  /** What one rule about the whole site tallies, and sees of the page by itself. */
  ofSite(rule: SiteRule): OfSiteRule {
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

  #ask(sight: PageSight, rule: ViewRule | PageRule, facts: RuleFact[]): void {
    if (sight.page.dormant) return
    const page = this.id
    if (rule.scope === 'page')
      return rule.check(sight, (fact) => void facts.push(pageFact(rule, fact, page, viewportsOf(sight))))
    let viewport = ''
    const report = (fact: Fact): void => {
      const seen = caseOf(fact, page, viewport)
      facts.push({ rule, fact: seen, cases: [seen], page })
    }
    for (const each of sight.sights) {
      viewport = each.view.viewport.name
      rule.check(each, report)
    }
  }

  #tally(sight: PageSight, rule: SiteRule, marks: Mark[], facts: RuleFact[]): void {
    const { dormant } = sight.page
    if (dormant && !rule.seesDormant) return
    const page = this.id
    rule.marks?.(sight, (key, value, detail) => {
      marks.push({ rule, key: this.#looker.text(key), value: this.#looker.text(value), page, detail })
    })
    if (!dormant) rule.onPage?.(sight, (fact) => void facts.push(pageFact(rule, fact, page, viewportsOf(sight))))
  }

  #whole(sight: PageSight): Look {
    const facts: RuleFact[] = []
    const marks: Mark[] = []
    for (const rule of this.#rules.ofPages) {
      const found = known(this.#found, rule)
      if (found) for (const fact of found) facts.push(fact)
      else this.#ask(sight, rule, facts)
    }
    for (const rule of this.#rules.ofSite) {
      const found = known(this.#tallied, rule)
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
