import type { Json, JsonObject } from '../model/json.js'
import { byViewport, isBand, PX, px, shownBox, writtenColor, type Views } from './draft-values.js'
import { ItemDrafts } from './draft-items.js'
import { arrangeOf, COLUMN_PARTS, holdsTitle, placeOf, withoutTitle } from './draft-places.js'
import { freshName, type Drafts } from './draft-shared.js'
import type { Observation, ObservedBox, OutlineNode } from './observation.js'

export interface InsertDraft {
  readonly at: string
  readonly data: JsonObject
  /** By viewport. */
  readonly heights: ReadonlyMap<string, number>
}

export interface ContentDraft {
  readonly body: readonly JsonObject[]
  readonly inserts: readonly InsertDraft[]
  /** What the column holds in order, with gaps; `undefined` where it is what a template without `arrange` prints. */
  readonly arrange: Json | undefined
  /** Whether the title is among the content, and not where a theme puts it. */
  readonly hasTitle?: boolean
}

/** What things are in, at a viewport. */
interface Strip {
  readonly x: number
  readonly width: number
}
type StripOf = (view: number) => Strip | undefined

/** What is in a page's content. */
export function draftContent(drafts: Drafts, views: Views): ContentDraft {
  const [widest] = views
  if (!widest) return { body: [], inserts: [], arrange: undefined }
  const hasTitle = holdsTitle(widest.seen.outline)
  const mine = hasTitle ? views.map((view) => ({ ...view, seen: withoutTitle(view.seen) })) : views
  return { ...new PageContent(drafts, mine, mine[0]?.seen ?? widest.seen).read(), hasTitle }
}

class PageContent {
  readonly #views: Views
  readonly #seen: Observation
  readonly #items: ItemDrafts
  readonly #drafts: Drafts
  readonly #names = new Set<string>()

  constructor(drafts: Drafts, views: Views, seen: Observation) {
    this.#drafts = drafts
    this.#views = views
    this.#seen = seen
    this.#items = new ItemDrafts(drafts, views, (each) => each.outline)
  }

  read(): ContentDraft {
    const inserts: InsertDraft[] = []
    const body: OutlineNode[] = []
    for (const node of this.#seen.outline) {
      const place = placeOf(this.#seen, this.#items, node)
      if (place === 'body') body.push(node)
      else if (place !== undefined) {
        const data = this.#section(node, (n) => this.#window(n))
        if (data) inserts.push({ at: place, data: asInsert(data, place), heights: this.#heights(node) })
      }
    }
    const { before, after } = this.#gapsAround(body)
    return {
      body: this.#inSections(this.#list(body, (n) => this.#column(n))),
      inserts,
      arrange: arrangeOf(
        this.#seen,
        body.flatMap((node) => node.box ?? []),
        { before, after },
      ),
    }
  }

  /** A body is a list of sections: what is between them is put into some without a name of their own. */
  #inSections(things: readonly JsonObject[]): JsonObject[] {
    const out: JsonObject[] = []
    let open: JsonObject[] = []
    const close = (): void => {
      if (open.length > 0) out.push({ section: this.#nameOf(undefined), items: open })
      open = []
    }
    for (const thing of things)
      if ('section' in thing) {
        close()
        out.push(thing)
      } else open.push(thing)
    close()
    return out
  }

  #nameOf(id: string | undefined): string {
    const name = freshName(id ?? 'unnamed', (each) => this.#names.has(each))
    this.#names.add(name)
    return name
  }

  #heights(node: OutlineNode): ReadonlyMap<string, number> {
    return new Map(
      this.#items.at(node.at).flatMap((each, n) => {
        const view = this.#views[n]
        return view && each?.presence === 'shown' && each.box ? [[view.name, each.box.height] as const] : []
      }),
    )
  }

  #column(view: number): Strip | undefined {
    const parts = this.#views[view]?.seen.parts
    return parts?.column?.box ?? parts?.container?.box
  }

