import type { ResolvedPage } from '../resolve/page.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { PageSight } from './page-sight.js'
import type { Case, Fact, PageRule, Rule, SiteFact, SiteRule, ViewRule } from './rule.js'
import { Survey, type Digest, type Digests } from './survey.js'

/** A fact with the rule that saw it and every place where it holds. */
export interface RuleFact {
  readonly rule: Rule
  readonly fact: Fact
  /** None where it is about no page. */
  readonly cases: readonly Case[]
}

type OfPage = Map<Rule, readonly RuleFact[]>

/**
 * Asks rules about a site's pages. What was seen of a page is kept for as long as the page stays the same object, so
 * that after a change in memory only the pages it reaches are looked at again.
 */
export class FactFinder {
  readonly #now: Date
  readonly #ofPage = new WeakMap<ResolvedPage, OfPage>()
  readonly #digests: Digests = new WeakMap()

  constructor(now: Date) {
    this.#now = now
  }

  /** What some rules see on one page; what others will want to know of it is noted by the way. */
  onPage(
    resolved: ResolvedSite,
    page: ResolvedPage,
    rules: readonly (ViewRule | PageRule)[],
    digests: readonly Digest<unknown>[] = [],
  ): readonly RuleFact[] {
    if (page.dormant) return []
    let known = this.#ofPage.get(page)
    if (!known) this.#ofPage.set(page, (known = new Map()))
    let noted = this.#digests.get(page)
    if (!noted) this.#digests.set(page, (noted = new Map()))
    // One sight for all, so that a page is measured once.
    let sight: PageSight | undefined
    for (const rule of rules)
      if (!known.has(rule)) known.set(rule, lookAt((sight ??= new PageSight(resolved, page, this.#now)), rule))
    for (const digest of digests)
      if (!noted.has(digest)) noted.set(digest, { value: digest((sight ??= new PageSight(resolved, page, this.#now))) })
    return rules.flatMap((rule) => known.get(rule) ?? [])
  }

  /** What some rules see of the site as a whole. */
  onSite(resolved: ResolvedSite, rules: readonly SiteRule[]): readonly RuleFact[] {
    const survey = new Survey(resolved, this.#now, this.#digests)
    return rules.flatMap((rule) => {
      const found: RuleFact[] = []
      rule.check(survey, (fact) => void found.push(siteFact(rule, fact, survey.viewports)))
      return found
    })
  }
}

/** A fact about the site, spread over the pages and viewports at which it holds. */
export function siteFact(rule: Rule, fact: SiteFact, allViewports: readonly string[]): RuleFact {
  const { pages, viewports = allViewports, ...rest } = fact
  const cases = pages.flatMap((page) => viewports.map((viewport) => ({ ...rest, page, viewport })))
  return { rule, fact: rest, cases }
}

function lookAt(sight: PageSight, rule: ViewRule | PageRule): readonly RuleFact[] {
  const found: RuleFact[] = []
  const page = sight.page.id
  const viewports = sight.sights.map(({ view }) => view.viewport.name)
  if (rule.scope === 'page')
    rule.check(sight, (fact) => {
      found.push({ rule, fact, cases: viewports.map((viewport) => ({ ...fact, page, viewport })) })
    })
  else
    for (const each of sight.sights)
      rule.check(each, (fact) => {
        found.push({ rule, fact, cases: [{ ...fact, page, viewport: each.view.viewport.name }] })
      })
  return found
}
