import type { PageData, SiteData } from '../model/schema.js'
import type { Site } from '../model/site.js'
import { DEFAULT_KIND } from '../model/site.js'
import { own } from '../model/json.js'
import { plainPath } from '../model/paths.js'
import { changedIds } from '../resolve/reach.js'

/**
 * Names what was read of a site: `menus/primary` one thing, `menus/*` which there are, `theme` a whole section,
 * `pages/door/access` a key of a page, `pages/door` whether it is there, `path:/visit` and `listed:article` who has it.
 */
export type ReadKey = string

/** Sections that are read thing by thing. */
const BY_ID = new Set([
  ...(['kinds', 'templates', 'builders', 'surrounds', 'menus', 'assets', 'extensions', 'purposes'] as const),
])
const WHOLE = [
  ...(['site', 'viewports', 'tokens', 'precedence', 'choose', 'locators', 'styles', 'typography', 'theme'] as const),
  ...(['assign', 'inserts', 'policies', 'allow', 'severity'] as const),
]

/** What a section that is noted thing by thing answers with all of itself. */
const ALL = Symbol('all')

/** All things of a section, which is then noted as a whole: noting each of many costs more than reading them. */
export const allOf = <T extends object>(things: T | undefined): T | undefined =>
  things && ((things as { readonly [ALL]?: T })[ALL] ?? things)

/** A site that notes what is read of it, for as long as somebody wants to know. */
export class ReadSite {
  readonly site: Site
  #reads: Set<ReadKey> | undefined
  #own: string | undefined

  constructor(site: Site) {
    this.site = this.#tracked(site)
  }

  /** What some work reads of the site; a page's own keys are left out where it is about that page. */
  during<T>(
    work: () => T,
    reads = new Set<ReadKey>(),
    own?: string,
  ): { readonly result: T; readonly reads: Set<ReadKey> } {
    const [around, ownAround] = [this.#reads, this.#own]
    this.#reads = reads
    this.#own = own
    try {
      return { result: work(), reads }
    } finally {
      this.#reads = around
      this.#own = ownAround
    }
  }

  #note(key: ReadKey): void {
    this.#reads?.add(key)
  }

  /** Notes one key, which is read again and again: for whom it was noted last it need not be noted again. */
  #noter(key: ReadKey): () => void {
    let last: Set<ReadKey> | undefined
    return () => {
      if (this.#reads === last) return
      last = this.#reads
      last?.add(key)
    }
  }

  #noteOf(page: string, key: ReadKey): void {
    if (page !== this.#own) this.#note(key)
  }

  #tracked(site: Site): Site {
    const noter = (key: ReadKey): (() => void) => this.#noter(key)
    const data = {} as Record<string, unknown>
    for (const section of WHOLE) {
      const note = noter(section)
      whenRead(data, section, () => (note(), site.data[section]))
    }
    for (const section of BY_ID) {
      const things = site.data[section] as object | undefined
      // Who rests on the whole section is asked again whatever of it changes: no entry need be noted besides.
      let asksAll: Set<ReadKey> | undefined
      const noteAll = (): void => {
        asksAll = this.#reads
        asksAll?.add(`${section}/*`)
      }
      const noterOf = (key: ReadKey): (() => void) => {
        const note = noter(key)
        return () => {
          if (this.#reads !== asksAll) note()
        }
      }
      const seen = things && watched(things, section, noterOf, noteAll)
      whenRead(data, section, () => {
        if (!seen) noteAll()
        return seen
      })
    }
    const notePages = noter('pages/*')
    whenRead(data, 'pages', () => (notePages(), site.data.pages))
    const pages = new Map<string, PageData>()
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
        if (!page) return undefined
        let seen = pages.get(id)
        if (!seen) {
          const noterOf = (key: ReadKey) => (): void => this.#noteOf(id, key)
          seen = watched(page, `pages/${id}`, noterOf, noterOf(`pages/${id}/*`))
          pages.set(id, seen)
        }
        return seen
      },
      pageAt: (path) => {
        this.#note(`path:${plainPath(path)}`)
        return site.pageAt(path)
      },
      published: (kind) => {
        this.#note(`listed:${kind}`)
        return site.published(kind)
      },
    }
  }
}

const whenRead = (holder: object, key: string, get: () => unknown): void =>
  void Object.defineProperty(holder, key, { enumerable: true, get })

/** A map whose entries are noted when they are asked for, each by a way to note it, and so is the question which there are. */
function watched<T extends object>(
  things: T,
  name: string,
  noter: (key: ReadKey) => () => void,
  noteAll: () => void,
): T {
  const noters = new Map<string, () => void>()
  const asked = (key: string | symbol): void => {
    if (typeof key === 'symbol') return
    let note = noters.get(key)
    if (!note) noters.set(key, (note = noter(`${name}/${key}`)))
    note()
  }
  return new Proxy(things, {
    get: (target, key) => {
      if (key === ALL) {
        noteAll()
        return target
      }
      asked(key)
      return Reflect.get(target, key) as unknown
    },
    has: (target, key) => {
      asked(key)
      return Reflect.has(target, key)
    },
    getOwnPropertyDescriptor: (target, key) => {
      asked(key)
      return Reflect.getOwnPropertyDescriptor(target, key)
    },
    ownKeys: (target) => {
      noteAll()
      return Reflect.ownKeys(target)
    },
  })
}

/** What of two states of a site reads differently; `edited` are the pages that may differ. */
export function changedReads(before: Site, after: Site, edited: Iterable<string>): ReadonlySet<ReadKey> {
  const changed = new Set<ReadKey>()
  const [a, b] = [before.data, after.data]
  for (const section of WHOLE) if (a[section] !== b[section]) changed.add(section)
  for (const section of BY_ID) {
    if (a[section] === b[section]) continue
    changed.add(`${section}/*`)
    for (const id of changedIds(a[section], b[section])) changed.add(`${section}/${id}`)
  }
  if (before.pageIds !== after.pageIds) changed.add('pages/*')
  for (const id of edited) {
    const [old, now] = [before.pageData(id), after.pageData(id)]
    if (old === now) continue
    changed.add('pages/*')
    if (!old || !now) changed.add(`pages/${id}`)
    if (!old || !now || Object.keys(old).length !== Object.keys(now).length) changed.add(`pages/${id}/*`)
    for (const key of new Set([...Object.keys(old ?? {}), ...Object.keys(now ?? {})]))
      if (own(keysOf(old), key) !== own(keysOf(now), key)) changed.add(`pages/${id}/${key}`)
    if (old?.path !== now?.path) for (const page of [old, now]) if (page) changed.add(`path:${plainPath(page.path)}`)
    const listed = (page: PageData | undefined): string | undefined =>
      page && page.status !== 'draft' ? (page.kind ?? DEFAULT_KIND) : undefined
    if (listed(old) !== listed(now) || !old || !now)
      for (const kind of [listed(old), listed(now)]) if (kind !== undefined) changed.add(`listed:${kind}`)
  }
  return changed
}

/** A page's data by key. */
const keysOf = (page: PageData | undefined): Readonly<Record<string, unknown>> | undefined => page
