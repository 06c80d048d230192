import { WembraError } from '../model/wembra-error.js'
import { Document, isMap, isScalar, type Pair, type YAMLMap } from 'yaml'
import { isObject, type Json, type JsonObject } from '../model/json.js'
import { LOCATORS } from '../model/site-data.js'
import { ARRANGE, layersOf, type Layers, type SupportedSettings } from './draft-layers.js'
import { kindsOf } from './draft-kinds.js'
import { draftPage, type PageDraft } from './draft-page.js'
import { AssetDrafts, freshName, Shared, slug, type Drafts } from './draft-shared.js'
import { writtenColor, type Views } from './draft-values.js'
import type { Observation, ObservationFailure } from './observation.js'
import { sitePath } from './seen-words.js'

/** A drafted site file, with what it rests on. */
export interface Draft {
  /** The site file, with how many pages support each value beside it. */
  readonly text: string
  readonly pages: number
  /** Settings said by each layer. */
  readonly settings: {
    readonly theme: number
    readonly kinds: number
    readonly templates: number
    readonly pages: number
  }
  readonly surrounds: readonly { readonly id: string; readonly pages: number }[]
  readonly failed: readonly { readonly url: string; readonly because: string }[]
}

/** Thrown where observations are too little to draft a site from. */
export class DraftError extends WembraError {
  override readonly name = 'DraftError'
  readonly code = 'draft'
}

/**
 * Drafts a site file from what its pages show: shared headers, footers and sidebars by equal markup, theme options by
 * majority, templates by what pages have in common, the rest on the pages.
 *
 * @throws {DraftError} When no page was laid out: widths and positions are seen in a browser only.
 */
export function draftSite(observations: readonly (Observation | ObservationFailure)[]): Draft {
  const seen = observations.filter(
    (each): each is Observation => each.report === 'observation' && each.viewport !== null,
  )
  if (seen.length === 0)
    throw new DraftError(
      'no page was laid out by a browser, and markup alone has no widths or positions; add --browser',
    )
  const byPage = new Map<string, Observation[]>()
  for (const each of seen) {
    const path = sitePath(each.url, each.url, undefined).replace(/\?.*$/, '')
    byPage.set(path, [...(byPage.get(path) ?? []), each])
  }
  const viewports = viewportsOf(seen)
  const suffix = commonSuffix([...byPage.values()].flatMap(([first]) => first?.title ?? []))
  const ids = idsOf([...byPage.keys()])
  const kinds = kindsOf(byPage, slug)
  const drafts: Drafts = {
    assets: new AssetDrafts(),
    menus: new Shared(),
    surrounds: new Shared(),
    idOf: (path) => ids.get(path),
    kindOf: (path) => kinds.get(path),
  }
  const pages = new Map<string, PageDraft>()
  for (const [path, list] of byPage) {
    const page = draftPage(viewsOf(list, viewports), drafts, suffix)
    if (page) pages.set(ids.get(path) ?? slug(path), { ...page, path })
  }
  const layers = layersOf([...pages].map(([id, { kind, settings }]) => ({ id, kind, settings })))
  const failed = observations.flatMap((each) =>
    each.report === 'observation-failure' ? [{ url: each.url, because: each.message }] : [],
  )
  return {
    text: write(seen, viewports, suffix, drafts, pages, layers),
    pages: pages.size,
    settings: countSettings(layers),
    surrounds: [...drafts.surrounds.found.values()].map(({ id, pages: n }) => ({ id, pages: n })),
    failed,
  }
}

function countSettings({ theme, kinds, templates, pages }: Layers): Draft['settings'] {
  const sum = (list: readonly { readonly size: number }[]): number => list.reduce((all, { size }) => all + size, 0)
  return {
    theme: theme.size,
    kinds: sum([...kinds.values()]),
    templates: sum(templates.map((t) => t.settings)),
    pages: sum([...pages.values()]),
  }
}

interface NamedViewport {
  readonly name: string
  readonly width: number
  readonly height: number
}

/** The viewports that were observed, widest first. */
function viewportsOf(seen: readonly Observation[]): readonly NamedViewport[] {
  const found = new Map<string, NamedViewport>()
  for (const { viewport } of seen)
    if (viewport) {
      const name = viewport.name ?? `w${viewport.width}`
      found.set(name, { name, width: viewport.width, height: viewport.height })
    }
  return [...found.values()].sort((a, b) => b.width - a.width)
}

const viewsOf = (list: readonly Observation[], viewports: readonly NamedViewport[]): Views =>
  viewports.flatMap((viewport) => {
    const seen = list.find((each) => (each.viewport?.name ?? `w${each.viewport?.width}`) === viewport.name)
    return seen ? [{ ...viewport, seen }] : []
  })

