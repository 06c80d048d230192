import { parseColour } from '../css/colour.js'
import { exitsOf, type ExitPlace } from '../inspect/links.js'
import type { PageSight } from '../inspect/page-sight.js'
import { isInside, type Sight } from '../inspect/sight.js'
import type { Box, Certainty } from '../measure/box.js'
import { Frame } from '../measure/frame.js'
import { headerBackground } from '../measure/printed.js'
import { itemHeight } from '../measure/item-height.js'
import type { MeasuredSection } from '../measure/section.js'
import type { Json } from '../model/json.js'
import type { PresentFacet } from '../model/facets.js'
import { surroundOf } from '../resolve/extensions.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import type { Observation, ObservedBox, ObservedPart, OutlineNode } from './observation.js'

/** What a page should show at a viewport: a property's value, and how sure its number is. */
export type Expectations = ReadonlyMap<string, { readonly value: Json; readonly certainty: Certainty }>
/** What it does show; what cannot be told is not there. */
export type Sightings = ReadonlyMap<string, Json>

const round = (px: number): number => Math.round(px * 100) / 100 || 0

/** Colours written alike: `rgba` of whole channels, alpha to two decimals. */
export function sameColour(text: string | undefined): string | undefined {
  const colour = text === undefined ? null : parseColour(text)
  if (!colour) return undefined
  const [r, g, b] = [colour.r, colour.g, colour.b].map((channel) => Math.round(channel * 255))
  return colour.alpha === 0 ? 'transparent' : `rgba(${r}, ${g}, ${b}, ${Math.round(colour.alpha * 100) / 100})`
}

/** White space folded. */
export const folded = (text: string): string => text.replace(/\s+/g, ' ').trim()

const PRESENT: readonly PresentFacet[] = ['header', 'footer', 'title', 'byline', 'leadImage', 'comments']

/**
 * What a real page should show, property by property. Each number is of one thing alone (a height, a width, a distance
 * between neighbours), so that one change does not show in all that stands below it.
 */
export function expectationsOf(page: PageSight, sight: Sight): Expectations {
  const out = new Map<string, { value: Json; certainty: Certainty }>()
  const say = (property: string, value: Json | undefined, certainty: Certainty = 'computed'): void => {
    if (value !== undefined) out.set(property, { value, certainty })
  }
  const { measure, view } = sight
  const box = (id: string): Box | undefined => measure.box(id)

  for (const facet of PRESENT) {
    const isPictureless = facet === 'leadImage' && !box('leadImage')
    const said =
      isPictureless && view.presence('leadImage.presence') === 'shown' ? 'absent' : view.presence(`${facet}.presence`)
    // There is one markup for all widths.
    say(`${facet}.presence`, said === 'absent' && !isPictureless && page.isInMarkup(facet) ? 'hidden' : said)
    const own_ = box(facet)
    if (own_)
      say(`${facet}.height`, round(own_.height), own_.height === 0 ? 'computed' : heightCertainty(sight, facet, own_))
  }
  sayHeader(sight, say)
  for (const part of ['header', 'footer'] as const) {
    if (!box(part)) continue
    say(`${part}.links`, linksOf(sight, part))
    say(`${part}.words`, wordsOf(sight, part))
  }
  if (box('title')) {
    say('title.place', view.value('title.place'))
    say('title.words', folded(sight.page.data.title))
  }
  saySidebar(page, sight, say)
  const [main, container, column] = [box('main'), box('container'), box('column')]
  if (container) say('width.container', round(container.width))
  if (column) say('width.column', round(column.width))
  if (box('comments')) say('comments.width', round(box('comments')?.width ?? 0))
  if (main && container && column) {
    const inserts = (place: string): number => insertHeights(sight, place)
    const inColumn = columnParts(sight)
    say('spacing.before', round(container.y - main.y - inserts('before-content')))
    say('spacing.after', round(main.y + main.height - container.y - container.height - inserts('after-content')))
    if (inColumn !== undefined) say('spacing.within', round(column.height - inColumn))
    const above = ['before-header', 'after-header'].reduce((sum, place) => sum + inserts(place), 0)
    say('header.clearance', round(main.y - headerFlow(sight) - above - bandHeights(sight)))
  }
  say('findable.web', view.value('findable.web'))
  say('page.ground', sameColour(view.ground.colour))
  saySections(sight, say)
  return out
}

type Say = (property: string, value: Json | undefined, certainty?: Certainty) => void

function sayHeader(sight: Sight, say: Say): void {
  const { measure, view } = sight
  if (!measure.box('header')) return
  say('header.position', view.value('header.position'))
  say('header.background', sameColour(headerBackground(measure)))
  const surround = surroundOf(sight.resolved.site.data, measure.header.id)
  const ink = view.value('header.ink') ?? new Frame(view, undefined).at(surround?.ink)
  if (typeof ink === 'string') say('header.ink', sameColour(ink))
}

