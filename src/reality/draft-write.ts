import { Document, isMap, isScalar, type Pair, type YAMLMap } from 'yaml'
import type { RuleId } from '../inspect/rules/index.js'
import { isObject, type Json, type JsonObject } from '../model/json.js'
import { LOCATORS } from '../model/site-data.js'
import { ARRANGE, GROUND, type Layers, type SupportedSettings } from './draft-layers.js'
import { holdsTitle } from './draft-places.js'
import type { PageDraft } from './draft-page.js'
import { freshName, type DraftDetail, type Drafts, type Shared } from './draft-shared.js'
import { writtenColor } from './draft-values.js'
import { SEEN_RULES, type Observation } from './observation.js'
import { seenFindings } from './seen-findings.js'

export interface NamedViewport {
  readonly name: string
  readonly width: number
  readonly height: number
}

/** All that is written down. */
export interface DraftParts {
  readonly seen: readonly Observation[]
  readonly viewports: readonly NamedViewport[]
  /** What documents' titles end with. */
  readonly suffix: string
  readonly drafts: Drafts
  readonly pages: ReadonlyMap<string, PageDraft>
  readonly layers: Layers
  readonly detail: DraftDetail
  /** Id of the front page, where it was seen. */
  readonly front: string | undefined
}

/** Rules of what a visitor does not see, or a draft leaves out: what is within a band, and behind a header. */
const UNTOLD_RULES: readonly RuleId[] = [
  ...(['share-image-missing', 'item-prints-nothing', 'nav-lost', 'listing-lost', 'empty-page-live'] as const),
  ...(['overlay-misplaced', 'strip-under-header', 'gap-left-behind', 'mixed-page-starts', 'screen-overrun'] as const),
  ...(['column-squeezed', 'space-unclaimed', 'narrowed-by-padding', 'gutters-doubled', 'widths-nearly-same'] as const),
  ...(['comments-outside', 'setting-asleep', 'target-under-header', 'clearance-wrong'] as const),
]

/** Rules that are checked against the pages themselves: where nothing is seen of them, a draft does not know better. */
const JUDGED_RULES: readonly RuleId[] = [
  ...SEEN_RULES,
  ...(['headings-out-of-order', 'title-doubled', 'title-missing', 'headline-lost'] as const),
]

/** Rules that a draft cannot judge. */
function silentRules(seen: readonly Observation[], front: string | undefined): readonly RuleId[] {
  const found = new Set<string>(seenFindings(seen).map(({ rule }) => rule))
  if (found.has('title-missing')) found.add('headline-lost')
  // One more heading 1 is one more title where it is in the first band.
  if (found.has('headings-out-of-order')) found.add('title-doubled')
  return [
    ...UNTOLD_RULES,
    ...(front === undefined ? (['front-unassigned'] as const) : []),
    ...JUDGED_RULES.filter((rule) => !found.has(rule)),
  ]
}

/** The ground of most pages, as it is written. */
export function groundOf(seen: readonly Observation[]): { color: string; ink: string } | undefined {
  const ground = mostFrequent(seen.flatMap((each) => each.ground ?? []))
  return ground && { color: writtenColor(ground.color) ?? ground.color, ink: writtenColor(ground.ink) ?? ground.ink }
}

/** What a locator could be: an id, or a class that stands for one part alone. */
function locatorsOf(seen: readonly Observation[]): JsonObject {
  const uses = new Map<string, Map<string, number>>()
  const totals = new Map<string, number>()
  for (const { parts, outline } of seen)
    for (const [name, part] of Object.entries(parts)) {
      // One that is among the content is no part of the theme.
      if (name === 'title' && holdsTitle(outline)) continue
      totals.set(name, (totals.get(name) ?? 0) + 1)
      for (const token of part.names ?? []) {
        const ofToken = uses.get(token) ?? new Map<string, number>()
        uses.set(token, ofToken.set(name, (ofToken.get(name) ?? 0) + 1))
      }
    }
  return Object.fromEntries(
    LOCATORS.flatMap((name) => {
      if (name === 'page') return []
      const [best] = [...uses]
        .filter(([, parts]) => parts.size === 1 && (parts.get(name) ?? 0) === totals.get(name))
        .sort(([a], [b]) => rank(a) - rank(b))
      return best ? [[name, best[0]]] : []
    }),
  )
}

