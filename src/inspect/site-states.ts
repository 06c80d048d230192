import { remembered } from '../model/remembered.js'
import { ValueError } from '../model/unknown-name.js'
import { Renumbering } from '../resolve/renumbered.js'
import type { ResolvedSite, SiteChange } from '../resolve/resolve-site.js'

const positionsOf = remembered(
  (ids: readonly string[]): ReadonlyMap<string, number> => new Map(ids.map((id, n) => [id, n])),
)

/** Where a page is in the order of its site. */
export function positionIn({ pageIds }: ResolvedSite): (page: string) => number {
  const positions = positionsOf(pageIds)
  return (page) => positions.get(page) ?? 0
}

/** All that changed from one state to a later one. @throws {ValueError} Where the later one was not made out of it. */
export function changesSince(before: ResolvedSite, after: ResolvedSite): Omit<SiteChange, 'before' | 'isReread'> {
  const edited = new Set<string>()
  const reached = new Set<string>()
  let isAll = false
  let renumbering = new Renumbering()
  for (let here: ResolvedSite | undefined = after; here && here !== before;) {
    const { change } = here as ResolvedSite
    if (!change) throw new ValueError('expected a site that was made from the other by changes')
    for (const id of change.edited) edited.add(id)
    renumbering = change.renumbering.then(renumbering)
    if (change.reach === 'all') isAll = true
    else for (const id of change.reach) reached.add(id)
    here = change.before
  }
  return { edited, reach: isAll ? 'all' : reached, renumbering }
}

/** The states that a site was made out of, nearest first, as far as they are held on to. */
export function* earlierStates(resolved: ResolvedSite): Iterable<ResolvedSite> {
  for (let here = resolved.change?.before; here; here = here.change?.before) yield here
}
