import equal from 'fast-deep-equal'
import { positionIn } from '../inspect/site-facts.js'
import { changedFindings, type FindingRecords } from './changed-findings.js'
import { facetRecord, type FacetRecord } from '../measure/facet-record.js'
import type { Json } from '../model/json.js'
import type { ResolvedPage } from '../resolve/page.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import {
  recordPage,
  takeSnapshot,
  type PageRecord,
  type Rectangle,
  type Snapshot,
  type ViewRecord,
} from './snapshot.js'

/** A property that has another value, with the viewports at which it does. */
export interface FacetChange {
  readonly property: string
  readonly before: Json
  readonly after: Json
  readonly viewports: readonly string[]
}

/** A box that stands elsewhere, has another size, came or went. */
export interface BoxChange {
  readonly box: string
  readonly viewport: string
  readonly before: Rectangle | null
  readonly after: Rectangle | null
}

/** Pages with the same change. */
export interface ChangeGroup {
  readonly pages: readonly string[]
  readonly facets: readonly FacetChange[]
  /** Of one of the pages; bodies differ. */
  readonly boxes: readonly BoxChange[]
  /** How much further down (or, less than 0, up) the first content begins, by viewport; px. */
  readonly contentMoves: Readonly<Record<string, number>>
  /** Rules of which a finding is gone from these pages, or new on them. */
  readonly cured: readonly string[]
  readonly caused: readonly string[]
}

/** What changed between two states of a site. */
export interface SiteDiff {
  /** Most pages first. */
  readonly groups: readonly ChangeGroup[]
  readonly added: readonly string[]
  readonly removed: readonly string[]
  /** Findings that are gone, or new, for good: on no page before, or on none after. */
  readonly cured: readonly string[]
  readonly caused: readonly string[]
  readonly unchanged: number
}

export interface DiffOptions {
  /** The clock, for years and countdowns; default the machine's. */
  readonly now?: Date
  /** Whether to look for findings that come and go; default true. Without, only facets and boxes are compared. */
  readonly findings?: boolean
}

/** Compares a site with one made from it in memory; only the pages that a change reaches are looked at. */
export function diffSites(before: ResolvedSite, after: ResolvedSite, options: DiffOptions = {}): SiteDiff {
  const { now, findings = true } = options
  const record = (site: ResolvedSite, id: string): PageRecord | undefined =>
    site.site.pageData(id) ? recordPage(site.page(id)) : undefined
  const all = new Set([...before.pageIds, ...after.pageIds]).size
  const pages = changedIds(before, after).map((id) => ({ id, before: record(before, id), after: record(after, id) }))
  const found = findings ? changedFindings(before, after, now) : { before: {}, after: {} }
  return compare(pages, pagesOf(found.before), pagesOf(found.after), all)
}

/** Compares two snapshots, or a snapshot with a site as it stands. */
export function diffSnapshots(before: Snapshot, after: Snapshot): SiteDiff {
  const ids = [...new Set([...Object.keys(before.pages), ...Object.keys(after.pages)])]
  const pages = ids.map((id) => ({ id, before: before.pages[id], after: after.pages[id] }))
  return compare(pages, before.findings, after.findings, ids.length)
}

/** Compares two sites that were read apart. */
export const diffWhole = (before: ResolvedSite, after: ResolvedSite, now = new Date()): SiteDiff =>
  diffSnapshots(takeSnapshot(before, now), takeSnapshot(after, now))

interface PagePair {
  readonly id: string
  readonly before: PageRecord | undefined
  readonly after: PageRecord | undefined
}

const pagesOf = (records: FindingRecords): FindingPages =>
  Object.fromEntries(Object.entries(records).map(([key, { pages }]) => [key, pages]))

type FindingPages = Readonly<Record<string, readonly string[]>>

