import { toPointer } from '../model/json.js'
import { isSameList } from '../model/lists.js'
import type { Where } from '../model/site-data.js'
import type { ResolvedPage } from '../resolve/page.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { compileWhere, type CompiledWhere } from '../select/selector.js'
import type { Allowance } from './rule.js'
import { withCases, type RuleFact } from './rule-fact.js'

interface AllowData {
  readonly rule: string | readonly string[]
  readonly where?: Where | undefined
  readonly reason: string
}

/** An entry of `allow` that was read. */
export interface Gate extends Allowance {
  /** The entry itself, which stays the same object while others come and go. */
  readonly data: object
  /** Whether it covers a page; of what is about no page where it has no `where`. */
  readonly covers: (page: ResolvedPage | undefined) => boolean
}

/** How often each entry of `allow` let something pass. */
export type Usage = Map<object, number>

/** What a site's `allow` entries permit. */
export class Allowances {
  readonly #resolved: ResolvedSite
  readonly #ofSite: readonly Gate[]
  readonly #ofTemplates: ReadonlyMap<string, readonly Gate[]>
  /** Pages with entries of their own. */
  readonly pages: ReadonlySet<string>
  #named: ReadonlySet<string> | undefined
  #all: readonly Gate[] | undefined
  readonly #ofPages = new Map<string, readonly Gate[]>()

  constructor(resolved: ResolvedSite, pages?: ReadonlySet<string>) {
    const { site } = resolved
    this.#resolved = resolved
    this.pages = pages ?? new Set(site.pageIds.filter((id) => site.pageData(id)?.allow))
    this.#ofSite = gatesIn(resolved, site.data.allow, '/allow')
    const templates = Object.entries(site.data.templates ?? {}).filter(([, { allow }]) => allow)
    this.#ofTemplates = new Map(
      templates.map(([id, { allow }]) => [id, gatesIn(resolved, allow, toPointer(['templates', id, 'allow']))]),
    )
  }

  /** The entries of a site that was made from this one. @param edited - The pages that may differ. */
  after(resolved: ResolvedSite, edited: Iterable<string>): Allowances {
    const pages = new Set(this.pages)
    for (const id of edited)
      if (resolved.site.pageData(id)?.allow) pages.add(id)
      else pages.delete(id)
    return new Allowances(resolved, pages)
  }

  /** Whether these are the entries of another state. */
  isLike(other: Allowances): boolean {
    return isSameList(
      this.all.map(({ data }) => data),
      other.all.map(({ data }) => data),
    )
  }

  get isEmpty(): boolean {
    return this.#ofSite.length + this.#ofTemplates.size + this.pages.size === 0
  }

  /** Every entry, in the order of site, templates, pages. */
  get all(): readonly Gate[] {
    return (this.#all ??= [
      ...this.#ofSite,
      ...[...this.#ofTemplates.values()].flat(),
      ...[...this.pages].flatMap((id) => this.#ofPage(id)),
    ])
  }

  /** The rules that any entry names. */
  get #rules(): ReadonlySet<string> {
    return (this.#named ??= new Set(this.all.flatMap(({ rules }) => rules)))
  }

  /** The entries that let a rule's finding on a page pass. */
  opened(rule: string, id: string | undefined): readonly Gate[] {
    const page = id === undefined ? undefined : this.#resolved.page(id)
    const template = page?.core.template
    const near = [
      ...this.#ofSite,
      ...(template ? (this.#ofTemplates.get(template.id) ?? []) : []),
      ...(id === undefined ? [] : this.#ofPage(id)),
    ]
    return near.filter((gate) => gate.rules.includes(rule) && gate.covers(page))
  }

  /** Facts without what is permitted; what permitted it is counted. */
  pass(facts: readonly RuleFact[], usage?: Usage, times = 1): readonly RuleFact[] {
    if (this.isEmpty) return facts
    const isAllowed = (rule: string, page: string | undefined): boolean => {
      const opened = this.opened(rule, page)
      if (usage) for (const { data } of opened) usage.set(data, (usage.get(data) ?? 0) + times)
      return opened.length > 0
    }
    const rules = this.#rules
    if (!facts.some(({ rule }) => rules.has(rule.id))) return facts
    return facts.flatMap((each): RuleFact[] => {
      if (!rules.has(each.rule.id)) return [each]
      if (each.cases.length === 0) return isAllowed(each.rule.id, undefined) ? [] : [each]
      const cases = each.cases.filter(({ page }) => !isAllowed(each.rule.id, page))
      return cases.length === each.cases.length ? [each] : cases.length > 0 ? [withCases(each, cases)] : []
    })
  }

  #ofPage(id: string): readonly Gate[] {
    if (!this.pages.has(id)) return []
    let gates = this.#ofPages.get(id)
    if (!gates) {
      const { site } = this.#resolved
      gates = gatesIn(this.#resolved, site.pageData(id)?.allow, toPointer(['pages', id, 'allow']))
      this.#ofPages.set(id, gates)
    }
    return gates
  }
}

function gatesIn(resolved: ResolvedSite, list: unknown, at: string): readonly Gate[] {
  return ((list ?? []) as readonly AllowData[]).map((data, index): Gate => {
    const { rule, where, reason } = data
    // Most entries are asked of no page: what they select is read when one is.
    let read: CompiledWhere | undefined
    return {
      pointer: `${at}/${index}`,
      rules: [rule].flat(),
      reason,
      data,
      covers: (page) => {
        if (!page || where === undefined) return where === undefined && (page !== undefined || at === '/allow')
        read ??= compileWhere(resolved.site, where)
        return read.match(page.facts, page.core.template?.id ?? null) !== undefined
      },
    }
  })
}

/** Whether the site's `allow` entries permit a rule's finding on a page. */
export function isAllowedOn(resolved: ResolvedSite, rule: string, page: string): boolean {
  const own = resolved.site.pageData(page)?.allow ? [page] : []
  return new Allowances(resolved, new Set(own)).opened(rule, page).length > 0
}