/** An id before a landmark's tag, that before a class, that before any other tag. */
const rank = (token: string): number =>
  token.startsWith('#') ? 0 : token === 'main' ? 1 : token.startsWith('.') ? 2 : 3

/** Writes a draft as YAML, with how many pages support each value beside it. */
export function writeDraft(parts: DraftParts): string {
  const { seen, viewports, suffix, drafts, pages, layers, detail, front } = parts
  const isFull = detail === 'full'
  const [first] = seen
  const ground = groundOf(seen)
  const templateOf = new Map(layers.templates.flatMap(({ id, pages: ids }) => ids.map((page) => [page, id] as const)))
  const site = {
    wembra: 1,
    site: { name: suffix === '' ? (first?.title ?? 'Site') : suffix.replace(/^\s\S\s/, ''), ...addressOf(seen) },
    viewports: Object.fromEntries(viewports.map(({ name, width, height }) => [name, { width, height }])),
    ...(isFull && { locators: locatorsOf(seen) }),
    ...optional('assets', Object.fromEntries([...drafts.assets.found.values()].map(({ id, ...size }) => [id, size]))),
    ...optional('menus', named(drafts.menus)),
    ...optional('surrounds', named(drafts.surrounds)),
    theme: {
      ...(ground && { ground: { ...ground } }),
      layout: layoutOf(layers.theme),
    },
    ...optional('kinds', kindsWritten(pages, layers)),
    ...optional(
      'templates',
      Object.fromEntries(
        layers.templates.map(({ id, settings }) => [
          id,
          {
            ...optional('layout', layoutOf(settings)),
            ...(settings.has(GROUND) && { ground: settings.get(GROUND)?.value }),
            ...(settings.has(ARRANGE) && { arrange: settings.get(ARRANGE)?.value }),
          },
        ]),
      ),
    ),
    ...optional('inserts', insertsOf(pages)),
    ...optional('purposes', purposesOf(pages, front)),
    ...(!isFull && { severity: Object.fromEntries(silentRules(seen, front).map((rule) => [rule, 'none'])) }),
    pages: Object.fromEntries(
      [...pages].map(([id, page]) => [
        id,
        {
          path: page.path,
          title: page.title,
          ...(page.kind !== 'page' && { kind: page.kind }),
          ...parentOf(page.path, pages),
          ...(templateOf.has(id) && { template: templateOf.get(id) }),
          ...(page.image !== undefined && { image: page.image }),
          ...(isFull && page.shareImage !== undefined && { share: { image: page.shareImage } }),
          ...optional(
            'layout',
            layoutOf(
              new Map(
                [...(layers.pages.get(id) ?? [])]
                  .filter(([property]) => property !== ARRANGE && property !== GROUND)
                  .map(([property, value]) => [property, { value }]),
              ),
            ),
          ),
          body: page.body,
        },
      ]),
    ),
  }
  const document = new Document(site)
  document.commentBefore = ` Drafted from what ${pages.size} pages show. Beside a value: the number of pages it was seen on, of those it applies to.`
  const say = isFull ? annotate : annotateFacets
  say(document, ['theme', 'layout'], layers.theme)
  for (const [kind, settings] of layers.kinds) say(document, ['kinds', kind, 'layout'], settings)
  if (isFull) for (const { id, settings } of layers.templates) annotate(document, ['templates', id, 'layout'], settings)
  for (const { id, pages: n } of drafts.surrounds.found.values())
    comment(document, ['surrounds', id, 'as'], `on ${supportOf(n.size, pages.size)}`)
  flowBodies(document)
  if (!isFull) tighten(document)
  return document.toString({ lineWidth: isFull ? 140 : 0, flowCollectionPadding: true })
}

