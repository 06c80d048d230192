import type { PrintedItem } from '../measure/box.js'
import { rounded } from '../measure/facets.js'
import { firstContent } from '../measure/printed.js'
import { own } from '../model/json.js'
import { PRESENCES, type Presence } from '../model/facets.js'
import type { SourcePlace } from '../model/problem.js'
import type { ResolvedPage } from '../resolve/page.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { countWords, exitsOf, type ExitPlace } from './links.js'
import { PageSight } from './page-sight.js'
import type { Sight } from './sight.js'

/** One place of a page at which its title, or a heading that stands for it, is printed. */
export interface TitlePlace {
  /** "the theme's title", "a heading 1 in the body". */
  readonly what: string
  readonly at: SourcePlace
  /** Viewports at which it is seen. */
  readonly seen: readonly string[]
  /** Viewports at which screen readers announce it. */
  readonly readAloud: readonly string[]
  readonly inMarkup: boolean
}

/** What carries the headline of a page for programs: the title (where its kind marks it), a heading 1, or nothing. */
export interface Headline {
  readonly from: 'title' | 'heading' | null
  /** Whether the kind says that the title itself is marked up as the headline. */
  readonly marked: boolean
}

/** What one way of hiding the theme's title leaves of it. */
export interface TitleHiding {
  readonly presence: Exclude<Presence, 'shown'>
  readonly readAloud: boolean
  readonly inMarkup: boolean
  /** Where the headline comes from then. */
  readonly headline: Headline['from']
}

/** Every place a page's title comes from, and what the ways of hiding the theme's would lose. */
export interface PageTitles {
  readonly places: readonly TitlePlace[]
  readonly headline: Headline
  readonly hiding: readonly TitleHiding[]
}

/** The other pages and sites that a page leads to: page ids and addresses, each once, by the place that leads there. */
export type PageExits = Readonly<Record<ExitPlace, readonly string[]>>

/** What a visitor who is not signed in gets of a page. */
export type PublicAnswer =
  | { readonly gets: 'page' }
  | { readonly gets: 'nothing'; readonly because: string }
  | { readonly gets: 'redirect'; readonly to: string; readonly because: string }

/** What people ask of a page beside its facets and boxes. */
export interface AboutPage {
  readonly titles: PageTitles
  /** At the widest of the viewports. */
  readonly exits: PageExits
  /** Words of the printed body. */
  readonly words: number
  readonly visitor: PublicAnswer
}

/**
 * A page's titles, exits, words, and what a visitor gets who is not signed in.
 *
 * @throws {UnknownNameError} When the site has no such page. @throws {ValueError} When the page is dormant.
 * @example
 * aboutPage(resolved, 'visit').titles.places.map(({ what }) => what) // => ["the theme’s title"]
 */
export function aboutPage(resolved: ResolvedSite, id: string): AboutPage {
  const sight = new PageSight(resolved, resolved.page(id), new Date(0))
  const [widest] = [...sight.sights].sort((a, b) => b.view.viewport.width - a.view.viewport.width) as [Sight]
  return {
    titles: titlesOf(sight),
    exits: exitsByPlace(widest),
    words: wordsOf(widest),
    visitor: publicAnswer(resolved, id),
  }
}

/** Exits by place: in the header, the footer, and all between. */
export function exitsByPlace(sight: Sight): PageExits {
  const list = (by: ExitPlace): readonly string[] => [...exitsOf(sight, by)].map((exit) => exit.replace(/^page /, ''))
  return { header: list('header'), body: list('body'), footer: list('footer') }
}

/** Words of what the body prints. */
export const wordsOf = (sight: Sight): number =>
  countWords(sight.items.filter(({ place }) => place === 'body').map(({ item }) => item))

