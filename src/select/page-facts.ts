import { isSameList } from '../model/lists.js'
import { plainPath } from '../model/paths.js'
import type { PageData, SiteData } from '../model/schema.js'
import { DEFAULT_KIND, type Site } from '../model/site.js'

/** The segments of a path; slashes at its ends and doubled ones count for nothing. */
export function segmentsOf(path: string): readonly string[] {
  const segments = path.split('/')
  segments.shift() // what is before the first slash
  return segments.includes('') ? segments.filter((segment) => segment !== '') : segments
}

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

/** What selectors ask of a page. */
export class PageFacts {
  readonly id: string
  readonly kind: string
  readonly tags: readonly string[]
  /** `front`, `listing:article`, `search`, … */
  readonly purposes: readonly string[]
  readonly builder: string | undefined
  /** Nearest first. `parent` cannot go in a circle in a site that was read. */
  readonly ancestors: readonly string[]
  readonly #data: PageData
  #segments: readonly string[] | undefined

  constructor(site: Site, id: string, data: PageData, purposes: readonly string[] = NONE) {
    this.#data = data
    this.id = id
    this.kind = data.kind ?? DEFAULT_KIND
    this.tags = data.tags ?? NONE
    this.purposes = purposes
    this.builder = data.built?.with
    this.ancestors = data.parent === undefined ? NONE : ancestorsOf(site, data.parent)
  }

  /** The page's address: `/` for the front page, whatever its path. */
  get path(): string {
    return this.purposes.includes('front') ? '/' : plainPath(this.#data.path)
  }

  /** Whether selectors cannot tell it from another state of the page. */
  isLike(other: PageFacts): boolean {
    const isSame = this.kind === other.kind && this.builder === other.builder && this.path === other.path
    return (
      isSame &&
      isSameList(this.tags, other.tags) &&
      isSameList(this.purposes, other.purposes) &&
      isSameList(this.ancestors, other.ancestors)
    )
  }

  get segments(): readonly string[] {
    return (this.#segments ??= segmentsOf(this.path))
  }
}

function ancestorsOf(site: Site, nearest: string): readonly string[] {
  const found: string[] = []
  for (let parent: string | undefined = nearest; parent !== undefined; parent = site.pageData(parent)?.parent)
    found.push(parent)
  return found
}
