import type { PrintedItem } from '../measure/box.js'
import { DEFAULT_COUNT } from '../measure/item-height.js'
import { own } from '../model/json.js'
import type { Site } from '../model/site.js'
import type { Item } from '../model/site-data.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import type { Sight } from './sight.js'

/** Where a link leads: a page of the site by its id, an address elsewhere, or a place on the same page. */
export type Target = { readonly page: string } | { readonly address: string } | { readonly anchor: string }

/** A link as it is written: a page's id, which counts first, or an address. */
interface Link {
  readonly page?: string | undefined
  readonly url?: string | undefined
}

/** The links that are written in an item; those that a listing makes are not. */
function* linksIn({ data, pageData }: Site, item: Item): Iterable<Link> {
  if (item.menu !== undefined) yield* own(data.menus, item.menu) ?? []
  if (item.button !== undefined) yield item
  if (item.logo !== undefined) {
    const page = item.page ?? data.purposes?.front
    yield { page, url: page === undefined ? '/' : undefined }
  }
  yield* item.social ?? []
  for (const link of item.links ?? []) yield { page: pageData(link) ? link : undefined, url: link }
}

/** What can be clicked in an item. */
export function targetsOf({ resolved }: Sight, item: Item): readonly Target[] {
  const found: Target[] = []
  for (const { page, url } of linksIn(resolved.site, item))
    if (page !== undefined) found.push(...(resolved.site.pageData(page) ? [{ page }] : []))
    else if (url !== undefined) found.push(targetOf(resolved, url))
  if (item.listing !== undefined)
    found.push(
      ...resolved.site
        .published(item.listing)
        .slice(0, item.count ?? DEFAULT_COUNT)
        .map((page) => ({ page })),
    )
  return found
}

/** The places on the same page that links in an item lead to; what other links lead to is not looked up. */
export function* anchorsOf({ resolved }: Sight, item: Item): Iterable<string> {
  for (const { page, url } of linksIn(resolved.site, item))
    if (page === undefined && url?.startsWith('#')) yield url.slice(1)
}

/** What an address means: a path of the site, or the site's own address with one, is a page. */
function targetOf(resolved: ResolvedSite, url: string): Target {
  if (url.startsWith('#')) return { anchor: url.slice(1) }
  const own_ = resolved.site.data.site.url?.replace(/\/$/, '')
  const path = own_ !== undefined && url.startsWith(own_) ? url.slice(own_.length) || '/' : url
  const page = path.startsWith('/') ? pageAnswering(resolved.site, path) : undefined
  return page === undefined ? { address: url } : { page }
}

/** The page that answers at a path: at `/` the front page, whatever its own path is. */
export function pageAnswering(site: Site, path: string): string | undefined {
  const front = site.data.purposes?.front
  return path === '/' && front !== undefined && site.pageData(front) ? front : site.pageAt(path)
}

/** Where on a page an exit is, as policies count them. */
export type ExitPlace = 'header' | 'footer' | 'body'

const placeOf = ({ place }: PrintedItem): ExitPlace => (place === 'header' || place === 'footer' ? place : 'body')

/** The other pages and sites that a page leads to, each address once. */
export function exitsOf(sight: Sight, by?: ExitPlace): ReadonlySet<string> {
  const exits = new Set<string>()
  for (const printed of sight.items) {
    if (by !== undefined && placeOf(printed) !== by) continue
    for (const target of targetsOf(sight, printed.item)) {
      if ('page' in target && target.page !== sight.page.id) exits.add(`page ${target.page}`)
      if ('address' in target) exits.add(target.address)
    }
  }
  return exits
}

/** Words of the texts, headings and buttons among some items. */
export const countWords = (items: readonly Item[]): number =>
  items.reduce((sum, item) => sum + wordsIn(item.text) + wordsIn(item.button) + countWords(insideOf(item)), 0)

const insideOf = (item: Item): readonly Item[] => [
  ...(item.items ?? []),
  ...(item.columns ?? []).flatMap((column) => column.items ?? []),
]

const wordsIn = (text: string | undefined): number => text?.match(/[\p{L}\p{N}][\p{L}\p{N}'’-]*/gu)?.length ?? 0
