import type { Json } from '../model/json.js'
import type { Layout } from '../resolve/layout.js'
import type { ResolvedPage } from '../resolve/page.js'
import type { StyleResult } from '../resolve/style-layer.js'
import { PROPERTY_PATHS } from '../model/facets.js'
import { Frame } from './frame.js'
import { propertyInPx } from './facets.js'
import { facetBases } from './page.js'
import type { FacetBases, PageMeasure } from './page-measure.js'

/** Every property that has a value, by `facet.property`, at each viewport; lengths in CSS px. */
export type FacetRecord = Readonly<Record<string, Readonly<Record<string, Json>>>>

interface Kept {
  /** What lengths rest on besides: such as the height of a header. */
  readonly rests: readonly unknown[]
  readonly styles: readonly StyleResult[]
  readonly record: FacetRecord
}

/** Facets depend on layout, style and what the site prints by names alone, which many pages share. */
const kept = new WeakMap<Layout, Kept[]>()

/**
 * The facets of a page at all the site's viewports: the same object for all pages that get the same.
 *
 * @param measured - The page as it was measured already, by viewport.
 */
export function facetRecord(page: ResolvedPage, measured?: (viewport: string) => PageMeasure): FacetRecord {
  const { viewports, data, printed } = page.site
  // Of what is printed by names only a header's height counts, which a measured page has.
  const rests = measured
    ? [viewports, data.typography, ...viewports.map(({ name }) => measured(name).clearance)]
    : [page.core.template, printed]
  // Without style sheets no page needs a view of its own to be asked.
  const styles = data.styles ? viewports.map(({ name }) => page.at(name).style) : []
  let ofLayout = kept.get(page.layout)
  if (!ofLayout) kept.set(page.layout, (ofLayout = []))
  const known = ofLayout.find((each) => isSame(each.rests, rests) && isSame(each.styles, styles))
  if (known) return known.record
  const record = Object.fromEntries(
    viewports.map(({ name }) => [name, valuesAt(measured?.(name) ?? facetBases(page, name))]),
  )
  if (ofLayout.length >= MOST_KEPT) ofLayout.shift()
  ofLayout.push({ rests, styles, record })
  return record
}

/** For how many states of a site and its styles the record of one layout is kept. */
const MOST_KEPT = 16

const isSame = (a: readonly unknown[], b: readonly unknown[]): boolean =>
  a.length === b.length && a.every((each, n) => each === b[n])

function valuesAt(measure: FacetBases): Readonly<Record<string, Json>> {
  const values: Record<string, Json> = {}
  const frame = new Frame(measure.view)
  for (const path of PROPERTY_PATHS) {
    const value = propertyInPx(measure, frame, path)
    if (value !== null) values[path] = value
  }
  return values
}