function saySidebar(page: PageSight, sight: Sight, say: Say): void {
  const { measure, view } = sight
  const sidebar = measure.box('sidebar')
  const isPrinted = ({ measure: m }: Sight): boolean => m.box('sidebar') !== undefined
  const unprinted = page.some(isPrinted) ? 'hidden' : 'absent'
  const presence = view.presence('sidebar.presence')
  say(
    'sidebar.presence',
    sidebar ? 'shown' : view.value('sidebar.side') === 'none' || presence === 'absent' ? unprinted : presence,
  )
  const column = measure.box('column')
  if (!sidebar || !column) return
  say('sidebar.side', measure.sidebarBeside ? view.value('sidebar.side') : 'below')
  say('sidebar.width', round(sidebar.width))
  say('sidebar.gap', round(gapBetween(column, sidebar, measure.sidebarBeside)))
  say('sidebar.height', round(sidebar.height), sidebar.certainty)
}

const gapBetween = (column: ObservedBox, sidebar: ObservedBox, isBeside: boolean): number =>
  !isBeside
    ? sidebar.y - column.y - column.height
    : sidebar.x > column.x
      ? sidebar.x - column.x - column.width
      : column.x - sidebar.x - sidebar.width

/** A box's certainty is also that of its place; what is asked here is its height's alone. */
function heightCertainty({ measure, frame }: Sight, facet: PresentFacet, box: Box): Certainty {
  if (facet === 'header' || facet === 'footer') return measure[facet].certainty
  if (facet === 'title') return frame.text.certainty
  const own_ = frame.property(`${facet}.height`)
  return own_ !== undefined ? 'declared' : facet === 'leadImage' ? 'computed' : box.certainty
}

/** Where the page goes on after the header: below it where it takes room. */
function headerFlow({ measure, headerPosition }: Sight): number {
  const header = measure.box('header')
  return header && (headerPosition === 'flow' || headerPosition === 'sticky') ? header.height : 0
}

function insertHeights({ measure, page }: Sight, place: string): number {
  return page.inserts
    .filter(({ data }) => data.at === place)
    .reduce((sum, { data }) => sum + (measure.box(`insert:${data.id}`)?.height ?? 0), 0)
}

const bandHeights = ({ measure, view }: Sight): number =>
  (['title', 'leadImage'] as const).reduce(
    (sum, facet) => sum + (view.value(`${facet}.place`) === 'band' ? (measure.box(facet)?.height ?? 0) : 0),
    0,
  )

/** Heights of what stands in the column; `undefined` where some of it has no name by which it could be found. */
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

/** What a draft calls a section whose markup has no id: there is nothing by which it could be found again. */
export const UNNAMED = /^unnamed(-\d+)?$/

/** Ids of the sections of the body and of the template that stand in no other, as far as they are printed. */
const topSections = ({ measure }: Sight): readonly string[] =>
  measure.sections.filter((s) => s.depth === 0 && measure.box(`section:${s.id}`)).map((s) => s.id)

