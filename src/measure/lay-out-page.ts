import { DEFAULT_ARRANGE, pathOf, type PresentFacet, type PropertyPath } from '../model/facets.js'
import { itemKindOf } from '../model/item-kinds.js'
import { toPointer } from '../model/json.js'
import type { ArrangeEntry, InsertPlace, Item } from '../model/site-data.js'
import { Cursor, makeBox, type Box, type PrintedItem } from './box.js'
import type { Frame } from './frame.js'
import { bylineHeight, commentsHeight, headingHeight, pictureHeight, sumOfItems, type Height } from './item-height.js'
import type { ArrangedSlot, FacetBases, PlainMeasure } from './page-measure.js'
import { layOut, layOutBox, type LaidOut, type MeasuredSection } from './section.js'
import { barBoxes, measureBar, sidebarItems, type MeasuredSurround } from './surround.js'

/** Everything on a page, part by part from the top. */
export const layOutPage = (frame: Frame): PlainMeasure => new Builder(frame).build()

/** What lengths of a page refer to, without laying out what it prints. */
export const basesOf = (frame: Frame): FacetBases => new Builder(frame).bases()

type Inside = Pick<PlainMeasure, 'room' | 'gutter' | 'sidebarBeside'>

const NOTHING: readonly Item[] = []

class Builder {
  readonly #frame: Frame
  readonly #boxes: Box[] = []
  readonly #items: PrintedItem[] = []
  readonly #sections: MeasuredSection[] = []
  readonly #arranged: ArrangedSlot[] = []

  constructor(frame: Frame) {
    this.#frame = frame
  }

  get #laidOut(): LaidOut {
    return { boxes: this.#boxes, items: this.#items, sections: this.#sections }
  }

  build(): PlainMeasure {
    const frame = this.#frame
    const { view, viewport } = frame
    const header = measureBar(frame, 'header')
    const footer = measureBar(frame, 'footer')
    let at = this.#inserts('before-header', Cursor.top)
    if (this.#isShown('header')) at = this.#header(header, at)
    const clearance = this.#clearance(() => header)
    at = at.down(clearance, 'header.clearance', view.decidingPointer('header.clearance'))
    const afterClearance = at.y

    at = this.#inserts('after-header', at)
    at = this.#titleBand(at)
    at = this.#leadImageBand(at)
    const main = this.#main(at)
    at = this.#inserts('before-footer', main.at)
    if (this.#isShown('footer')) {
      this.#boxes.push(...barBoxes(frame, 'footer', footer, at))
      this.#items.push(...footer.rows.flatMap((row) => row.items))
      at = at.down(footer.height, 'the footer', undefined, footer.certainty)
    }
    const { y: height, certainty } = at
    const page = makeBox({ id: 'page', of: 'page', x: 0, at: Cursor.top, width: frame.width, height, certainty })
    return {
      viewport,
      boxes: [page, ...this.#boxes],
      items: this.#items,
      sections: this.#sections,
      arranged: this.#arranged,
      header,
      footer,
      clearance,
      afterClearance,
      room: main.room,
      gutter: main.gutter,
      sidebarBeside: main.sidebarBeside,
    }
  }

  bases(): FacetBases {
    const frame = this.#frame
    const { view, viewport } = frame
    const container = { width: this.#containerWidth().width }
    const title = this.#titleWidth()
    return {
      ...{ view, viewport, clearance: this.#clearance(() => measureBar(frame, 'header')) },
      box: (id) => (id === 'container' ? container : title),
    }
  }

  #titleWidth(): { readonly width: number } | undefined {
    if (!this.#isShown('title')) return undefined
    if (this.#frame.view.value('title.place') === 'band') return { width: this.#frame.width }
    return this.#arrange.includes('title') ? { width: this.#columns().columnWidth } : undefined
  }

  /** Whether the page begins under the header as after any other part. */
  get #isHeaderInFlow(): boolean {
    const position = this.#frame.view.value('header.position')
    return position === 'flow' || position === 'sticky'
  }

  #isShown(facet: PresentFacet): boolean {
    return this.#frame.isShown(pathOf(facet, 'presence'))
  }

  get #arrange(): readonly ArrangeEntry[] {
    return this.#frame.view.page.choice.template?.arrange ?? DEFAULT_ARRANGE
  }

  /** Lays the header; returns where the page goes on. */
  #header(header: MeasuredSurround, at: Cursor): Cursor {
    const top = this.#frame.view.value('header.position') === 'fixed' ? Cursor.top : at
    this.#boxes.push(...barBoxes(this.#frame, 'header', header, top))
    this.#items.push(...header.rows.flatMap((row) => row.items))
    const pointer = header.id === undefined ? undefined : toPointer(['surrounds', header.id])
    return this.#isHeaderInFlow ? at.down(header.height, 'the header', pointer, header.certainty) : at
  }

  #clearance(header: () => MeasuredSurround): number {
    if (this.#frame.view.value('header.clearance') !== 'auto') return this.#frame.property('header.clearance') ?? 0
    return this.#isShown('header') && !this.#isHeaderInFlow ? header().height : 0
  }

  #inserts(place: InsertPlace, at: Cursor, x = 0, width = this.#frame.width): Cursor {
    const frame = this.#frame
    const mine = frame.view.page.inserts.filter(({ data }) => data.at === place && !frame.isHidden(data.hide))
    let cursor = at
    let margin = 0
    for (const { data } of mine) {
      const pointer = frame.view.page.insertPointer(data)
      const margins = frame.sides(data.margin, width, true)
      const gap = Math.max(0, margin, margins.top) + Math.min(0, margin, margins.top)
      const top = cursor.down(gap, `margin above insert ${data.id}`, `${pointer}/margin`)
      const naming = { place: 'insert', depth: 0 } as const
      const drafted = { data, pointer, of: 'insert', id: data.id, margins } as const
      const laid = layOutBox(frame, drafted, { x, width, at: top }, naming, this.#laidOut)
      cursor = top.down(laid.height, `insert ${data.id}`, pointer, laid.certainty)
      margin = margins.bottom
    }
    return cursor.down(margin, `margin below the inserts ${place}`)
  }

  #titleBand(at: Cursor): Cursor {
    const { view, width } = this.#frame
    if (!this.#isShown('title') || view.value('title.place') !== 'band') return at
    const { width: container } = this.#containerWidth()
    const height = this.#titleHeight(width, (room) => Math.min(container, room))
    return this.#push('title', at, 0, width, height)
  }

  /** Height of the title's box: its own `height`, else padding and lines. */
  #titleHeight(boxWidth: number, textWidth: (room: number) => number): Height {
    const frame = this.#frame
    const own = frame.property('title.height')
    const padding = frame.sides(frame.view.value('title.padding') as string | number, boxWidth)
    // No box is smaller than its own paddings.
    if (own !== undefined) return { px: Math.max(own, padding.top + padding.bottom), certainty: 'declared' }
    const room = Math.max(0, boxWidth - padding.left - padding.right)
    const text = headingHeight(frame, frame.view.page.data.title, 1, textWidth(room))
    return { px: padding.top + text.px + padding.bottom, certainty: text.certainty }
  }

