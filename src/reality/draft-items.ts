import type { Json, JsonObject } from '../model/json.js'
import type { Drafts } from './draft-shared.js'
import { byViewport, nodesByPlace, PX, px, shownBox, type Views } from './draft-values.js'
import type { Observation, ObservedBox, OutlineNode } from './observation.js'
import { sitePath } from './seen-words.js'

/** Single things, in the words of a site file, with their heights at each viewport. */
export class ItemDrafts {
  readonly #drafts: Drafts
  readonly #views: Views
  readonly #nodes: readonly ReadonlyMap<string, OutlineNode>[]
  readonly #withIds: boolean
  #next = 0

  constructor(drafts: Drafts, views: Views, outlineOf: (seen: Observation) => readonly OutlineNode[], withIds = false) {
    this.#drafts = drafts
    this.#views = views
    this.#nodes = views.map(({ seen }) => nodesByPlace(outlineOf(seen)))
    this.#withIds = withIds
  }

  at(place: string): readonly (OutlineNode | undefined)[] {
    return this.#nodes.map((nodes) => nodes.get(place))
  }

  /** A value of a node at each viewport at which it is shown. */
  sized(place: string, of: (node: OutlineNode) => Json | undefined): Json | undefined {
    return byViewport(
      this.at(place).map((node, n) => [this.#views[n]?.name ?? '', node?.presence === 'shown' ? of(node) : undefined]),
    )
  }

  /** Viewports at which it is there and not shown. */
  hiddenAt(place: string): readonly string[] {
    return this.at(place).flatMap((node, n) => (node && node.presence !== 'shown' ? [this.#views[n]?.name ?? ''] : []))
  }

  /** Free space between two things under one another; `undefined` where there is none at any viewport. */
  gap(above: string, below: string): Json | undefined {
    const [upper, lower] = [this.at(above), this.at(below)]
    return this.#gapOf((n) => {
      const [a, b] = [shownBox(upper[n]), shownBox(lower[n])]
      return a && b ? b.y - a.y - a.height : undefined
    })
  }

  #gapOf(at: (view: number) => number | undefined): Json | undefined {
    const gaps = this.#views.map(({ name }, n) => [name, at(n)] as const)
    if (gaps.every(([, gap]) => (gap ?? 0) <= PX)) return undefined
    return byViewport(gaps.map(([name, gap]) => [name, gap === undefined ? undefined : px(Math.max(0, gap))]))
  }

  /** Things under one another in a box, with the gaps above, between and below them. */
  column(nodes: readonly OutlineNode[], boxOf: (seen: Observation) => ObservedBox | undefined): JsonObject[] {
    const [first, last] = [nodes[0], nodes.at(-1)]
    if (!first || !last) {
      const gap = this.#gapOf((n) => {
        const view = this.#views[n]
        return view && boxOf(view.seen)?.height
      })
      return gap === undefined ? [] : [{ gap }]
    }
    const [top, bottom] = [this.at(first.at), this.at(last.at)]
    const outer = this.#views.map(({ seen }) => boxOf(seen))
    const before = this.#gapOf((n) => difference(shownBox(top[n])?.y, outer[n]?.y))
    const after = this.#gapOf((n) => difference(endOf(outer[n]), endOf(shownBox(bottom[n]))))
    const inside = nodes.flatMap((node, n): JsonObject[] => {
      const previous = nodes[n - 1]
      const gap = previous && this.gap(previous.at, node.at)
      const item = this.item(node)
      return item ? [...(gap === undefined ? [] : [{ gap }]), item] : []
    })
    return [
      ...(before === undefined ? [] : [{ gap: before }]),
      ...inside,
      ...(after === undefined ? [] : [{ gap: after }]),
    ]
  }

  item(node: OutlineNode): JsonObject | undefined {
    const hide = this.hiddenAt(node.at)
    if (hide.length === this.#views.length) return undefined
    const kind = this.#kind(node)
    if (!kind) return undefined
    const height = this.sized(node.at, ({ box }) => px(box?.height))
    this.#next += 1
    return {
      ...(this.#withIds && { id: `${node.kind}-${this.#next}` }),
      ...kind,
      ...(height !== undefined && { height }),
      ...(hide.length > 0 && { hide: [...hide] }),
    }
  }

  #kind(node: OutlineNode): JsonObject | undefined {
    const { text = '', links = [] } = node
    switch (node.kind) {
      case 'heading':
        if (node.title) return { title: true }
        return { heading: Math.min(6, Math.max(1, node.level ?? 2)), text, ...this.#linking(links) }
      case 'text':
        return { text, ...this.#linking(links) }
      case 'image':
        return {
          image: this.#drafts.assets.of(node.source, this.#largest(node)),
          ...this.#linking(links),
        }
      case 'logo':
        return { logo: this.#drafts.assets.of(node.source, this.#largest(node)) }
      case 'menu':
        return {
          menu: this.#drafts.menus.of(
            links.map(({ label, url }) => ({ label: label || url, ...this.#leads(url) })),
            'menu',
          ),
        }
      case 'button': {
        const [first] = links
        return { button: text, ...(first && this.#leads(first.url)) }
      }
      case 'form':
        return { form: 'form', fields: node.fields ?? 1 }
      case 'search':
        return { search: true }
      case 'listing':
        return {
          listing: this.#kindOf(links.map(({ url }) => this.#path(url))),
          count: new Set(links.map(({ url }) => url)).size,
        }
      case 'embed':
        return { embed: node.source ?? 'about:blank' }
      default:
        return undefined
    }
  }

  #largest(node: OutlineNode): ObservedBox | undefined {
    return this.at(node.at).find((each) => each?.presence === 'shown' && (each.box?.width ?? 0) > 0)?.box
  }

  #path(url: string): string {
    const at = this.#views[0]?.seen.url ?? ''
    const [page = '', anchor] = url.split('#')
    return anchor !== undefined && page === at ? `#${anchor}` : sitePath(url, at, undefined)
  }

  #linking(links: NonNullable<OutlineNode['links']>): JsonObject {
    return links.length > 0 ? { links: links.map(({ url }) => this.#target(url)) } : {}
  }

  #leads(url: string): JsonObject {
    const path = this.#path(url)
    const id = this.#drafts.idOf(path)
    return id === undefined ? { url: path } : { page: id }
  }

  /** The kind of most of some pages. */
  #kindOf(paths: readonly string[]): string {
    const counts = new Map<string, number>()
    for (const path of paths) {
      const kind = this.#drafts.kindOf(path) ?? 'page'
      counts.set(kind, (counts.get(kind) ?? 0) + 1)
    }
    return [...counts].sort(([, a], [, b]) => b - a)[0]?.[0] ?? 'page'
  }

  #target(url: string): string {
    const path = this.#path(url)
    return this.#drafts.idOf(path) ?? path
  }
}

const endOf = (box: ObservedBox | undefined): number | undefined => box && box.y + box.height
const difference = (a: number | undefined, b: number | undefined): number | undefined =>
  a === undefined || b === undefined ? undefined : a - b
