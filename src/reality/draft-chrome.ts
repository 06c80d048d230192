import type { Json, JsonObject } from '../model/json.js'
import { ItemDrafts } from './draft-items.js'
import type { Drafts } from './draft-shared.js'
import { byViewport, px, wholePx, writtenColor, type Views } from './draft-values.js'
import type { OutlineNode } from './observation.js'
import { folded, UNTOLD_TEXT } from './seen-words.js'

const CHROME = ['header', 'footer', 'sidebar'] as const
export type ChromePart = (typeof CHROME)[number]

/** Headers, footers and sidebars of a draft: which one a page shows. */
export interface ChromeDrafts {
  /** The id of the surround that a page shows, by viewport where it shows several. */
  of(as: ChromePart, views: Views): Json | undefined
}

/** Pages whose header, footer or sidebar is one and the same but for what each has of its own. */
interface Group {
  readonly element: string
  readonly looks: string
  readonly heights: string
  readonly pages: Views[]
  /** What the first of them contains and leads to. */
  readonly first: ReadonlySet<string>
}

/** Of so much that two pages share, a header is the same one. */
const SAME_SHARE = 0.5
/** A footer whose height differs from page to page in more ways than this has no height of its own. */
const MOST_HEIGHTS = 2
/** A rail may lead to hundreds of pages; so many are written down. */
const MOST_ENTRIES = 12

/**
 * Headers, footers and sidebars as a person would name them: what most of it is the same on many pages is one, and what
 * a page has of its own in it (where it is, what comes next) is left out.
 */
export class SharedChrome implements ChromeDrafts {
  readonly #ids = new Map<string, string>()

  constructor(drafts: Drafts, pages: readonly Views[]) {
    for (const as of CHROME) {
      const groups = withoutStrayHeights(
        as,
        groupsOf(
          as,
          pages.flatMap((views) => byElement(as, views)),
        ),
      )
      for (const group of groups.sort((a, b) => b.pages.length - a.pages.length)) {
        const value = surroundOf(as, group, drafts)
        for (const views of group.pages) {
          const id = drafts.surrounds.of(value, as, views[0]?.seen.url)
          for (const view of showing(as, views)) this.#ids.set(keyOf(as, view), id)
        }
      }
    }
  }

