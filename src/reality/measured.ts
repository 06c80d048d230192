import { setAt } from '../inspect/propose.js'
import { measurePage } from '../measure/page.js'
import type { Patch } from '../model/patch.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { Comparer, placeObservations, type Placed } from './compare.js'
import type { Observation, ObservationFailure } from './observation.js'

/** A shared header or footer with the heights that were measured of it. */
export interface MeasuredSurround {
  readonly id: string
  /** Px by viewport. */
  readonly heights: Readonly<Record<string, number>>
  /** Pages on which it was seen with these heights, of those that show it as it is. */
  readonly pages: number
  readonly of: number
}

/** Nearer than this a height is what was worked out (design, section 5: half a CSS px). */
const SAME_PX = 0.5

/**
 * What real headers and footers measure, where that is not what is worked out, as a patch of `surrounds.*.measured`.
 * Pages that take something away from a surround show nothing of it as it is; where pages differ, most decide.
 */
export function measuredHeights(
  resolved: ResolvedSite,
  observations: readonly (Observation | ObservationFailure)[],
): { readonly surrounds: readonly MeasuredSurround[]; readonly patch: Patch } {
  const seen = new Map<string, Map<string, number[]>>()
  const off = new Set<string>()
  const { placed } = placeObservations(resolved, observations)
  const others = saidOtherwise(resolved, placed)
  for (const { page: id, observation } of placed) {
    const page = resolved.page(id)
    const viewport = observation.viewport?.name
    if (page.dormant || viewport === undefined || !resolved.site.viewports.some((v) => v.name === viewport)) continue
    const measure = measurePage(page, viewport)
    for (const part of ['header', 'footer'] as const) {
      const real = observation.parts[part]
      const { id: surround, height } = measure[part]
      const isWhole = measure.view.page.layout
        .itemsOf(part)
        .every((item) => measure.view.presence(`${part}.items.${item}`) === 'shown')
      if (
        surround === undefined ||
        !isWhole ||
        others.has(`${id} ${part}`) ||
        !measure.box(part) ||
        real?.presence !== 'shown' ||
        !real.box
      )
        continue
      const ofSurround = seen.get(surround) ?? new Map<string, number[]>()
      seen.set(surround, ofSurround.set(viewport, [...(ofSurround.get(viewport) ?? []), real.box.height]))
      if (Math.abs(real.box.height - height) > SAME_PX) off.add(surround)
    }
  }
  const surrounds = [...off].map((id): MeasuredSurround => {
    const ofSurround = seen.get(id)
    // In the order of the site, whatever the order of the observations.
    const byViewport = resolved.site.viewports.flatMap(({ name: viewport }) => {
      const heights = ofSurround?.get(viewport)
      return heights ? [{ viewport, ...usual(heights), of: heights.length }] : []
    })
    return {
      id,
      heights: Object.fromEntries(byViewport.map(({ viewport, height }) => [viewport, height])),
      pages: Math.min(...byViewport.map((each) => each.times)),
      of: Math.max(...byViewport.map((each) => each.of)),
    }
  })
  return {
    surrounds,
    patch: surrounds.flatMap(({ id, heights }) =>
      setAt(
        resolved.site,
        ['surrounds', id, 'measured'],
        Object.fromEntries(Object.entries(heights).map(([name, px]) => [name, `${px}px`])),
      ),
    ),
  }
}

/** Pages whose header or footer leads elsewhere or reads differently: it may be another one that is there. */
function saidOtherwise(resolved: ResolvedSite, placed: readonly Placed[]): ReadonlySet<string> {
  const found = new Comparer(placed, [], new Date()).compare(resolved)
  return new Set(
    found.flatMap(({ page, property }) => {
      const [part, what] = property.split('.')
      return what === 'links' || what === 'words' ? [`${page} ${part}`] : []
    }),
  )
}

/** The height that most have. */
function usual(heights: readonly number[]): { height: number; times: number } {
  const counts = new Map<number, number>()
  for (const height of heights) counts.set(height, (counts.get(height) ?? 0) + 1)
  const [[height, times] = [0, 0]] = [...counts].sort(([, a], [, b]) => b - a)
  return { height, times }
}
