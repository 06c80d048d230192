import { type Sight } from '../inspect/sight.js'
import type { Json } from '../model/json.js'
import { pathsOf } from '../model/paths.js'
import { rememberedWith } from '../model/remembered.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { holdsTitle } from './draft-places.js'
import type { Observation, ObservedBox, ObservedPart, OutlineNode } from './observation.js'
import {
  PARTS_SEEN,
  gapBetween,
  headingWords,
  inWindow,
  namedSections,
  pageSeenAt,
  plainAddress,
  roundedPx,
  sameColor,
  sitePath,
  textsIn,
  SEEN_POSITIONS,
  UNNAMED,
} from './seen-words.js'

/** What it does show; what is not known is left out. */
export type Sightings = ReadonlyMap<string, Json>

/**
 * For so many states of a site what an observation shows is held: inserts and paths tell them apart, and hardly any change
 * touches these.
 */
const STATES_HELD = 2
const held = rememberedWith<Observation, Sightings>(STATES_HELD)

/** What an observation shows of the same properties. */
export function sightingsOf(observation: Observation, sight: Sight): Sightings {
  const { site } = sight.resolved
  const inserts = sight.page.inserts.map(({ data }) => data)
  const others = [pathsOf(site), site.data.purposes?.front, site.data.site.url, sight.page.id, ...inserts]
  return held(observation, others, () => readSightings(observation, sight))
}

function readSightings(observation: Observation, sight: Sight): Sightings {
  const out = new Map<string, Json>()
  const say = (property: string, value: Json | undefined): void => {
    if (value !== undefined) out.set(property, value)
  }
  const { parts, viewport } = observation
  const isLaidOut = viewport !== null
  const boxOf = (name: keyof typeof parts): ObservedBox | undefined => {
    const part = parts[name]
    return part?.presence === 'shown' && part.box ? inWindow(part.box, observation) : undefined
  }
  for (const facet of PARTS_SEEN) {
    const part = parts[facet]
    say(`${facet}.presence`, seenPresence(part, isLaidOut))
    say(`${facet}.height`, boxOf(facet)?.height)
  }
  const { header } = parts
  if (header?.presence === 'shown' && isLaidOut) {
    say('header.position', SEEN_POSITIONS[header.position ?? 'static'])
    say('header.background', header.picture ? undefined : (sameColor(header.background) ?? 'transparent'))
    say('header.ink', sameColor(header.ink))
  }
  for (const part of ['header', 'footer'] as const) {
    if (parts[part]?.presence !== 'shown') continue
    say(`${part}.links`, seenLinks(observation, sight.resolved, part))
    say(`${part}.words`, textsIn(parts[part].outline ?? []))
  }
  if (parts.title?.presence === 'shown') say('title.words', headingWords(parts.title.text ?? ''))
  saySeenSidebar(observation, say)
  const [main, container, column] = [boxOf('content'), boxOf('container'), boxOf('column')]
  say('width.container', container?.width)
  say('width.column', column?.width)
  say('comments.width', boxOf('comments')?.width)
  const sections = namedSections(observation.outline)
  if (main && container && column) {
    const inserts = (place: string): number =>
      sight.page.inserts
        .filter(({ data }) => data.at === place && !UNNAMED.test(data.id))
        .reduce((sum, { data }) => sum + (shownBox(sections.get(data.id))?.height ?? 0), 0)
    say('spacing.before', room(container.y - main.y - inserts('before-content')))
    say('spacing.after', room(main.y + main.height - container.y - container.height - inserts('after-content')))
    say('spacing.within', roundedPx(column.height - seenInColumn(observation, column, sections)))
    const above = ['before-header', 'after-header'].reduce((sum, place) => sum + inserts(place), 0)
    const position = SEEN_POSITIONS[header?.position ?? 'static']
    const flow = position === 'flow' || position === 'sticky' ? (boxOf('header')?.height ?? 0) : 0
    const isBand = (box: ObservedBox | undefined): box is ObservedBox =>
      box !== undefined && box.y + box.height <= main.y + 0.5 && box.height > 0
    const bands = [boxOf('title'), boxOf('leadImage')].filter(isBand)
    say('header.clearance', room(main.y - flow - above - bands.reduce((sum, box) => sum + box.height, 0)))
    if (boxOf('title')) say('title.place', isBand(boxOf('title')) ? 'band' : 'content')
  }
  say('findable.web', !/\b(noindex|none)\b/i.test(observation.robots ?? ''))
  say('page.ground', sameColor(observation.ground?.color))
  saySeenSections(observation, sight, sections, say)
  return out
}

