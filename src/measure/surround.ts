import { pathOf } from '../model/facets.js'
import { toPointer } from '../model/json.js'
import { itemKindOf } from '../model/item-kinds.js'
import type { SurroundData } from '../model/schema.js'
import type { Item } from '../model/site-data.js'
import { makeBox, type Box, type Certainty, type Cursor, type ItemPlace, type PrintedItem } from './box.js'
import type { Frame } from './frame.js'
import { itemHeight } from './item-height.js'

/** A header or footer with what is left of it on this page at this viewport. */
export interface MeasuredSurround {
  readonly id: string | undefined
  readonly height: number
  readonly certainty: Certainty
  readonly rows: readonly MeasuredRow[]
}

/** A row of a header or footer, with its height in px. */
export interface MeasuredRow {
  readonly id: string
  readonly pointer: string
  readonly height: number
  readonly certainty: Certainty
  readonly stays: boolean
  readonly items: readonly PrintedItem[]
}

type Bar = 'header' | 'footer'

/** Works out a header or footer: `measured`, else `header.height`, else the surround's `height`, else its rows. */
export function measureBar(frame: Frame, facet: Bar): MeasuredSurround {
  const id = frame.value(pathOf(facet, 'use')) as string | null
  const surround = frame.surround(id)
  const own = facet === 'header' ? frame.property('header.height') : undefined
  if (!surround || id === null) return { id: undefined, height: own ?? 0, certainty: 'declared', rows: [] }
  const at = toPointer(['surrounds', id])
  const standIns = new StandIns(frame, facet)
  const rows = (surround.rows ?? []).flatMap((row, index) => {
    const rowId = row.id ?? String(index)
    const pointer = `${at}/rows/${index}`
    if (frame.isHidden(row.hide) || (row.id !== undefined && !isShown(frame, facet, row.id))) return []
    const items = standIns.left(row.items, `${pointer}/items`)
    return items.length > 0 ? [measureRow(frame, rowId, pointer, row, items)] : []
  })
  const height = barHeight(frame, facet, surround, own, rows)
  return { id, ...height, rows }
}

function barHeight(
  frame: Frame,
  facet: Bar,
  surround: SurroundData,
  own: number | undefined,
  rows: readonly MeasuredRow[],
): { height: number; certainty: Certainty } {
  const asItStands = !isAltered(frame, facet, surround)
  const measured = asItStands ? frame.px(surround.measured) : undefined
  if (measured !== undefined) return { height: measured, certainty: 'measured' }
  if (own !== undefined) return { height: own, certainty: 'declared' }
  const declared = asItStands ? frame.px(surround.height) : undefined
  if (declared !== undefined) return { height: declared, certainty: 'declared' }
  const estimated = rows.some((row) => row.certainty === 'estimated')
  return { height: rows.reduce((sum, row) => sum + row.height, 0), certainty: estimated ? 'estimated' : 'computed' }
}

/** Whether a page takes an item or row away, or changes the logo, so that figures for the whole no longer hold. */
function isAltered(frame: Frame, facet: Bar, surround: SurroundData): boolean {
  const ids = (surround.rows ?? []).flatMap((row) => [row.id, ...(row.items ?? []).map((item) => item.id)])
  if (ids.some((id) => id !== undefined && !isShown(frame, facet, id))) return true
  const logo = facet === 'header' ? frame.value('header.logo') : null
  const first = (surround.rows ?? []).flatMap((row) => row.items ?? []).find((item) => item.logo !== undefined)
  return logo !== null && first !== undefined && first.logo !== logo
}

const isShown = (frame: Frame, facet: Bar, item: string): boolean => frame.isShown(`${facet}.items.${item}`)

/** Puts the facet's own `logo` and `menu` in the place of the surround's first ones. */
class StandIns {
  readonly #frame: Frame
  readonly #facet: Bar
  #logo: string | null
  #menu: string | null

