import type { Json, JsonObject } from '../model/json.js'
import type { Observation, ObservedBox } from './observation.js'
import type { ChromeDrafts } from './draft-chrome.js'
import type { ContentDraft } from './draft-content.js'
import { roomAt } from './draft-places.js'
import type { Drafts } from './draft-shared.js'
import { boxOf, byViewport, isBand, PX, px as exactPx, shown, wholePx, type Views } from './draft-values.js'
import { headingWords, sitePath, SEEN_POSITIONS } from './seen-words.js'

/** What is seen of one page at every viewport, in the words of a site file. */
export interface PageDraft {
  readonly path: string
  readonly title: string
  readonly kind: string
  /** `facet.property` → value; maps by viewport where viewports differ. */
  readonly settings: Map<string, Json>
  readonly body: readonly JsonObject[]
  readonly inserts: readonly JsonObject[]
  readonly image: string | undefined
  readonly shareImage: string | undefined
}

/** What reads the parts of a page, in whole or in short. */
export interface PageReaders {
  readonly chrome: ChromeDrafts
  readonly content: (drafts: Drafts, views: Views) => ContentDraft
  /** Whether lengths are reported to a part of a px. */
  readonly isWhole: boolean
}

type Px = typeof exactPx

/** Reads a page's observations as settings and content. */
export function draftPage(
  views: Views,
  drafts: Drafts,
  { chrome, content: contentOf, isWhole }: PageReaders,
  suffix: string,
): PageDraft | undefined {
  const [first] = views
  if (!first) return undefined
  const px = isWhole ? exactPx : wholePx
  const content = contentOf(drafts, views)
  const settings = new Map<string, Json>()
  const say = (path: string, at: (seen: Observation, view: Views[number]) => Json | undefined): void => {
    const value = byViewport(views.map((view) => [view.name, at(view.seen, view)]))
    if (value !== undefined) settings.set(path, value)
  }
  for (const facet of ['header', 'footer', 'title', 'byline', 'leadImage', 'comments'] as const)
    say(`${facet}.presence`, (seen) => seen.parts[facet]?.presence ?? 'absent')
  if (content.hasTitle) settings.set('title.presence', 'absent')
  for (const facet of ['header', 'footer', 'sidebar'] as const) {
    const id = chrome.of(facet, views)
    if (id !== undefined) settings.set(`${facet}.use`, id)
  }
  say('header.position', (seen) =>
    shown(seen.parts.header) ? SEEN_POSITIONS[seen.parts.header?.position ?? 'static'] : undefined,
  )
  if (!content.hasTitle) {
    say('title.place', (seen) => (isBand(seen, 'title') ? 'band' : shown(seen.parts.title) && 'content'))
    say('title.height', (seen) => px(boxOf(seen, 'title')?.height))
  }
  say('byline.height', (seen) => px(boxOf(seen, 'byline')?.height))
  say('leadImage.place', (seen) => (isBand(seen, 'leadImage') ? 'band' : shown(seen.parts.leadImage) && 'content'))
  say('leadImage.height', (seen) => px(boxOf(seen, 'leadImage')?.height))
  say('comments.height', (seen) => px(boxOf(seen, 'comments')?.height))
  say('comments.maxWidth', (seen) => narrower(boxOf(seen, 'comments'), boxOf(seen, 'column'), px))
  sayWidths(views, say, px)
  saySidebar(views, say, px)
  say('findable.web', (seen) => !/\b(noindex|none)\b/i.test(seen.robots ?? ''))
  say('spacing.before', (seen) => px(spaceAt(seen, content.inserts, 'before-content')))
  say('spacing.after', (seen) => px(spaceAt(seen, content.inserts, 'after-content')))
  say('header.clearance', (seen) => px(clearanceOf(seen, content.inserts)))
  if (content.arrange !== undefined) settings.set('arrange', content.arrange)
  const lead = views.map(({ seen }) => seen.parts.leadImage).find((part) => part !== undefined)
  return {
    path: sitePath(first.seen.url, first.seen.url, undefined),
    title: titleOf(first.seen, suffix),
    kind: drafts.kindOf(sitePath(first.seen.url, first.seen.url, undefined)) ?? 'page',
    settings,
    body: content.body,
    inserts: content.inserts.map(({ data }) => data),
    shareImage:
      first.seen.shareImage === undefined
        ? undefined
        : drafts.assets.of(sitePath(first.seen.shareImage, first.seen.url, undefined), undefined),
    image: lead ? drafts.assets.of(lead.outline?.[0]?.source, boxOf(first.seen, 'leadImage')) : undefined,
  }
}

const narrower = (inner: ObservedBox | undefined, outer: ObservedBox | undefined, px: Px): string | undefined =>
  inner && outer && (inner.width < outer.width - PX ? px(inner.width) : 'none')

type Say = (path: string, at: (seen: Observation, view: Views[number]) => Json | undefined) => void

/**
 * The container's width. Where it grows with the window it has a gutter, where it stops growing a maximum: the widest
 * viewport at which it is not as wide as the window less what is free at both sides of the narrowest.
 */
