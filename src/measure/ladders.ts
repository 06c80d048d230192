import type { PropertyPath } from '../model/facets.js'
import { itemKindOf } from '../model/item-kinds.js'
import { toPointer } from '../model/json.js'
import type { Box, LedgerEntry, PrintedItem } from './box.js'
import { Frame } from './frame.js'
import { itemHeight } from './item-height.js'
import type { PageMeasure } from './page-measure.js'
import type { MeasuredSection } from './section.js'
import type { MeasuredSurround } from './surround.js'

/** One step from the window to a box: by so many px it gets narrower (or wider), and its left edge moves. */
export interface WidthStep extends LedgerEntry {
  /** How far the left edge moves to the right, in px. */
  readonly x: number
}

/**
 * The steps from the window to a box of a page, which add up to its `width` (`px`) and `x`: gutter, max, padding,
 * sidebar and gap, column cap, band, a section's margin, padding and maxWidth, each with the setting that gives it.
 *
 * @example
 * widthLadder(measure, 'column').map(({ px, because }) => [px, because]) // => [[1280, 'the window'], [-48, 'width.gutter'], …]
 */
export function widthLadder(measure: PageMeasure, id: string): readonly WidthStep[] {
  const box = measure.box(id)
  return box ? new Descent(measure).to(box) : []
}

/** The steps that add up to the height of a header, a footer or one of their rows, in px; none for other boxes. */
export function heightLadder(measure: PageMeasure, id: string): readonly LedgerEntry[] {
  for (const facet of ['header', 'footer'] as const) {
    if (id === facet) return measure.box(facet) ? barHeights(measure, facet) : []
    const row = id.startsWith('row:') && measure[facet].rows.find((each) => `row:${each.id}` === id)
    if (row) return rowHeights(measure, row)
  }
  return []
}

function barHeights(measure: PageMeasure, facet: 'header' | 'footer'): readonly LedgerEntry[] {
  const bar = measure[facet]
  const sum = bar.rows.reduce((px, row) => px + row.height, 0)
  const isOfRows = bar.certainty === 'computed' || bar.certainty === 'estimated'
  if (isOfRows && bar.rows.length > 0 && Math.abs(sum - bar.height) < EQUAL)
    return bar.rows.map(({ id, height, pointer }) => ({ px: height, because: `row ${id}`, pointer }))
  const surround = bar.id === undefined ? undefined : toPointer(['surrounds', bar.id])
  const isFacets = bar.certainty === 'declared' && facet === 'header' && measure.view.value('header.height') !== null
  const pointer = isFacets ? measure.view.decidingPointer('header.height') : surround
  const because =
    bar.certainty === 'measured' ? 'measured on the real page' : `the height that is declared for the ${facet}`
  return [{ px: bar.height, because, ...(pointer !== undefined && { pointer }) }]
}

function rowHeights(measure: PageMeasure, row: MeasuredSurround['rows'][number]): readonly LedgerEntry[] {
  const frame = new Frame(measure.view)
  const heights = row.items.map((printed) => ({ printed, px: itemHeight(frame, printed.item, Infinity).px }))
  const tallest = heights.reduce((a, b) => (b.px > a.px ? b : a))
  const padding = row.height - tallest.px
  return [
    {
      px: tallest.px,
      because: `${tallest.printed.kind}${nameOf(tallest.printed)}, its tallest item`,
      pointer: tallest.printed.pointer,
    },
    ...(padding > EQUAL
      ? [{ px: padding, because: 'padding above and below', pointer: `${row.pointer}/padding` }]
      : []),
  ]
}

const nameOf = ({ item }: PrintedItem): string => (item.id === undefined ? '' : ` ${item.id}`)

/** Px below which two numbers are the same. */
const EQUAL = 0.001

/** The way from the window down to a box. */
class Descent {
  readonly #measure: PageMeasure
  readonly #frame: Frame
  readonly #steps: WidthStep[] = []
  #x = 0
  #width: number

  constructor(measure: PageMeasure) {
    this.#measure = measure
    this.#frame = new Frame(measure.view)
    this.#width = measure.viewport.width
    this.#steps.push({ px: this.#width, x: 0, because: `the window at ${measure.viewport.name}` })
  }

  to(box: Box): readonly WidthStep[] {
    const section = this.#sectionOf(box)
    if (section) this.#downTo(section, box)
    else if (box.id === 'container') this.#container()
    else if (box.id === 'column') this.#column()
    else if (this.#isInColumn(box)) {
      this.#column()
      this.#rest(box, box.id === 'comments' ? 'comments.maxWidth' : 'its own width', box)
    } else if (box.id === 'sidebar') this.#sidebar(box)
    this.#rest(box, 'its own width', box)
    return this.#steps
  }