  constructor(frame: Frame, facet: Bar) {
    this.#frame = frame
    this.#facet = facet
    this.#logo = facet === 'header' ? (frame.value('header.logo') as string | null) : null
    this.#menu = frame.value(pathOf(facet, 'menu')) as string | null
  }

  /** The items of a list that are left at this viewport. */
  left(items: readonly Item[] | undefined, pointer: string): PrintedItem[] {
    return (items ?? []).flatMap((said, index) => {
      const item = this.#standIn(said)
      const kind = itemKindOf(item)
      const gone = item.id !== undefined && !isShown(this.#frame, this.#facet, item.id)
      if (!kind || gone || this.#frame.isHidden(item.hide)) return []
      return [{ place: this.#facet, kind, item, pointer: `${pointer}/${index}` }]
    })
  }

  #standIn(item: Item): Item {
    if (item.logo !== undefined && this.#logo !== null) {
      const logo = this.#logo
      this.#logo = null
      return { ...item, logo }
    }
    if (item.menu !== undefined && this.#menu !== null) {
      const menu = this.#menu
      this.#menu = null
      return { ...item, menu }
    }
    return item
  }
}

type RowData = NonNullable<SurroundData['rows']>[number]

function measureRow(
  frame: Frame,
  id: string,
  pointer: string,
  row: RowData,
  items: readonly PrintedItem[],
): MeasuredRow {
  const padding = frame.sides(row.padding, frame.width)
  const heights = items.map(({ item }) => itemHeight(frame, item, Infinity))
  const tallest = Math.max(0, ...heights.map((h) => h.px))
  const estimated = heights.some((h) => h.certainty === 'estimated' && h.px === tallest)
  return {
    id,
    pointer,
    height: padding.top + tallest + padding.bottom,
    certainty: estimated ? 'estimated' : 'computed',
    stays: row.stays ?? false,
    items,
  }
}

/** The boxes of a bar and its rows, from a cursor on. */
export function barBoxes(frame: Frame, facet: Bar, bar: MeasuredSurround, at: Cursor): Box[] {
  const pointer = bar.id === undefined ? undefined : toPointer(['surrounds', bar.id])
  const { width } = frame
  const whole = makeBox({
    id: facet,
    of: facet,
    x: 0,
    at,
    width,
    height: bar.height,
    certainty: bar.certainty,
    pointer,
  })
  let cursor = at
  const rows = bar.rows.map((row) => {
    const { height, certainty, pointer } = row
    const box = makeBox({ id: `row:${row.id}`, of: facet, x: 0, at: cursor, width, height, certainty, pointer })
    cursor = cursor.down(height, `row ${row.id} of the ${facet}`, pointer, certainty)
    return box
  })
  return [whole, ...rows]
}

/** The items of a sidebar that are left, one under another. */
export function sidebarItems(frame: Frame): readonly PrintedItem[] {
  const id = frame.value('sidebar.use') as string | null
  return surroundItems(frame, id, 'sidebar', frame.value('sidebar.menu') as string | null)
}

/** The items of any surround, in order, as they print where it is used. */
export function surroundItems(
  frame: Frame,
  id: string | null | undefined,
  place: ItemPlace,
  menu: string | null = null,
): readonly PrintedItem[] {
  const surround = frame.surround(id)
  if (!surround || id == null) return []
  const at = toPointer(['surrounds', id])
  let standIn = menu
  const take = (items: readonly Item[] | undefined, pointer: string): PrintedItem[] =>
    (items ?? []).flatMap((said, index) => {
      const item = said.menu !== undefined && standIn !== null ? { ...said, menu: standIn } : said
      if (said.menu !== undefined) standIn = null
      const kind = itemKindOf(item)
      if (!kind || frame.isHidden(item.hide)) return []
      return [{ place, kind, item, pointer: `${pointer}/${index}` }]
    })
  return [
    ...(surround.rows ?? []).flatMap((row, n) =>
      frame.isHidden(row.hide) ? [] : take(row.items, `${at}/rows/${n}/items`),
    ),
    ...take(surround.items, `${at}/items`),
  ]
}
