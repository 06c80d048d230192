import equal from 'fast-deep-equal'
import { positionIn } from '../inspect/site-states.js'
import { inTurns, toEnd } from '../inspect/turns.js'
import { RULES } from '../inspect/rules/index.js'
import { changedFindings, type FindingRecord, type FindingRecords } from './changed-findings.js'
import { facetRecord, type FacetRecord } from '../measure/facet-record.js'
import type { Json } from '../model/json.js'
import type { ResolvedPage } from '../resolve/page.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import {
  recordPage,
  recordSurrounds,
  takeSnapshot,
  type PageRecord,
  type PageState,
  type Rectangle,
  type Snapshot,
  type SurroundRecords,
  type ViewRecord,
} from './snapshot.js'

/** A property that has another value, with the viewports at which it does. */
export interface FacetChange {
  readonly property: string
  readonly before: Json
  readonly after: Json
  readonly viewports: readonly string[]
}

/** A box that is elsewhere, has another size, came or went. */
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

/** Pages that others find than before. */
export interface StateChange {
  readonly pages: readonly string[]
  readonly before: PageState
  readonly after: PageState
}

/** A finding that is there before and after, on other pages or with another number. */
export interface FindingChange {
  readonly key: string
  readonly before: FindingRecord
  readonly after: FindingRecord
}

/** Items that a surround prints and did not, or did and does not. */
export interface SurroundChange {
  readonly surround: string
  readonly gained: readonly string[]
  readonly lost: readonly string[]
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
  /** Findings that hold on more pages or with a worse number, and those that hold on fewer or with a better one. */
  readonly worse: readonly FindingChange[]
  readonly better: readonly FindingChange[]
  /** On how many pages each of all these holds before and after. */
  readonly pagesOf: Readonly<Record<string, readonly [before: number, after: number]>>
  readonly states: readonly StateChange[]
  readonly surrounds: readonly SurroundChange[]
  readonly unchanged: number
}

/** Options of a comparison of two sites. */
export interface DiffOptions {
  /** The clock, for years and countdowns; default the machine's. */
  readonly now?: Date
  /** Whether to look for findings that come and go; default true. Without, only facets and boxes are compared. */
  readonly findings?: boolean
}

/**
 * Compares a site with one made from it in memory; only the pages that a change reaches are looked at.
 *
 * @example
 * const after = resolved.with([{ op: 'add', path: '/theme/layout/header/clearance', value: 'auto' }])
 * diffSites(resolved, after).cured // => ['header-covers-content@/theme/layout/header/position']
 */
export function diffSites(before: ResolvedSite, after: ResolvedSite, options: DiffOptions = {}): SiteDiff {
  return toEnd(diffing(before, after, options))
}

/** Options of `diffSitesAsync`: those of `diffSites`, and a signal. */
export interface DiffAsyncOptions extends DiffOptions {
  /** Ends the work early; the promise is then rejected with the signal's reason. */
  readonly signal?: AbortSignal
}

/**
 * The same as `diffSites`, in turns, so that others are answered meanwhile.
 *
 * @throws The reason of an aborted signal.
 * @example
 * (await diffSitesAsync(resolved, resolved.with([]))).groups // => []
 */
export function diffSitesAsync(
  before: ResolvedSite,
  after: ResolvedSite,
  options: DiffAsyncOptions = {},
): Promise<SiteDiff> {
  return inTurns(diffing(before, after, options), options.signal)
}

function* diffing(
  before: ResolvedSite,
  after: ResolvedSite,
  { now, findings = true }: DiffOptions,
): Generator<unknown, SiteDiff> {
  const record = (site: ResolvedSite, id: string): PageRecord | undefined =>
    site.site.pageData(id) ? recordPage(site.page(id)) : undefined
  const all = new Set([...before.pageIds, ...after.pageIds]).size
  const found = findings ? yield* changedFindings(before, after, now) : { before: {}, after: {} }
  const ids = changedIds(before, after)
  // Only as long as they are compared: records of all pages of a large site are large.
  const pairs = function* (): Iterable<PagePair> {
    for (const id of ids) yield { id, before: record(before, id), after: record(after, id) }
  }
  return yield* compare(pairs(), all, {
    findings: [found.before, found.after],
    surrounds: [recordSurrounds(before), recordSurrounds(after)],
  })
}

/**
 * Compares two snapshots, or a snapshot with a site as it is.
 *
 * @example
 * diffSnapshots(takeSnapshot(resolved), takeSnapshot(resolved)).groups // => []
 */
export function diffSnapshots(before: Snapshot, after: Snapshot): SiteDiff {
  const ids = [...new Set([...Object.keys(before.pages), ...Object.keys(after.pages)])]
  const pages = ids.map((id) => ({ id, before: before.pages[id], after: after.pages[id] }))
  const wholes: Wholes = {
    findings: [findingsIn(before), findingsIn(after)],
    surrounds: before.surrounds && after.surrounds ? [before.surrounds, after.surrounds] : [{}, {}],
  }
  return toEnd(compare(pages, ids.length, wholes))
}

/** Compares two sites that were read apart. */
export const diffWhole = (before: ResolvedSite, after: ResolvedSite, options: DiffOptions = {}): SiteDiff =>
  diffSnapshots(takeSnapshot(before, options), takeSnapshot(after, options))

