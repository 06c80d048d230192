import type { Observation, OutlineNode } from './observation.js'
import { sitePath } from './seen-words.js'

/** On fewer pages than this share the first way out of the header leads to the front page by chance. */
const MOST_PAGES = 0.5

/**
 * The path of the front page: where the logo or the site's name leads, or what answers at `/`; `undefined` where it is
 * not among the pages that were observed.
 */
export function frontPathOf(seen: readonly Observation[]): string | undefined {
  const paths = new Set(seen.map(({ url }) => sitePath(url, url, undefined)))
  if (paths.has('/')) return '/'
  const counts = new Map<string, number>()
  for (const { parts, url } of seen) {
    const first = firstLink(parts.header?.outline ?? [])
    if (first === undefined) continue
    const path = sitePath(first.replace(/[?#].*/, ''), url, undefined)
    counts.set(path, (counts.get(path) ?? 0) + 1)
  }
  const [best] = [...counts].sort(([, a], [, b]) => b - a)
  return best && best[1] >= MOST_PAGES * seen.length && paths.has(best[0]) ? best[0] : undefined
}

const firstLink = (nodes: readonly OutlineNode[]): string | undefined => {
  for (const node of nodes) {
    const found = node.links?.[0]?.url ?? firstLink(node.items ?? [])
    if (found !== undefined) return found
  }
  return undefined
}
