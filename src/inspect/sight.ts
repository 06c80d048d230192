import { parseColour } from '../css/colour.js'
import type { PrintedItem } from '../measure/box.js'
import { Frame } from '../measure/frame.js'
import { measurePage, type PageMeasure } from '../measure/page.js'
import type { MeasuredSection } from '../measure/section.js'
import { surroundItems } from '../measure/surround.js'
import { DEFAULT_ARRANGE, type PresentFacet, type PropertyPath } from '../model/facets.js'
import { toPointer } from '../model/json.js'
import type { Box as BoxData } from '../model/site-data.js'
import type { PageView, ResolvedPage } from '../resolve/page.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import type { Deciding } from './deciding.js'

/** Where nobody said anything: the place where the theme could. */
const THEME = '/theme'

/** A heading or title that can be seen. */
export interface SeenTitle {
  readonly pointer: string
  readonly what: string
  /** Whether it carries the headline: a heading 1, or the page's title itself. */
  readonly carriesHeadline: boolean
}

/** One page at one viewport, with the questions that several rules put to it. Each is answered once. */
export class Sight {
  readonly resolved: ResolvedSite
  readonly page: ResolvedPage
  readonly view: PageView
  readonly frame: Frame
  #measure: PageMeasure | undefined
  #items: readonly PrintedItem[] | undefined

  constructor(resolved: ResolvedSite, page: ResolvedPage, viewport: string) {
    this.resolved = resolved
    this.page = page
    this.view = page.at(viewport)
    this.frame = new Frame(this.view, undefined)
  }

  get measure(): PageMeasure {
    return (this.#measure ??= measurePage(this.page, this.view.viewport.name))
  }

  /** Every item that prints, those of a surround that stands in the body or an insert included. */
  get items(): readonly PrintedItem[] {
    this.#items ??= this.measure.items.flatMap((printed) =>
      printed.kind === 'use'
        ? [printed, ...surroundItems(this.frame, printed.item.use, printed.place).map((p) => nested(p, printed))]
        : [printed],
    )
    return this.#items
  }

  isShown(facet: PresentFacet): boolean {
    return this.view.presence(`${facet}.presence`) === 'shown'
  }

  /** The body's first section that is not hidden, where the template prints the content. */
  get firstSection(): MeasuredSection | undefined {
    const arrange = this.page.choice.template?.arrange ?? DEFAULT_ARRANGE
    if (!arrange.includes('content')) return undefined
    const body = toPointer(['pages', this.page.id, 'body'])
    return this.measure.sections.find((s) => s.depth === 0 && s.pointer.startsWith(`${body}/`))
  }

  /** What decides a property; the theme where nobody but the baseline spoke. */
  decider(path: PropertyPath): Deciding {
    const entry = this.view.decider(path)
    if (!entry?.at) return { at: THEME }
    return { at: entry.at.pointer, ...(entry.layer === 'style' && { place: entry.at }) }
  }

  /** All that shows the page's title, or a heading that stands for it, in order of the document. */
  get seenTitles(): readonly SeenTitle[] {
    const title = normalised(this.page.data.title)
    const theme: readonly SeenTitle[] = this.measure.box('title')
      ? [{ pointer: this.decider('title.presence').at, what: "the theme's title", carriesHeadline: true }]
      : []
    const first = this.firstSection
    const items = this.items.flatMap(({ item, kind, pointer, place }): SeenTitle[] => {
      if (kind === 'title') return [{ pointer, what: `a title item in the ${place}`, carriesHeadline: true }]
      if (kind !== 'heading') return []
      const isTitle = normalised(item.text ?? '') === title
      const isTop =
        item.heading === 1 && (place === 'arrange' || (first !== undefined && isInside(pointer, first.pointer)))
      const what = `${isTitle ? 'the same words as' : 'a'} heading ${item.heading ?? ''} in the ${place}`
      return isTitle || isTop ? [{ pointer, what, carriesHeadline: item.heading === 1 }] : []
    })
    return [...theme, ...items]
  }

  /** Whether any heading 1 is seen, title or not. */
  get seesTopHeading(): boolean {
    return this.items.some(({ item }) => item.heading === 1)
  }
}

const isInside = (pointer: string, outer: string): boolean => pointer.startsWith(`${outer}/`)

/** An item of a surround that stands in the content has the box of the item that uses it. */
const nested = (inner: PrintedItem, outer: PrintedItem): PrintedItem => ({
  ...inner,
  ...(outer.box && { box: outer.box }),
  ...(outer.section !== undefined && { section: outer.section }),
})

/** Words without case, and with white space of any length the same. */
export const normalised = (text: string): string => text.replace(/\s+/g, ' ').trim().toLowerCase()

/** Whether a section has a background of its own: a picture, or a colour that is not fully transparent. */
export function hasBackground(frame: Frame, data: BoxData): boolean {
  if (data.background?.image !== undefined) return true
  const colour = frame.at(data.background?.colour)
  return colour !== undefined && (parseColour(colour)?.alpha ?? 0) > 0
}