function linksOf(sight: Sight, by: ExitPlace): Json {
  const { site } = sight.resolved
  const front = site.data.purposes?.front
  return [...exitsOf(sight, by)]
    .map((exit) => {
      const page = exit.startsWith('page ') ? exit.slice(5) : undefined
      return page === undefined ? exit : page === front ? '/' : plain(site.pageData(page)?.path ?? '')
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

const plain = (path: string): string => path.replace(/(.)\/+$/, '$1')

function saySections(sight: Sight, say: Say): void {
  const { measure } = sight
  const top = topSections(sight)
  say(
    'body.sections',
    top.filter((id) => !UNNAMED.test(id)),
  )
  say(
    'body.topHeadings',
    sight.items.filter(
      (printed) =>
        (printed.place === 'body' || printed.place === 'insert' || printed.place === 'arrange') &&
        (printed.item.heading === 1 || printed.item.title === true),
    ).length,
  )
  for (const of of ['section', 'insert'] as const)
    for (const box of measure.boxes) {
      if (!box.id.startsWith(`${of}:`)) continue
      const id = box.id.slice(of.length + 1)
      const section = measure.sections.find((s) => s.id === id)
      say(`body.${id}.height`, round(box.height), section ? sectionCertainty(sight, section) : box.certainty)
      say(`body.${id}.width`, round(box.width))
      const colour = section && new Frame(sight.view, undefined).at(section.data.background?.colour)
      if (colour !== undefined) say(`body.${id}.background`, sameColour(colour))
    }
}

/** How sure a section's height is, wherever it stands. */
function sectionCertainty({ frame, measure }: Sight, section: MeasuredSection): Certainty {
  if (frame.px(section.data.height) !== undefined) return 'declared'
  const inside = measure.items.filter(({ pointer }) => isInside(pointer, section.pointer))
  const isGuess = inside.some(({ item, box }) => itemHeight(frame, item, box?.width ?? 0).certainty === 'estimated')
  return isGuess ? 'estimated' : 'computed'
}

const SEEN_POSITIONS: Readonly<Record<string, string>> = {
  ...{ static: 'flow', relative: 'flow', absolute: 'overlay', fixed: 'fixed', sticky: 'sticky' },
}

/** What an observation tells of the same properties. */
export function sightingsOf(observation: Observation, sight: Sight): Sightings {
  const out = new Map<string, Json>()
  const say = (property: string, value: Json | undefined): void => {
    if (value !== undefined) out.set(property, value)
  }
  const { parts, viewport } = observation
  const isLaidOut = viewport !== null
  const boxOf = (name: keyof typeof parts): ObservedBox | undefined => {
    const part = parts[name]
    return part?.presence === 'shown' ? part.box : undefined
  }
  for (const facet of PRESENT) {
    const part = parts[facet]
    say(`${facet}.presence`, seenPresence(part, isLaidOut))
    say(`${facet}.height`, boxOf(facet)?.height)
  }
  const { header } = parts
  if (header?.presence === 'shown' && isLaidOut) {
    say('header.position', SEEN_POSITIONS[header.position ?? 'static'])
    say('header.background', header.picture ? undefined : (sameColour(header.background) ?? 'transparent'))
    say('header.ink', sameColour(header.ink))
  }
  for (const part of ['header', 'footer'] as const) {
    if (parts[part]?.presence !== 'shown') continue
    say(`${part}.links`, seenLinks(observation, sight.resolved, part))
    say(`${part}.words`, textsIn(parts[part].outline ?? []))
  }
  if (parts.title?.presence === 'shown') say('title.words', folded(parts.title.text ?? ''))
  saySeenSidebar(observation, say)
  const [main, container, column] = [boxOf('content'), boxOf('container'), boxOf('column')]
  say('width.container', container?.width)
  say('width.column', column?.width)
  say('comments.width', boxOf('comments')?.width)
  const sections = namedSections(observation.outline)
  if (main && container && column) {
    const inserts = (place: string): number =>
      sight.page.inserts
        .filter(({ data }) => data.at === place)
        .reduce((sum, { data }) => sum + (shownBox(sections.get(data.id))?.height ?? 0), 0)
    say('spacing.before', round(container.y - main.y - inserts('before-content')))
    say('spacing.after', round(main.y + main.height - container.y - container.height - inserts('after-content')))
    say('spacing.within', round(column.height - seenInColumn(observation, column, sections)))
    const above = ['before-header', 'after-header'].reduce((sum, place) => sum + inserts(place), 0)
    const position = SEEN_POSITIONS[header?.position ?? 'static']
    const flow = position === 'flow' || position === 'sticky' ? (boxOf('header')?.height ?? 0) : 0
    const isBand = (box: ObservedBox | undefined): box is ObservedBox =>
      box !== undefined && box.y + box.height <= main.y + 0.5 && box.height > 0
    const bands = [boxOf('title'), boxOf('leadImage')].filter(isBand)
    say('header.clearance', round(main.y - flow - above - bands.reduce((sum, box) => sum + box.height, 0)))
    if (boxOf('title')) say('title.place', isBand(boxOf('title')) ? 'band' : 'content')
  }
  say('findable.web', !/\b(noindex|none)\b/i.test(observation.robots ?? ''))
  say('page.ground', sameColour(observation.ground?.colour))
  saySeenSections(observation, sight, sections, say)
  return out
}

/** Without a browser only whether a thing is in the markup, and what the markup hides outright. */
const seenPresence = (part: ObservedPart | undefined, isLaidOut: boolean): Json | undefined =>
  part ? (isLaidOut || part.presence !== 'shown' ? part.presence : 'in markup') : 'absent'

function saySeenSidebar(observation: Observation, say: (property: string, value: Json | undefined) => void): void {
  const { sidebar, column } = observation.parts
  say('sidebar.presence', seenPresence(sidebar, observation.viewport !== null))
  const [own_, beside] = [sidebar?.box, column?.box]
  if (sidebar?.presence !== 'shown' || !own_ || !beside) return
  const isBeside = own_.x >= beside.x + beside.width - 0.5 || own_.x + own_.width <= beside.x + 0.5
  say('sidebar.side', !isBeside ? 'below' : own_.x > beside.x ? 'right' : 'left')
  say('sidebar.width', own_.width)
  say('sidebar.gap', round(gapBetween(beside, own_, isBeside)))
  say('sidebar.height', own_.height)
}

/** Addresses as the site knows them: paths for its own, wherever it is served. */
export function seenLinks(
  { url, exits }: Observation,
  { site }: ResolvedSite,
  place: 'header' | 'footer' | 'sidebar' | 'body',
): Json {
  return [...new Set((exits[place] ?? []).map((address) => sitePath(address, url, site.data.site.url)))].sort()
}

/** A path of the site where an address leads to it: at the origin it was observed at, or its own. */
export function sitePath(address: string, at: string, own_: string | undefined): string {
  for (const base of [at, own_]) {
    const here = base === undefined ? undefined : parseUrl(base)
    const there = parseUrl(address)
    if (here && there && there.origin === here.origin) return plain(decodePath(there.pathname) + there.search) || '/'
  }
  return address
}

const decodePath = (path: string): string => {
  try {
    return decodeURI(path)
  } catch {
    return path
  }
}

function parseUrl(text: string): { origin: string; pathname: string; search: string } | undefined {
  const found = /^(https?:\/\/[^/?#]+)([^?#]*)(\?[^#]*)?/i.exec(text)
  return found
    ? { origin: (found[1] ?? '').toLowerCase(), pathname: found[2] || '/', search: found[3] ?? '' }
    : undefined
}

/** Every text of an outline, white space folded. */
export const textsIn = (nodes: readonly OutlineNode[]): string[] =>
  nodes.flatMap((node) => [...(node.text === undefined ? [] : [folded(node.text)]), ...textsIn(node.items ?? [])])

/** Everything in an outline that has an id. */
export function namedSections(outline: readonly OutlineNode[]): ReadonlyMap<string, OutlineNode> {
  const found = new Map<string, OutlineNode>()
  const look = (nodes: readonly OutlineNode[]): void => {
    for (const node of nodes) {
      if (node.id !== undefined && !found.has(node.id)) found.set(node.id, node)
      look(node.items ?? [])
    }
  }
  look(outline)
  return found
}

const shownBox = (node: OutlineNode | undefined): ObservedBox | undefined =>
  node?.presence === 'shown' ? node.box : undefined

/** Heights of what stands in the column and has a name. */
function seenInColumn(
  { parts, outline }: Observation,
  column: ObservedBox,
  sections: ReadonlyMap<string, OutlineNode>,
): number {
  const facets = (['title', 'byline', 'leadImage', 'comments'] as const).flatMap((name) => {
    const part = parts[name]
    return part?.presence === 'shown' && part.box ? [part.box] : []
  })
  const top = outline
    .filter((node) => node.id !== undefined && sections.has(node.id))
    .flatMap((node) => shownBox(node) ?? [])
  const isIn = (box: ObservedBox): boolean =>
    box.y >= column.y - 0.5 && box.y + box.height <= column.y + column.height + 0.5
  return [...facets, ...top].filter(isIn).reduce((sum, box) => sum + box.height, 0)
}

function saySeenSections(
  { outline, parts, headings, viewport }: Observation,
  { page }: Sight,
  sections: ReadonlyMap<string, OutlineNode>,
  say: (property: string, value: Json | undefined) => void,
): void {
  // A page whose markup names no section says nothing about them.
  if (sections.size > 0 && viewport !== null) {
    const main = parts.content?.box
    const inserts = new Set(page.inserts.map(({ data }) => data.id))
    const isContent = ({ box }: OutlineNode): boolean =>
      !main || (box !== undefined && box.y >= main.y - 0.5 && box.y <= main.y + main.height + 0.5)
    say(
      'body.sections',
      outline.flatMap((node) =>
        node.id !== undefined &&
        node.kind === 'section' &&
        node.presence === 'shown' &&
        !inserts.has(node.id) &&
        isContent(node)
          ? [node.id]
          : [],
      ),
    )
    for (const [id, node] of sections) {
      const box = shownBox(node)
      if (!box) continue
      say(`body.${id}.height`, box.height)
      say(`body.${id}.width`, box.width)
      say(`body.${id}.background`, sameColour(node.background) ?? 'transparent')
    }
  }
  if (viewport !== null) {
    const title = parts.title?.text
    const isTitle = (text: string): boolean =>
      title !== undefined && folded(text) === folded(title).slice(0, text.length)
    const seen = headings.filter(
      (heading) => heading.level === 1 && heading.place === 'body' && heading.presence === 'shown',
    )
    const theme = parts.title?.presence === 'shown' ? seen.findIndex((heading) => isTitle(heading.text)) : -1
    say('body.topHeadings', seen.length - (theme >= 0 ? 1 : 0))
  }
}
