import { h } from 'hastscript'
import { toHtml } from 'hast-util-to-html'
import type { Element } from 'hast'
import { DEFAULT_ARRANGE, type PresentFacet } from '../model/facets.js'
import { fromPointer } from '../model/json.js'
import type { InsertPlace } from '../model/site-data.js'
import type { Box } from '../measure/box.js'
import { Frame } from '../measure/frame.js'
import { surroundOf } from '../resolve/extensions.js'
import { sidebarItems } from '../measure/surround.js'
import { ContentWriter } from './content-writer.js'
import { fontFace } from './font-face.js'
import { css, cssSides, px, type Style } from './inline-style.js'
import { gatherStyles, nameParts } from './name-parts.js'
import { commentsContent, cssColor, itemContent, stackOf } from './item-content.js'
import { headerBackground, takesNoRoom } from '../measure/printed.js'
import type { PageMeasure } from '../measure/page-measure.js'

/**
 * Writes a measured page out as plain semantic HTML and CSS that a browser lays out as the page was worked out:
 * real landmarks, escaped text, no script. The CSS expresses the settings (paddings, margins, maxima, flex rows);
 * only heights that were estimated are given outright. Each element that has a box carries its id in `data-box`.
 */
export function renderHtml(measure: PageMeasure, options: RenderOptions = {}): string {
  return toHtml([{ type: 'doctype' }, renderTree(measure, options)], { allowDangerousCharacters: false })
}

/** How a preview is written. */
export interface RenderOptions {
  /** Whether the site's font is put into the page; default true. */
  readonly font?: boolean
  /** Whether nothing scrolls: a header that stays is drawn at its place; default false. */
  readonly still?: boolean
  /** Elements laid over the page, such as marks. */
  readonly over?: readonly Element[]
}

/** The same as an element tree. */
export function renderTree(measure: PageMeasure, options: RenderOptions = {}): Element {
  const page = new Writer(measure, options).page()
  nameParts(page, measure)
  gatherStyles(page)
  return page
}

type Child = Element | string

const RESET = `*{box-sizing:border-box;margin:0;padding:0;border:0;font:inherit;color:inherit}
html{overflow-x:clip;scrollbar-width:none}
body{display:flow-root;position:relative}
body *{min-width:0}
img{display:block}`

class Writer {
  readonly #measure: PageMeasure
  readonly #frame: Frame
  readonly #content: ContentWriter
  readonly #options: RenderOptions

  constructor(measure: PageMeasure, options: RenderOptions) {
    this.#measure = measure
    this.#options = options
    this.#frame = new Frame(measure.view)
    this.#content = new ContentWriter(measure, this.#frame)
  }

