import { WembraError } from '../model/wembra-error.js'
import { draftBands } from './draft-bands.js'
import { SharedChrome, SurroundDrafts } from './draft-chrome.js'
import { draftContent } from './draft-content.js'
import { kindsOf } from './draft-kinds.js'
import { GROUND, layersOf, type Layers } from './draft-layers.js'
import { draftPage, type PageDraft } from './draft-page.js'
import { AssetDrafts, freshName, Shared, slug, type DraftDetail, type Drafts } from './draft-shared.js'
import type { Views } from './draft-values.js'
import { groundOf, writeDraft, type NamedViewport } from './draft-write.js'
import { frontPathOf } from './front-page.js'
import type { Observation, ObservationFailure } from './observation.js'
import { sitePath } from './seen-words.js'

/** A drafted site file, with what it rests on. */
export interface Draft {
  /** The site file, with how many pages support each value beside it. */
  readonly text: string
  readonly pages: number
  /** Settings set by each layer. */
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

/** How a site file is drafted. */
export interface DraftOptions {
  /** Default `bands`: of a page its settings and the bands of its body, a few lines. */
  readonly detail?: DraftDetail | undefined
}

/**
 * Drafts a site file from what its pages show: shared headers, footers and sidebars by what they have in common, theme
 * options by majority, templates by what pages have in common, the rest on the pages.
 *
 * @throws {DraftError} When no page was laid out: widths and positions are seen in a browser only.
 */
export function draftSite(
  observations: readonly (Observation | ObservationFailure)[],
  { detail = 'bands' }: DraftOptions = {},
): Draft {
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
    idOf: (path) => ids.get(path) ?? ids.get(path.replace(/\.html?$/i, '')),
    kindOf: (path) => kinds.get(path),
  }
  const views = new Map([...byPage].map(([path, list]) => [path, viewsOf(list, viewports)]))
  const readers = {
    chrome: detail === 'full' ? new SurroundDrafts(drafts) : new SharedChrome(drafts, [...views.values()]),
    content: detail === 'full' ? draftContent : draftBands,
    isWhole: detail === 'full',
  }
  const pages = new Map<string, PageDraft>()
  for (const [path, list] of views) {
    const page = draftPage(list, drafts, readers, suffix)
    if (page) pages.set(ids.get(path) ?? slug(path), { ...page, path })
  }
  if (detail !== 'full') {
    withoutStrayHeights([...pages.values()])
    const usual = groundOf(seen)
    for (const page of pages.values()) {
      const own = groundOf(byPage.get(page.path) ?? [])
      if (own && JSON.stringify(own) !== JSON.stringify(usual)) page.settings.set(GROUND, own)
    }
  }
  const layers = layersOf([...pages].map(([id, { kind, settings }]) => ({ id, kind, settings })))
  const front = frontPathOf(seen)
  const failed = observations.flatMap((each) =>
    each.report === 'observation-failure' ? [{ url: each.url, because: each.message }] : [],
  )
  return {
    text: writeDraft({
      ...{ seen, viewports, suffix, drafts, pages, layers, detail },
      front: front === undefined ? undefined : ids.get(front),
    }),
    pages: pages.size,
    settings: countSettings(layers),
    surrounds: [...drafts.surrounds.found.values()].map(({ id, pages: n }) => ({ id, pages: n.size })),
    failed,
  }
}

/** Heights that differ from page to page of a kind, for they follow from the words: no setting sets them. */
function withoutStrayHeights(pages: readonly PageDraft[]): void {
  for (const property of ['title.height', 'byline.height'])
    for (const kind of new Set(pages.map((page) => page.kind))) {
      const mine = pages.filter((page) => page.kind === kind && page.settings.has(property))
      const values = new Set(mine.map((page) => JSON.stringify(page.settings.get(property))))
      if (values.size > 1) for (const { settings } of mine) settings.delete(property)
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
