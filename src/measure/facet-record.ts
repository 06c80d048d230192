import type { Json } from '../model/json.js'
import { rememberedWith } from '../model/remembered.js'
import type { Layout } from '../resolve/layout.js'
import type { ResolvedPage } from '../resolve/page.js'
import { PROPERTY_PATHS } from '../model/facets.js'
import { Frame } from './frame.js'
import { propertyInPx } from './facets.js'
import { facetBases } from './page.js'
import type { FacetBases, PageMeasure } from './page-measure.js'

/** Every property that has a value, by `facet.property`, at each viewport; lengths in CSS px. */
export type FacetRecord = Readonly<Record<string, Readonly<Record<string, Json>>>>

/** For how many states of a site and its styles the record of one layout is kept. */
const MOST_KEPT = 16
/** Facets depend on layout, style and what the site prints by names alone, which many pages share. */
const recordOf = rememberedWith<Layout, FacetRecord>(MOST_KEPT)

/**
 * The facets of a page at all the site's viewports: the same object for all pages that get the same.
 *
 * @param measured - The page as it was measured already, at each of the site's viewports.
 */
export function facetRecord(page: ResolvedPage, measured?: readonly PageMeasure[]): FacetRecord {
  const { viewports, data, printed } = page.site
  // Of what is printed by names only a header's height counts, which a measured page has.
  const rests: unknown[] = measured ? [viewports, data.typography] : [page.core.template, printed]
  for (const { clearance } of measured ?? []) rests.push(clearance)
  // Without style sheets no page needs a view of its own to be asked.
  if (data.styles) for (const { name } of viewports) rests.push(page.at(name).style)
  return recordOf(page.layout, rests, () =>
    Object.fromEntries(viewports.map(({ name }, n) => [name, valuesAt(measured?.[n] ?? facetBases(page, name))])),
  )
}

function valuesAt(measure: FacetBases): Readonly<Record<string, Json>> {
  const values: Record<string, Json> = {}
  const frame = new Frame(measure.view)
  for (const path of PROPERTY_PATHS) {
    const value = propertyInPx(measure, frame, path)
    if (value !== null) values[path] = value
  }
  return values
}