  get #page() {
    return this.#measure.view.page
  }

  #box(id: string): Box | undefined {
    return this.#measure.box(id)
  }

  page(): Element {
    const { typography } = this.#frame
    const { family } = this.#page.site.data.typography ?? {}
    const text = {
      'font-family': `site, ${
        family === undefined ? '' : `'${family.replaceAll(/[^\p{L}\p{N} ._-]/gu, '')}', `
      }sans-serif`,
      'font-size': typography.base,
      'line-height': String(typography.line),
    }
    const { color, ink } = this.#measure.view.ground
    const { clearance } = this.#measure
    const above = this.#inserts('before-header')
    const header = this.#header(above.length > 0)
    // Where nothing takes room above it, clearance is the page's own padding, as a theme would do it.
    const inset = above.length === 0 && (header.length === 0 || takesNoRoom(this.#measure)) ? clearance : undefined
    return h('html', { lang: 'en' }, [
      h('head', [
        h('meta', { charset: 'utf-8' }),
        h('meta', { name: 'viewport', content: 'width=device-width, initial-scale=1' }),
        h('title', this.#page.data.title),
        h('meta', { httpEquiv: 'Content-Security-Policy', content: POLICY }),
        h('style', RESET),
        ...(this.#options.font === false ? [] : this.#fontFace()),
      ]),
      h('body', { dataBox: 'page', style: css({ ...text, background: color, color: ink, 'padding-top': inset }) }, [
        ...above,
        ...header,
        ...(clearance > 0 && inset === undefined ? [h('div', { style: css({ height: clearance }) })] : []),
        ...this.#inserts('after-header'),
        ...(this.#isBand('title') ? [this.#title(0)] : []),
        ...(this.#isBand('leadImage') ? [this.#part('leadImage', 'figure', this.#partContent('leadImage'))] : []),
        this.#main(),
        ...this.#inserts('before-footer'),
        ...(this.#box('footer') ? [this.#bar('footer', {})] : []),
        ...(this.#options.over ?? []),
      ]),
    ])
  }

  /** The site's font, within the page: the page needs no other file. */
  #fontFace(): Element[] {
    const face = fontFace(this.#measure)
    return face === undefined ? [] : [h('style', face)]
  }

  #isBand(facet: 'title' | 'leadImage'): boolean {
    return this.#box(facet) !== undefined && this.#measure.view.value(`${facet}.place`) === 'band'
  }

  #header(hasAbove: boolean): Element[] {
    const box = this.#box('header')
    if (!box) return []
    const position = this.#measure.view.value('header.position')
    const stays = this.#options.still ? 'absolute' : 'fixed'
    if (position === 'fixed')
      return [this.#bar('header', { position: stays, top: 0, left: 0, right: 0, 'z-index': '10' })]
    if (position === 'overlay' && !hasAbove)
      return [this.#bar('header', { position: 'absolute', top: 0, left: 0, right: 0, 'z-index': '10' })]
    // It takes no height, and is where the inserts before it end.
    if (position === 'overlay')
      return [
        h('div', { style: css({ position: 'relative', height: 0, 'z-index': '10' }) }, [
          this.#bar('header', { position: 'absolute', top: 0, left: 0, right: 0 }),
        ]),
      ]
    return [this.#bar('header', position === 'sticky' ? { position: 'sticky', top: 0, 'z-index': '10' } : {})]
  }

  /** A header or footer as flex rows; its height is given outright only where it is not its rows' sum. */
  #bar(facet: 'header' | 'footer', style: Style): Element {
    const { rows, height, certainty } = this.#measure[facet]
    const sum = rows.reduce((total, row) => total + row.height, 0)
    const fixed = certainty === 'measured' || certainty === 'declared' || Math.abs(sum - height) > 1e-6
    const inner = rows.map((row) =>
      h(
        'div',
        {
          dataBox: `row:${row.id}`,
          style: css({
            display: 'flex',
            'align-items': facet === 'header' ? 'center' : 'flex-start',
            gap: 16,
            overflow: 'clip',
            'white-space': 'nowrap',
            padding: this.#rowPadding(row.pointer),
            height: row.certainty === 'estimated' ? row.height : undefined,
          }),
        },
        row.items.map(({ item }) => this.#content.item(item, undefined, Infinity)),
      ),
    )
    const { background, color } = barColors(this.#measure, facet)
    const look = { ...style, background, color, height: fixed ? height : undefined }
    return h(facet, { dataBox: facet, style: css(look) }, inner)
  }

  #rowPadding(pointer: string): string {
    const [, id = '', , index] = fromPointer(pointer)
    const row = this.#page.site.data.surrounds?.[id]?.rows?.[Number(index)]
    return cssSides(this.#frame, row?.padding, this.#frame.width)
  }

  #inserts(place: InsertPlace): Element[] {
    const mine = this.#page.inserts.filter(({ data }) => data.at === place && this.#box(`insert:${data.id}`))
    if (mine.length === 0) return []
    // A flow root of their own keeps their margins inside.
    return [
      h(
        'div',
        { style: css({ display: 'flow-root' }) },
        mine.map(({ data }) => this.#content.section(data, 'insert', data.id, this.#frame.width)),
      ),
    ]
  }

  #main(): Element {
    const frame = this.#frame
    const { view } = this.#measure
    const container = this.#box('container')
    const column = this.#box('column')
    const sidebar = this.#box('sidebar')
    const width = container?.width ?? 0
    const padding = frame.sides(view.value('width.padding') as string | number, width)
    const side = view.value('sidebar.side')
    const gap = frame.property('sidebar.gap', width) ?? 0
    const beside = this.#measure.sidebarBeside && sidebar !== undefined
    const columnElement = h(
      'div',
      {
        dataBox: 'column',
        style: css({ display: 'flow-root', 'max-width': '100%', width: column?.width, flex: 'none' }),
      },
      this.#column(),
    )
    const sidebarElement = sidebar
      ? [
          this.#part(
            'sidebar',
            'aside',
            stackOf(
              frame,
              sidebarItems(frame).map(({ item }) => item),
              sidebar.width,
            ),
            {
              flex: 'none',
              width: sidebar.width,
              'margin-top': beside ? undefined : gap,
            },
          ),
        ]
      : []
    const parts = beside && side === 'left' ? [...sidebarElement, columnElement] : [columnElement, ...sidebarElement]
    const layout: Style = beside ? { display: 'flex', 'align-items': 'flex-start', gap } : { display: 'flow-root' }
    const boxed = view.value('width.mode') === 'boxed'
    return h(
      'main',
      {
        dataBox: 'main',
        style: css({
          display: 'flow-root',
          'padding-top': frame.property('spacing.before'),
          'padding-bottom': frame.property('spacing.after'),
        }),
      },
      [
        ...this.#inserts('before-content'),
        h(
          'div',
          {
            dataBox: 'container',
            style: css({
              display: 'flow-root',
              width: boxed ? `calc(100% - ${px(2 * (frame.property('width.gutter', frame.width) ?? 0))})` : '100%',
              'max-width': boxed ? frame.property('width.max', frame.width) : undefined,
              'margin-left': 'auto',
              'margin-right': 'auto',
            }),
          },
          // On an element of its own the padding cannot make the container wider than its maximum.
          [
            h(
              'div',
              { style: css({ ...layout, 'padding-left': padding.left, 'padding-right': padding.right }) },
              parts,
            ),
          ],
        ),
        ...this.#inserts('after-content'),
      ],
    )
  }

  #column(): Element[] {
    const arrange = this.#page.choice.template?.arrange ?? DEFAULT_ARRANGE
    return arrange.flatMap((entry, index): Element[] => {
      if (entry === 'content') {
        const width = this.#box('column')?.width ?? 0
        return [
          h(
            'div',
            { style: css({ display: 'flow-root' }) },
            this.#content.list(this.#page.data.body ?? [], undefined, 0, width),
          ),
        ]
      }
      if (typeof entry !== 'string')
        return [this.#content.item(entry, `arrange:${index}`, this.#box('column')?.width ?? 0)]
      if (!this.#box(entry)) return []
      if (entry === 'title') return this.#isBand('title') ? [] : [this.#title(this.#measure.gutter)]
      if (entry === 'leadImage' && this.#isBand('leadImage')) return []
      const box = this.#box(entry)
      const centered: Style =
        entry === 'comments' ? { width: box?.width, 'margin-left': 'auto', 'margin-right': 'auto' } : {}
      return [this.#part(entry, TAGS[entry] ?? 'div', this.#partContent(entry), centered)]
    })
  }

  /** What a part of the theme prints. */
  #partContent(id: PresentFacet): Child[] {
    if (id === 'comments') return commentsContent()
    if (id === 'byline') return itemContent(this.#frame, { byline: true }, this.#box('byline')?.height ?? 0)
    if (id !== 'leadImage') return []
    return itemContent(this.#frame, { image: this.#page.data.image ?? '' }, this.#box('leadImage')?.height ?? 0)
  }

  /** A part whose height is given outright. */
  #part(id: PresentFacet, tag: string, children: readonly Child[], style: Style = {}): Element {
    return h(tag, { dataBox: id, style: css({ height: this.#box(id)?.height, overflow: 'clip', ...style }) }, [
      ...children,
    ])
  }

  #title(gutter: number): Element {
    const box = this.#box('title')
    const { view } = this.#measure
    const { size, line } = this.#frame.heading(1)
    const own = this.#frame.property('title.height')
    const padding = this.#frame.sides(view.value('title.padding') as string | number, box?.width ?? 0)
    const outright = own !== undefined || this.#frame.text.certainty === 'estimated'
    return h(
      'h1',
      {
        dataBox: 'title',
        style: css({
          'font-size': size,
          'line-height': String(line),
          'padding-top': padding.top,
          'padding-right': padding.right + gutter,
          'padding-bottom': padding.bottom,
          'padding-left': padding.left + gutter,
          height: outright ? box?.height : undefined,
          overflow: outright ? 'clip' : undefined,
        }),
      },
      [this.#isBand('title') ? this.#inContainer(this.#page.data.title) : this.#page.data.title],
    )
  }

  /** Words of a band, which are set in the container's width. */
  #inContainer(words: string): Element {
    const width = this.#box('container')?.width
    return h('span', { style: css({ display: 'block', 'max-width': width, margin: '0 auto' }) }, [words])
  }
}

/** Nothing runs, and nothing is fetched. */
const POLICY = "default-src 'none'; style-src 'unsafe-inline'; img-src data:; font-src data:"

/** The colors of a header or footer: the facet's own, else the surround's. */
function barColors(
  measure: PageMeasure,
  facet: 'header' | 'footer',
): { background?: string | undefined; color?: string | undefined } {
  const frame = new Frame(measure.view)
  const surround = surroundOf(frame.site.data, measure[facet].id)
  const ink = facet === 'header' ? measure.view.value('header.ink') : null
  const background = facet === 'header' ? headerBackground(measure) : frame.at(surround?.background)
  return {
    background: cssColor(background),
    color: cssColor(typeof ink === 'string' ? ink : frame.at(surround?.ink)),
  }
}

const TAGS: Readonly<Record<string, string>> = { byline: 'p', leadImage: 'figure', comments: 'section' }