function sayWidths(views: Views, say: Say, px: Px): void {
  const isFull = (seen: Observation, width: number): boolean => (boxOf(seen, 'container')?.width ?? 0) >= width - PX
  say('width.mode', (seen, { width }) =>
    boxOf(seen, 'container') ? (isFull(seen, width) ? 'full' : 'boxed') : undefined,
  )
  const free = views.map(({ seen, width }) =>
    isFull(seen, width) ? undefined : (width - (boxOf(seen, 'container')?.width ?? width)) / 2,
  )
  const gutter = Math.min(...free.flatMap((each) => each ?? []))
  const isBoxed = Number.isFinite(gutter)
  say('width.gutter', () => (isBoxed ? px(gutter) : undefined))
  const widest = Math.max(...views.map(({ seen }) => boxOf(seen, 'container')?.width ?? 0))
  const grows = views.every(
    ({ seen, width }, n) =>
      free[n] === undefined ||
      Math.abs((boxOf(seen, 'container')?.width ?? 0) - Math.min(widest, width - 2 * gutter)) <= PX,
  )
  say('width.max', (seen, { width }) => {
    const box = boxOf(seen, 'container')
    if (!isBoxed || !box || isFull(seen, width)) return undefined
    return px(grows ? widest : box.width)
  })
  say('width.padding', (seen) => {
    const [outer, inner, rail] = [boxOf(seen, 'container'), boxOf(seen, 'column'), boxOf(seen, 'sidebar')]
    if (!outer || !inner) return undefined
    const left = Math.min(inner.x, rail?.x ?? Infinity) - outer.x
    if (left <= PX) return '0px'
    const right = outer.x + outer.width - Math.max(inner.x + inner.width, rail ? rail.x + rail.width : -Infinity)
    // What is free at the end is the column's cap, unless the column begins so far in that both do not fit.
    return right < left - PX ? `0 ${px(Math.max(0, right))} 0 ${px(left)}` : `0 ${px(left)}`
  })
  say('width.columnMax', (seen) => {
    const [outer, inner, rail] = [boxOf(seen, 'container'), boxOf(seen, 'column'), boxOf(seen, 'sidebar')]
    if (!outer || !inner) return undefined
    const left = Math.max(0, Math.min(inner.x, rail?.x ?? Infinity) - outer.x)
    const isBeside = rail !== undefined && (rail.x >= inner.x + inner.width - PX || rail.x + rail.width <= inner.x + PX)
    const gap = !isBeside ? 0 : rail.x > inner.x ? rail.x - inner.x - inner.width : inner.x - rail.x - rail.width
    const room = outer.width - 2 * left - (isBeside ? rail.width + gap : 0)
    return inner.width < room - PX ? px(inner.width) : 'none'
  })
}

function saySidebar(views: Views, say: Say, px: Px): void {
  const besideAt = views.map(({ seen }) => {
    const [rail, column] = [boxOf(seen, 'sidebar'), boxOf(seen, 'column')]
    if (!rail || !column) return undefined
    if (rail.x >= column.x + column.width - PX) return 'right'
    return rail.x + rail.width <= column.x + PX ? 'left' : 'below'
  })
  const side =
    besideAt.find((each) => each === 'left' || each === 'right') ?? (besideAt.includes('below') ? 'right' : 'none')
  say('sidebar.side', () => side)
  if (side === 'none') return
  const of = (view: Views[number]): string | undefined => besideAt[views.indexOf(view)]
  say('sidebar.presence', (seen) => seen.parts.sidebar?.presence ?? 'absent')
  say('sidebar.width', (seen, view) =>
    of(view) === 'left' || of(view) === 'right' ? px(boxOf(seen, 'sidebar')?.width) : undefined,
  )
  say('sidebar.gap', (seen, view) => {
    const [rail, column] = [boxOf(seen, 'sidebar'), boxOf(seen, 'column')]
    if (!rail || !column) return undefined
    const where = of(view)
    if (where === 'right') return px(rail.x - column.x - column.width)
    return px(where === 'left' ? column.x - rail.x - rail.width : rail.y - column.y - column.height)
  })
  const stacked = views.filter((view) => of(view) === 'below').map(({ width }) => width)
  const beside = views.filter((view) => of(view) === 'left' || of(view) === 'right').map(({ width }) => width)
  // Somewhere between the widest at which it lies under the column and the narrowest at which it is beside it.
  say('sidebar.stackAt', () => (stacked.length > 0 ? px(Math.max(...stacked)) : beside.length > 0 ? '0px' : undefined))
}

interface PlacedInsert {
  readonly at: string
  readonly heights: ReadonlyMap<string, number>
}

const viewportName = ({ viewport }: Observation): string => viewport?.name ?? `w${viewport?.width}`

const insertsAt = (seen: Observation, inserts: readonly PlacedInsert[], at: string): number =>
  inserts.filter((each) => each.at === at).reduce((sum, { heights }) => sum + (heights.get(viewportName(seen)) ?? 0), 0)

/** Free space above or below the container that no insert takes. */
function spaceAt(
  seen: Observation,
  inserts: readonly PlacedInsert[],
  at: 'before-content' | 'after-content',
): number | undefined {
  if (!boxOf(seen, 'content') || !boxOf(seen, 'container')) return undefined
  return Math.max(0, roomAt(seen, at) - insertsAt(seen, inserts, at))
}

function clearanceOf(seen: Observation, inserts: readonly PlacedInsert[]): number | undefined {
  const main = boxOf(seen, 'content')
  if (!main) return undefined
  const header = shown(seen.parts.header)
  const position = SEEN_POSITIONS[header?.position ?? 'static']
  const flow = position === 'flow' || position === 'sticky' ? (header?.box?.height ?? 0) : 0
  const bands = (['title', 'leadImage'] as const).reduce(
    (sum, name) => sum + (isBand(seen, name) ? (boxOf(seen, name)?.height ?? 0) : 0),
    0,
  )
  return Math.max(
    0,
    main.y - flow - bands - insertsAt(seen, inserts, 'before-header') - insertsAt(seen, inserts, 'after-header'),
  )
}

function titleOf({ parts, headline, title }: Observation, suffix: string): string {
  const own = headingWords(parts.title?.text ?? '')
  if (own !== '') return own
  if (headline) return headline.text
  return suffix !== '' && title.endsWith(suffix) ? title.slice(0, -suffix.length) : title || 'Untitled'
}
