import { parseLength } from '../css/length.js'
import {
  partsOf,
  pathOf,
  definitionOf,
  FACET_NAMES,
  FACETS,
  type PercentBase,
  type PropertyPath,
} from '../model/facets.js'
import type { Json, JsonObject } from '../model/json.js'
import { frameOf } from './page.js'
import type { FacetBases, PageMeasure } from './page-measure.js'
import type { Frame } from './frame.js'

/**
 * All facets of a measured page as plain values: lengths in CSS px to three decimals (`auto` as the px it comes to,
 * `padding` as four numbers), `null` where nothing has a value.
 *
 * @example
 * facetsInPx(measurePage(resolved.page('visit'), 'desk'))['spacing'] // => { before: 32, after: 32 }
 */
export function facetsInPx(measure: PageMeasure): Record<string, JsonObject> {
  const frame = frameOf(measure)
  const out: Record<string, JsonObject> = {}
  for (const facet of FACET_NAMES) {
    const properties: Record<string, Json> = {}
    for (const property of Object.keys(FACETS[facet]))
      properties[property] = propertyInPx(measure, frame, pathOf(facet, property))
    out[facet] = properties
  }
  return out
}

/** To three decimals, as lengths are in machine output. */
export const rounded = (px: number): number => Math.round(px * 1000) / 1000 || 0

/** One property of a measured page, as `facetsInPx` gives it. */
export function propertyInPx(measure: FacetBases, frame: Frame, path: PropertyPath): Json {
  const { view } = measure
  const definition = definitionOf(path)
  const value = view.value(path)
  switch (definition?.type) {
    case 'presences': {
      const facet = partsOf(path).facet as 'header' | 'footer'
      const ids = view.page.layout.itemsOf(facet)
      return ids.length > 0 ? Object.fromEntries(ids.map((id) => [id, view.presence(`${facet}.items.${id}`)])) : null
    }
    case 'length': {
      if (path === 'header.clearance') return rounded(measure.clearance)
      const length = typeof value === 'string' || typeof value === 'number' ? parseLength(value) : null
      if (!length) return value
      return rounded(Math.max(0, length.px(frame.context(percentBase(measure, definition.percentOf)))))
    }
    case 'sides': {
      if (typeof value !== 'string' && typeof value !== 'number') return value
      const base =
        definition.percentOf === 'box' ? measure.box('title')?.width : percentBase(measure, definition.percentOf)
      const { top, right, bottom, left } = frame.sides(value, base ?? view.viewport.width)
      return [top, right, bottom, left].map(rounded)
    }
    default:
      return value
  }
}

function percentBase(measure: FacetBases, percentOf: PercentBase): number | undefined {
  if (percentOf === null) return undefined
  const container = measure.box('container')?.width
  return percentOf === 'container' && container !== undefined ? container : measure.viewport.width
}
