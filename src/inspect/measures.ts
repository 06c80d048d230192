import { measurePage } from '../measure/page.js'
import type { PageMeasure } from '../measure/page-measure.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'

/** For how many pages measures are kept; past this the oldest are let go. */
export const MOST_MEASURED = 1000

type ByViewport = ReadonlyMap<string, PageMeasure>

/** Measures of the pages of one state of a site, as far as they are known: what changes of a page is checked against them. */
export class Measures {
  readonly #resolved: ResolvedSite
  readonly #known: Map<string, ByViewport>

  constructor(resolved: ResolvedSite, known: Iterable<readonly [string, ByViewport]> = []) {
    this.#resolved = resolved
    this.#known = new Map(known)
  }

  /** What is known of a page without working anything out. */
  known(id: string): ByViewport | undefined {
    return this.#known.get(id)
  }

  /** The measures of a page that is not dormant. */
  of(id: string): ByViewport {
    const known = this.#known.get(id)
    if (known) return known
    const page = this.#resolved.page(id)
    const { viewports } = this.#resolved.site
    return this.keep(id, new Map(viewports.map(({ name }) => [name, measurePage(page, name)])))
  }

  keep(id: string, measures: ByViewport): ByViewport {
    if (this.#known.size >= MOST_MEASURED) this.#known.delete([...this.#known.keys()][0] as string)
    this.#known.set(id, measures)
    return measures
  }

  /** Whether one more can be kept without letting another go. */
  get hasRoom(): boolean {
    return this.#known.size < MOST_MEASURED
  }

  /** What is known after a change: of pages that it does not affect, as before; of others as they were looked at. */
  after(resolved: ResolvedSite, affected: ReadonlySet<string>, seen: (id: string) => ByViewport | undefined): Measures {
    const stays = [...this.#known].filter(([id]) => !affected.has(id))
    const measures = new Measures(resolved, stays)
    for (const id of affected) {
      const now = measures.hasRoom ? seen(id) : undefined
      if (now) measures.keep(id, now)
    }
    return measures
  }
}
