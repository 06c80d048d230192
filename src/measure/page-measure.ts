import type { Viewport } from '../model/site.js'
import type { ArrangeEntry } from '../model/site-data.js'
import type { PageView } from '../resolve/page.js'
import type { Box, PrintedItem } from './box.js'
import type { MeasuredSection } from './section.js'
import type { MeasuredSurround } from './surround.js'

/** One entry of a template's `arrange`, with what it came to. */
export interface ArrangedSlot {
  readonly entry: ArrangeEntry
  readonly index: number
  /** Px it takes; 0 for what prints nothing. */
  readonly height: number
  readonly printed: boolean
  readonly y: number
}

/** Everything worked out of a page at a viewport, in CSS px from the page's top left. */
export interface PageMeasure {
  readonly view: PageView
  readonly viewport: Viewport
  /** In order of the document. */
  readonly boxes: readonly Box[]
  /** The box of an id; `undefined` when the page has none. */
  box(id: string): Box | undefined
  /** Items that print, in order of the document. */
  readonly items: readonly PrintedItem[]
  /** Sections of the body and of inserts, outer before inner. */
  readonly sections: readonly MeasuredSection[]
  readonly arranged: readonly ArrangedSlot[]
  readonly header: MeasuredSurround
  readonly footer: MeasuredSurround
  /** `header.clearance` in px. */
  readonly clearance: number
  /** Where the clearance ends: the first y after the header that is free. */
  readonly afterClearance: number
  /** Width that the container leaves to column and sidebar. */
  readonly room: number
  /** The side padding that title, byline and comments have in a full container. */
  readonly gutter: number
  /** Whether the sidebar is beside the column. */
  readonly sidebarBeside: boolean
}

/** What of a measure is plain data: what `JSON.stringify` and `structuredClone` give of it. */
export type PlainMeasure = Omit<PageMeasure, 'view' | 'box'>

/** What lengths of a page refer to. */
export type FacetBases = Pick<PageMeasure, 'view' | 'viewport' | 'clearance'> & {
  /** Widths of the boxes that percentages are of; `undefined` when the page has no such box. */
  readonly box: (id: 'container' | 'title') => Pick<Box, 'width'> | undefined
}