interface PagePair {
  readonly id: string
  readonly before: PageRecord | undefined
  readonly after: PageRecord | undefined
}

const findingsIn = ({ findings, worst = {} }: Snapshot): FindingRecords =>
  Object.fromEntries(Object.entries(findings).map(([key, pages]) => [key, { pages, worst: worst[key] ?? null }]))

/** What of two whole states is compared beside their pages. */
interface Wholes {
  readonly findings: readonly [FindingRecords, FindingRecords]
  readonly surrounds: readonly [SurroundRecords, SurroundRecords]
}

function* compare(
  pages: Iterable<PagePair>,
  all: number,
  { findings, surrounds }: Wholes,
): Generator<unknown, SiteDiff> {
  const [before, after] = findings
  const cured = rulesByPage(before, after)
  const caused = rulesByPage(after, before)
  const groups = new Map<string, { group: ChangeGroup; pages: string[] }>()
  const added: string[] = []
  const removed: string[] = []
  const states = new StateChanges()
  for (const pair of pages) {
    yield
    if (!pair.before) added.push(pair.id)
    if (!pair.after) removed.push(pair.id)
    if (!pair.before || !pair.after) continue
    states.add(pair.id, pair.before.state, pair.after.state)
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
  return {
    groups: found.sort((a, b) => b.pages.length - a.pages.length),
    added,
    removed,
    ...findingChanges(before, after),
    states: states.found(),
    surrounds: surroundChanges(...surrounds),
    unchanged: all - changed - added.length - removed.length,
  }
}

/** Findings that came, went, got worse or better. One that only has another place since is none of these. */
function findingChanges(before: FindingRecords, after: FindingRecords) {
  const gone = Object.keys(before).filter((key) => !Object.hasOwn(after, key))
  const came = Object.keys(after).filter((key) => !Object.hasOwn(before, key))
  const moved = new Set<string>()
  for (const key of gone) {
    const same = came.find(
      (other) => !moved.has(other) && ruleOf(other) === ruleOf(key) && equal(before[key], after[other]),
    )
    if (same !== undefined) for (const each of [key, same]) moved.add(each)
  }
  const stays = Object.keys(before).filter((key) => Object.hasOwn(after, key) && !equal(before[key], after[key]))
  const changes = stays.map((key): FindingChange => ({
    key,
    before: before[key] as FindingRecord,
    after: after[key] as FindingRecord,
  }))
  const cured = gone.filter((key) => !moved.has(key))
  const caused = came.filter((key) => !moved.has(key))
  const pages = (key: string): readonly [number, number] => [
    before[key]?.pages.length ?? 0,
    after[key]?.pages.length ?? 0,
  ]
  return {
    cured,
    caused,
    worse: changes.filter(isWorse),
    better: changes.filter((change) => !isWorse(change)),
    pagesOf: Object.fromEntries([...cured, ...caused, ...stays].map((key) => [key, pages(key)])),
  }
}

const ruleOf = (key: string): string => key.slice(0, key.indexOf('@'))

/** Whether a finding holds on a page that it did not, or its number is worse. */
function isWorse({ key, before, after }: FindingChange): boolean {
  const known = new Set(before.pages)
  if (after.pages.some((page) => !known.has(page))) return true
  const sign = RULES.find(({ id }) => id === ruleOf(key))?.worst === 'smallest' ? -1 : 1
  return before.worst !== null && after.worst !== null && sign * (after.worst - before.worst) > 0
}

/** Pages that others find than before, by who did and who does. */
class StateChanges {
  readonly #found = new Map<string, { before: PageState; after: PageState; pages: string[] }>()

  add(page: string, before: PageState | undefined, after: PageState | undefined): void {
    if (before === undefined || after === undefined || before === after) return
    const key = `${before} ${after}`
    const known = this.#found.get(key)
    if (known) known.pages.push(page)
    else this.#found.set(key, { before, after, pages: [page] })
  }

  found(): readonly StateChange[] {
    return [...this.#found.values()]
  }
}

function surroundChanges(before: SurroundRecords, after: SurroundRecords): readonly SurroundChange[] {
  return Object.keys({ ...before, ...after }).flatMap((surround): SurroundChange[] => {
    const [old, now] = [before[surround] ?? [], after[surround] ?? []]
    const change = { surround, gained: without(now, old), lost: without(old, now) }
    return change.gained.length + change.lost.length > 0 ? [change] : []
  })
}

/** A list without the entries of another, each as often as it is there. */
function without(list: readonly string[], others: readonly string[]): readonly string[] {
  const left = [...others]
  return list.filter((each) => {
    const at = left.indexOf(each)
    if (at >= 0) left.splice(at, 1)
    return at < 0
  })
}

/** By page, the rules of findings that hold on it here and not there. */
function rulesByPage(here: FindingRecords, there: FindingRecords): ReadonlyMap<string, readonly string[]> {
  const count = (findings: FindingRecords): Map<string, Map<string, number>> => {
    const byPage = new Map<string, Map<string, number>>()
    for (const [key, { pages }] of Object.entries(findings)) {
      const rule = ruleOf(key)
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

/** Pages whose facets change in the same way. */
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
    if (!change || change.reach === 'all') return ids
    const earlier = change.before
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
