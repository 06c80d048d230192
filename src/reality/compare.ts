import { PageSight } from '../inspect/page-sight.js'
import type { Sight } from '../inspect/sight.js'
import type { Json } from '../model/json.js'
import type { ResolvedPage } from '../resolve/page.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { ObservationError, type Observation, type ObservationFailure } from './observation.js'
import { isObject } from '../model/json.js'
import { type Expectations, expectationsOf, linksOf } from './expectations.js'
import { pageSeenAt, sitePath, UNTOLD_TEXT } from './seen-words.js'
import { seenLinks, sightingsOf } from './sightings.js'

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

/** Identifies a difference by its page, viewport and property, whatever the values. */
export const discrepancyKey = ({
  page,
  viewport,
  property,
}: Pick<Discrepancy, 'page' | 'viewport' | 'property'>): string => `${page} ${viewport} ${property}`

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
    const page = pageSeenAt(resolved.site, path)
    if (page === undefined) strange.add(each.url)
    else if (each.report === 'observation-failure') failed.set(page, { page, failure: each })
    else placed.push({ page, observation: each })
  }
  // Pages come back in any order; what is reported about them is in the site's own.
  const order = new Map(resolved.pageIds.map((id, n) => [id, n]))
  placed.sort((a, b) => (order.get(a.page) ?? 0) - (order.get(b.page) ?? 0))
  return { placed, failed: [...failed.values()], strange: [...strange] }
}

function expectObservation(each: unknown, n: number): void {
  if (isObject(each) && typeof each['url'] === 'string' && typeof each['report'] === 'string') return
  throw new ObservationError(`observations[${n}]: wrong-type: expected an observation, as readObservation gives it`)
}

/** Compares pages with what was seen of them, and remembers what it worked out for pages that stay the same. */
export class Comparer {
  readonly #placed: ReadonlyMap<string, readonly Observation[]>
  readonly #gone: ReadonlySet<string>
  readonly #now: Date
  readonly #known = new WeakMap<ResolvedPage, readonly Discrepancy[]>()
  readonly #shared = new Map<string, ReadonlySet<string>>()

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

  /** Links of all pages that show the same header or footer; a page is not counted for a link to itself, which no page shows. */
  #sharedLinks(
    resolved: ResolvedSite,
    here: string,
    observation: Observation,
    property: 'header.links' | 'footer.links',
  ): ReadonlySet<string> {
    const part = property === 'header.links' ? 'header' : 'footer'
    const viewport = observation.viewport?.name ?? ''
    const usedOn = (page: string): string =>
      resolved.site.viewports.some(({ name }) => name === viewport)
        ? JSON.stringify(
            ([`${part}.use`, `${part}.menu`] as const).map((each) => resolved.page(page).at(viewport).value(each)),
          )
        : ''
    const use = usedOn(here)
    const key = `${part} ${viewport} ${use}`
    let shared = this.#shared.get(key)
    if (!shared) {
      const alike = [...this.#placed].flatMap(([page, list]) =>
        (resolved.site.pageData(page) ? list : [])
          .filter(
            ({ viewport: at, parts }) =>
              at?.name === observation.viewport?.name && parts[part]?.presence === 'shown' && usedOn(page) === use,
          )
          .map((each) => ({ page, links: new Set(seenLinks(each, resolved, part) as readonly string[]) }))
          // One that lacks what it should have shows another bar.
          .filter(({ links }) =>
            expectedLinks(resolved, page, viewport, part, this.#now).every((link) => links.has(link)),
          ),
      )
      const all = new Set(alike.flatMap(({ links }) => [...links]))
      shared = new Set(
        [...all].filter((link) =>
          alike.every(({ page, links }) => links.has(link) || pageSeenAt(resolved.site, link) === page),
        ),
      )
      this.#shared.set(key, shared)
    }
    return shared
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
      else
        known = observations.flatMap((observation) =>
          compareOne(sights, observation, (property) => this.#sharedLinks(resolved, page.id, observation, property)),
        )
      this.#known.set(page, known)
    }
    return known
  }
}

/** Where a page's header or footer should lead at a viewport. */
function expectedLinks(
  resolved: ResolvedSite,
  id: string,
  viewport: string,
  part: 'header' | 'footer',
  now: Date,
): readonly string[] {
  const page = resolved.page(id)
  const sight = page.dormant
    ? undefined
    : new PageSight(resolved, page, now).sights.find((s) => s.view.viewport.name === viewport)
  return sight ? (linksOf(sight, part) as readonly string[]) : []
}