/** Free space; where things overlap there is none. */
const room = (px: number): number => roundedPx(Math.max(0, px))

/** Without a browser only whether a thing is in the markup, and what the markup hides outright. */
const seenPresence = (part: ObservedPart | undefined, isLaidOut: boolean): Json | undefined =>
  part ? (isLaidOut || part.presence !== 'shown' ? part.presence : 'in markup') : 'absent'

function saySeenSidebar(observation: Observation, say: (property: string, value: Json | undefined) => void): void {
  const { sidebar } = observation.parts
  const boxOf = (part: ObservedPart | undefined): ObservedBox | undefined =>
    part?.box && inWindow(part.box, observation)
  say('sidebar.presence', seenPresence(sidebar, observation.viewport !== null))
  const [own_, beside] = [boxOf(sidebar), boxOf(observation.parts.column)]
  if (sidebar?.presence !== 'shown' || !own_ || !beside) return
  const isBeside = own_.x >= beside.x + beside.width - 0.5 || own_.x + own_.width <= beside.x + 0.5
  say('sidebar.side', !isBeside ? 'below' : own_.x > beside.x ? 'right' : 'left')
  if (isBeside) say('sidebar.width', own_.width)
  say('sidebar.gap', room(gapBetween(beside, own_, isBeside)))
  say('sidebar.height', own_.height)
}

/** Addresses as the site knows them: paths for its own, wherever it is served. */
export function seenLinks(
  { url, exits }: Observation,
  { site }: ResolvedSite,
  place: 'header' | 'footer' | 'sidebar' | 'body',
): Json {
  const front = site.data.purposes?.front
  const here = pageSeenAt(site, sitePath(url, url, site.data.site.url))
  const found = (exits[place] ?? []).flatMap((address) => {
    const path = sitePath(address, url, site.data.site.url)
    const page = path.startsWith('/') && !path.includes('?') ? pageSeenAt(site, path) : undefined
    if (page === undefined) return [path]
    if (page === here) return []
    return [page === front ? '/' : plainAddress(site.pageData(page)?.path ?? path)]
  })
  return [...new Set(found)].sort()
}

const shownBox = (node: OutlineNode | undefined): ObservedBox | undefined =>
  node?.presence === 'shown' ? node.box : undefined

/** Heights of what is in the column and has a name. */
function seenInColumn(
  { parts, outline }: Observation,
  column: ObservedBox,
  sections: ReadonlyMap<string, OutlineNode>,
): number {
  const facets = (['title', 'byline', 'leadImage', 'comments'] as const).flatMap((name) => {
    // A title in a band is counted with that.
    const part = name === 'title' && holdsTitle(outline) ? undefined : parts[name]
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
  observation: Observation,
  { page }: Sight,
  sections: ReadonlyMap<string, OutlineNode>,
  say: (property: string, value: Json | undefined) => void,
): void {
  const { outline, parts, headings, viewport } = observation
  // A page whose markup names no section has nothing to compare with.
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
      say(`body.${id}.width`, inWindow(box, observation).width)
      say(`body.${id}.background`, sameColor(node.background) ?? 'transparent')
    }
  }
  if (viewport !== null) {
    const title = parts.title?.text
    const isTitle = (text: string): boolean =>
      title !== undefined && headingWords(text) === headingWords(title).slice(0, text.length)
    const seen = headings.filter(
      (heading) => heading.level === 1 && heading.place === 'body' && heading.presence === 'shown',
    )
    const theme = parts.title?.presence === 'shown' ? seen.findIndex((heading) => isTitle(heading.text)) : -1
    say('body.topHeadings', seen.length - (theme >= 0 ? 1 : 0))
  }
}
