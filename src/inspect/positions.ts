import { remembered } from '../model/remembered.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'

const positionsOf = remembered(
  (ids: readonly string[]): ReadonlyMap<string, number> => new Map(ids.map((id, n) => [id, n])),
)

/** Positions of pages in the order of their site; -1 for a page that is not in it. */
export function positionIn({ pageIds }: Pick<ResolvedSite, 'pageIds'>): (page: string) => number {
  const positions = positionsOf(pageIds)
  return (page) => positions.get(page) ?? -1
}
