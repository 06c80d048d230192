import type { Observation, OutlineNode } from './observation.js'
import { sitePath } from './seen-words.js'

/** What structured data calls a page, in the words of a site file. */
const KINDS: readonly (readonly [RegExp, string])[] = [
  [/(Article|BlogPosting)$/, 'article'],
  [/Product$/, 'product'],
  [/Event$/, 'event'],
]
const markedKind = ({ types }: Observation): string | undefined =>
  KINDS.find(([type]) => types.some((each) => type.test(each)))?.[1]

/** Fewer pages under one address are no kind of their own. */
const FEWEST = 3

/**
 * Kinds of pages by path: what their structured data declares, else the address that they share, where a listing on the
 * site leads to them.
 */
export function kindsOf(
  byPath: ReadonlyMap<string, readonly Observation[]>,
  nameOf: (text: string) => string,
): ReadonlyMap<string, string> {
  const found = new Map<string, string>()
  const listed = new Set<string>()
  for (const [path, views] of byPath) {
    const kind = views.map(markedKind).find((each) => each !== undefined)
    if (kind !== undefined) found.set(path, kind)
    for (const { outline, parts, url } of views)
      for (const link of listedIn([...outline, ...(parts.sidebar?.outline ?? [])]))
        listed.add(sitePath(link, url, undefined))
  }
  const under = new Map<string, string[]>()
  for (const path of byPath.keys()) {
    const above = path.split('/').slice(0, -1).join('/')
    if (above !== '' && listed.has(path) && !found.has(path)) under.set(above, [...(under.get(above) ?? []), path])
  }
  for (const [above, paths] of under)
    if (paths.length >= FEWEST)
      for (const path of byPath.keys())
        if (path.startsWith(`${above}/`) && !found.has(path)) found.set(path, nameOf(above))
  return found
}

const listedIn = (nodes: readonly OutlineNode[]): readonly string[] =>
  nodes.flatMap((node) => [
    ...(node.kind === 'listing' ? (node.links ?? []).map(({ url }) => url) : []),
    ...listedIn(node.items ?? []),
  ])
