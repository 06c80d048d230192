import { pathOf, type PresentFacet } from '../model/facets.js'
import { toPointer } from '../model/json.js'
import type { PageMeasure } from '../measure/page-measure.js'
import type { ResolvedPage } from '../resolve/page.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { Answers } from './answers.js'
import { Sight } from './sight.js'

/** How a page is measured at all of its site's viewports. */
export interface Measuring {
  /** Its measures before a change, by viewport. */
  readonly before?: ReadonlyMap<string, PageMeasure> | undefined
  /** Whether no change will be measured with these as what was before it. */
  readonly isLast?: boolean
}

/** One page at all of its site's viewports. */
export class PageSight {
  readonly resolved: ResolvedSite
  readonly page: ResolvedPage
  readonly now: Date
  /** One for each viewport, in the order of the file. */
  readonly sights: readonly Sight[]
  readonly #answers = new Answers<PageSight>()

  /** @param measuring - What was measured before a change, which what stays is taken from, and whether another follows. */
  constructor(resolved: ResolvedSite, page: ResolvedPage, now: Date, measuring: Measuring = {}) {
    this.resolved = resolved
    this.page = page
    this.now = now
    const { before, isLast = false } = measuring
    this.sights = resolved.site.viewports.map(({ name }) => {
      const measured = before?.get(name)
      return new Sight(resolved, page, name, now, measured ? { before: measured, isLast } : { isLast })
    })
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
