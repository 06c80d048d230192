import { facetRecord } from '../measure/facet-record.js'
import { rounded } from '../measure/facets.js'
import { measurePage } from '../measure/page.js'
import { firstContent } from '../measure/printed.js'
import type { Json } from '../model/json.js'
import type { ResolvedPage } from '../resolve/page.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { findingsOf } from './changed-findings.js'

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

/** What a page gives a visitor, at each viewport. */
export interface PageRecord {
  readonly template: string | null
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
}

/** What one page gives a visitor. */
export function recordPage(page: ResolvedPage): PageRecord {
  const template = page.choice.template?.id ?? null
  if (page.dormant) return { template, dormant: true, views: {} }
  const facets = facetRecord(page)
  const views = page.site.viewports.map(({ name }): readonly [string, ViewRecord] => {
    const measure = measurePage(page, name)
    const boxes: Record<string, Rectangle> = {}
    for (const { id, x, y, width, height } of measure.boxes)
      boxes[id] = [rounded(x), rounded(y), rounded(width), rounded(height)]
    const first = firstContent(measure)
    return [name, { facets: facets[name] ?? {}, boxes, top: first ? rounded(first.box.y) : null }]
  })
  return { template, views: Object.fromEntries(views) }
}

/** Takes a snapshot of a whole site. */
export function takeSnapshot(resolved: ResolvedSite, now = new Date()): Snapshot {
  const pages = [...resolved.pages()].map((page) => [page.id, recordPage(page)] as const)
  const findings = findingsOf(resolved, now)
  return {
    wembra: 1,
    report: 'snapshot',
    site: resolved.site.data.site.name,
    pages: Object.fromEntries(pages),
    findings: Object.fromEntries(Object.entries(findings).map(([key, { pages: ids }]) => [key, ids])),
  }
}
