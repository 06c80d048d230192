import type { Element } from 'hast'
import { h } from 'hastscript'
import type { Frame } from '../measure/frame.js'
import { itemHeight } from '../measure/item-height.js'
import type { PageMeasure } from '../measure/page-measure.js'
import { itemKindOf } from '../model/item-kinds.js'
import type { Box as BoxData, Item } from '../model/site-data.js'
import { css, cssSides, type Style } from './inline-style.js'
import { cssColor, itemContent, tintOf } from './item-content.js'

/** Writes sections and items of a measured page as elements: what builders and templates print. */
export class ContentWriter {
  readonly #measure: PageMeasure
  readonly #frame: Frame

  constructor(measure: PageMeasure, frame: Frame) {
    this.#measure = measure
    this.#frame = frame
  }

  /**
   * Items one after another, in elements of their own.
   *
   * @param section - The section that they are in, if any. @param first - The number of the first of them in it. @param width - Px.
   */
  list(items: readonly Item[], section: string | undefined, first: number, width: number): Element[] {
    return items.flatMap((item, index): Element[] => {
      if (this.#frame.isHidden(item.hide)) return []
      if (item.section !== undefined) return [this.section(item, 'section', item.section, width)]
      return [this.item(item, section === undefined ? undefined : `item:${section}/${first + index}`, width)]
    })
  }

  /** A section or an insert, with all that is in it. */
  section(data: BoxData, of: 'section' | 'insert', id: string, width: number): Element {
    const frame = this.#frame
    const inside = this.#measure.box(`inside:${id}`)
    const margins = frame.sides(data.margin, width, true)
    const out = (width - frame.width) / 2
    const role = frame.at(data.role)
    const fixed = frame.px(data.height)
    const align = frame.at(data.align) ?? 'start'
    const justify = { start: 'flex-start', center: 'safe center', end: 'safe end' }[align]
    const band: Style = {
      display: 'flex',
      'flex-direction': 'column',
      'justify-content': justify,
      'align-items': 'center',
      padding: cssSides(frame, data.padding, width),
      'margin-top': margins.top,
      'margin-bottom': margins.bottom,
      'margin-left': data.breakout ? out : margins.left,
      'margin-right': data.breakout ? out : margins.right,
      height: fixed,
      'min-height': fixed === undefined ? frame.px(data.minHeight) : undefined,
      ...groundOf(frame, data),
      color: cssColor(frame.at(data.ink)),
    }
    return h('section', { dataBox: `${of}:${id}`, id, role, style: css(band) }, [
      h(
        'div',
        {
          dataBox: `inside:${id}`,
          style: css({
            display: 'flow-root',
            flex: 'none',
            width: '100%',
            'max-width': frame.px(data.maxWidth, width),
          }),
        },
        this.#content(data, id, inside?.width ?? 0),
      ),
    ])
  }

  #content(data: BoxData, id: string, width: number): Element[] {
    const { columns } = data
    if (!columns) return this.list(data.items ?? [], id, 0, width)
    const gap = this.#frame.px(data.gap) ?? 0
    const beside = this.#measure.sections.find((s) => s.id === id)?.columns ?? []
    let first = 0
    const parts = columns.map((column, index) => {
      const items = column.items ?? []
      const own = beside[index]?.width ?? width
      const element = h(
        'div',
        {
          style: css({
            display: 'flow-root',
            flex: `${column.share ?? 1} 1 0`,
            width: beside.length > 0 ? undefined : '100%',
          }),
        },
        this.list(items, id, first, own),
      )
      first += items.length
      return element
    })
    const direction: Style =
      beside.length > 0
        ? { display: 'flex', 'align-items': 'flex-start', gap }
        : { display: 'grid', 'grid-template-columns': '100%', gap }
    return [h('div', { style: css(direction) }, parts)]
  }

  /** An item as its own element; a height that no font settles is given outright. */
  item(item: Item, id: string | undefined, width: number): Element {
    const frame = this.#frame
    const kind = itemKindOf(item) ?? 'gap'
    const box = id === undefined ? undefined : this.#measure.box(id)

    const worked = itemHeight(frame, item, width)
    const flows = (kind === 'text' || kind === 'heading' || kind === 'title') && worked.certainty === 'computed'
    const height = flows ? undefined : (box?.height ?? worked.px)
    const own = frame.px(item.width, Number.isFinite(width) ? width : frame.width)
    const style: Style = {
      display: 'flow-root',
      width: own,
      'max-width': 'none',
      height,
      overflow: 'clip',
      flex: 'none',
    }
    const heading = kind === 'heading' ? (item.heading ?? 2) : kind === 'title' ? 1 : undefined
    const text = kind === 'title' ? this.#measure.view.page.data.title : (item.text ?? '')
    if (heading !== undefined) {
      const { size, line } = frame.heading(heading)
      return h(
        `h${heading}`,
        { dataBox: id, style: css({ ...style, 'font-size': size, 'line-height': String(line) }) },
        [text],
      )
    }
    const words = item.text ?? ''
    const inside = words === '' ? itemContent(frame, item, typeof height === 'number' ? height : 0) : [words]
    return h(ITEM_TAGS[kind] ?? 'div', { dataBox: id, style: css(style) }, inside)
  }
}

/** A section's background: its picture, or the tones of it, over its color. */
function groundOf(frame: Frame, { background }: BoxData): Style {
  if (!background) return {}
  const picture = background.image === undefined ? undefined : tintOf(frame, background.image)
  return {
    'background-color': cssColor(frame.at(background.color)),
    'background-image': picture,
    'background-blend-mode': picture === undefined ? undefined : frame.at(background.blend),
  }
}

const ITEM_TAGS: Readonly<Record<string, string>> = {
  text: 'p',
  menu: 'nav',
  image: 'figure',
  button: 'p',
  form: 'div',
  search: 'search',
}
