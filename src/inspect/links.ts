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

const NO_LINKS: readonly Link[] = []
const NO_TARGETS: readonly Target[] = []

/** The links that are written in an item; those that a listing makes are not. Most items have none. */
function linksIn({ data, pageData }: Site, item: Item): readonly Link[] {
  const { menu, button, logo, social, links } = item
  if ((menu ?? button ?? logo ?? social ?? links) === undefined) return NO_LINKS
  const found: Link[] = []
  if (menu !== undefined) found.push(...(own(data.menus, menu) ?? []))
  if (button !== undefined) found.push(item)
  if (logo !== undefined) {
    const page = item.page ?? data.purposes?.front
    found.push({ page, url: page === undefined ? '/' : undefined })
  }
  if (social) found.push(...social)
  for (const link of links ?? []) found.push({ page: pageData(link) ? link : undefined, url: link })
  return found
}

/** What can be clicked in an item. */
export function targetsOf({ resolved }: Sight, item: Item): readonly Target[] {
  const links = linksIn(resolved.site, item)
  if (links.length === 0 && item.listing === undefined) return NO_TARGETS
  const found: Target[] = []
  for (const { page, url } of links)
    if (page !== undefined) {
      if (resolved.site.pageData(page)) found.push({ page })
    } else if (url !== undefined) found.push(targetOf(resolved, url))
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
export const anchorsOf = ({ resolved }: Sight, item: Item): readonly string[] =>
  linksIn(resolved.site, item).flatMap(({ page, url }) =>
    page === undefined && url?.startsWith('#') ? url.slice(1) : [],
  )

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