/** Every kind that a page is of, with what is set for it. */
function kindsWritten(pages: ReadonlyMap<string, PageDraft>, layers: Layers): JsonObject {
  const used = new Set([...pages.values()].map(({ kind }) => kind))
  return Object.fromEntries(
    [...used].flatMap((kind) => {
      const settings = layers.kinds.get(kind)
      return kind === 'page' && !settings ? [] : [[kind, settings ? { layout: layoutOf(settings) } : {}]]
    }),
  )
}

const optional = <K extends string>(key: K, value: object): { [key in K]?: object } =>
  (Object.keys(value).length > 0 ? { [key]: value } : {}) as { [key in K]?: object }

const named = (shared: Shared<readonly Json[]> | Shared<JsonObject>): JsonObject =>
  Object.fromEntries([...shared.found.values()].map(({ id, value }) => [id, value as Json]))

function mostFrequent<T extends object>(values: readonly T[]): T | undefined {
  const counts = new Map<string, number>()
  for (const value of values) counts.set(JSON.stringify(value), (counts.get(JSON.stringify(value)) ?? 0) + 1)
  const [best] = [...counts].sort(([, a], [, b]) => b - a)
  return best && (JSON.parse(best[0]) as T)
}

/** The address that pages declare as theirs, where they agree. */
function addressOf(seen: readonly Observation[]): { url?: string } {
  const origin = mostFrequent(
    seen.flatMap(({ canonical }) =>
      /^https?:\/\/[^/]+/.exec(canonical ?? '') ? [{ url: /^https?:\/\/[^/]+/.exec(canonical ?? '')?.[0] }] : [],
    ),
  )
  const [first] = seen
  return origin?.url === undefined
    ? { url: /^https?:\/\/[^/]+/.exec(first?.url ?? '')?.[0] ?? '' }
    : { url: origin.url }
}

function layoutOf(settings: ReadonlyMap<string, { readonly value: Json }>): JsonObject {
  const out: Record<string, Record<string, Json>> = {}
  for (const [path, { value }] of settings) {
    const [facet = '', property = ''] = path.split('.')
    if (path === ARRANGE || path === GROUND) continue
    out[facet] = { ...out[facet], [property]: value }
  }
  return out
}

/** The page above in the address, where there is one. */
function parentOf(path: string, pages: ReadonlyMap<string, PageDraft>): { parent?: string } {
  const above = path.split('/').slice(0, -1).join('/')
  const parent = above === '' ? undefined : [...pages].find(([, page]) => page.path === above)?.[0]
  return parent === undefined ? {} : { parent }
}

/** The front page, and pages that list most of a kind. */
function purposesOf(pages: ReadonlyMap<string, PageDraft>, front: string | undefined): JsonObject {
  const kinds = new Set([...pages.values()].map(({ kind }) => kind).filter((kind) => kind !== 'page'))
  const listing = [...kinds].flatMap((kind) => {
    const mine = [...pages].filter(([, page]) => page.kind === kind).map(([id]) => id)
    const best = [...pages]
      .map(([id, { body, kind: own }]) => ({ id, listed: own === kind ? 0 : longestListing(body, kind) }))
      .sort((a, b) => b.listed - a.listed)[0]
    return best && best.listed * 2 >= mine.length ? [[kind, best.id] as const] : []
  })
  return { ...(front !== undefined && { front }), ...(listing.length > 0 && { listing: Object.fromEntries(listing) }) }
}

/** How many pages of a kind the longest listing lists. */
const longestListing = (items: readonly Json[], kind: string): number =>
  Math.max(
    0,
    ...items
      .filter(isObject)
      .map((item) =>
        item['listing'] === kind
          ? Number(item['count'])
          : longestListing(
              [...((item['items'] ?? []) as readonly Json[]), ...((item['columns'] ?? []) as readonly Json[])],
              kind,
            ),
      ),
  )

