import type { Sides } from '../css/length.js'
import { itemKindOf } from '../model/item-kinds.js'
import type { Box as BoxData, Item } from '../model/site-data.js'
import { lessCertain, makeBox, type Box, type Certainty, type Cursor, type ItemPlace, type PrintedItem } from './box.js'
import type { Frame } from './frame.js'
import { itemHeight } from './item-height.js'

/** What boxes are in: a strip of the page from a cursor down. */
export interface Strip {
  readonly x: number
  readonly width: number
  readonly at: Cursor
}

/** A section or insert as it was laid out, for those who ask about more than its rectangle. */
export interface MeasuredSection {
  readonly id: string
  readonly data: BoxData
  readonly pointer: string
  readonly band: Box
  readonly inside: Box
  /** Px by which the content is taller than a fixed `height` leaves it; 0 where it fits. */
  readonly spill: number
  readonly padding: { readonly top: number; readonly right: number; readonly bottom: number; readonly left: number }
  /** Width and left edge of what it is in. */
  readonly strip: { readonly x: number; readonly width: number }
  /** Columns that are side by side, with the words of text in each. */
  readonly columns: readonly { readonly width: number; readonly items: readonly Item[] }[]
  readonly depth: number
}

/** How high something got, and how far that can be trusted. */
export interface Extent {
  readonly height: number
  readonly certainty: Certainty
}

/** What was laid out up to now, in the order of the page: whoever lays out adds to it. */
export interface LaidOut {
  readonly boxes: Box[]
  readonly items: PrintedItem[]
  readonly sections: MeasuredSection[]
}

export const nothingLaidOut = (): LaidOut => ({ boxes: [], items: [], sections: [] })

/** In the place of a box or section whose content comes after it, and is laid out before it. */
const PENDING: unknown = undefined

/** How boxes and items of one list are named. */
interface Naming {
  readonly place: ItemPlace
  /** The section or insert around; `undefined` at the top. */
  readonly section: string | undefined
  /** Number of the first item, for ids: columns of a section count on. */
  readonly first: number
  readonly depth: number
}

/** Adjoining margins: the largest positive plus the most negative (CSS 2.2, section 8.3.1). */
const collapse = (a: number, b: number): number => Math.max(0, a, b) + Math.min(0, a, b)

/**
 * Lays sections and items out under one another. Neighboring margins collapse and stay inside the list, for each box
 * is a flow root.
 */
export function layOut(
  frame: Frame,
  items: readonly Item[],
  pointer: string,
  strip: Strip,
  naming: Naming,
  into: LaidOut,
): Extent {
  // Of the heights themselves: what is inside a section of a fixed height does not move what follows.
  let least: Certainty = items.length > 0 ? 'measured' : 'computed'
  let cursor = strip.at
  let margin = 0
  items.forEach((item, index) => {
    if (frame.isHidden(item.hide)) return
    // A template's arrange is laid out entry by entry, so its list goes on counting.
    const here = `${pointer}/${naming.place === 'arrange' ? naming.first + index : index}`
    if (item.section !== undefined) {
      const margins = frame.sides(item.margin, strip.width, true)
      const at = cursor.down(collapse(margin, margins.top), `margin above section ${item.section}`, `${here}/margin`)
      const laid = layOutBox(
        frame,
        { data: item, pointer: here, of: 'section', id: item.section, margins },
        { x: strip.x, width: strip.width, at },
        naming,
        into,
      )
      least = lessCertain(least, laid.certainty)
      cursor = at.down(laid.height, `section ${item.section}`, here, laid.certainty)
      margin = margins.bottom
      return
    }
    cursor = cursor.down(margin, 'margin below the section above', undefined)
    margin = 0
    const kind = itemKindOf(item)
    if (!kind) return
    const { px, certainty } = itemHeight(frame, item, strip.width)
    const id =
      naming.section === undefined
        ? `arrange:${naming.first + index}`
        : `item:${naming.section}/${naming.first + index}`
    const width = frame.px(item.width, strip.width) ?? strip.width
    const box = makeBox({ id, of: 'item', x: strip.x, at: cursor, width, height: px, certainty, pointer: here })
    into.boxes.push(box)
    least = lessCertain(least, certainty)
    const { place, section } = naming
    into.items.push(
      section === undefined
        ? { place, kind, item, pointer: here, box }
        : { place, kind, item, pointer: here, box, section },
    )
    cursor = cursor.down(px, `${kind} above`, here, certainty)
  })
  const end = cursor.down(margin, 'margin below the last section')
  return { height: Math.max(0, end.y - strip.at.y), certainty: least }
}

/** A section or insert that is to be laid out. */
interface Drafted {
  readonly data: BoxData
  readonly pointer: string
  readonly of: 'section' | 'insert'
  readonly id: string
  /** Its margins, in px. */
  readonly margins: Sides<number>
}