function titlesOf(sight: PageSight): PageTitles {
  const { site } = sight.resolved
  const names = site.viewports.map(({ name }) => name)
  const found = new Map<string, { what: string; seen: string[] }>()
  sight.sights.forEach((each, n) => {
    for (const { pointer, what, theme } of each.seenTitles) {
      if (theme) continue
      const known = found.get(pointer) ?? { what, seen: [] }
      found.set(pointer, known)
      known.seen.push(names[n] ?? '')
    }
  })
  const presences = sight.sights.map(({ view }) => view.presence('title.presence'))
  const theme: TitlePlace = {
    what: 'the theme’s title',
    at: site.locate((sight.sights[0] as Sight).decider('title.presence').at),
    seen: names.filter((_, n) => presences[n] === 'shown'),
    readAloud: names.filter((_, n) => presences[n] === 'shown' || presences[n] === 'visually-hidden'),
    inMarkup: sight.isInMarkup('title'),
  }
  // What is not printed at a viewport is in the markup, hidden by CSS: seen and announced go together.
  const others = [...found].map(([pointer, { what, seen }]): TitlePlace => ({
    ...{ what, at: site.locate(pointer), seen, readAloud: seen, inMarkup: true },
  }))
  const marked = own(site.data.kinds, sight.page.facts.kind)?.headline === 'marked'
  const hasHeading = sight.some(({ items }) => items.some(({ item }) => item.heading === 1 || item.title === true))
  const from = (titleInMarkup: boolean): Headline['from'] =>
    marked ? (titleInMarkup ? 'title' : null) : titleInMarkup ? 'title' : hasHeading ? 'heading' : null
  const hiding = PRESENCES.filter((each) => each !== 'shown').map((presence): TitleHiding => ({
    presence,
    readAloud: presence === 'visually-hidden',
    inMarkup: presence !== 'absent',
    headline: from(presence !== 'absent'),
  }))
  return { places: [theme, ...others], headline: { from: from(theme.inMarkup), marked }, hiding }
}

/** Follows `sendTo`, else `purposes.signIn`, from a members' page to a public one. */
export function publicAnswer({ site }: ResolvedSite, id: string): PublicAnswer {
  const seen = new Set<string>()
  for (let here = id; ;) {
    const page = site.pageData(here)
    if (!page) return { gets: 'nothing', because: `"${here}" does not exist` }
    if (page.status === 'draft') return { gets: 'nothing', because: `"${here}" is a draft` }
    if (page.access !== 'members')
      return here === id ? { gets: 'page' } : { gets: 'redirect', to: here, because: `"${id}" is for members` }
    if (seen.has(here)) return { gets: 'nothing', because: `the redirects form a circle at "${here}"` }
    seen.add(here)
    const next = page.sendTo ?? site.data.purposes?.signIn
    if (next === undefined) return { gets: 'nothing', because: `"${here}" is for members and sends nowhere` }
    here = next
  }
}

/** Facts of a page that are no facets, as columns of a table. */
export const PAGE_COLUMNS = [
  ...(['template', 'path', 'name', 'kind', 'status', 'access', 'builder', 'purposes', 'tags', 'parent'] as const),
  ...(['logo', 'menus', 'exits', 'words', 'top'] as const),
] as const
/** A fact of a page that is no facet. */
export type PageColumn = (typeof PAGE_COLUMNS)[number]

/** A page's value for a column at a viewport; `null` where it has none. */
export function pageColumn(resolved: ResolvedSite, page: ResolvedPage, viewport: string, column: PageColumn): PageFact {
  return READ[column](
    page,
    () => new PageSight(resolved, page, new Date(0)).sights.find((s) => s.view.viewport.name === viewport) as Sight,
  )
}

/** What a column of a page holds. */
export type PageFact = string | number | readonly string[] | null

const printedOf = (sight: Sight, read: (printed: PrintedItem) => string | undefined): readonly string[] => [
  ...new Set(sight.items.flatMap((printed) => (sight.prints(printed) ? (read(printed) ?? []) : []))),
]

const READ: Readonly<Record<PageColumn, (page: ResolvedPage, sight: () => Sight) => PageFact>> = {
  template: (page) => page.choice.template?.id ?? null,
  path: (page) => page.facts.path,
  name: (page) => page.data.title,
  kind: (page) => page.facts.kind,
  status: (page) => page.data.status ?? 'published',
  access: (page) => page.data.access ?? 'public',
  builder: (page) => page.facts.builder ?? null,
  purposes: (page) => page.facts.purposes,
  tags: (page) => page.data.tags ?? [],
  parent: (page) => page.data.parent ?? null,
  logo: (_page, sight) => printedOf(sight(), ({ item, place }) => (place === 'header' ? item.logo : undefined)),
  menus: (_page, sight) => printedOf(sight(), ({ item }) => item.menu),
  exits: (_page, sight) => exitsOf(sight()).size,
  words: (_page, sight) => wordsOf(sight()),
  top: (_page, sight) => firstTop(sight()),
}

const firstTop = ({ measure }: Sight): number | null => {
  const first = firstContent(measure)
  return first ? rounded(first.box.y) : null
}