function compare(pages: readonly PagePair[], before: FindingPages, after: FindingPages, all: number): SiteDiff {
  const cured = rulesByPage(before, after)
  const caused = rulesByPage(after, before)
  const groups = new Map<string, { group: ChangeGroup; pages: string[] }>()
  for (const pair of pages) {
    if (!pair.before || !pair.after) continue
    const facets = facetChanges(pair.before, pair.after)
    const boxes = boxChanges(pair.before, pair.after)
    const contentMoves = moves(pair.before, pair.after)
    const rules = { cured: cured.get(pair.id) ?? [], caused: caused.get(pair.id) ?? [] }
    if (facets.length + boxes.length + rules.cured.length + rules.caused.length === 0) continue
    const key = JSON.stringify([facets, contentMoves, sizes(boxes), rules])
    const known = groups.get(key) ?? { group: { pages: [], facets, boxes, contentMoves, ...rules }, pages: [] }
    known.pages.push(pair.id)
    groups.set(key, known)
  }
  const found = [...groups.values()].map(({ group, pages: ids }) => ({ ...group, pages: ids }))
  const changed = found.reduce((sum, group) => sum + group.pages.length, 0)
  const added = pages.flatMap(({ id, before: old }) => (old ? [] : [id]))
  const removed = pages.flatMap(({ id, after: now }) => (now ? [] : [id]))
  return {
    groups: found.sort((a, b) => b.pages.length - a.pages.length),
    added,
    removed,
    cured: Object.keys(before).filter((key) => !Object.hasOwn(after, key)),
    caused: Object.keys(after).filter((key) => !Object.hasOwn(before, key)),
    unchanged: all - changed - added.length - removed.length,
  }
}

/** By page, the rules of findings that hold on it here and not there. */
function rulesByPage(here: FindingPages, there: FindingPages): ReadonlyMap<string, readonly string[]> {
  const count = (findings: FindingPages): Map<string, Map<string, number>> => {
    const byPage = new Map<string, Map<string, number>>()
    for (const [key, pages] of Object.entries(findings)) {
      const rule = key.slice(0, key.indexOf('@'))
      for (const page of pages) {
        const rules = byPage.get(page) ?? new Map<string, number>()
        rules.set(rule, (rules.get(rule) ?? 0) + 1)
        byPage.set(page, rules)
      }
    }
    return byPage
  }
  const others = count(there)
  // Counted by rule, for pointers may move with a change.
  return new Map(
    [...count(here)].map(([page, rules]) => [
      page,
      [...rules].flatMap(([rule, times]) => (times > (others.get(page)?.get(rule) ?? 0) ? [rule] : [])).sort(),
    ]),
  )
}

function facetChanges(before: PageRecord, after: PageRecord): readonly FacetChange[] {
  const views = (record: PageRecord): FacetRecord =>
    Object.fromEntries(Object.entries(record.views).map(([name, { facets }]) => [name, facets]))
  return changedFacets([before.template, views(before)], [after.template, views(after)])
}

type TemplateAndFacets = readonly [template: string | null, facets: FacetRecord]

function changedFacets([from, before]: TemplateAndFacets, [to, after]: TemplateAndFacets): readonly FacetChange[] {
  const changes = new Map<string, { change: Omit<FacetChange, 'viewports'>; viewports: string[] }>()
  const add = (property: string, old: Json, now: Json, viewport: string): void => {
    if (equal(old, now)) return
    const key = JSON.stringify([property, old, now])
    const known = changes.get(key) ?? { change: { property, before: old, after: now }, viewports: [] }
    known.viewports.push(viewport)
    changes.set(key, known)
  }
  for (const [viewport, old] of Object.entries(before)) {
    const now = after[viewport]
    if (!now) continue
    add('template', from, to, viewport)
    if (old === now) continue
    for (const property of new Set([...Object.keys(old), ...Object.keys(now)]))
      add(property, old[property] ?? null, now[property] ?? null, viewport)
  }
  return [...changes.values()].map(({ change, viewports }) => ({ ...change, viewports }))
}

/** Pages whose facets change alike. */
export interface FacetChangeGroup {
  readonly pages: readonly string[]
  readonly facets: readonly FacetChange[]
}

