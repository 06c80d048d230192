import { own } from '../../model/json.js'
import { plainPath } from '../../model/paths.js'
import type { PageData, SiteData } from '../../model/schema.js'
import { SECTIONS, type SectionName } from '../../model/sections.js'
import { DEFAULT_KIND, type Site } from '../../model/site.js'
import { changedIds } from '../../resolve/reach.js'

/**
 * A recorded read of a site: `menus/primary` one thing, `menus/*` which things there are, `theme` a whole section,
 * `pages/door/access` a key of a page, `pages/door` whether the page exists, `path:/visit` and `listed:article` the pages
 * with that path or kind.
 */
export type ReadKey = string

const ALL_SECTIONS = (Object.keys(SECTIONS) as SectionName[]).filter((section) => section !== 'pages')
/** Sections whose reads are recorded thing by thing. */
const BY_ID = ALL_SECTIONS.filter((section) => SECTIONS[section].holds === 'map' && section !== 'viewports')
const WHOLE = ALL_SECTIONS.filter((section) => !BY_ID.includes(section))

const ALL = Symbol('all')

/** All things of a section, recorded as one read: recording each of them costs more than reading it. */
export const allOf = <T extends object>(things: T | undefined): T | undefined =>
  things && ((things as { readonly [ALL]?: T })[ALL] ?? things)

/** A site that records what is read of it while `during` runs. */
export class ReadSite {
  readonly site: Site
  #reads: Set<ReadKey> | undefined
  #own: string | undefined

  constructor(site: Site) {
    this.site = this.#noting(site)
  }

  /** Runs `work` and adds what it reads to `reads`, except the keys of the page `own`. */
  during<T>(work: () => T, reads: Set<ReadKey>, own?: string): T {
    const [outerReads, outerOwn] = [this.#reads, this.#own]
    this.#reads = reads
    this.#own = own
    try {
      return work()
    } finally {
      this.#reads = outerReads
      this.#own = outerOwn
    }
  }

  #note(key: ReadKey): void {
    this.#reads?.add(key)
  }

  #noting(site: Site): Site {
    const data = {} as Record<string, unknown>
    const define = (section: string, get: () => unknown): void =>
      void Object.defineProperty(data, section, { enumerable: true, get })
    for (const section of WHOLE) define(section, () => (this.#note(section), site.data[section]))
    for (const section of BY_ID) {
      const things = site.data[section] as object | undefined
      const noting = things && notingThings(things, section, (key) => this.#note(key))
      define(section, () => noting ?? this.#note(`${section}/*`))
    }
    define('pages', () => (this.#note('pages/*'), site.data.pages))
    const pages = new Map<string, PageData>()
    const notingPage = (id: string, page: PageData): PageData => {
      let noting = pages.get(id)
      if (!noting) {
        noting = notingThings(page, `pages/${id}`, (key) => {
          if (id !== this.#own) this.#note(key)
        })
        pages.set(id, noting)
      }
      return noting
    }
    const notePages = (): void => this.#note('pages/*')
    return {
      ...site,
      data: data as unknown as SiteData,
      get pageIds() {
        notePages()
        return site.pageIds
      },
      pageData: (id) => {
        const page = site.pageData(id)
        if (id === this.#own) return page
        this.#note(`pages/${id}`)
        return page && notingPage(id, page)
      },
      pageAt: (path) => (this.#note(`path:${plainPath(path)}`), site.pageAt(path)),
      published: (kind) => (this.#note(`listed:${kind}`), site.published(kind)),
    }
  }
}

/** A map that records reads of its entries, and of the list of its keys as `name/*`. */
function notingThings<T extends object>(things: T, name: string, note: (key: ReadKey) => void): T {
  const keys = new Map<string, ReadKey>()
  const noteEntry = (key: string | symbol): void => {
    if (typeof key === 'symbol') return
    let known = keys.get(key)
    if (known === undefined) keys.set(key, (known = `${name}/${key}`))
    note(known)
  }
  const noteAll = (): void => note(`${name}/*`)
  return new Proxy(things, {
    get: (target, key) => (key === ALL ? (noteAll(), target) : (noteEntry(key), Reflect.get(target, key) as unknown)),
    has: (target, key) => (noteEntry(key), Reflect.has(target, key)),
    getOwnPropertyDescriptor: (target, key) => (noteEntry(key), Reflect.getOwnPropertyDescriptor(target, key)),
    ownKeys: (target) => (noteAll(), Reflect.ownKeys(target)),
  })
}

type Keyed = Readonly<Record<string, unknown>> | undefined

/** The reads that give another result in the later state; `edited` are the pages that may differ. */
export function changedReads(before: Site, after: Site, edited: Iterable<string>): ReadonlySet<ReadKey> {
  const changed = new Set<ReadKey>()
  for (const section of WHOLE) if (before.data[section] !== after.data[section]) changed.add(section)
  for (const section of BY_ID) {
    const ids = changedIds(before.data[section] as Keyed, after.data[section] as Keyed)
    if (before.data[section] !== after.data[section]) changed.add(`${section}/*`)
    for (const id of ids) changed.add(`${section}/${id}`)
  }
  if (before.pageIds !== after.pageIds) changed.add('pages/*')
  for (const id of edited) {
    const [old, now] = [before.pageData(id), after.pageData(id)]
    if (old === now) continue
    changed.add('pages/*')
    for (const key of changedIds(old as Keyed, now as Keyed)) {
      changed.add(`pages/${id}/${key}`)
      if (own(old as Keyed, key) === undefined || own(now as Keyed, key) === undefined) changed.add(`pages/${id}/*`)
    }
    if (!old || !now) changed.add(`pages/${id}`)
    if (old?.path !== now?.path) for (const page of [old, now]) if (page) changed.add(`path:${plainPath(page.path)}`)
    const [was, is] = [listedAs(old), listedAs(now)]
    if (was !== is || !old || !now) for (const kind of [was, is]) if (kind !== undefined) changed.add(`listed:${kind}`)
  }
  return changed
}

/** The kind of a published page. */
const listedAs = (page: PageData | undefined): string | undefined =>
  page && page.status !== 'draft' ? (page.kind ?? DEFAULT_KIND) : undefined
