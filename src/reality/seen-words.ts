import { parseColor } from '../css/color.js'
import { pageAnswering } from '../inspect/links.js'
import type { PresentFacet } from '../model/facets.js'
import { plainPath } from '../model/paths.js'
import type { Site } from '../model/site.js'
import type { Observation, ObservedBox, OutlineNode } from './observation.js'

export const roundedPx = (px: number): number => Math.round(px * 100) / 100 || 0

/** Colors written the same: `rgba` of whole channels, alpha to two decimals. */
export function sameColor(text: string | undefined): string | undefined {
  const color = text === undefined ? null : parseColor(text)
  if (!color) return undefined
  const [r, g, b] = [color.r, color.g, color.b].map((channel) => Math.round(channel * 255))
  return color.alpha === 0 ? 'transparent' : `rgba(${r}, ${g}, ${b}, ${Math.round(color.alpha * 100) / 100})`
}

/** White space folded. */
export const folded = (text: string): string => text.replace(/\s+/g, ' ').trim()

/** A heading's words without the sign of its link to itself. */
export const headingWords = (text: string): string => folded(text).replace(/\s*[¶#§🔗]+$/u, '')

/** What of a box is in the window: what sticks out of it is slid to, and is a fault of its own. */
export function inWindow(box: ObservedBox, { viewport }: Observation): ObservedBox {
  const width = viewport?.width ?? Infinity
  const [left, right] = [Math.max(0, box.x), Math.min(width, box.x + box.width)]
  return right <= left ? box : { ...box, x: left, width: roundedPx(right - left) }
}

/** Parts of a page that are there or not. */
export const PARTS_SEEN: readonly PresentFacet[] = ['header', 'footer', 'title', 'byline', 'leadImage', 'comments']

export const gapBetween = (column: ObservedBox, sidebar: ObservedBox, isBeside: boolean): number =>
  !isBeside
    ? sidebar.y - column.y - column.height
    : sidebar.x > column.x
      ? sidebar.x - column.x - column.width
      : column.x - sidebar.x - sidebar.width

export const plainAddress = (path: string): string => path.replace(/(.)\/+$/, '$1')

/** The page of a site that answers at a path, with or without the file's name. */
export function pageSeenAt(site: Site, path: string): string | undefined {
  const plain = plainPath(path.replace(/[?#].*$/, ''))
  const short = plainPath(plain.replace(/\/index\.html?$/i, '/'))
  return pageAnswering(site, plain) ?? pageAnswering(site, short) ?? pageAnswering(site, plain.replace(/\.html?$/i, ''))
}

/** What a draft calls a section whose markup has no id: there is nothing by which it could be found again. */
export const UNNAMED = /^(unnamed(-\d+)?|(band|text|space)(-\d+)+)$/
/** In a header or footer of a draft: what else is there is each page's own. */
export const UNTOLD_TEXT = '…'
/** What a draft calls all that is between two bands: what is in it is not reported. */
export const UNTOLD = /^(text|space)(-\d+)+$/

/** A path of the site where an address leads to it: at the origin it was observed at, or its own. */
export function sitePath(address: string, at: string, own_: string | undefined): string {
  for (const base of [at, own_]) {
    const here = base === undefined ? undefined : parseUrl(base)
    const there = parseUrl(address)
    if (here && there && there.origin === here.origin)
      return plainAddress(decodePath(there.pathname).replace(/^\/index\.html?$/i, '/') + there.search) || '/'
  }
  return address
}

const decodePath = (path: string): string => {
  try {
    return decodeURI(path)
  } catch {
    return path
  }
}

function parseUrl(text: string): { origin: string; pathname: string; search: string } | undefined {
  const found = /^(https?:\/\/[^/?#]+)([^?#]*)(\?[^#]*)?/i.exec(text)
  return found
    ? { origin: (found[1] ?? '').toLowerCase(), pathname: found[2] || '/', search: found[3] ?? '' }
    : undefined
}

/** Every text of an outline, white space folded. */
export const textsIn = (nodes: readonly OutlineNode[]): string[] =>
  nodes.flatMap((node) => [...(node.text === undefined ? [] : [folded(node.text)]), ...textsIn(node.items ?? [])])

/** Everything in an outline that has an id. */
export function namedSections(outline: readonly OutlineNode[]): ReadonlyMap<string, OutlineNode> {
  const found = new Map<string, OutlineNode>()
  const look = (nodes: readonly OutlineNode[]): void => {
    for (const node of nodes) {
      if (node.id !== undefined && !found.has(node.id)) found.set(node.id, node)
      look(node.items ?? [])
    }
  }
  look(outline)
  return found
}

/** What a site file calls the positions of CSS. */
export const SEEN_POSITIONS: Readonly<Record<string, string>> = {
  ...{ static: 'flow', relative: 'flow', absolute: 'overlay', fixed: 'fixed', sticky: 'sticky' },
}