  #leadImageBand(at: Cursor): Cursor {
    const { view, width } = this.#frame
    const printed = this.#isShown('leadImage') && view.value('leadImage.place') === 'band'
    return printed && this.#hasLeadImage() ? this.#push('leadImage', at, 0, width, this.#leadImageHeight(width)) : at
  }

  #hasLeadImage(): boolean {
    const frame = this.#frame
    return frame.asset(frame.view.page.data.image) !== undefined
  }

  #leadImageHeight(width: number): Height {
    const own = this.#frame.property('leadImage.height')
    if (own !== undefined) return { px: own, certainty: 'declared' }
    return pictureHeight(this.#frame, this.#frame.view.page.data.image, width)
  }

  /** Adds a box and goes to below it. */
  #push(id: PresentFacet, at: Cursor, x: number, width: number, { px, certainty }: Height): Cursor {
    const pointer = this.#frame.view.decidingPointer(pathOf(id, 'presence'))
    this.#boxes.push(makeBox({ id, of: id, x, at, width, height: px, certainty, pointer }))
    return at.down(px, id === 'leadImage' ? 'the lead image' : `the ${id}`, pointer, certainty)
  }

  #containerWidth(): { x: number; width: number; full: boolean } {
    const frame = this.#frame
    const full = frame.view.value('width.mode') === 'full'
    if (full) return { x: 0, width: frame.width, full }
    const free = Math.max(0, frame.width - 2 * (frame.property('width.gutter', frame.width) ?? 0))
    const width = Math.min(frame.property('width.max', frame.width) ?? Infinity, free)
    return { x: (frame.width - width) / 2, width, full }
  }

  /** The container, and the column and sidebar in it, across. */
  #columns() {
    const frame = this.#frame
    const { view } = frame
    const { x, width, full } = this.#containerWidth()
    const padding = frame.sides(view.value('width.padding') as string | number, width)
    const room = Math.max(0, width - padding.left - padding.right)
    const gutter = full ? (frame.property('width.gutter', frame.width) ?? 0) : 0
    const side = view.value('sidebar.side')
    const printed = this.#isShown('sidebar') && side !== 'none'
    const beside = printed && frame.width > (frame.property('sidebar.stackAt') ?? 0)
    const sidebarWidth = beside ? (frame.property('sidebar.width', width) ?? 0) : room
    const gap = frame.property('sidebar.gap', width) ?? 0
    const taken = beside ? sidebarWidth + gap : 0
    const columnWidth = Math.min(frame.property('width.columnMax', width) ?? Infinity, Math.max(0, room - taken))
    const left = x + padding.left
    const columnX = beside && side === 'left' ? left + taken : left
    return { x, width, full, left, room, gutter, side, printed, beside, sidebarWidth, gap, columnX, columnWidth }
  }

  #main(top: Cursor): Inside & { readonly at: Cursor } {
    const frame = this.#frame
    const { view } = frame
    const from = (path: PropertyPath): string | undefined => view.decidingPointer(path)
    const start = this.#boxes.length
    let at = top.down(frame.property('spacing.before') ?? 0, 'spacing.before', from('spacing.before'))
    at = this.#inserts('before-content', at)

    const columns = this.#columns()
    const { x, width, full, left, room, gutter, side, printed, beside, gap, columnX, columnWidth } = columns
    const inner = this.#boxes.length
    const columnEnd = this.#column(at, columnX, columnWidth, gutter)
    const column = makeBox({
      id: 'column',
      of: 'width',
      x: columnX,
      at,
      width: columnWidth,
      height: Math.max(0, columnEnd.y - at.y),
      certainty: columnEnd.certainty,
      pointer: from('width.columnMax'),
    })
    this.#boxes.splice(inner, 0, column)
    let end = columnEnd
    if (printed) {
      const below = beside ? at : columnEnd.down(gap, 'sidebar.gap', from('sidebar.gap'))
      // A right sidebar follows the column after the gap; what `columnMax` leaves over stays free at the end.
      const sidebarX = beside && side === 'right' ? columnX + columnWidth + gap : left
      const sidebarEnd = this.#sidebar(below, sidebarX, columns.sidebarWidth)
      if (sidebarEnd.y > end.y || !beside) end = sidebarEnd
    }
    const container = makeBox({
      id: 'container',
      of: 'width',
      x,
      at,
      width,
      height: Math.max(0, end.y - at.y),
      certainty: end.certainty,
      pointer: from(full ? 'width.mode' : 'width.max'),
    })
    this.#boxes.splice(inner, 0, container)

    at = at.down(container.height, 'the container', undefined, end.certainty)
    at = this.#inserts('after-content', at)
    at = at.down(frame.property('spacing.after') ?? 0, 'spacing.after', from('spacing.after'))
    const height = at.y - top.y
    const { certainty } = at
    const main = makeBox({ id: 'main', of: 'main', x: 0, at: top, width: frame.width, height, certainty })
    this.#boxes.splice(start, 0, main)
    return { at, room, gutter, sidebarBeside: beside }
  }

  #sidebar(at: Cursor, x: number, width: number): Cursor {
    const frame = this.#frame
    const items = sidebarItems(frame)
    this.#items.push(...items)
    const all = items.map((printed) => printed.item)
    return this.#push('sidebar', at, x, width, sumOfItems(frame, all, width))
  }

  #column(top: Cursor, x: number, width: number, gutter: number): Cursor {
    const textWidth = (room: number): number => Math.max(0, room - 2 * gutter)
    let at = top
    this.#arrange.forEach((entry, index) => {
      const before = at
      at = this.#arrangeEntry(entry, index, at, x, width, textWidth)
      const height = at.y - before.y
      this.#arranged.push({ entry, index, height, printed: height > 0, y: before.y })
    })
    return at
  }

  #arrangeEntry(
    entry: ArrangeEntry,
    index: number,
    at: Cursor,
    x: number,
    width: number,
    textWidth: (room: number) => number,
  ): Cursor {
    const frame = this.#frame
    const { view } = frame
    switch (entry) {
      case 'title':
        if (!this.#isShown('title') || view.value('title.place') === 'band') return at
        return this.#push('title', at, x, width, this.#titleHeight(width, textWidth))
      case 'byline': {
        if (!this.#isShown('byline')) return at
        const own = frame.property('byline.height')
        const height: Height = own === undefined ? bylineHeight(frame) : { px: own, certainty: 'declared' }
        return this.#push('byline', at, x, width, height)
      }
      case 'leadImage':
        if (!this.#isShown('leadImage') || view.value('leadImage.place') === 'band' || !this.#hasLeadImage()) return at
        return this.#push('leadImage', at, x, width, this.#leadImageHeight(width))
      case 'comments':
        return this.#isShown('comments') ? this.#comments(at, x, width) : at
      case 'content': {
        const { data, bodyPointer } = view.page
        return this.#list(data.body ?? NOTHING, bodyPointer, at, x, width, 'body', 0, 'the content')
      }
      default: {
        const list = `${view.page.choice.template?.arrangePointer ?? ''}`
        const kind = itemKindOf(entry) ?? 'item'
        return this.#list([entry], list, at, x, width, 'arrange', index, `${kind} of the template`)
      }
    }
  }

  #list(
    items: Parameters<typeof layOut>[1],
    pointer: string,
    at: Cursor,
    x: number,
    width: number,
    place: 'body' | 'arrange',
    first: number,
    because: string,
  ): Cursor {
    const naming = { place, section: undefined, first, depth: 0 }
    const { height, certainty } = layOut(this.#frame, items, pointer, { x, width, at }, naming, this.#laidOut)
    return at.down(height, because, pointer, certainty)
  }

  #comments(at: Cursor, x: number, width: number): Cursor {
    const frame = this.#frame
    const { width: container } = this.#containerWidth()
    const own = frame.property('comments.height')
    const mine = Math.min(frame.property('comments.maxWidth', container) ?? Infinity, width)
    const height: Height = own === undefined ? commentsHeight(frame) : { px: own, certainty: 'declared' }
    return this.#push('comments', at, x + (width - mine) / 2, mine, height)
  }
}
