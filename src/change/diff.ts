import type { OnLook } from '../inspect/engine/step.js'
import { positionIn } from '../inspect/positions.js'
import { inTurns, toEnd } from '../inspect/turns.js'
import { facetRecord, type FacetRecord } from '../measure/facet-record.js'
import type { ResolvedPage } from '../resolve/page.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { changedFindings, type FindingRecords } from './changed-findings.js'
import { entryAlignment, recordEntries, type EntryRecords } from './entry-alignment.js'
import { findingChanges, rulesByPage, type FindingChange } from './finding-changes.js'
import {
  changedFacets,
  changeKey,
  pageChange,
  type ChangeGroup,
  type FacetChange,
  type PageChange,
} from './page-changes.js'
import {
  recordPage,
  recordSurrounds,
  takeSnapshot,
  type MeasuredPage,
  type PageRecord,
  type PageState,
  type Snapshot,
  type SurroundRecords,
} from './snapshot.js'

/** Pages that others find than before. */
export interface StateChange {
  readonly pages: readonly string[]
  readonly before: PageState
  readonly after: PageState
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
  const ids = changedIds(before, after)
  const wanted = new Set(ids)
  const pages = new PageComparison()
  const pairOf = (
    id: string,
    measured?: { readonly before: MeasuredPage; readonly after: MeasuredPage },
  ): PagePair => ({
    id,
    before: before.site.pageData(id) && recordPage(before.page(id), measured?.before),
    after: after.site.pageData(id) && recordPage(after.page(id), measured?.after),
  })
  // A page that is looked at is measured already.
  const onLook: OnLook = (id, before, after) => {
    if (wanted.has(id)) pages.add(pairOf(id, { before, after }))
  }
  const found = findings ? yield* changedFindings(before, after, now, onLook) : { before: {}, after: {} }
  for (const id of ids) {
    if (!pages.has(id)) pages.add(pairOf(id))
    yield
  }
  const isSame = before.pageIds === after.pageIds
  const all = isSame ? before.pageIds : [...new Set([...before.pageIds, ...after.pageIds])]
  return pages.result(all, pairOf, {
    findings: [found.before, found.after],
    entries: [recordEntries(before), recordEntries(after)],
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
  const pages = new PageComparison()
  const pairOf = (id: string): PagePair => ({ id, before: before.pages[id], after: after.pages[id] })
  for (const id of ids) pages.add(pairOf(id))
  return pages.result(ids, pairOf, {
    findings: [findingsIn(before), findingsIn(after)],
    entries: [before.entries ?? {}, after.entries ?? {}],
    surrounds: before.surrounds && after.surrounds ? [before.surrounds, after.surrounds] : [{}, {}],
  })
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
  readonly entries: readonly [EntryRecords, EntryRecords]
  readonly surrounds: readonly [SurroundRecords, SurroundRecords]
}

const UNCHANGED: PageChange = { facets: [], boxes: [], contentMoves: {} }
const NO_CHANGE = { kind: changeKey(UNCHANGED), change: UNCHANGED }

/** What changed of pages, compared one by one: what is the same for many is held once. */
class PageComparison {
  readonly #kinds = new Map<string, { readonly first: string; readonly change: PageChange }>()
  /** By page; `undefined` of one that is there only before or after. */
  readonly #pages = new Map<string, string | undefined>()
  readonly #added = new Set<string>()
  readonly #removed = new Set<string>()
  readonly #states = new StateChanges()

  has(id: string): boolean {
    return this.#pages.has(id)
  }

  add({ id, before, after }: PagePair): void {
    if (!before) this.#added.add(id)
    if (!after) this.#removed.add(id)
    if (!before || !after) return void this.#pages.set(id, undefined)
    this.#states.add(id, before.state, after.state)
    const change = pageChange(before, after)
    const kind = changeKey(change)
    if (!this.#kinds.has(kind)) this.#kinds.set(kind, { first: id, change })
    this.#pages.set(id, kind)
  }

  /**
   * All of it; a page is compared again where its own boxes are to be told.
   *
   * @param ids - All pages in their order; those that were not compared have the same facets and boxes.
   */
  result(
    ids: readonly string[],
    pairOf: (id: string) => PagePair,
    { findings: [before, after], entries, surrounds }: Wholes,
  ): SiteDiff {
    const cured = rulesByPage(before, after)
    const caused = rulesByPage(after, before)
    const groups = new Map<string, { group: Omit<ChangeGroup, 'pages'>; pages: string[] }>()
    const position = positionIn({ pageIds: ids })
    const inOrder = (some: Iterable<string>): string[] => [...some].sort((a, b) => position(a) - position(b))
    for (const id of inOrder(new Set([...this.#pages.keys(), ...cured.keys(), ...caused.keys()]))) {
      const kind = this.#pages.has(id) ? this.#pages.get(id) : NO_CHANGE.kind
      if (kind === undefined) continue
      const known = this.#kinds.get(kind) ?? { first: id, change: NO_CHANGE.change }
      const { facets, boxes } = known.change
      const rules = { cured: cured.get(id) ?? [], caused: caused.get(id) ?? [] }
      if (facets.length + boxes.length + rules.cured.length + rules.caused.length === 0) continue
      const key = JSON.stringify([kind, rules])
      const group = groups.get(key)
      if (group) group.pages.push(id)
      else groups.set(key, { group: { ...changeOf(id, known, pairOf), ...rules }, pages: [id] })
    }
    const found = [...groups.values()].map(({ group, pages }) => ({ pages, ...group }))
    const changed = found.reduce((sum, { pages }) => sum + pages.length, 0)
    return {
      groups: found.sort((a, b) => b.pages.length - a.pages.length),
      added: inOrder(this.#added),
      removed: inOrder(this.#removed),
      ...findingChanges(before, after, entryAlignment(...entries)),
      states: this.#states.found(position),
      surrounds: surroundChanges(...surrounds),
      unchanged: ids.length - changed - this.#added.size - this.#removed.size,
    }
  }
}

function changeOf(
  id: string,
  { first, change }: { readonly first: string; readonly change: PageChange },
  pairOf: (id: string) => PagePair,
): PageChange {
  if (id === first) return change
  const { before, after } = pairOf(id)
  return before && after ? pageChange(before, after) : change
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

  /** With the pages in an order. */
  found(position: (page: string) => number): readonly StateChange[] {
    const inOrder = (a: string, b: string): number => position(a) - position(b)
    return [...this.#found.values()]
      .map((change) => ({ ...change, pages: [...change.pages].sort(inOrder) }))
      .sort((a, b) => inOrder(a.pages[0] ?? '', b.pages[0] ?? ''))
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
