import { exitsOf, type ExitPlace } from '../inspect/links.js'
import type { PageSight } from '../inspect/page-sight.js'
import { isInside, type Sight } from '../inspect/sight.js'
import type { Box, Certainty, PrintedItem } from '../measure/box.js'
import { Frame } from '../measure/frame.js'
import { headerBackground } from '../measure/printed.js'
import { itemHeight } from '../measure/item-height.js'
import type { MeasuredSection } from '../measure/section.js'
import type { Json } from '../model/json.js'
import type { PresentFacet } from '../model/facets.js'
import { surroundOf } from '../resolve/extensions.js'
import {
  PARTS_SEEN,
  UNNAMED,
  UNTOLD,
  folded,
  gapBetween,
  headingWords,
  plainAddress,
  roundedPx,
  sameColor,
} from './seen-words.js'

/** What a page should show at a viewport: a property's value, and how sure its number is. */
export type Expectations = ReadonlyMap<string, { readonly value: Json; readonly certainty: Certainty }>
/**
 * What a real page should show, property by property. Each number is of one thing alone (a height, a width, a distance
 * between neighbors), so that one change does not show in all that is below it.
 */
export function expectationsOf(page: PageSight, sight: Sight): Expectations {
  const out = new Map<string, { value: Json; certainty: Certainty }>()
  const say = (property: string, value: Json | undefined, certainty: Certainty = 'computed'): void => {
    if (value !== undefined) out.set(property, { value, certainty })
  }
  const { measure, view } = sight
  const box = (id: string): Box | undefined => measure.box(id)

  for (const facet of PARTS_SEEN) {
    const isPictureless = facet === 'leadImage' && !box('leadImage')
    const said =
      isPictureless && view.presence('leadImage.presence') === 'shown' ? 'absent' : view.presence(`${facet}.presence`)
    if (facet === 'title' && titleItem(sight)) {
      say('title.presence', 'shown')
      continue
    }
    // There is one markup for all widths.
    say(`${facet}.presence`, said === 'absent' && !isPictureless && page.isInMarkup(facet) ? 'hidden' : said)
    const own_ = box(facet)
    if (own_)
      say(
        `${facet}.height`,
        roundedPx(own_.height),
        own_.height === 0 ? 'computed' : heightCertainty(sight, facet, own_),
      )
  }
  sayHeader(sight, say)
  for (const part of ['header', 'footer'] as const) {
    if (!box(part)) continue
    say(`${part}.links`, linksOf(sight, part))
    say(`${part}.words`, wordsOf(sight, part))
  }
  const isItem = titleItem(sight) !== undefined
  if (box('title') || isItem) {
    say('title.place', isItem ? 'content' : view.value('title.place'))
    say('title.words', headingWords(sight.page.data.title))
  }
  saySidebar(page, sight, say)
  const [main, container, column] = [box('main'), box('container'), box('column')]
  if (container) say('width.container', roundedPx(container.width))
  if (column) say('width.column', roundedPx(column.width))
  if (box('comments')) say('comments.width', roundedPx(box('comments')?.width ?? 0))
  if (main && container && column) {
    const inserts = (place: string): number => insertHeights(sight, place)
    const inColumn = columnParts(sight)
    say('spacing.before', roundedPx(container.y - main.y - inserts('before-content')))
    say('spacing.after', roundedPx(main.y + main.height - container.y - container.height - inserts('after-content')))
    if (inColumn !== undefined) say('spacing.within', roundedPx(column.height - inColumn))
    const above = ['before-header', 'after-header'].reduce((sum, place) => sum + inserts(place), 0)
    say('header.clearance', roundedPx(main.y - headerFlow(sight) - above - bandHeights(sight)))
  }
  say('findable.web', view.value('findable.web'))
  say('page.ground', sameColor(view.ground.color))
  saySections(sight, say)
  return out
}

/** The item that shows the page's title in place of the theme's. */
const titleItem = (sight: Sight): PrintedItem | undefined =>
  sight.measure.box('title')
    ? undefined
    : sight.items.find(({ item, place }) => item.title === true && (place === 'body' || place === 'arrange'))

type Say = (property: string, value: Json | undefined, certainty?: Certainty) => void

function sayHeader(sight: Sight, say: Say): void {
  const { measure, view } = sight
  if (!measure.box('header')) return
  say('header.position', view.value('header.position'))
  say('header.background', sameColor(headerBackground(measure)))
  const surround = surroundOf(sight.resolved.site.data, measure.header.id)
  const ink = view.value('header.ink') ?? new Frame(view).at(surround?.ink)
  if (typeof ink === 'string') say('header.ink', sameColor(ink))
}

function saySidebar(page: PageSight, sight: Sight, say: Say): void {
  const { measure, view } = sight
  const sidebar = measure.box('sidebar')
  // Whether it is printed is a matter of settings: the other viewports need not be laid out for that.
  const isPrinted = (each: Sight): boolean => each.isShown('sidebar') && each.view.value('sidebar.side') !== 'none'
  const unprinted = page.some(isPrinted) ? 'hidden' : 'absent'
  const presence = view.presence('sidebar.presence')
  say(
    'sidebar.presence',
    sidebar ? 'shown' : view.value('sidebar.side') === 'none' || presence === 'absent' ? unprinted : presence,
  )
  const column = measure.box('column')
  if (!sidebar || !column) return
  say('sidebar.side', measure.sidebarBeside ? view.value('sidebar.side') : 'below')
  // Below the column it is as wide as what both are in.
  if (measure.sidebarBeside) say('sidebar.width', roundedPx(sidebar.width))
  say('sidebar.gap', roundedPx(gapBetween(column, sidebar, measure.sidebarBeside)))
  say('sidebar.height', roundedPx(sidebar.height), sidebar.certainty)
}