/**
 * The quick answer to a what-if: which pages get other facets, and which. It costs what the layouts that change cost,
 * however many pages have them; `diffSites` goes on to each page's boxes and findings.
 */
export function diffFacets(before: ResolvedSite, after: ResolvedSite): readonly FacetChangeGroup[] {
  const known = new Map<FacetRecord, Map<FacetRecord, readonly FacetChange[]>>()
  const groups = new Map<string, { facets: readonly FacetChange[]; pages: string[] }>()
  for (const id of changedIds(before, after)) {
    if (!before.site.pageData(id) || !after.site.pageData(id)) continue
    const [old, now] = [before.page(id), after.page(id)]
    if (old.dormant || now.dormant) continue
    const [from, to] = [facetRecord(old), facetRecord(now)]
    const ofOld = known.get(from) ?? new Map<FacetRecord, readonly FacetChange[]>()
    known.set(from, ofOld)
    const template = (page: ResolvedPage): string | null => page.choice.template?.id ?? null
    const facets = ofOld.get(to) ?? changedFacets([template(old), from], [template(now), to])
    ofOld.set(to, facets)
    if (facets.length === 0) continue
    const key = JSON.stringify(facets)
    const group = groups.get(key) ?? { facets, pages: [] }
    group.pages.push(id)
    groups.set(key, group)
  }
  return [...groups.values()].sort((a, b) => b.pages.length - a.pages.length)
}

/** The pages that came, went, or are not known to be as they were, in the order of the sites. */
function changedIds(before: ResolvedSite, after: ResolvedSite): readonly string[] {
  const isSame = before.pageIds === after.pageIds
  const ids = isSame ? before.pageIds : [...new Set([...before.pageIds, ...after.pageIds])]
  const reached = new Set<string>()
  for (let here = after; here !== before;) {
    const { change } = here
    const earlier = change?.before.deref()
    if (!change || !earlier || change.reach === 'all') return ids
    // Pages get what is printed by names without being reached themselves.
    if (earlier.site.printed !== here.site.printed) return ids
    for (const id of change.reach) reached.add(id)
    here = earlier
  }
  if (!isSame) return ids.filter((id) => reached.has(id))
  const position = positionIn(before)
  return [...reached].filter((id) => before.site.pageData(id)).sort((a, b) => position(a) - position(b))
}

function boxChanges(before: PageRecord, after: PageRecord): readonly BoxChange[] {
  return viewPairs(before, after).flatMap(([viewport, old, now]) =>
    [...new Set([...Object.keys(old.boxes), ...Object.keys(now.boxes)])].flatMap((box) => {
      const pair = { before: old.boxes[box] ?? null, after: now.boxes[box] ?? null }
      return equal(pair.before, pair.after) ? [] : [{ box, viewport, ...pair }]
    }),
  )
}

/** What of a page's box changes pages can share: which parts of the frame changed, and by how much. */
const FRAME = new Set(['header', 'footer', 'title', 'byline', 'sidebar', 'container', 'column'])
const sizes = (boxes: readonly BoxChange[]) =>
  boxes
    .filter(({ box }) => FRAME.has(box))
    .map(({ box, viewport, before, after }) => [
      ...[box, viewport, before === null, after === null],
      ...(before && after ? [0, 2].map((n) => (after[n] as number) - (before[n] as number)) : []),
    ])

function moves(before: PageRecord, after: PageRecord): Readonly<Record<string, number>> {
  return Object.fromEntries(
    viewPairs(before, after).flatMap(([viewport, old, now]) =>
      old.top === null || now.top === null || old.top === now.top
        ? []
        : [[viewport, Math.round((now.top - old.top) * 1000) / 1000]],
    ),
  )
}

const viewPairs = (before: PageRecord, after: PageRecord): readonly (readonly [string, ViewRecord, ViewRecord])[] =>
  Object.entries(before.views).flatMap(([viewport, old]) => {
    const now = after.views[viewport]
    return now ? [[viewport, old, now] as const] : []
  })