  #window(view: number): Strip | undefined {
    const width = this.#views[view]?.width
    return width === undefined ? undefined : { x: 0, width }
  }

  /** Free space above the first and below the last thing of the content, by viewport. */
  #gapsAround(body: readonly OutlineNode[]): { before: Json | undefined; after: Json | undefined } {
    const gaps = this.#views.map(({ name, seen }, n) => {
      const column = seen.parts.column?.box ?? seen.parts.container?.box
      const boxes = body.flatMap((node) => shownBox(this.#items.at(node.at)[n]) ?? [])
      const parts = COLUMN_PARTS.filter(
        (part) => !((part === 'title' || part === 'leadImage') && isBand(seen, part)),
      ).flatMap((part) => {
        const found = seen.parts[part]
        return found?.presence === 'shown' && found.box ? [found.box] : []
      })
      const [top, bottom] = [Math.min(...boxes.map((b) => b.y)), Math.max(...boxes.map((b) => b.y + b.height))]
      if (!column || boxes.length === 0) return { name, before: undefined, after: undefined }
      const over = Math.max(column.y, ...parts.filter((b) => b.y + b.height <= top + PX).map((b) => b.y + b.height))
      const under = Math.min(column.y + column.height, ...parts.filter((b) => b.y >= bottom - PX).map((b) => b.y))
      return { name, before: top - over, after: under - bottom }
    })
    const said = (key: 'before' | 'after'): Json | undefined => {
      if (gaps.every((gap) => (gap[key] ?? 0) <= PX)) return undefined
      return byViewport(gaps.map((gap) => [gap.name, gap[key] === undefined ? undefined : px(Math.max(0, gap[key]))]))
    }
    return { before: said('before'), after: said('after') }
  }

  /** Things under one another, with the gaps between them. */
  #list(nodes: readonly OutlineNode[], strip: StripOf): JsonObject[] {
    return nodes.flatMap((node, n): JsonObject[] => {
      const previous = nodes[n - 1]
      const gap = previous && this.#items.gap(previous.at, node.at)
      const made = node.kind === 'section' ? this.#section(node, strip) : this.#leaf(node, strip)
      return made ? [...(gap === undefined ? [] : [{ gap }]), made] : []
    })
  }

  #leaf(node: OutlineNode, strip: StripOf): JsonObject | undefined {
    const item = this.#items.item(node)
    if (!item || node.kind !== 'image') return item
    const isOwn = this.#boxes(node).some((box, n) => box && Math.abs(box.width - (strip(n)?.width ?? box.width)) > PX)
    const width = isOwn ? this.#items.sized(node.at, ({ box }) => px(box?.width)) : undefined
    return width === undefined ? item : { ...item, width }
  }

  /** Where a thing is at each viewport at which it is shown. */
  #boxes(node: OutlineNode): readonly (ObservedBox | undefined)[] {
    return this.#items.at(node.at).map(shownBox)
  }

  #sized(of: (view: number) => Json | undefined): Json | undefined {
    return byViewport(this.#views.map(({ name }, n) => [name, of(n)]))
  }

  #section(node: OutlineNode, strip: StripOf): JsonObject | undefined {
    const { at } = node
    const hide = this.#items.hiddenAt(at)
    if (hide.length === this.#views.length) return undefined
    const id = this.#nameOf(node.id)
    const padding = this.#items.sized(at, (each) => (each.padding ? sidesText(each.padding) : '0px'))
    const color = this.#items.sized(at, ({ background }) => writtenColor(background))
    const boxes = this.#boxes(node)
    const inner = insideOf(node)
    const columns = columnsOf(node)
    const { maxWidth, inside } = this.#insideOf(node, columns ?? inner)
    const isWindow = boxes.every((box, n) => !box || box.width >= (this.#views[n]?.width ?? Infinity) - PX)
    const hasGround = color !== undefined || node.picture === true
    const place = this.#placeIn(boxes, strip, isWindow)
    const items = columns ? undefined : this.#list(inner, inside)
    const made: JsonObject = {
      section: id,
      ...(isRole(node.role) && { role: node.role }),
      ...(hasGround && isWindow && { band: 'full' }),
      ...place,
      ...(padding !== undefined && padding !== '0px' && { padding }),
      ...(maxWidth !== undefined && { maxWidth }),
      ...(hasGround && {
        background: {
          ...(color !== undefined && { color }),
          ...(node.picture && { image: this.#drafts.assets.of(`background of ${id}`, undefined) }),
        },
      }),
      ...(node.ink !== undefined && node.ink !== this.#seen.ground?.ink && { ink: writtenColor(node.ink) ?? node.ink }),
      ...(hide.length > 0 && { hide: [...hide] }),
      ...(columns ? this.#columns(columns) : items && items.length > 0 ? { items } : {}),
    }
    const height = this.#ownHeight(node, inner, columns)
    return height === undefined ? made : { ...made, ...height }
  }

  /** Side margins where a section is not as wide as what it is in; as wide as the window it breaks out of that. */
  #placeIn(boxes: readonly (ObservedBox | undefined)[], strip: StripOf, isWindow: boolean): JsonObject {
    const sides = boxes.map((box, n) => {
      const around = strip(n)
      return box && around ? [around.x + around.width - box.x - box.width, box.x - around.x] : [0, 0]
    })
    if (sides.every((each) => each.every((side) => Math.abs(side) <= PX))) return {}
    if (isWindow) return { breakout: true }
    return { margin: this.#sized((n) => (boxes[n] ? `0 ${px(sides[n]?.[0])} 0 ${px(sides[n]?.[1])}` : undefined)) ?? 0 }
  }

  /** What a section's padding leaves, and how wide its inside gets: what is in it, where that is in the middle. */
  #insideOf(node: OutlineNode, inner: readonly OutlineNode[]): { maxWidth: Json | undefined; inside: StripOf } {
    const spans = this.#items.at(node.at).map((here, n) => {
      const box = shownBox(here)
      if (!box) return undefined
      const [, right = 0, , left = 0] = here?.padding ?? []
      const room = { x: box.x + left, width: Math.max(0, box.width - left - right) }
      const parts = inner.flatMap((each) => this.#boxes(each)[n] ?? [])
      if (parts.length === 0) return { room, span: room }
      const x = Math.min(...parts.map((part) => part.x))
      const span = { x, width: Math.max(...parts.map((part) => part.x + part.width)) - x }
      const isCenterd = Math.abs(span.x - room.x - (room.x + room.width - span.x - span.width)) <= 1
      return { room, span: isCenterd && span.width < room.width - PX ? span : room }
    })
    const isNarrower = spans.some((each) => each && each.span !== each.room)
    if (!isNarrower) return { maxWidth: undefined, inside: (n) => spans[n]?.room }
    const widest = Math.max(...spans.map((each) => each?.span.width ?? 0))
    const isOne = spans.every((each) => !each || Math.abs(Math.min(widest, each.room.width) - each.span.width) <= PX)
    const maxWidth = isOne ? px(widest) : this.#sized((n) => px(spans[n]?.span.width))
    return { maxWidth, inside: (n) => spans[n]?.span }
  }

  /** A height of its own where a section is not as tall as its padding and what is in it. */
  #ownHeight(
    node: OutlineNode,
    inner: readonly OutlineNode[],
    columns: readonly OutlineNode[] | undefined,
  ): JsonObject | undefined {
    const off = this.#views.map(({ name, height }, n) => {
      const here = this.#items.at(node.at)[n]
      const box = shownBox(here)
      if (!box) return undefined
      const parts = (columns ?? inner)
        .flatMap((each) => (columns ? insideOf(each) : [each]))
        .flatMap((each) => shownBox(this.#items.at(each.at)[n]) ?? [])
      const [top, , bottom] = here?.padding ?? [0, 0, 0, 0]
      const filled =
        parts.length === 0 ? 0 : Math.max(...parts.map((b) => b.y + b.height)) - Math.min(...parts.map((b) => b.y))
      return {
        name,
        height: box.height,
        share: box.height / height,
        isOwn: Math.abs(box.height - top - bottom - filled) > PX,
      }
    })
    const known = off.flatMap((each) => each ?? [])
    if (!known.some(({ isOwn }) => isOwn)) return undefined
    const [first] = known
    // The same share of every screen is a height in parts of the screen.
    const isShare = first && known.length > 1 && known.every(({ share }) => Math.abs(share - first.share) < 0.002)
    if (isShare) return { minHeight: `${Math.round(first.share * 1000) / 10}vh`, align: this.#alignOf(node, inner) }
    return {
      height: byViewport(known.map(({ name, height }) => [name, px(height)])) ?? 0,
      align: this.#alignOf(node, inner),
    }
  }

  #alignOf(node: OutlineNode, inner: readonly OutlineNode[]): string {
    const boxes = inner.flatMap((each) => shownBox(each) ?? [])
    if (!node.box || boxes.length === 0) return 'start'
    const [top = 0, , bottom = 0] = node.padding ?? []
    const above = Math.min(...boxes.map((b) => b.y)) - node.box.y - top
    const below = node.box.y + node.box.height - bottom - Math.max(...boxes.map((b) => b.y + b.height))
    if (Math.abs(above - below) <= 1) return 'center'
    return above > below ? 'end' : 'start'
  }

  #columns(columns: readonly OutlineNode[]): JsonObject {
    const widths = columns.map(({ box }) => box?.width ?? 1)
    const least = Math.min(...widths)
    const [a, b] = columns.map(({ box }) => box)
    const stacked = this.#views.filter((_, n) => {
      const [x, y] = columns.map(
        (column) =>
          shownBox(this.#items.at(column.at)[n]) ?? shownBox(this.#items.at(insideOf(column)[0]?.at ?? '')[n]),
      )
      return x && y && y.y >= x.y + x.height - PX
    })
    const gap = a && b ? b.x - a.x - a.width : 0
    return {
      columns: columns.map((column, n) => ({
        share: Math.round(((widths[n] ?? 1) / least) * 1000) / 1000,
        items: this.#list(insideOf(column), (view) => this.#boxes(column)[view]),
      })),
      ...(gap > PX && { gap: px(gap) ?? 0 }),
      ...(stacked.length > 0 && { stackAt: px(Math.max(...stacked.map(({ width }) => width))) ?? 0 }),
    }
  }
}

export const isRole = (role: string | undefined): role is string =>
  role === 'banner' || role === 'navigation' || role === 'contentinfo'

/** What is in a section; where all of it is one row of columns, that is found by `columnsOf`. */
const insideOf = (node: OutlineNode): readonly OutlineNode[] => (node.kind === 'section' ? (node.items ?? []) : [node])

/** The columns of a section: its own, or those of the one row that is all it holds. */
function columnsOf(node: OutlineNode): readonly OutlineNode[] | undefined {
  if (node.beside) return node.items
  const [only] = node.items ?? []
  return node.items?.length === 1 &&
    only?.beside &&
    only.id === undefined &&
    only.background === undefined &&
    !only.padding
    ? only.items
    : undefined
}

const sidesText = (sides: readonly number[]): string => {
  const [top, right, bottom, left] = sides.map((side) => `${side}px`)
  if (top === bottom && right === left) return top === right ? `${top}` : `${top} ${right}`
  return right === left ? `${top} ${right} ${bottom}` : `${top} ${right} ${bottom} ${left}`
}

export function asInsert(data: JsonObject, at: string): JsonObject {
  const { section, ...rest } = data
  return { id: section as Json, at, ...rest }
}
