import { pageAnswering } from '../inspect/links.js'
import { PageSight } from '../inspect/page-sight.js'
import type { Sight } from '../inspect/sight.js'
import { plainPath } from '../model/paths.js'
import type { Json } from '../model/json.js'
import type { ResolvedPage } from '../resolve/page.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { ObservationError, type Observation, type ObservationFailure } from './observation.js'
import { isObject } from '../model/json.js'
import { type Expectations, expectationsOf } from './expectations.js'
import { sitePath } from './seen-words.js'
import { sightingsOf } from './sightings.js'

/** Px by which a number may be off before it counts (conflicts: `drift`). */
export const TOLERANCE_PX = 1

/** A property of a page at a viewport that is not as it was worked out. */
export interface Discrepancy {
  readonly page: string
  readonly viewport: string
  readonly property: string
  readonly expected: Json
  readonly seen: Json
  /** Whether the expected number was only an estimate: then it is no drift, but worth measuring. */
  readonly isEstimate: boolean
}

/** An observation of a page of the site. */
export interface Placed {
  readonly page: string
  readonly observation: Observation
}

/** What was observed, by page of the site. */
export interface PlacedObservations {
  readonly placed: readonly Placed[]
  /** Pages that could not be observed though they should be there, each once. */
  readonly failed: readonly { readonly page: string; readonly failure: ObservationFailure }[]
  /** Addresses at which something was observed that is no page of the site. */
  readonly strange: readonly string[]
}

/** Finds out which page of the site each observation is of. */
export function placeObservations(
  resolved: ResolvedSite,
  observations: readonly (Observation | ObservationFailure)[],
): PlacedObservations {
  const placed: Placed[] = []
  const failed = new Map<string, { page: string; failure: ObservationFailure }>()
  const strange = new Set<string>()
  observations.forEach(expectObservation)
  for (const each of observations) {
    const path = sitePath(each.url, each.url, resolved.site.data.site.url)
    const page = pageAnswering(resolved.site, plainPath(path.replace(/\?.*$/, '')))
    if (page === undefined) strange.add(each.url)
    else if (each.report === 'observation-failure') failed.set(page, { page, failure: each })
    else placed.push({ page, observation: each })
  }
  // Pages come back in any order; what is told of them stands in the site's own.
  const order = new Map(resolved.pageIds.map((id, n) => [id, n]))
  placed.sort((a, b) => (order.get(a.page) ?? 0) - (order.get(b.page) ?? 0))
  return { placed, failed: [...failed.values()], strange: [...strange] }
}

function expectObservation(each: unknown, n: number): void {
  if (isObject(each) && typeof each['url'] === 'string' && typeof each['report'] === 'string') return
  throw new ObservationError(`observations[${n}]: wrong-type: expected an observation, as readObservation gives it`)
}

/** Holds pages against what was seen of them, and remembers what it worked out for pages that stay the same. */
export class Comparer {
  readonly #placed: ReadonlyMap<string, readonly Observation[]>
  readonly #gone: ReadonlySet<string>
  readonly #now: Date
  readonly #known = new WeakMap<ResolvedPage, readonly Discrepancy[]>()

  /** @param gone - Pages whose address was not found. */
  constructor(placed: readonly Placed[], gone: readonly string[], now: Date) {
    const byPage = new Map<string, Observation[]>()
    for (const { page, observation } of placed) {
      const list = byPage.get(page) ?? []
      list.push(observation)
      byPage.set(page, list)
    }
    this.#placed = byPage
    this.#gone = new Set(gone.filter((page) => !byPage.has(page)))
    this.#now = now
  }

  get pages(): readonly string[] {
    return [...this.#placed.keys(), ...this.#gone]
  }

  observationsOf(page: string): readonly Observation[] {
    return this.#placed.get(page) ?? []
  }

  /** All that differs on a site, or on some of its pages. */
  compare(resolved: ResolvedSite, pages: readonly string[] = this.pages): readonly Discrepancy[] {
    return pages.flatMap((id) => (resolved.site.pageData(id) ? this.#page(resolved, resolved.page(id)) : []))
  }

  #page(resolved: ResolvedSite, page: ResolvedPage): readonly Discrepancy[] {
    const observations = this.#placed.get(page.id) ?? []
    let known = this.#known.get(page)
    if (!known) {
      const sights = page.dormant ? undefined : new PageSight(resolved, page, this.#now)
      const isLive = sights !== undefined && page.data.status !== 'draft'
      const [first] = page.site.viewports
      if (this.#gone.has(page.id)) known = isLive ? [presence(page, first?.name ?? '', 'shown', 'absent')] : []
      else if (!isLive)
        known = observations.map(({ viewport }) =>
          presence(page, viewport?.name ?? first?.name ?? '', 'absent', 'shown'),
        )
      else known = observations.flatMap((observation) => compareOne(sights, observation))
      this.#known.set(page, known)
    }
    return known
  }
}

/** A page that is there and should not be, or the other way round. */
const presence = ({ id }: ResolvedPage, viewport: string, expected: Json, seen: Json): Discrepancy => ({
  ...{ page: id, viewport, property: 'page.presence', expected, seen, isEstimate: false },
})

function compareOne(page: PageSight, observation: Observation): readonly Discrepancy[] {
  const { viewport } = observation
  const sight = viewport ? sightAt(page, viewport) : page.sights[0]
  if (!sight) return []
  const expected = viewport ? expectationsOf(page, sight) : markupExpectations(page)
  const seen = sightingsOf(observation, sight)
  const found: Discrepancy[] = []
  for (const [property, { value, certainty }] of expected) {
    const real = seen.get(property)
    if (real === undefined || isSame(property, value, real)) continue
    const isEstimate = certainty === 'estimated' && typeof value === 'number'
    found.push({
      page: page.page.id,
      viewport: sight.view.viewport.name,
      property,
      expected: value,
      seen: real,
      isEstimate,
    })
  }
  return found
}

/** The site's viewport of that name and size; `undefined` for one that the site does not have. */
const sightAt = (
  page: PageSight,
  { name, width, height }: { name?: string | undefined; width: number; height: number },
): Sight | undefined =>
  page.sights.find(
    ({ view: { viewport } }) =>
      (name === undefined || viewport.name === name) && viewport.width === width && viewport.height === height,
  )

/** What the markup alone should tell: there is one for all widths. */
function markupExpectations(page: PageSight): Expectations {
  const all = page.sights.map((sight) => expectationsOf(page, sight))
  const out = new Map(all[0])
  for (const part of ['header.links', 'footer.links']) {
    const union = new Set(all.flatMap((each) => (each.get(part)?.value ?? []) as readonly Json[]))
    if (out.has(part)) out.set(part, { value: [...union].sort(), certainty: 'computed' })
  }
  return out
}

function isSame(property: string, expected: Json, seen: Json): boolean {
  if (typeof expected === 'number' && typeof seen === 'number') return Math.abs(expected - seen) <= TOLERANCE_PX
  // Every text that is expected has to be there; more may be.
  if (property === 'header.words' || property === 'footer.words') {
    const texts = new Set((seen as readonly string[]).map((text) => text.toLowerCase()))
    return (expected as readonly string[]).every((text) => texts.has(text.toLowerCase()))
  }
  if (seen === 'in markup') return expected !== 'absent'
  if (property.endsWith('.words')) return String(expected).toLowerCase() === String(seen).toLowerCase()
  return JSON.stringify(expected) === JSON.stringify(seen)
}
