import type { Box } from '../measure/box.js'
import { takesNoRoom } from '../measure/printed.js'
import type { MeasuredSection } from '../measure/section.js'
import { hasBackground } from './behind.js'
import { leftBehind } from './left-behind.js'
import type { Sight } from './sight.js'
import { TOLERANCE_PX } from './thresholds.js'

/**
 * Where a page's content may begin, in px: the lower edge of a header that takes room or hides what is under it, else
 * where the part above the header ends.
 */
export const topEdge = (sight: Sight): number => sight.once(findTopEdge)

function findTopEdge(sight: Sight): number {
  const { header, measure } = sight
  let above = 0
  for (const box of measure.boxes) if (isAboveHeader(sight, box)) above = Math.max(above, box.y + box.height)
  if (!header) return above
  if (!takesNoRoom(measure)) return header.y + header.height
  return sight.isHeaderOverlaying ? above : Math.max(above, header.y + header.height)
}

const isAboveHeader = ({ page }: Sight, { of, pointer }: Box): boolean =>
  of === 'insert' &&
  page.inserts.some(({ index, data }) => data.at === 'before-header' && pointer === `/inserts/${index}`)

const BEFORE_CONTENT = ['title', 'byline', 'leadImage'] as const

/** Whether anything is printed between the header and a y, inserts and bands included. */
function hasAnythingAbove(sight: Sight, y: number): boolean {
  const { measure } = sight
  const isBetween = (box: Box | undefined): boolean =>
    box !== undefined && box.height > 0 && box.y + box.height <= y + TOLERANCE_PX && !isAboveHeader(sight, box)
  return (
    BEFORE_CONTENT.some((facet) => isBetween(measure.box(facet))) ||
    measure.sections.some(({ band }) => band.of === 'insert' && isBetween(band)) ||
    measure.items.some(({ box, place, kind }) => place === 'arrange' && kind !== 'gap' && isBetween(box))
  )
}

/** The first section where it is a band: `full` or as wide as the window, with a background and nothing above it. */
export const firstBand = (sight: Sight): MeasuredSection | undefined => sight.once(findFirstBand)

function findFirstBand(sight: Sight): MeasuredSection | undefined {
  const first = sight.firstSection
  if (!first || !hasBackground(sight.frame, first.data) || hasAnythingAbove(sight, first.band.y)) return undefined
  const isFull = sight.frame.at(first.data.band) === 'full'
  return isFull || first.band.width >= sight.measure.viewport.width - TOLERANCE_PX ? first : undefined
}

/** Px of blank between the header (or the window's top) and a band that begins the page; clearance and gaps apart. */
export function stripAbove(sight: Sight, band: MeasuredSection): number {
  const { measure } = sight
  const edge = topEdge(sight)
  const free = takesNoRoom(measure) ? Math.max(edge, measure.clearance) : edge + measure.clearance
  const gaps = leftBehind(sight).filter(({ slot }) => slot.y < band.band.y)
  return band.band.y - free - gaps.reduce((sum, { slot }) => sum + slot.height, 0)
}

/** A text of the page proper, and where its words begin. */
export interface PlacedText {
  readonly box: Box
  readonly what: string
  readonly pointer: string | undefined
  readonly top: number
  readonly left: number
  readonly right: number
}

const NO_INSET = { top: 0, left: 0, right: 0 }

/** The texts of the title, the byline, inserts, the template, the body and the sidebar, in no order. */
export const placedTexts = (sight: Sight): readonly PlacedText[] => sight.once(findTexts)

function findTexts(sight: Sight): readonly PlacedText[] {
  const { measure, frame, view } = sight
  const texts: PlacedText[] = []
  const add = (
    box: Box,
    what: string,
    pointer: string | undefined,
    inset: { top: number; left: number; right: number },
  ): void => {
    if (box.height > 0)
      texts.push({
        box,
        what,
        pointer,
        top: box.y + inset.top,
        left: box.x + inset.left,
        right: box.x + box.width - inset.right,
      })
  }
  for (const facet of ['title', 'byline'] as const) {
    const box = measure.box(facet)
    if (!box) continue
    const padding = frame.sides(facet === 'title' ? (view.value('title.padding') as string | number) : 0, box.width)
    // In a band the title is centered in the container's width; in a full container it has the gutter inside.
    const isBand = facet === 'title' && view.value('title.place') === 'band'
    const container = measure.box('container')?.width ?? box.width
    const side = isBand ? Math.max(0, (box.width - container) / 2) : measure.gutter
    add(box, `the ${facet}`, undefined, { top: padding.top, left: padding.left + side, right: padding.right + side })
  }
  for (const { box, place, kind, pointer, section } of sight.texts) {
    if (!box || place === 'header' || place === 'footer' || place === 'sidebar') continue
    add(box, section === undefined ? `a ${kind}` : `the ${kind} in "${section}"`, pointer, NO_INSET)
  }
  const sidebar = measure.box('sidebar')
  if (sidebar && sight.texts.some(({ place }) => place === 'sidebar')) add(sidebar, 'the sidebar', undefined, NO_INSET)
  return texts
}