/** What most documents' titles end with: the site's name, after a mark. */
function commonSuffix(titles: readonly string[]): string {
  const counts = new Map<string, number>()
  for (const title of titles) {
    const found = /\s[–—|·:-]\s[^–—|·]+$/.exec(title)?.[0]
    if (found !== undefined) counts.set(found, (counts.get(found) ?? 0) + 1)
  }
  const [best] = [...counts].sort(([, a], [, b]) => b - a)
  return best && best[1] * 2 > titles.length ? best[0] : ''
}

/** Ids of pages by their paths: the last part, or more where that is taken. */
function idsOf(paths: readonly string[]): ReadonlyMap<string, string> {
  const taken = new Set<string>()
  return new Map(
    paths.map((path) => {
      const parts = path.split('/').filter(Boolean)
      const wanted = parts.length === 0 ? 'home' : slug(parts.at(-1) ?? '')
      const free = !taken.has(wanted) ? wanted : freshName(slug(parts.join('-')), (name) => taken.has(name))
      taken.add(free)
      return [path, free] as const
    }),
  )
}

/** What a locator could be: an id, or a class that stands for one part alone. */
function locatorsOf(seen: readonly Observation[]): JsonObject {
  const uses = new Map<string, Map<string, number>>()
  const totals = new Map<string, number>()
  for (const { parts } of seen)
    for (const [name, part] of Object.entries(parts)) {
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

function write(
  seen: readonly Observation[],
  viewports: readonly NamedViewport[],
  suffix: string,
  drafts: Drafts,
  pages: ReadonlyMap<string, PageDraft>,
  layers: Layers,
): string {
  const [first] = seen
  const ground = mostFrequent(seen.flatMap((each) => each.ground ?? []))
  const templateOf = new Map(layers.templates.flatMap(({ id, pages: ids }) => ids.map((page) => [page, id] as const)))
  const site = {
    wembra: 1,
    site: { name: suffix === '' ? (first?.title ?? 'Site') : suffix.replace(/^\s\S\s/, ''), ...addressOf(seen) },
    viewports: Object.fromEntries(viewports.map(({ name, width, height }) => [name, { width, height }])),
    locators: locatorsOf(seen),
    ...optional('assets', Object.fromEntries([...drafts.assets.found.values()].map(({ id, ...size }) => [id, size]))),
    ...optional('menus', named(drafts.menus)),
    ...optional('surrounds', named(drafts.surrounds)),
    theme: {
      ...(ground && {
        ground: { color: writtenColor(ground.color) ?? ground.color, ink: writtenColor(ground.ink) ?? ground.ink },
      }),
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
            ...(settings.has(ARRANGE) && { arrange: settings.get(ARRANGE)?.value }),
          },
        ]),
      ),
    ),
    ...optional('inserts', insertsOf(pages)),
    purposes: purposesOf(pages),
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
          ...(page.shareImage !== undefined && { share: { image: page.shareImage } }),
          ...optional(
            'layout',
            layoutOf(
              new Map(
                [...(layers.pages.get(id) ?? [])]
                  .filter(([property]) => property !== ARRANGE)
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
  annotate(document, ['theme', 'layout'], layers.theme)
  for (const [kind, settings] of layers.kinds) annotate(document, ['kinds', kind, 'layout'], settings)
  for (const { id, settings } of layers.templates) annotate(document, ['templates', id, 'layout'], settings)
  for (const { id, pages: n } of drafts.surrounds.found.values())
    comment(document, ['surrounds', id, 'as'], `on ${n} of ${pages.size} pages`)
  flowBodies(document)
  return document.toString({ lineWidth: 140, flowCollectionPadding: true })
}

/** Every kind that a page is of, with what is said for it. */
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

/** The address that pages say is theirs, where they agree. */
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
    if (path === ARRANGE) continue
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
function purposesOf(pages: ReadonlyMap<string, PageDraft>): JsonObject {
  const front = [...pages].find(([, { path }]) => path === '/')?.[0]
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
    const where: JsonObject = isKind && kind !== undefined ? { kind } : { page: on }
    const { at = 'after-header', ...rest } = data
    return { ...rest, id, at, where: [where] }
  })
}

function annotate(document: Document, path: readonly string[], settings: SupportedSettings): void {
  for (const [property, { pages, of }] of settings)
    if (property !== ARRANGE) comment(document, [...path, ...property.split('.')], `${pages} of ${of} pages`)
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

/** Things of pages and surrounds stand on a line each. */
function flowBodies(document: Document): void {
  const root = document.contents
  if (!isMap(root)) return
  for (const section of ['pages', 'surrounds', 'menus', 'assets', 'viewports', 'inserts']) {
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

/** Sets what lies deeper than so many levels on one line. */
function flow(value: unknown, levels: number): void {
  const node = value as { flow?: boolean; items?: unknown[] } | null
  if (!node || !Array.isArray(node.items)) return
  if (levels === 0) node.flow = true
  else for (const item of node.items) flow((item as { value?: unknown })?.value ?? item, levels - 1)
}
