import type { PageMeasure } from '../measure/page-measure.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { PageSight } from './page-sight.js'
import type { Fact, PageRule, Rule, SiteRule, ViewRule } from './rule.js'
import { pageFact, viewFact, type RuleFact } from './rule-fact.js'
import type { Look, Mark } from './seen.js'
import { ReadSite, type ReadKey } from './engine/reads.js'

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

/** Measures of a page by viewport. */
export type PageMeasures = ReadonlyMap<string, PageMeasure>

/** Evaluates rules on the pages of one state of a site, and records what each page reads of the site. */
export class Looker {
  readonly #noting: ReadSite | undefined
  /** The site as rules see it. */
  readonly #seen: ResolvedSite
  readonly #rules: AskedRules
  readonly #now: Date

  /** @param isNoting - Whether reads are recorded. */
  constructor(resolved: ResolvedSite, rules: AskedRules, now: Date, isNoting = true) {
    this.#noting = isNoting ? new ReadSite(resolved.site) : undefined
    this.#seen = resolved.forFacts(this.#noting?.site ?? resolved.site)
    this.#rules = rules
    this.#now = now
  }

  /** Runs `work` on the site and adds what it reads to `reads`, except the keys of the page `own`. */
  during<T>(work: (resolved: ResolvedSite) => T, reads: Set<ReadKey>, own?: string): T {
    return this.#noting ? this.#noting.during(() => work(this.#seen), reads, own) : work(this.#seen)
  }

  /** Starts a look at one page; its rules are evaluated when they are asked for. */
  glance(id: string): Glance {
    return new Glance(this, id, this.#rules, (resolved) => new PageSight(resolved, resolved.page(id), this.#now))
  }
}

/** The evaluation of rules on one page, which is measured once for all of them. */
export class Glance {
  readonly id: string
  readonly #looker: Looker
  readonly #rules: AskedRules
  readonly #makeSight: (resolved: ResolvedSite) => PageSight
  readonly #reads = new Set<ReadKey>()
  readonly #found = new Map<Rule, Pick<Look, 'facts' | 'marks'>>()
  #sight: PageSight | undefined
  #look: Look | undefined

  constructor(looker: Looker, id: string, rules: AskedRules, makeSight: (resolved: ResolvedSite) => PageSight) {
    this.#looker = looker
    this.id = id
    this.#rules = rules
    this.#makeSight = makeSight
  }

  get sight(): PageSight {
    return (this.#sight ??= this.#looker.during((resolved) => this.#makeSight(resolved), this.#reads, this.id))
  }

  /** The page's measures, if it was measured already. */
  get measures(): PageMeasures | undefined {
    return this.#sight?.measures
  }

  /** The facts and marks of one rule. */
  ofRule(rule: Rule): Pick<Look, 'facts' | 'marks'> {
    let found = this.#found.get(rule)
    if (!found) this.#found.set(rule, (found = this.#ask(rule)))
    return found
  }

  /** The facts and marks of all rules. */
  get look(): Look {
    return (this.#look ??= this.#whole())
  }

  /** Evaluates all rules, then releases the page's measures. */
  release(): void {
    void this.look
    this.#sight = undefined
    this.#found.clear()
  }

  #whole(): Look {
    const facts: RuleFact[] = []
    const marks: Mark[] = []
    const { sight } = this
    const add = (rule: Rule): void => {
      const known = this.#found.size > 0 ? this.#found.get(rule) : undefined
      if (!known) return this.#see(sight, rule, facts, marks)
      facts.push(...known.facts)
      marks.push(...known.marks)
    }
    this.#looker.during(
      () => {
        for (const rule of this.#rules.ofPages) add(rule)
        for (const rule of this.#rules.ofSite) add(rule)
      },
      this.#reads,
      this.id,
    )
    return { core: sight.page.core, reads: this.#reads, facts, marks }
  }

  #ask(rule: Rule): Pick<Look, 'facts' | 'marks'> {
    const facts: RuleFact[] = []
    const marks: Mark[] = []
    const { sight } = this
    this.#looker.during(() => this.#see(sight, rule, facts, marks), this.#reads, this.id)
    return { facts, marks }
  }

  #see(sight: PageSight, rule: Rule, facts: RuleFact[], marks: Mark[]): void {
    const page = this.id
    const { dormant } = sight.page
    const report = (fact: Fact): void => void facts.push(pageFact(rule, fact, page, viewportsOf(sight)))
    if (rule.scope === 'view') {
      if (dormant) return
      let viewport = ''
      const reportView = (fact: Fact): void => void facts.push(viewFact(rule, fact, page, viewport))
      for (const each of sight.sights) {
        viewport = each.view.viewport.name
        rule.check(each, reportView)
      }
    } else if (rule.scope === 'page') {
      if (!dormant) rule.check(sight, report)
    } else if (rule.scope === 'site' && (!dormant || rule.seesDormant)) {
      rule.marks?.(sight, (key, value, detail) => void marks.push({ rule, key, value, page, detail }))
      if (!dormant) rule.onPage?.(sight, report)
    }
  }
}

const viewportsOf = ({ sights }: PageSight): readonly string[] => sights.map(({ view }) => view.viewport.name)