/** A box's certainty is also that of its place; what is asked here is its height's alone. */
function heightCertainty({ measure, frame }: Sight, facet: PresentFacet, box: Box): Certainty {
  if (facet === 'header' || facet === 'footer') return measure[facet].certainty
  if (facet === 'title') return frame.text.certainty
  if (facet === 'sidebar') return box.certainty
  const own_ = frame.property(`${facet}.height`)
  return own_ !== undefined ? 'declared' : facet === 'leadImage' ? 'computed' : box.certainty
}

/** Where the page goes on after the header: below it where it takes room. */
function headerFlow({ measure, headerPosition }: Sight): number {
  const header = measure.box('header')
  return header && (headerPosition === 'flow' || headerPosition === 'sticky') ? header.height : 0
}

function insertHeights({ measure, page }: Sight, place: string): number {
  return (
    page.inserts
      // One without a name in the markup is not found there: its height counts as free on both sides.
      .filter(({ data }) => data.at === place && !UNNAMED.test(data.id))
      .reduce((sum, { data }) => sum + (measure.box(`insert:${data.id}`)?.height ?? 0), 0)
  )
}

const bandHeights = ({ measure, view }: Sight): number =>
  (['title', 'leadImage'] as const).reduce(
    (sum, facet) => sum + (view.value(`${facet}.place`) === 'band' ? (measure.box(facet)?.height ?? 0) : 0),
    0,
  )

/** Heights of what is in the column; `undefined` where some of it has no name by which it could be found. */
function columnParts(sight: Sight): number | undefined {
  const { measure, view, page } = sight
  const isNameless = (item: { section?: string | undefined; gap?: unknown }): boolean =>
    item.section === undefined ? item.gap === undefined : UNNAMED.test(item.section)
  const body = sight.arrange.includes('content') ? (page.data.body ?? []) : []
  const arranged = sight.arrange.filter((entry) => typeof entry !== 'string')
  if ([...body, ...arranged].some(isNameless)) return undefined
  const facets = (['title', 'byline', 'leadImage', 'comments'] as const).filter(
    (facet) => !((facet === 'title' || facet === 'leadImage') && view.value(`${facet}.place`) === 'band'),
  )
  const ids = [...facets, ...topSections(sight).map((id) => `section:${id}`)]
  return ids.reduce((sum, id) => sum + (measure.box(id)?.height ?? 0), 0)
}

/** Ids of the sections of the body and of the template that are in no other, as far as they are printed. */
const topSections = ({ measure }: Sight): readonly string[] =>
  measure.sections.filter((s) => s.depth === 0 && measure.box(`section:${s.id}`)).map((s) => s.id)

/** Where a part should lead: paths of the site's own pages, else addresses. */
export function linksOf(sight: Sight, by: ExitPlace): Json {
  const { site } = sight.resolved
  const front = site.data.purposes?.front
  return [...exitsOf(sight, by)]
    .map((exit) => {
      const page = exit.startsWith('page ') ? exit.slice(5) : undefined
      return page === undefined ? exit : page === front ? '/' : plainAddress(site.pageData(page)?.path ?? '')
    })
    .sort()
}

/** Texts, headings and buttons, in order. */
const wordsOf = (sight: Sight, place: 'header' | 'footer'): Json =>
  sight.items
    .filter((printed) => printed.place === place)
    .flatMap(({ item }) => item.text ?? item.button ?? [])
    .map(folded)
    .filter((text) => text !== '')

function saySections(sight: Sight, say: Say): void {
  const { measure } = sight
  const top = topSections(sight)
  if (!top.some((id) => UNTOLD.test(id)))
    say(
      'body.sections',
      top.filter((id) => !UNNAMED.test(id)),
    )
  const name = titleItem(sight)
  say(
    'body.topHeadings',
    sight.items.filter(
      (printed) =>
        (printed.place === 'body' || printed.place === 'insert' || printed.place === 'arrange') &&
        printed !== name &&
        (printed.item.heading === 1 || printed.item.title === true),
    ).length,
  )
  for (const of of ['section', 'insert'] as const)
    for (const box of measure.boxes) {
      if (!box.id.startsWith(`${of}:`)) continue
      const id = box.id.slice(of.length + 1)
      const section = measure.sections.find((s) => s.id === id)
      say(`body.${id}.height`, roundedPx(box.height), section ? sectionCertainty(sight, section) : box.certainty)
      say(`body.${id}.width`, roundedPx(box.width))
      const color = section && new Frame(sight.view).at(section.data.background?.color)
      if (color !== undefined) say(`body.${id}.background`, sameColor(color))
    }
}

/** How sure a section's height is, wherever it is. */
function sectionCertainty({ frame, measure }: Sight, section: MeasuredSection): Certainty {
  if (frame.px(section.data.height) !== undefined) return 'declared'
  const inside = measure.items.filter(({ pointer }) => isInside(pointer, section.pointer))
  const isGuess = inside.some(({ item, box }) => itemHeight(frame, item, box?.width ?? 0).certainty === 'estimated')
  return isGuess ? 'estimated' : 'computed'
}