/** A page that is there and should not be, or the other way round. */
const presence = ({ id }: ResolvedPage, viewport: string, expected: Json, seen: Json): Discrepancy => ({
  ...{ page: id, viewport, property: 'page.presence', expected, seen, isEstimate: false },
})

/** Links that all observed pages of the same header or footer have: what only some have is each page's own. */
type SharedLinks = (property: 'header.links' | 'footer.links') => ReadonlySet<string>

const isChromeLinks = (property: string): property is 'header.links' | 'footer.links' =>
  property === 'header.links' || property === 'footer.links'

/** Whether a header or footer is marked to hold more than what all pages have. */
function isOpen(expected: Expectations, property: 'header.links' | 'footer.links'): boolean {
  const words = expected.get(property.replace('links', 'words'))?.value
  return Array.isArray(words) && words.includes(UNTOLD_TEXT)
}

/** Whether there is more than expected, and that each page's own: where it is, what comes before and after it. */
function ownLinksOnly(expected: Json, seen: Json, shared: ReadonlySet<string>): boolean {
  if (!Array.isArray(expected) || !Array.isArray(seen)) return false
  const [wanted, found] = [new Set(expected as readonly string[]), new Set(seen as readonly string[])]
  return (
    [...wanted].every((link) => found.has(link)) && [...found].every((link) => wanted.has(link) || !shared.has(link))
  )
}

/** What is not found by a site's own locator may be hidden or not there: nobody sees a difference. */
function isUnseen(property: string, expected: Json, seen: Json, { resolved }: Sight): boolean {
  const [part = '', what] = property.split('.')
  const isNothing = (value: Json): boolean => value === 'hidden' || value === 'absent'
  const locators = resolved.site.data.locators as Readonly<Record<string, unknown>> | undefined
  return what === 'presence' && isNothing(expected) && isNothing(seen) && locators?.[part] === undefined
}

function compareOne(page: PageSight, observation: Observation, shared: SharedLinks): readonly Discrepancy[] {
  const { viewport } = observation
  const sight = viewport ? sightAt(page, viewport) : page.sights[0]
  if (!sight) return []
  const expected = viewport ? expectationsOf(page, sight) : markupExpectations(page)
  const seen = sightingsOf(observation, sight)
  const found: Discrepancy[] = []
  for (const [property, { value, certainty }] of expected) {
    const real = seen.get(property)
    if (real === undefined || isSame(property, value, real) || isUnseen(property, value, real, sight)) continue
    if (isChromeLinks(property) && isOpen(expected, property) && ownLinksOnly(value, real, shared(property))) continue
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
  return withoutFollowers(found)
}

/** What differs only because something else does, on the same page at the same viewport. */
const FOLLOWS: Readonly<Record<string, readonly string[]>> = {
  'header.presence': ['header.clearance', 'spacing.before'],
  'header.position': ['header.clearance', 'spacing.before'],
  'sidebar.presence': ['sidebar.side', 'width.container', 'width.column'],
  'sidebar.side': ['sidebar.gap', 'sidebar.width', 'width.container', 'width.column'],
  'width.container': ['width.column'],
  'title.words': ['title.height'],
  'title.presence': ['title.place', 'spacing.within'],
}

/** Properties that may differ only because another one does. */
export const followersOf = (property: string): readonly string[] => FOLLOWS[property] ?? []

/** Differences without those that merely follow from another. */
function withoutFollowers(found: readonly Discrepancy[]): readonly Discrepancy[] {
  const follows = new Set(found.flatMap(({ property }) => followersOf(property)))
  return follows.size === 0 ? found : found.filter(({ property }) => !follows.has(property))
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
  if (property === 'body.topHeadings') return expected === seen
  if (typeof expected === 'number' && typeof seen === 'number') return Math.abs(expected - seen) <= TOLERANCE_PX
  // Every text that is expected has to be there; more may be.
  if (property === 'header.words' || property === 'footer.words') {
    const texts = new Set((seen as readonly string[]).map((text) => text.toLowerCase()))
    return (expected as readonly string[]).every((text) => text === UNTOLD_TEXT || texts.has(text.toLowerCase()))
  }
  if (seen === 'in markup') return expected !== 'absent'
  if (property.endsWith('.words')) return String(expected).toLowerCase() === String(seen).toLowerCase()
  return JSON.stringify(expected) === JSON.stringify(seen)
}
