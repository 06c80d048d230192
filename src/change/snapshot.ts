import { facetRecord } from '../measure/facet-record.js'
import { rounded } from '../measure/facets.js'
import { measurePage } from '../measure/page.js'
import type { PageMeasure } from '../measure/page-measure.js'
import { firstContent } from '../measure/printed.js'
import { itemKindOf } from '../model/item-kinds.js'
import type { Json } from '../model/json.js'
import type { Item } from '../model/site-data.js'
import type { ResolvedPage } from '../resolve/page.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { findingsOf } from './changed-findings.js'
import { recordEntries, type EntryRecords } from './entry-alignment.js'

/** x, y, width and height in CSS px. */
export type Rectangle = readonly [number, number, number, number]

/** What a page gives a visitor at one viewport. */
export interface ViewRecord {
  /** Every property that has a value, by `facet.property`; lengths in px. */
  readonly facets: Readonly<Record<string, Json>>
  readonly boxes: Readonly<Record<string, Rectangle>>
  /** y of the first content; `null` where there is none. */
  readonly top: number | null
}

/**
 * Who finds a page: `public` everybody; `hidden` whoever has its address, for neither the site nor search engines lead
 * there; `members` who is signed in; `draft` and `dormant` no visitor.
 */
export type PageState = 'public' | 'hidden' | 'members' | 'draft' | 'dormant'

/** What a page gives a visitor, at each viewport. */
export interface PageRecord {
  readonly template: string | null
  /** Who finds it; not in snapshots of earlier versions. */
  readonly state?: PageState
  readonly dormant?: true
  readonly views: Readonly<Record<string, ViewRecord>>
}

/** All that a site gives its visitors at a moment: small, stable and fit to be reviewed. */
export interface Snapshot {
  readonly wembra: 1
  readonly report: 'snapshot'
  readonly site: string
  readonly pages: Readonly<Record<string, PageRecord>>
  /** Pages of each finding, by its key. */
  readonly findings: Readonly<Record<string, readonly string[]>>
  /** The first number of each finding's worst case, where it has one; not in snapshots of earlier versions. */
  readonly worst?: Readonly<Record<string, number>>
  /** Entries of lists, to recognize those that have another position; not in snapshots of earlier versions. */
  readonly entries?: EntryRecords
  /** What each surround prints, in order; not in snapshots of earlier versions. */
  readonly surrounds?: SurroundRecords
}

/** The items of surrounds, each by its id or by what it is. */
export type SurroundRecords = Readonly<Record<string, readonly string[]>>

/** What the surrounds of a site print. */
export function recordSurrounds({ site }: ResolvedSite): SurroundRecords {
  const nameOf = (item: Item): string => {
    const kind = itemKindOf(item)
    const value = kind === undefined ? undefined : (item as unknown as Readonly<Record<string, unknown>>)[kind]
    return item.id ?? (typeof value === 'string' ? `${kind} "${value}"` : (kind ?? 'item'))
  }
  return Object.fromEntries(
    Object.entries(site.data.surrounds ?? {}).map(([id, { rows, items }]) => [
      id,
      [...(rows ?? []).flatMap((row) => row.items ?? []), ...(items ?? [])].map(nameOf),
    ]),
  )
}

/** Who finds a page. */
function stateOf(page: ResolvedPage): PageState {
  if (page.dormant) return 'dormant'
  if (page.data.status === 'draft') return 'draft'
  if (page.data.access === 'members') return 'members'
  const isFound = page.site.viewports.some(({ name }) => {
    const view = page.at(name)
    return view.value('findable.site') !== false || view.value('findable.web') !== false
  })
  return isFound ? 'public' : 'hidden'
}

/** A page's measures that are known, by viewport. */
export type MeasuredPage = ReadonlyMap<string, PageMeasure> | undefined

/** What one page gives a visitor. */
export function recordPage(page: ResolvedPage, measured?: MeasuredPage): PageRecord {
  const template = page.choice.template?.id ?? null
  const state = stateOf(page)
  if (page.dormant) return { template, state, dormant: true, views: {} }
  const facets = facetRecord(page)
  const views = page.site.viewports.map(({ name }): readonly [string, ViewRecord] => {
    const measure = measured?.get(name) ?? measurePage(page, name)
    const boxes: Record<string, Rectangle> = {}
    for (const { id, x, y, width, height } of measure.boxes)
      boxes[id] = [rounded(x), rounded(y), rounded(width), rounded(height)]
    const first = firstContent(measure)
    return [name, { facets: facets[name] ?? {}, boxes, top: first ? rounded(first.box.y) : null }]
  })
  return { template, state, views: Object.fromEntries(views) }
}

/** How a snapshot is taken. */
export interface SnapshotOptions {
  /** The clock, for years and countdowns; default the machine's. */
  readonly now?: Date | undefined
}

/**
 * Takes a snapshot of a whole site.
 *
 * @example
 * Object.keys(takeSnapshot(resolved).pages) // => ['visit']
 */
export function takeSnapshot(resolved: ResolvedSite, { now = new Date() }: SnapshotOptions = {}): Snapshot {
  const pages = [...resolved.pages()].map((page) => [page.id, recordPage(page)] as const)
  const findings = findingsOf(resolved, now)
  return {
    wembra: 1,
    report: 'snapshot',
    site: resolved.site.data.site.name,
    pages: Object.fromEntries(pages),
    findings: Object.fromEntries(Object.entries(findings).map(([key, { pages: ids }]) => [key, ids])),
    worst: Object.fromEntries(
      Object.entries(findings).flatMap(([key, { worst }]) => (worst === null ? [] : [[key, worst]])),
    ),
    entries: recordEntries(resolved),
    surrounds: recordSurrounds(resolved),
  }
}