  #isInColumn({ id, of }: Box): boolean {
    const column = this.#measure.box('column')
    const place = of === 'title' || of === 'leadImage' ? this.#measure.view.value(`${of}.place`) : 'content'
    return (
      column !== undefined &&
      (['title', 'byline', 'leadImage', 'comments'].includes(id) || id.startsWith('arrange:')) &&
      place !== 'band'
    )
  }

  /** The section that a box is the band or inside of, or that an item is in. */
  #sectionOf(box: Box): MeasuredSection | undefined {
    const { sections, items } = this.#measure
    const own = sections.find(({ band, inside }) => band.id === box.id || inside.id === box.id)
    if (own) return own
    const printed = items.find((each) => each.box?.id === box.id)
    return printed?.section === undefined ? undefined : sections.find(({ id }) => id === printed.section)
  }

  #step(x: number, width: number, because: string, pointer?: string): void {
    const [px, moved] = [width - this.#width, x - this.#x]
    if (Math.abs(px) < EQUAL && Math.abs(moved) < EQUAL) return
    this.#steps.push({ px, x: moved, because, ...(pointer !== undefined && { pointer }) })
    this.#x = x
    this.#width = width
  }

  #rest({ x, width }: Box, because: string, { pointer }: Pick<Box, 'pointer'>): void {
    this.#step(x, width, because, pointer)
  }

  #property(path: PropertyPath, x: number, width: number, note = ''): void {
    this.#step(x, width, `${path}${note}`, this.#measure.view.decidingPointer(path))
  }

  #container(): void {
    const { view } = this.#measure
    const window = this.#width
    if (view.value('width.mode') === 'full') {
      const pointer = view.decidingPointer('width.mode')
      this.#steps.push({ px: 0, x: 0, because: 'width.mode: full', ...(pointer !== undefined && { pointer }) })
      return
    }
    const gutter = this.#frame.property('width.gutter', window) ?? 0
    const free = Math.max(0, window - 2 * gutter)
    this.#property('width.gutter', (window - free) / 2, free, ' on both sides')
    const width = Math.min(this.#frame.property('width.max', window) ?? Infinity, free)
    this.#property('width.max', (window - width) / 2, width, ', centered')
  }

  /** The container less its padding. */
  #room(): number {
    this.#container()
    const container = this.#width
    const padding = this.#frame.sides(this.#measure.view.value('width.padding') as string | number, container)
    const room = Math.max(0, container - padding.left - padding.right)
    this.#property('width.padding', this.#x + padding.left, room)
    return container
  }

  #column(): void {
    const { view, sidebarBeside } = this.#measure
    const container = this.#room()
    if (sidebarBeside) {
      const isLeft = view.value('sidebar.side') === 'left'
      for (const path of ['sidebar.width', 'sidebar.gap'] as const) {
        const px = this.#frame.property(path, container) ?? 0
        this.#property(path, this.#x + (isLeft ? px : 0), Math.max(0, this.#width - px))
      }
    }
    const width = Math.min(this.#frame.property('width.columnMax', container) ?? Infinity, this.#width)
    this.#property('width.columnMax', this.#x, width)
  }

  #sidebar(box: Box): void {
    this.#room()
    if (this.#measure.sidebarBeside)
      this.#property('sidebar.width', box.x, box.width, ` on the ${String(this.#measure.view.value('sidebar.side'))}`)
  }

  #downTo(section: MeasuredSection, box: Box): void {
    const around = this.#measure.sections
      .filter(({ pointer }) => section.pointer.startsWith(`${pointer}/`))
      .sort((a, b) => a.pointer.length - b.pointer.length)
    const [outermost = section] = around
    const isInWindow = outermost.band.of === 'insert'
    if (!isInWindow) this.#column()
    for (const each of [...around, section]) {
      this.#step(
        each.strip.x,
        each.strip.width,
        'its column of the section around it',
        `${each.pointer.replace(/\/items\/\d+$/, '')}`,
      )
      this.#band(each)
      if (each !== section || box.id !== each.band.id) this.#inside(each)
    }
    const printed = this.#measure.items.find((each) => each.box?.id === box.id)
    if (printed) this.#itemOf(section, printed, box)
  }

  #band({ data, pointer, band, strip }: MeasuredSection): void {
    if (data.breakout) return this.#step(band.x, band.width, 'breakout, as wide as the window', `${pointer}/breakout`)
    const margins = this.#frame.sides(data.margin, strip.width, true)
    this.#step(strip.x + margins.left, strip.width - margins.left - margins.right, 'margin', `${pointer}/margin`)
    this.#step(band.x, band.width, 'at least its own padding', `${pointer}/padding`)
  }

  #inside({ padding, pointer, band, inside, id }: MeasuredSection): void {
    const free = Math.max(0, band.width - padding.left - padding.right)
    this.#step(band.x + padding.left, free, `padding of ${id}`, `${pointer}/padding`)
    this.#step(inside.x, inside.width, `maxWidth of ${id}, centered`, `${pointer}/maxWidth`)
  }

  #itemOf({ columns, pointer, data, inside }: MeasuredSection, printed: PrintedItem, box: Box): void {
    const index = Number(/^\/columns\/(\d+)\//.exec(printed.pointer.slice(pointer.length))?.[1] ?? NaN)
    const column = columns[index]
    if (column) {
      const gap = this.#frame.px(data.gap) ?? 0
      const left = columns.slice(0, index).reduce((sum, { width }) => sum + width + gap, inside.x)
      this.#step(left, column.width, `column ${index + 1} of ${columns.length}`, `${pointer}/columns/${index}`)
    }
    this.#rest(box, `width of the ${itemKindOf(printed.item) ?? 'item'}`, { pointer: `${printed.pointer}/width` })
  }
}
