import { measurePage } from '../measure/page.js'
import type { PageMeasure } from '../measure/page-measure.js'
import { listsBy } from '../model/lists.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'

/** For how many pages measures are kept; past this the oldest are let go. */
export const MOST_MEASURED = 1000
/** From how many states of a site: each measure keeps the whole state that it was made from in memory. */
const MOST_STATES = 6

type ByViewport = ReadonlyMap<string, PageMeasure>

/** Measures of a page, and the number of the state they were made from. */
interface Kept {
  readonly measures: ByViewport
  readonly state: number
}

/** Measures of the pages of one state of a site, as far as they are known: what changes of a page is checked against them. */
export class Measures {
  readonly #resolved: ResolvedSite
  readonly #known: Map<string, Kept>
  readonly #state: number

  constructor(resolved: ResolvedSite, known: Iterable<readonly [string, Kept]> = [], state = 0) {
    this.#resolved = resolved
    this.#known = new Map(known)
    this.#state = state
  }

  /** What is known of a page without working anything out. */
  known(id: string): ByViewport | undefined {
    return this.#known.get(id)?.measures
  }

  /** The measures of a page that is not dormant. */
  of(id: string): ByViewport {
    const known = this.known(id)
    if (known) return known
    const page = this.#resolved.page(id)
    const { viewports } = this.#resolved.site
    return this.keep(id, new Map(viewports.map(({ name }) => [name, measurePage(page, name)])))
  }

  keep(id: string, measures: ByViewport): ByViewport {
    if (this.#known.size >= MOST_MEASURED) this.#known.delete([...this.#known.keys()][0] as string)
    this.#known.set(id, { measures, state: this.#state })
    return measures
  }

  /** Whether one more can be kept without letting another go. */
  get hasRoom(): boolean {
    return this.#known.size < MOST_MEASURED
  }

  /** What is known after a change: of pages that it does not affect, as before; of others as they were looked at. */
  after(resolved: ResolvedSite, affected: ReadonlySet<string>, seen: (id: string) => ByViewport | undefined): Measures {
    const stays = [...this.#known].filter(([id]) => !affected.has(id))
    const measures = new Measures(resolved, ofFewStates(stays), this.#state + 1)
    for (const id of affected) {
      const now = measures.hasRoom ? seen(id) : undefined
      if (now) measures.keep(id, now)
    }
    return measures
  }
}

/** Drops the measures of states with the fewest pages, oldest first, until few states are left. */
function ofFewStates(all: readonly (readonly [string, Kept])[]): readonly (readonly [string, Kept])[] {
  const states = listsBy(all, ([, { state }]) => state)
  if (states.size < MOST_STATES) return all
  const bySize = [...states.values()].sort((a, b) => b.length - a.length || stateOf(b) - stateOf(a))
  const kept = new Set(bySize.slice(0, MOST_STATES - 1).map(stateOf))
  return all.filter(([, { state }]) => kept.has(state))
}

const stateOf = ([first]: readonly (readonly [string, Kept])[]): number => first?.[1].state ?? 0
