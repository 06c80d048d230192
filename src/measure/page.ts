import { ValueError } from '../model/unknown-name.js'
import type { Viewport } from '../model/site.js'
import type { PageView, ResolvedPage, ViewportChoice } from '../resolve/page.js'
import type { Box, PrintedItem } from './box.js'
import { Frame } from './frame.js'
import { basesOf, layOutPage } from './lay-out-page.js'
import type { ArrangedSlot, FacetBases, PageMeasure, PlainMeasure } from './page-measure.js'
import type { MeasuredSection } from './section.js'
import type { MeasuredSurround } from './surround.js'
import type { TextMeasurer } from './text.js'

/** Up to so many boxes are looked through for one of them; of more a map is made. */
const FEW_BOXES = 32

/** Plain data, with its view and the way to find a box on the prototype, where copies leave them out. */
class Measured implements PageMeasure {
  readonly viewport: Viewport
  readonly boxes: readonly Box[]
  readonly items: readonly PrintedItem[]
  readonly sections: readonly MeasuredSection[]
  readonly arranged: readonly ArrangedSlot[]
  readonly header: MeasuredSurround
  readonly footer: MeasuredSurround
  readonly clearance: number
  readonly afterClearance: number
  readonly room: number
  readonly gutter: number
  readonly sidebarBeside: boolean
  readonly #frame: Frame
  #byId: Map<string, Box> | undefined

  constructor(frame: Frame, data: PlainMeasure) {
    this.viewport = data.viewport
    this.boxes = data.boxes
    this.items = data.items
    this.sections = data.sections
    this.arranged = data.arranged
    this.header = data.header
    this.footer = data.footer
    this.clearance = data.clearance
    this.afterClearance = data.afterClearance
    this.room = data.room
    this.gutter = data.gutter
    this.sidebarBeside = data.sidebarBeside
    this.#frame = frame
  }

  /** What a measure was worked out with, for the one that comes after it. */
  static frameOf(measure: PageMeasure | undefined): Frame | undefined {
    return measure instanceof Measured ? measure.#frame : undefined
  }

  get view(): PageView {
    return this.#frame.view
  }

  box(id: string): Box | undefined {
    const { boxes } = this
    // Most pages have few boxes, and nobody asks for many of them. Of two of one id the last one counts.
    if (boxes.length <= FEW_BOXES) {
      for (let n = boxes.length - 1; n >= 0; n--) if (boxes[n]?.id === id) return boxes[n]
      return undefined
    }
    this.#byId ??= new Map(boxes.map((box) => [box.id, box]))
    return this.#byId.get(id)
  }
}

/** How a page is measured. */
export interface MeasureOptions {
  /** How wide text is; default: the site's font, else an estimate. */
  readonly text?: TextMeasurer
}

/**
 * Works out the boxes of a page at a viewport.
 *
 * @throws {UnknownNameError} When the site has no viewport of that name. @throws {ValueError} When the page is dormant.
 * @example
 * measurePage(resolved.page('visit'), 'phone').box('header')?.height // => 96
 */
export function measurePage(page: ResolvedPage, viewport: ViewportChoice, options: MeasureOptions = {}): PageMeasure {
  if (page.dormant)
    throw new ValueError(`the page "${page.id}" is dormant: its kind comes from an extension that is off`)
  const frame = new Frame(page.at(viewport), options.text)
  return new Measured(frame, layOutPage(frame))
}

/** What a page was measured with, which answers as a new one does. @internal */
export const frameOf = (measure: PageMeasure): Frame => Measured.frameOf(measure) ?? new Frame(measure.view)

/** What lengths of a page refer to, without laying out what it prints. @throws As `measurePage` does. */
export const facetBases = (page: ResolvedPage, viewport: ViewportChoice): FacetBases =>
  basesOf(new Frame(page.at(viewport)))
