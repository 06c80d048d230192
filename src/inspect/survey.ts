import { own } from '../model/json.js'
import type { SourcePlace } from '../model/problem.js'
import type { ResolvedPage } from '../resolve/page.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { PageSight } from './page-sight.js'

/** All pages of a site together, for rules that only the whole shows. */
export class Survey {
  readonly resolved: ResolvedSite
  readonly now: Date
  readonly #digests: Digests
  #pages: readonly ResolvedPage[] | undefined

  constructor(resolved: ResolvedSite, now: Date, digests: Digests) {
    this.resolved = resolved
    this.now = now
    this.#digests = digests
  }

  get site() {
    return this.resolved.site
  }

  get viewports(): readonly string[] {
    return this.site.viewports.map((v) => v.name)
  }

  /** Every page that is not dormant, in the order of the file. */
  get pages(): readonly ResolvedPage[] {
    return (this.#pages ??= this.resolved.pageIds.map((id) => this.resolved.page(id)).filter((page) => !page.dormant))
  }

  page(id: string | undefined): ResolvedPage | undefined {
    return id !== undefined && this.site.pageData(id) ? this.resolved.page(id) : undefined
  }

  locate(pointer: string): SourcePlace {
    return this.site.locate(pointer)
  }

  isDeclared(section: 'kinds' | 'templates', id: string): boolean {
    return own(this.site.data[section] as Record<string, unknown> | undefined, id) !== undefined
  }

  /**
   * What a rule wants to know of each page, worked out once for each page and kept while the page stays the same, so
   * that looking again after a change costs what changed.
   */
  digest<T>(digest: Digest<T>, page: ResolvedPage): T {
    let ofPage = this.#digests.get(page)
    if (!ofPage) this.#digests.set(page, (ofPage = new Map()))
    let found = ofPage.get(digest) as { readonly value: T } | undefined
    if (!found) ofPage.set(digest, (found = { value: digest(new PageSight(this.resolved, page, this.now)) }))
    return found.value
  }
}

/** What is taken from one page alone; it may look at nothing else. */
export type Digest<T> = (sight: PageSight) => T

/** Kept by page, and by which digest it is. */
export type Digests = WeakMap<ResolvedPage, Map<unknown, { readonly value: unknown }>>
