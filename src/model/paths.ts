import { LayeredMap } from './layered-map.js'

/** A site, as far as its pages' paths go. */
interface Paged {
  readonly pageIds: readonly string[]
  readonly pageData: (id: string) => { readonly path: string } | undefined
}

/** A path without the slash at its end, which does not count. */
export const plainPath = (path: string): string => (path.length > 1 && path.endsWith('/') ? path.slice(0, -1) : path)

const known = new WeakMap<Paged, LayeredMap<string>>()

/** The ids of a site's pages by their plain paths. */
export function pathsOf(site: Paged): LayeredMap<string> {
  let paths = known.get(site)
  if (!paths) {
    paths = LayeredMap.of(new Map(site.pageIds.map((id) => [plainPath(site.pageData(id)?.path ?? ''), id])))
    known.set(site, paths)
  }
  return paths
}

/** Takes what is known of a site's paths along to one that differs from it in some pages. */
export function carryPaths(before: Paged, after: Paged, pages: Iterable<string>): void {
  const paths = known.get(before)
  if (!paths) return
  const changes = new Map<string, string | undefined>()
  const moved = [...pages].filter((id) => before.pageData(id)?.path !== after.pageData(id)?.path)
  const pathOf = (site: Paged, id: string): string | undefined => {
    const path = site.pageData(id)?.path
    return path === undefined ? undefined : plainPath(path)
  }
  for (const id of moved) {
    const old = pathOf(before, id)
    if (old !== undefined && paths.get(old) === id) changes.set(old, undefined)
  }
  for (const id of moved) {
    const now = pathOf(after, id)
    if (now !== undefined) changes.set(now, id)
  }
  known.set(after, changes.size === 0 ? paths : paths.with(changes))
}
