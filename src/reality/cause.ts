import { isPropertyPath } from '../model/facets.js'
import type { Json } from '../model/json.js'
import type { Patch } from '../model/patch.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import type { Discrepancy } from './compare.js'

/** A single change of the site file that would make some pages what they really are. */
export interface Cause {
  readonly title: string
  readonly patch: Patch
  /** What in the site file it would change. */
  readonly at: string
}

/** Pages on which the same is seen of a property. */
export interface DriftGroup {
  readonly property: string
  readonly pages: readonly string[]
  readonly discrepancies: readonly Discrepancy[]
  /** What is seen, by viewport; the same on all its pages. */
  readonly seen: ReadonlyMap<string, Json>
}

/** A value for all viewports, and one that is set only where it is seen. */
export function spread(
  now: ResolvedSite,
  seen: ReadonlyMap<string, Json>,
  to: (value: Json, viewport: string) => Json,
  pages: readonly string[],
  property: string,
): readonly Json[] {
  const said = [...seen].map(([viewport, value]) => [viewport, to(value, viewport)] as const)
  const distinct = new Set(said.map(([, value]) => JSON.stringify(value)))
  const plain = distinct.size === 1 && said[0] ? [said[0][1]] : []
  const first = pages[0] === undefined ? undefined : now.page(pages[0])
  if (said.length === now.site.viewports.length && distinct.size === 1) return plain
  const map = new Map(said)
  const all = now.site.viewports.flatMap(({ name }) => {
    const value =
      map.get(name) ??
      (first && !first.dormant && isPropertyPath(property) ? first.at(name).value(property) : undefined)
    return value === undefined || value === null ? [] : [[name, value] as const]
  })
  return [...plain, ...(all.length > 0 ? [Object.fromEntries(all) as Json] : [])]
}

/** A number of px as a setting; other values as they are. */
export const pxSetting = (value: Json): Json => (typeof value === 'number' ? `${value}px` : value)