/** Inserts that are the same on several pages, each once. */
function insertsOf(pages: ReadonlyMap<string, PageDraft>): readonly JsonObject[] {
  const found = new Map<string, { data: JsonObject; pages: string[] }>()
  for (const [id, { inserts }] of pages)
    for (const data of inserts) {
      const known = found.get(JSON.stringify(data)) ?? { data, pages: [] }
      known.pages.push(id)
      found.set(JSON.stringify(data), known)
    }
  const taken = new Set<string>()
  return [...found.values()].map(({ data, pages: on }) => {
    const kinds = new Set(on.map((id) => pages.get(id)?.kind))
    const [kind] = kinds
    const isKind = kinds.size === 1 && on.length === [...pages.values()].filter((page) => page.kind === kind).length
    const id = freshName(String(data['id']), (name) => taken.has(name))
    taken.add(id)
    const isAll = on.length === pages.size && pages.size > 1
    const where: JsonObject = isAll ? { all: true } : isKind && kind !== undefined ? { kind } : { page: on }
    const { at = 'after-header', ...rest } = data
    return { ...rest, id, at, where: [where] }
  })
}

function annotate(document: Document, path: readonly string[], settings: SupportedSettings): void {
  for (const [property, { pages, of }] of settings)
    if (property !== ARRANGE) comment(document, [...path, ...property.split('.')], supportOf(pages, of))
}

const supportOf = (pages: number, of: number): string => `${pages} of ${of} ${of === 1 ? 'page' : 'pages'}`

/** A facet's settings on one line, with the fewest pages that any of them was seen on. */
function annotateFacets(document: Document, path: readonly string[], settings: SupportedSettings): void {
  const facets = new Map<string, { pages: number; of: number }>()
  for (const [property, { pages, of }] of settings) {
    const [facet = ''] = property.split('.')
    const known = facets.get(facet)
    if (property !== ARRANGE && (!known || pages < known.pages)) facets.set(facet, { pages, of })
  }
  for (const [facet, { pages, of }] of facets) comment(document, [...path, facet], supportOf(pages, of))
}

/** Writes a comment at the end of a value's line. */
function comment(document: Document, path: readonly string[], text: string): void {
  const value: unknown = document.getIn(path, true)
  if (isScalar(value)) value.comment = ` ${text}`
  else if (isMap(value)) {
    value.flow = true
    value.comment = ` ${text}`
  }
}

/** Things of pages and surrounds are on a line each. */
function flowBodies(document: Document): void {
  const root = document.contents
  if (!isMap(root)) return
  for (const section of ['pages', 'surrounds', 'menus', 'assets', 'viewports']) {
    const map: unknown = document.get(section, true)
    if (!isMap(map)) continue
    for (const { value } of (map as YAMLMap).items as Pair[]) {
      if (isMap(value) && (section === 'pages' || section === 'surrounds'))
        for (const inner of value.items as Pair[])
          flow(inner.value, inner.key !== undefined && ['body', 'rows', 'items'].includes(String(inner.key)) ? 1 : 0)
      else if (isMap(value)) value.flow = section !== 'menus'
    }
  }
}

/** What is short is on one line. */
function tighten(document: Document): void {
  flow(document.get('site', true), 0)
  flow(document.get('purposes', true), 0)
  flow(document.get('severity', true), 0)
  comment(document, ['severity'], 'what a draft cannot know')
  flow(document.getIn(['theme', 'ground'], true), 0)
  for (const list of ['menus', 'templates'])
    for (const { value } of (document.get(list, true) as YAMLMap | undefined)?.items ?? ([] as Pair[])) flow(value, 0)
  flow(document.get('inserts', true), 1)
}

/** Sets what lies deeper than so many levels on one line. */
function flow(value: unknown, levels: number): void {
  const node = value as { flow?: boolean; items?: unknown[] } | null
  if (!node || !Array.isArray(node.items)) return
  if (levels === 0) node.flow = true
  else for (const item of node.items) flow((item as { value?: unknown })?.value ?? item, levels - 1)
}
