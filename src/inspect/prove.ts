import { facetsInPx } from '../measure/facets.js'
import { measurePage } from '../measure/page.js'
import type { Patch } from '../model/patch.js'
import type { ResolvedPage } from '../resolve/page.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import type { FactFinder, RuleFact } from './facts.js'
import { ofPages, toGroups } from './groups.js'
import { allFacts } from './all-facts.js'
import { pagesInWords } from './propose.js'
import type { Group, Fix, Proposal, Rule } from './rule.js'
import { tryPatch } from './try-patch.js'

/** Tries proposals in memory: the finding must be gone, no new one come, and what other pages change be told. */
export class Prover {
  readonly #resolved: ResolvedSite
  readonly #finder: FactFinder
  readonly #rules: readonly Rule[]
  readonly #before: Counts

  constructor(resolved: ResolvedSite, finder: FactFinder, rules: readonly Rule[], facts: readonly RuleFact[]) {
    this.#resolved = resolved
    this.#finder = finder
    this.#rules = rules
    this.#before = countFacts(facts)
  }

  /** The proposals of a group that hold; those that change no other page first. */
  fixes(rule: Rule, group: Group): Fix[] {
    const proposals = rule.propose?.(group, this.#resolved) ?? []
    const proven = proposals.flatMap((proposal) => this.#prove(rule, group, proposal) ?? [])
    const clean = proven.filter((fix) => !fix.others)
    const parts = clean.some((fix) => !fix.choice) ? undefined : this.#pageByPage(rule, group)
    return [...(parts ? [parts] : []), ...clean, ...proven.filter((fix) => fix.others)]
  }

  /** What helps each page by itself, where no one change helps them all; pages it cannot help are left out. */
  #pageByPage(rule: Rule, group: Group): Fix | undefined {
    if (group.pages.length < 2 || group.pages.length > MOST_PARTS) return undefined
    const parts = group.pages.flatMap((page) => {
      const one = ofPages(rule, group, [page])
      const proposals = (rule.propose?.(one, this.#resolved) ?? []).filter((proposal) => !proposal.choice)
      for (const proposal of proposals) {
        const fix = this.#prove(rule, one, proposal)
        if (fix && !fix.others) return [{ page, fix }]
      }
      return []
    })
    const titles = [...new Set(parts.map(({ page, fix }) => withoutPage(fix.title, page)))]
    if (parts.length === 0) return undefined
    const title = `page by page: ${titles.join('; or ')}`
    const patch = parts.flatMap(({ fix }) => fix.patch)
    const healed = parts.map(({ page }) => page)
    return this.#prove(rule, ofPages(rule, group, healed), { title, patch })
  }

  #prove(rule: Rule, group: Group, proposal: Proposal): Fix | undefined {
    let { patch } = proposal
    if (patch.length === 0) return undefined
    for (let round = 0; round <= MOST_ROUNDS; round++) {
      const after = tryPatch(this.#resolved, patch)
      if (!after) return undefined
      const facts = allFacts(after, this.#finder, this.#rules)
      const counts = countFacts(facts)
      if (!isGone(rule, group, this.#before, counts)) return undefined
      const grown = [...counts].filter(([key, times]) => times > (this.#before.get(key) ?? 0)).map(([key]) => key)
      if (grown.length === 0) {
        const others = changedPages(this.#resolved, after).filter((id) => !group.pages.includes(id))
        return { ...proposal, patch, pages: group.pages, ...(others.length > 0 && { others }) }
      }
      const more = tidyUp(after, facts, new Set(grown))
      if (!more) return undefined
      patch = [...patch, ...more]
    }
    return undefined
  }
}

const withoutPage = (title: string, page: string): string =>
  title.replace(new RegExp(`,? on ${pagesInWords([page]).replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}`), '')

/** Past so many pages nobody wants a fix for each, and trying them would take its time. */
const MOST_PARTS = 40
/** How often a fix may be tidied up after. */
const MOST_ROUNDS = 3

/** What clears away housekeeping that a change brought about, such as an override it made redundant. */
function tidyUp(after: ResolvedSite, facts: readonly RuleFact[], grown: ReadonlySet<string>): Patch | undefined {
  const fresh = facts.filter((fact) => keysOf(fact).some((key) => grown.has(key)))
  if (fresh.some(({ rule }) => rule.severity !== 'note')) return undefined
  for (const { rule, group } of toGroups(fresh)) {
    const [first] = (rule.propose?.(group, after) ?? []).filter(({ choice, patch }) => !choice && patch.length > 0)
    if (first) return first.patch
  }
  return undefined
}

/** How often each rule speaks of each page at each viewport; pointers may move with a patch, these do not. */
type Counts = ReadonlyMap<string, number>

const keysOf = ({ rule, cases }: RuleFact): readonly string[] =>
  cases.length > 0 ? cases.map((c) => `${rule.id} ${c.page} ${c.viewport}`) : [rule.id]

function countFacts(facts: readonly RuleFact[]): Counts {
  const counts = new Map<string, number>()
  for (const key of facts.flatMap(keysOf)) counts.set(key, (counts.get(key) ?? 0) + 1)
  return counts
}

function isGone(rule: Rule, group: Group, before: Counts, after: Counts): boolean {
  const mine = countFacts([{ rule, fact: group.worst, cases: group.cases }])
  return [...mine].every(([key, times]) => (after.get(key) ?? 0) <= (before.get(key) ?? 0) - times)
}

/** The pages of which a visitor gets something else, at any viewport. */
export function changedPages(before: ResolvedSite, after: ResolvedSite): readonly string[] {
  return before.pageIds.filter((id) => {
    if (!after.site.pageData(id)) return true
    const [old, now] = [before.page(id), after.page(id)]
    if (old === now) return false
    if (old.dormant || now.dormant) return old.dormant !== now.dormant
    return before.site.viewports.some(({ name }) => pictureOf(old, name) !== pictureOf(now, name))
  })
}

const pictures = new WeakMap<ResolvedPage, Map<string, string>>()

/** All that a visitor gets of a page, as one text to compare. */
export function pictureOf(page: ResolvedPage, viewport: string): string {
  let ofPage = pictures.get(page)
  if (!ofPage) pictures.set(page, (ofPage = new Map()))
  let picture = ofPage.get(viewport)
  if (picture === undefined) {
    const measure = measurePage(page, viewport)
    const boxes = measure.boxes.map(({ id: box, x, y, width, height }) => [box, x, y, width, height])
    picture = JSON.stringify([facetsInPx(measure), boxes])
    ofPage.set(viewport, picture)
  }
  return picture
}
