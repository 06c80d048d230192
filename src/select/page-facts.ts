import { plainPath } from '../model/check-names.js'
import { own } from '../model/json.js'
import type { PageData, SiteData } from '../model/schema.js'

/** What selectors ask of a page. `template` is known only once the template is chosen. */
export interface PageFacts {
  readonly id: string
  readonly kind: string
  /** The page's address: `/` for the front page, whatever its path. */
  readonly path: string
  readonly segments: readonly string[]
  readonly tags: readonly string[]
  readonly ancestors: readonly string[]
  /** `front`, `listing:article`, `search`, … */
  readonly purposes: readonly string[]
  readonly builder: string | undefined
}

export const DEFAULT_KIND = 'page'
export const segmentsOf = (path: string): readonly string[] => path.split('/').filter((segment) => segment !== '')

/** The purposes that each page is used for. */
export function purposesOf(site: SiteData): ReadonlyMap<string, readonly string[]> {
  const byPage = new Map<string, string[]>()
  const add = (page: string | undefined, purpose: string): void => {
    if (page !== undefined) byPage.set(page, [...(byPage.get(page) ?? []), purpose])
  }
  const { listing = {}, ...single } = site.purposes ?? {}
  for (const [purpose, page] of Object.entries(single)) add(page as string | undefined, purpose)
  for (const [kind, page] of Object.entries(listing)) add(page, `listing:${kind}`)
  return byPage
}

const NONE: readonly string[] = []

export function factsOf(
  site: SiteData,
  id: string,
  page: PageData,
  purposes: ReadonlyMap<string, readonly string[]>,
): PageFacts {
  const mine = purposes.get(id) ?? NONE
  const path = mine.includes('front') ? '/' : plainPath(page.path)
  return {
    id,
    kind: page.kind ?? DEFAULT_KIND,
    path,
    segments: segmentsOf(path),
    tags: page.tags ?? NONE,
    ancestors: page.parent === undefined ? NONE : ancestorsOf(site, page),
    purposes: mine,
    builder: page.built?.with,
  }
}

/** Nearest first. `parent` cannot go in a circle in a site that was read. */
function ancestorsOf(site: SiteData, page: PageData): readonly string[] {
  const found: string[] = []
  for (let parent = page.parent; parent !== undefined; parent = own(site.pages, parent)?.parent) found.push(parent)
  return found
}