/** Lays one section or insert out, its margins apart; the strip's cursor is at its top edge. */
export function layOutBox(
  frame: Frame,
  { data, pointer, of, id, margins }: Drafted,
  strip: Strip,
  naming: Pick<Naming, 'place' | 'depth'>,
  into: LaidOut,
): Extent {
  const padding = frame.sides(data.padding, strip.width)
  const room = data.breakout ? frame.width : strip.width - margins.left - margins.right
  const width = Math.max(room, padding.left + padding.right) // no box is smaller than its own paddings
  const x = data.breakout ? strip.x + (strip.width - frame.width) / 2 : strip.x + margins.left
  const free = Math.max(0, width - padding.left - padding.right)
  const inner = Math.min(frame.px(data.maxWidth, strip.width) ?? Infinity, free)
  const innerX = x + padding.left + (free - inner) / 2

  const fixed = frame.px(data.height)
  const least = fixed ?? frame.px(data.minHeight) ?? 0
  const lay = (at: Cursor, into: LaidOut): Extent =>
    layOutContent(
      frame,
      data,
      pointer,
      { x: innerX, width: inner, at },
      { place: naming.place, section: id, first: 0, depth: naming.depth + 1 },
      into,
    )
  const top = strip.at.down(padding.top, `padding of ${of} ${id}`, `${pointer}/padding`)
  const paddings = padding.top + padding.bottom
  const offset = alignOffset(frame, data, pointer, Math.max(0, least - paddings), inner, () =>
    lay(top, nothingLaidOut()),
  )
  const start = top.down(offset, `align of ${of} ${id}`, `${pointer}/align`)
  const { boxes, sections } = into
  const [ofBand, ofSection] = [boxes.length, sections.length]
  boxes.push(PENDING as Box, PENDING as Box)
  sections.push(PENDING as MeasuredSection)
  const content = lay(start, into)
  const wanted = paddings + content.height
  const height = fixed !== undefined ? Math.max(fixed, paddings) : Math.max(least, wanted)

  const certainty: Certainty =
    fixed !== undefined ? 'declared' : content.certainty === 'estimated' ? 'estimated' : 'computed'
  const band = makeBox({ id: `${of}:${id}`, of, x, at: strip.at, width, height, certainty, pointer })
  const inside = makeBox({
    id: `inside:${id}`,
    of,
    x: innerX,
    at: start,
    width: inner,
    height: content.height,
    certainty: content.certainty,
    pointer,
  })
  boxes[ofBand] = band
  boxes[ofBand + 1] = inside
  sections[ofSection] = {
    id,
    data,
    pointer,
    band,
    inside,
    padding,
    spill: fixed === undefined ? 0 : Math.max(0, wanted - height),
    strip: { x: strip.x, width: strip.width },
    columns: sideBySide(frame, data, inner) ?? [],
    depth: naming.depth,
  }
  return { height, certainty }
}

/**
 * How far `align` pushes the inside down in a section that is taller than its content. The content's height is kept
 * for each width, so that sections aligned within sections are not laid out again and again.
 */
function alignOffset(
  frame: Frame,
  data: BoxData,
  pointer: string,
  room: number,
  width: number,
  lay: () => Extent,
): number {
  const align = frame.at(data.align)
  if (room === 0 || (align !== 'center' && align !== 'end')) return 0
  const height = frame.contentHeight(pointer, width, () => lay().height)
  const spare = Math.max(0, room - height)
  return align === 'end' ? spare : spare / 2
}

/** Columns that are side by side, or `undefined` where they go under one another. */
function sideBySide(frame: Frame, data: BoxData, width: number) {
  const { columns } = data
  if (!columns || frame.width <= (frame.px(data.stackAt) ?? 0)) return undefined
  const gap = frame.px(data.gap) ?? 0
  const free = Math.max(0, width - gap * (columns.length - 1))
  const shares = columns.reduce((sum, column) => sum + (column.share ?? 1), 0)
  return columns.map((column) => ({ width: (free * (column.share ?? 1)) / shares, items: column.items ?? [] }))
}

function layOutContent(
  frame: Frame,
  data: BoxData,
  pointer: string,
  strip: Strip,
  naming: Naming,
  into: LaidOut,
): Extent {
  const { columns } = data
  if (!columns) return layOut(frame, data.items ?? [], `${pointer}/items`, strip, naming, into)
  const gap = frame.px(data.gap) ?? 0
  const beside = sideBySide(frame, data, strip.width)
  let [tallest, certainty]: [number, Certainty] = [0, 'measured']
  let { x, at } = strip
  const { place, section, depth } = naming
  let { first } = naming
  columns.forEach((column, index) => {
    const width = beside?.[index]?.width ?? strip.width
    if (!beside && index > 0) at = at.down(gap, `gap between columns of ${section ?? ''}`, `${pointer}/gap`)
    const items = column.items ?? []
    const here = `${pointer}/columns/${index}`
    const part = layOut(frame, items, `${here}/items`, { x, width, at }, { first, place, section, depth }, into)
    tallest = Math.max(tallest, part.height)
    certainty = lessCertain(certainty, part.certainty)
    first += items.length
    if (beside) x += width + gap
    else at = at.down(part.height, `column ${index + 1} of ${section ?? ''}`, here, part.certainty)
  })
  return { height: beside ? tallest : at.y - strip.at.y, certainty }
}
