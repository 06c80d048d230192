import { Frame } from '../measure/frame.js'
import { propertyInPx } from '../measure/facets.js'
import { measurePage } from '../measure/page.js'
import { definitionOf, FACETS, isFacet, type PropertyPath } from '../model/facets.js'
import { isObject, toPointer, valueAt, type Json } from '../model/json.js'
import { expandLayout } from '../model/shorthand.js'
import type { ChainEntry, PageView } from '../resolve/page.js'
import type { Outcome } from '../resolve/contribution.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'

/** What one setting does to the pages that it speaks of. */
export interface Effect {
  readonly property: PropertyPath
  /** Pages by what becomes of it there, with the viewports; and by whom it is overridden or locked. */
  readonly outcomes: ReadonlyMap<Outcome, ReadonlyMap<string, readonly string[]>>
  readonly winners: readonly string[]
  /** Where it wins: the least and greatest px at each viewport; none for what is no length. */
  readonly px: ReadonlyMap<string, readonly [least: number, most: number]>
}

/** The properties that a path of a file sets; none where it is no layout setting. */
export function propertiesAt(
  value: Json,
  path: readonly string[],
  viewports: readonly string[],
): readonly PropertyPath[] {
  const at = path.indexOf('layout')
  const [facet, property, item] = path.slice(at + 1)
  if (at < 0 || facet === undefined || !isFacet(facet)) return []
  if (property !== undefined && Object.hasOwn(FACETS[facet], property)) {
    const isItem = property === 'items' && item !== undefined
    return [(isItem ? `${facet}.items.${item}` : `${facet}.${property}`) as PropertyPath]
  }
  const said = valueAt(value, toPointer(path.slice(0, at + 2)))
  const expanded = said === undefined ? undefined : expandLayout({ [facet]: said }, viewports)
  const inside = isObject(expanded) ? expanded[facet] : undefined
  return isObject(inside) ? Object.keys(inside).map((each) => `${facet}.${each}` as PropertyPath) : []
}

/** So many pages at most are measured for the px that a setting comes to. */
const MOST_MEASURED = 60

interface Counted {
  readonly outcomes: Map<Outcome, Map<string, string[]>>
  readonly winners: Set<string>
  readonly px: Map<string, [number, number]>
}

/**
 * What the settings at a place do, property by property: on which pages they win, and where something overrides them.
 *
 * @param isIt - Whether an entry of a chain is what is asked about.
 * @param properties - The properties that it may set, by page and viewport.
 * @param options - `isMeasured`: whether the px are told; default true.
 */
export function effectsOf(
  resolved: ResolvedSite,
  isIt: (entry: ChainEntry, property: PropertyPath) => boolean,
  properties: (view: PageView) => readonly PropertyPath[],
  { isMeasured = true }: { readonly isMeasured?: boolean } = {},
): readonly Effect[] {
  const found = new Map<PropertyPath, Counted>()
  let measured = 0
  for (const page of resolved.pages()) {
    if (page.dormant) continue
    for (const { name } of resolved.site.viewports) {
      const view = page.at(name)
      for (const property of properties(view)) {
        const chain = view.chain(property)
        const mine = chain.find((entry) => isIt(entry, property))
        if (!mine) continue
        const counted = found.get(property) ?? { outcomes: new Map(), winners: new Set(), px: new Map() }
        found.set(property, counted)
        const pages = counted.outcomes.get(mine.outcome) ?? new Map<string, string[]>()
        counted.outcomes.set(mine.outcome, pages.set(page.id, [...(pages.get(page.id) ?? []), name]))
        if (mine.outcome === 'overridden' || mine.outcome === 'locked') {
          const winner = chain.find(({ outcome }) => outcome === 'wins')
          if (winner) counted.winners.add(winner.because)
        }
        if (isMeasured && mine.outcome === 'wins' && measured++ < MOST_MEASURED) note(counted.px, view, property)
      }
    }
  }
  return [...found].map(([property, { outcomes, winners, px }]) => ({ property, outcomes, winners: [...winners], px }))
}

function note(px: Map<string, [number, number]>, view: PageView, property: PropertyPath): void {
  const type = definitionOf(property)?.type
  if (type !== 'length') return
  const value = propertyInPx(measurePage(view.page, view.viewport.name), new Frame(view), property)
  if (typeof value !== 'number') return
  const [least, most] = px.get(view.viewport.name) ?? [value, value]
  px.set(view.viewport.name, [Math.min(least, value), Math.max(most, value)])
}