  of(as: ChromePart, views: Views): Json | undefined {
    return byViewport(showing(as, views).map((view) => [view.name, this.#ids.get(keyOf(as, view))]))
  }
}

const keyOf = (as: ChromePart, { seen, name }: Views[number]): string => `${as} ${seen.url} ${name}`

/** The viewports at which one and the same element is the part: a page may have a bar for phones of its own. */
function byElement(as: ChromePart, views: Views): Views[] {
  const found = new Map<string, Views[number][]>()
  for (const view of showing(as, views)) {
    const element = nameIn(view.seen.parts[as]?.selector)
    found.set(element, [...(found.get(element) ?? []), view])
  }
  return [...found.values()]
}

/** An element's tag, id and first class: others may come and go with its state. */
const nameIn = (selector = ''): string => /^[^.]*(\.[^.]+)?/.exec(selector)?.[0] ?? ''

/** By which name an element is known from page to page; none where it has but a tag that identifies nothing. */
function elementOf(as: ChromePart, seen: Views): string {
  const name = nameIn(seen[0]?.seen.parts[as]?.selector)
  return /[#.]|^(header|footer|aside|nav)$/.test(name) ? name : ''
}

const showing = (as: ChromePart, views: Views): Views =>
  views.filter(({ seen: { parts } }) => parts[as]?.presence === 'shown')

function groupsOf(as: ChromePart, pages: readonly Views[]): Group[] {
  const groups: Group[] = []
  for (const views of pages) {
    const seen = showing(as, views)
    if (seen.length === 0) continue
    const element = elementOf(as, seen)
    const said = saidOn(as, views)
    const looks = as === 'sidebar' ? '' : JSON.stringify([colorOf(as, 'background', seen), colorOf(as, 'ink', seen)])
    const heights = JSON.stringify(heightOf(as, seen) ?? null)
    const same = groups.find(
      (group) =>
        group.looks === looks &&
        (as !== 'header' || group.heights === heights) &&
        ((element !== '' && group.element === element) || isAlike(group.first, said)),
    )
    if (same) same.pages.push(views)
    else groups.push({ element, looks, heights, pages: [views], first: said })
  }
  return groups
}

/** Footers that differ in height are different ones, where these are few. */
function withoutStrayHeights(as: ChromePart, groups: readonly Group[]): Group[] {
  if (as !== 'footer') return [...groups]
  return groups.flatMap((group) => {
    const byHeight = new Map<string, Views[]>()
    for (const views of group.pages) {
      const height = JSON.stringify(heightOf(as, showing(as, views)) ?? null)
      byHeight.set(height, [...(byHeight.get(height) ?? []), views])
    }
    if (byHeight.size > MOST_HEIGHTS) return [{ ...group, heights: '' }]
    return [...byHeight].map(([heights, pages]) => ({ ...group, heights, pages }))
  })
}

/** All that a page shows in its header, footer or sidebar, and where that leads. */
const saidOn = (as: ChromePart, views: Views): ReadonlySet<string> =>
  new Set(showing(as, views).flatMap((view) => view.seen.parts[as]?.outline?.flatMap(saidIn) ?? []))

/** What all pages show and lead to; a page need not lead to itself. */
function sharedBy(as: ChromePart, pages: readonly Views[]): ReadonlySet<string> {
  const counts = new Map<string, number>()
  const bump = (each: string): void => void counts.set(each, (counts.get(each) ?? 0) + 1)
  for (const views of pages) {
    const said = saidOn(as, views)
    said.forEach(bump)
    const own = views[0]?.seen.url
    if (own !== undefined && !said.has(own)) bump(own)
  }
  return new Set([...counts].flatMap(([each, n]) => (n === pages.length ? [each] : [])))
}

function isAlike(shared: ReadonlySet<string>, said: ReadonlySet<string>): boolean {
  const both = [...said].filter((each) => shared.has(each)).length
  return both >= SAME_SHARE * Math.min(shared.size, said.size)
}

/** The texts in a thing, and where it leads. */
const saidIn = (node: OutlineNode): readonly string[] => [
  ...(node.text === undefined ? [] : [folded(node.text)]),
  ...(node.links ?? []).map(({ url }) => url),
  ...(node.items ?? []).flatMap(saidIn),
]

const heightOf = (as: ChromePart, seen: Views): Json | undefined =>
  byViewport(seen.map((view) => [view.name, wholePx(view.seen.parts[as]?.box?.height)]))

const colorOf = (as: ChromePart, key: 'background' | 'ink', seen: Views): Json | undefined =>
  byViewport(
    seen.map((view) => [
      view.name,
      writtenColor(view.seen.parts[as]?.[key]) ?? (key === 'background' ? 'transparent' : undefined),
    ]),
  )

function surroundOf(as: ChromePart, group: Group, drafts: Drafts): JsonObject {
  const shared = sharedBy(as, group.pages)
  // The page that has the most of it: one may lack the link to itself.
  const views = group.pages.reduce((best, each) => {
    const count = (of: Views): number => [...saidOn(as, of)].filter((said) => shared.has(said)).length
    return count(each) > count(best) ? each : best
  }, group.pages[0] ?? [])
  const seen = showing(as, views)
  const [widest] = seen
  const outlines = (widest?.seen.parts[as]?.outline ?? []).flatMap(leavesOf).map(asMenu)
  const drafted = new ItemDrafts(drafts, views, (each) => each.parts[as]?.outline ?? [])
  const items = outlines.flatMap((node) => {
    const kept = sharedOf(node, shared)
    return (kept ? byEntries(kept, drafted, views) : []).flatMap(({ node: each, hide }) => {
      const item = drafted.item(each)
      if (!item) return []
      const { height, ...rest } = item
      const all = [...new Set([...((rest['hide'] ?? []) as readonly string[]), ...hide])]
      // A logo is as tall as it is seen; of what else is in a bar of known height its own is not needed.
      const tall = node.kind === 'logo' && height !== undefined ? { height } : {}
      return [{ ...rest, ...tall, ...(all.length > 0 && { hide: all }) }]
    })
  })
  if (as === 'sidebar') return { as, items: [...items.slice(0, MOST_ENTRIES), { ...UNTOLD }] }
  const isWhole =
    items.length > 0 && group.pages.every((page) => [...saidOn(as, page)].every((each) => shared.has(each)))
  const height = group.heights === '' ? undefined : heightOf(as, seen)
  const ink = colorOf(as, 'ink', seen)
  return {
    as,
    ...(height !== undefined && { height }),
    background: colorOf(as, 'background', seen) ?? 'transparent',
    ...(ink !== undefined && { ink }),
    rows: [{ id: 'bar', items: isWhole ? items : [...items, { ...UNTOLD }] }],
  }
}

/** The entries of a menu by the viewports at which they are not seen while others of it are. */
function byEntries(
  node: OutlineNode,
  drafted: ItemDrafts,
  views: Views,
): readonly { node: OutlineNode; hide: readonly string[] }[] {
  if (node.kind !== 'menu' || node.presence !== 'shown') return [{ node, hide: [] }]
  const at = drafted.at(node.at)
  const groups = new Map<string, { links: NonNullable<OutlineNode['links']>; hide: readonly string[] }>()
  for (const link of node.links ?? []) {
    const hide = views.flatMap(({ name }, n) => {
      const here = at[n]
      return here?.presence === 'shown' && !here.links?.some(({ url }) => url === link.url) ? [name] : []
    })
    const key = hide.join()
    groups.set(key, { hide, links: [...(groups.get(key)?.links ?? []), link] })
  }
  return [...groups.values()].map(({ hide, links }) => ({ node: { ...node, links }, hide }))
}

/** A list of which the words are all links is a menu. */
function asMenu(node: OutlineNode): OutlineNode {
  const { kind, links = [], text = '' } = node
  const linked = links.reduce((sum, { label }) => sum + label.length, 0)
  if (kind !== 'text' || links.length < 2 || linked < MENU_SHARE * text.replace(/\s+/g, '').length) return node
  const { text: _text, words: _words, ...rest } = node
  return { ...rest, kind: 'menu' }
}

const MENU_SHARE = 0.8

/** What else is there is each page's own. */
const UNTOLD = { text: UNTOLD_TEXT }

/** A thing as far as all pages have it. */
function sharedOf(node: OutlineNode, shared: ReadonlySet<string>): OutlineNode | undefined {
  const links = (node.links ?? []).filter(({ url }) => shared.has(url))
  if (node.links && node.links.length > 0 && links.length === 0) return undefined
  const isText = node.text !== undefined && node.kind !== 'menu'
  if (isText && !shared.has(folded(node.text ?? ''))) {
    // What leads the same way from page to page stays, whatever is around it.
    const { text: _text, words: _words, ...rest } = node
    const named = links.filter(({ label }) => label !== '')
    return named.length === 0 ? undefined : { ...rest, kind: 'menu', links: named }
  }
  return { ...node, ...(node.links && { links }) }
}

/** What is in a list, groups opened. */
export const leavesOf = (node: OutlineNode): readonly OutlineNode[] =>
  node.kind === 'section' ? (node.items ?? []).flatMap(leavesOf) : [node]

/** Headers, footers and sidebars to the last item, one for every difference. */
export class SurroundDrafts implements ChromeDrafts {
  readonly #drafts: Drafts

  constructor(drafts: Drafts) {
    this.#drafts = drafts
  }

  of(as: ChromePart, views: Views): Json | undefined {
    const seen = showing(as, views)
    const [widest] = seen
    if (!widest) return undefined
    const height = byViewport(seen.map((view) => [view.name, px(view.seen.parts[as]?.box?.height)]))
    const ink = colorOf(as, 'ink', seen)
    const items = new ItemDrafts(this.#drafts, views, (o) => o.parts[as]?.outline ?? [], true)
    const outline = widest.seen.parts[as]?.outline ?? []
    const rows = outline.map(leavesOf)
    const isOneRow = outline.every((node) => node.kind !== 'section')
    const value: JsonObject =
      as === 'sidebar'
        ? { as, items: items.column(rows.flat(), (each) => each.parts[as]?.box) }
        : {
            as,
            ...(height !== undefined && { height }),
            background: colorOf(as, 'background', seen) ?? 'transparent',
            ...(ink !== undefined && { ink }),
            rows: (isOneRow ? [rows.flat()] : rows)
              .map((nodes, n) => ({ id: `row-${n + 1}`, items: nodes.flatMap((node) => items.item(node) ?? []) }))
              .filter((row) => row.items.length > 0),
          }
    return this.#drafts.surrounds.of(value, as, widest.seen.url)
  }
}
