import { diffFacets } from '../change/diff.js'
import { tryPatch } from '../inspect/engine/step.js'
import { listsBy } from '../model/lists.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { candidates } from './candidates.js'
import type { Cause, DriftGroup } from './cause.js'
import { followersOf, discrepancyKey, type Comparer, type Discrepancy } from './compare.js'

/** Something else that a change would break counts twice what it explains. */
const PRICE_OF_NEW = 2
/** Of two that explain as much, the one with fewer operations. */
const PRICE_OF_OPERATION = 0.01

/** What a change does to the differences on some pages. */
interface Difference {
  /** Those that it explains. */
  readonly gone: readonly Discrepancy[]
  readonly left: readonly Discrepancy[]
  /** Those left that are new and follow from what it explains. */
  readonly followers: readonly Discrepancy[]
  /** The number of other new ones. */
  readonly broken: number
}

/** A cause with the site as it would be, and what that explains. */
export interface TriedCause extends Difference {
  readonly cause: Cause
  readonly after: ResolvedSite
  readonly score: number
}

/**
 * Finds the change that explains most of what differs and breaks least; each candidate is tried in memory.
 *
 * @param before - All that differs now. @param group - The part of it that a cause is looked for.
 */
export function findCause(
  now: ResolvedSite,
  comparer: Comparer,
  before: readonly Discrepancy[],
  group: DriftGroup,
): TriedCause | undefined {
  const search = new CauseSearch(comparer, before, group.pages)
  const [sample = ''] = group.pages
  const isOfGroup = (d: Discrepancy): boolean => d.property === group.property
  const onSample = search.on(sample).filter(isOfGroup).length
  let best: TriedCause | undefined
  const seenPatches = new Set<string>()
  for (const cause of candidates(now, comparer, group, before)) {
    const text = JSON.stringify(cause.patch)
    if (cause.patch.length === 0 || seenPatches.has(text)) continue
    seenPatches.add(text)
    const after = tryPatch(now, cause.patch)
    if (!after) continue
    // Most candidates do nothing for the first page, and need not be checked against all others.
    if (comparer.compare(after, [sample]).filter(isOfGroup).length >= onSample) continue
    const found = search.tried(after, cause, best?.score)
    if (!found?.gone.some(isOfGroup)) continue
    const tried: TriedCause = { cause, after, ...found, score: scoreOf(cause, found.gone.length, found.broken) }
    // Of two that explain as much, the one that reaches fewer pages claims less of those that were not compared.
    if (!best || tried.score > best.score || reachOf(now, tried) < reachOf(now, best)) best = tried
  }
  return best && { ...best, ...search.onAllPages(best) }
}

const scoreOf = ({ patch }: Cause, gone: number, broken: number): number =>
  gone - PRICE_OF_NEW * broken - PRICE_OF_OPERATION * patch.length

/** How many pages a change gives other facets. */
const reachOf = (now: ResolvedSite, { after }: TriedCause): number =>
  diffFacets(now, after).reduce((sum, { pages }) => sum + pages.length, 0)

/** The differences before a change, and the pages on which candidates are compared. */
class CauseSearch {
  readonly #comparer: Comparer
  readonly #before: readonly Discrepancy[]
  readonly #byPage: ReadonlyMap<string, readonly Discrepancy[]>
  readonly #known: ReadonlySet<string>
  readonly #pages: readonly string[]
  /** Those of the differences that are on these pages. */
  readonly #compared: readonly Discrepancy[]

  /** @param first - The pages that a cause is looked for. */
  constructor(comparer: Comparer, before: readonly Discrepancy[], first: readonly string[]) {
    this.#comparer = comparer
    this.#before = before
    this.#byPage = listsBy(before, ({ page }) => page)
    this.#known = new Set(before.map(discrepancyKey))
    this.#pages = somePages(comparer.pages, first)
    const isCompared = new Set(this.#pages)
    this.#compared = before.filter(({ page }) => isCompared.has(page))
  }

  /** What differs on a page. */
  on(page: string): readonly Discrepancy[] {
    return this.#byPage.get(page) ?? []
  }

  /**
   * What a change does on these pages; `undefined` as soon as it can no longer explain anything, or score as much as the
   * best so far. What a change does on one page does not depend on the others.
   */
  tried(after: ResolvedSite, cause: Cause, best = 0): Difference | undefined {
    let [gone, broken] = [this.#compared.length, 0]
    for (const page of this.#pages) {
      const before = this.on(page)
      const found = this.#difference(before, this.#comparer.compare(after, [page]))
      gone -= before.length - found.gone.length
      broken += found.broken
      const most = scoreOf(cause, gone, broken)
      if (most <= 0 || most < best) return undefined
    }
    return this.#difference(this.#compared, this.#comparer.compare(after, this.#pages))
  }

  /** What a change that was tried does on all pages. */
  onAllPages(tried: TriedCause): Difference {
    const isAll = this.#pages.length === this.#comparer.pages.length
    return isAll ? tried : this.#difference(this.#before, this.#comparer.compare(tried.after))
  }

  #difference(before: readonly Discrepancy[], after: readonly Discrepancy[]): Difference {
    const left = after.filter(({ isEstimate }) => !isEstimate)
    const still = new Set(left.map(discrepancyKey))
    const gone = before.filter((d) => !still.has(discrepancyKey(d)))
    const follows = new Set(
      gone.flatMap(({ page, property }) => followersOf(property).map((each) => `${page} ${each}`)),
    )
    const added = left.filter((d) => !this.#known.has(discrepancyKey(d)))
    const followers = added.filter((d) => follows.has(`${d.page} ${d.property}`))
    return { gone, left, followers, broken: added.length - followers.length }
  }
}

/** With more pages than this a candidate is compared on some of them, and the best of all on every one. */
const MOST_COMPARED = 300

/** The first pages of a group, and others evenly from all. */
function somePages(all: readonly string[], group: readonly string[]): readonly string[] {
  if (all.length <= MOST_COMPARED) return all
  const step = (2 * all.length) / MOST_COMPARED
  return [...new Set([...group.slice(0, MOST_COMPARED / 2), ...all.filter((_, n) => Math.floor(n % step) === 0)])]
}
