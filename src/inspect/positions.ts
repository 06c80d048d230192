import { remembered } from '../model/remembered.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'

const positionsOf = remembered(
  (ids: readonly string[]): ReadonlyMap<string, number> => new Map(ids.map((id, n) => [id, n])),
)

/** The position of a page in the order of its site; -1 where it has none. */
export function positionIn({ pageIds }: Pick<ResolvedSite, 'pageIds'>): (page: string) => number {
  const positions = positionsOf(pageIds)
  return (page) => positions.get(page) ?? -1
}
