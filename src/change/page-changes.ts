import { isEqual as equal } from 'es-toolkit'
import type { FacetRecord } from '../measure/facet-record.js'
import type { Json } from '../model/json.js'
import { isSameList } from '../model/lists.js'
import type { PageRecord, Rectangle, ViewRecord } from './snapshot.js'

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

/** The difference of a page, without findings. */
export type PageChange = Pick<ChangeGroup, 'facets' | 'boxes' | 'contentMoves'>

export const pageChange = (before: PageRecord, after: PageRecord): PageChange => ({
  facets: facetChanges(before, after),
  boxes: boxChanges(before, after),
  contentMoves: moves(before, after),
})

/** A key that is equal for pages with the same change in px, whatever the names of their boxes. */
export const changeKey = ({ facets, boxes, contentMoves }: PageChange): string =>
  JSON.stringify([facets, contentMoves, frameShifts(boxes), bodyShifts(boxes)])

function facetChanges(before: PageRecord, after: PageRecord): readonly FacetChange[] {
  const views = (record: PageRecord): FacetRecord =>
    Object.fromEntries(Object.entries(record.views).map(([name, { facets }]) => [name, facets]))
  return changedFacets([before.template, views(before)], [after.template, views(after)])
}

type TemplateAndFacets = readonly [template: string | null, facets: FacetRecord]

export function changedFacets(
  [from, before]: TemplateAndFacets,
  [to, after]: TemplateAndFacets,
): readonly FacetChange[] {
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

function boxChanges(before: PageRecord, after: PageRecord): readonly BoxChange[] {
  return viewPairs(before, after).flatMap(([viewport, old, now]) =>
    [...new Set([...Object.keys(old.boxes), ...Object.keys(now.boxes)])].flatMap((box) => {
      const pair = { before: old.boxes[box] ?? null, after: now.boxes[box] ?? null }
      return pair.before && pair.after && isSameList(pair.before, pair.after) ? [] : [{ box, viewport, ...pair }]
    }),
  )
}

/** Boxes that do not depend on a page's body. */
const FRAME = new Set(['page', 'header', 'footer', 'title', 'byline', 'leadImage', 'main', 'sidebar', 'comments'])
for (const box of ['container', 'column']) FRAME.add(box)

/** The change of a box's position and size in px; its size if it is new or gone. */
const shiftOf = ({ viewport, before, after }: BoxChange): readonly unknown[] =>
  before && after
    ? [viewport, ...after.map((n, at) => Math.round((n - (before[at] as number)) * 1000) / 1000)]
    : [viewport, before ? 'gone' : 'new', ...(before ?? after ?? []).slice(2)]

const frameShifts = (boxes: readonly BoxChange[]): readonly unknown[] =>
  boxes.filter(({ box }) => FRAME.has(box)).map((change) => [change.box, ...shiftOf(change)])

/** The distinct shifts of the body's boxes. */
const bodyShifts = (boxes: readonly BoxChange[]): readonly string[] =>
  [...new Set(boxes.filter(({ box }) => !FRAME.has(box)).map((change) => JSON.stringify(shiftOf(change))))].sort()

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
