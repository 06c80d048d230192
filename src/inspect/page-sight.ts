import { pathOf, type PresentFacet } from '../model/facets.js'
import { toPointer } from '../model/json.js'
import type { PageMeasure } from '../measure/page-measure.js'
import type { ResolvedPage } from '../resolve/page.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { Answers } from './answers.js'
import { Sight } from './sight.js'

/** One page at all of its site's viewports. */
export class PageSight {
  readonly resolved: ResolvedSite
  readonly page: ResolvedPage
  readonly now: Date
  /** One for each viewport, in the order of the file. */
  readonly sights: readonly Sight[]
  readonly #answers = new Answers<PageSight>()

  constructor(resolved: ResolvedSite, page: ResolvedPage, now: Date) {
    this.resolved = resolved
    this.page = page
    this.now = now
    this.sights = resolved.site.viewports.map(({ name }) => new Sight(resolved, page, name, now))
  }

  /** The page's measures by viewport; `undefined` for a dormant page, which has none. */
  get measures(): ReadonlyMap<string, PageMeasure> | undefined {
    if (this.page.dormant) return undefined
    return new Map(this.sights.map(({ view, measure }) => [view.viewport.name, measure]))
  }

  get isPublished(): boolean {
    return this.page.data.status !== 'draft'
  }

  /** Pointer of the page, or of one of its keys. */
  pointer(...keys: readonly string[]): string {
    return toPointer(['pages', this.page.id, ...keys])
  }

  /** Whether a facet is in the markup: there is one for all widths. */
  isInMarkup(facet: PresentFacet): boolean {
    return this.sights.some(({ view }) => view.presence(pathOf(facet, 'presence')) !== 'absent')
  }

  /** What some work comes to for the page; done once, however many rules ask for it. */
  once<T>(work: (sight: PageSight) => T): T {
    return this.#answers.of(this, work)
  }

  /** Whether a test holds at any viewport. */
  some(test: (sight: Sight) => boolean): boolean {
    return this.sights.some(test)
  }
}
