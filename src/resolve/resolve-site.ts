import { UnknownNameError } from '../model/unknown-name.js'
import { entryPointer, jsonPointer, positionOf, type EntryList } from '../model/entries.js'
import { FACETS, type Facet, type SettingPath } from '../model/facets.js'
import type { Json } from '../model/json.js'
import { LayeredMap } from '../model/layered-map.js'
import { patchSite, type Patch, type Patched } from '../model/patch.js'
import type { AssignData } from '../model/schema.js'
import { rereadSite } from '../model/reread-site.js'
import { deserializeChange, deserializeSite, serializeSite, type SerializedSite } from '../model/serialize-site.js'
import type { Site, Viewport } from '../model/site.js'
import { LOCATORS } from '../model/site-data.js'
import type { PageFacts } from '../select/page-facts.js'
import type { Assignments } from './assignments.js'
import { chromeTree, type ChromePart } from './chrome-tree.js'
import type { Layout } from './layout.js'
import { ResolvedPage, type PageContext, type PageCore, type PlacedInsert } from './page.js'
import { pageCore } from './page-core.js'
import { prepare, type Prepared, type SiteState } from './prepare.js'
import { reachOf, type Reach } from './reach.js'
import { applyStyles, matchStyles, type MatchedStyles, type StyleResult } from './style-layer.js'
import type { Template } from './templates.js'

/** A site whose pages can be asked for anything; each is worked out when it is asked for. */
export interface ResolvedSite {
  readonly site: Site
  readonly pageIds: readonly string[]
  readonly templates: ReadonlyMap<string, Template>
  readonly assignments: Assignments
  /** One rem in px. */
  readonly rem: number
  /** @throws {UnknownNameError} When there is no page of that id. */
  readonly page: (id: string) => ResolvedPage
  /** Every page, dormant ones included, in the order of the file. */
  readonly pages: () => Iterable<ResolvedPage>
  /** A pointer to an entry of a list. @internal */
  readonly pointerTo: (list: EntryList, entry: object) => string
  /** An assign entry in words: "assign entry 3". @internal */
  readonly nameOfEntry: (entry: AssignData) => string
  /** The site with a JSON Patch (RFC 6902) applied in memory. @throws {SiteError} When the result is no site. */
  readonly with: (patch: Patch) => ResolvedSite
  /**
   * The site as its files are now: `text` is its own, others are read where they are among the changed ones. What is as
   * it was is shared, findings that are known included.
   *
   * @throws {SiteError} Every problem found.
   */
  readonly reread: (text: string, changed: Iterable<string>) => ResolvedSite
  /**
   * The site as plain data, which another thread takes up with `deserializeSite`, or with `receive` where it has the
   * state `since`: then only what is not as it was is in it.
   *
   * @example
   * resolveSite(deserializeSite(structuredClone(resolved.serialize()), NO_FILES)).pageIds // => [ 'home', 'visit' ]
   */
  readonly serialize: (since?: ResolvedSite) => SerializedSite
  /** The site after a change that was read elsewhere, from the same state as this. */
  readonly receive: (serialized: SerializedSite) => ResolvedSite
  /** The change that made it out of another; `undefined` for a site as it was read, and for older states of many. */
  readonly change: SiteChange | undefined
  /** Releases the states that this one was made from; `change` is then `undefined`. */
  readonly release: () => void
  /**
   * The same site for work whose results are kept: it reads the site through `site`, which may note what is read, and
   * names entries of lists by their identity. @internal
   */
  readonly forFacts: (site: Site) => ResolvedSite
}

/** How a site came out of another. */
export interface SiteChange {
  readonly before: ResolvedSite
  /** Pages whose own data changed, came or went. */
  readonly edited: ReadonlySet<string>
  /** Pages whose settings it may reach. */
  readonly reach: Reach
  /** Whether files were read again; else a patch was applied. */
  readonly isReread: boolean
}

/**
 * Makes a site ready to be asked; cheap, for pages are worked out when asked for.
 *
 * @example
 * resolveSite(readSite(text)).page('visit').at('phone').spacing.before.value // => '32px'
 */
export function resolveSite(site: Site): ResolvedSite {
  return new Resolved({ site, prepared: prepare(site) })
}

const NO_CORES = LayeredMap.of<PageCore>(new Map())

/** Number of changes in a row after which earlier states are released. */
const MOST_STEPS = 100

class Resolved implements ResolvedSite, PageContext {
  readonly site: Site
  readonly #state: SiteState
  /** Pages from earlier states that are unchanged. */
  #earlier: LayeredMap<PageCore>
  /** Pages that were resolved in this state. */
  #cores = new Map<string, PageCore>()
  readonly #pages = new Map<string, ResolvedPage>()
  /** All pages, shared by changes that are tried one after the other. */
  #list: readonly PageCore[] | undefined
  #change: SiteChange | undefined
  /** Number of earlier states that are in memory. */
  #steps = 0
  /** The site that this is a view of; see `forFacts`. */
  #origin: Resolved | undefined

  /** Pages that are new or changed since the earlier state. */
  #pending: Iterable<string>

  constructor(state: SiteState, earlier: LayeredMap<PageCore> = NO_CORES, change?: SiteChange) {
    this.#pending = change && change.reach !== 'all' ? change.reach : state.site.pageIds
    this.site = state.site
    this.#state = state
    this.#earlier = earlier
    this.#change = change
  }

  get change(): SiteChange | undefined {
    return this.#change
  }

  get #prepared(): Prepared {
    return this.#state.prepared
  }

  get templates(): ReadonlyMap<string, Template> {
    return this.#prepared.templates
  }

  get assignments(): Assignments {
    return this.#prepared.assignments
  }

  get rem(): number {
    return this.#prepared.rem
  }

  get pageIds(): readonly string[] {
    return this.site.pageIds
  }

  page(id: string): ResolvedPage {
    let page = this.#pages.get(id)
    if (!page) {
      if (!this.site.pageData(id)) throw new UnknownNameError('page', id, this.site.pageIds)
      page = new ResolvedPage(this, this.#core(id))
      if (!this.#origin) this.#pages.set(id, page)
    }
    return page
  }

  /** Going through all pages remembers none: what they have in common is shared, and a page by itself is quickly made. */
  *pages(): Iterable<ResolvedPage> {
    for (const id of this.pageIds) yield this.#pages.get(id) ?? new ResolvedPage(this, this.#core(id))
  }

  #core(id: string): PageCore {
    if (this.#origin) return this.#origin.#core(id)
    let core = this.#cores.get(id) ?? this.#earlier.get(id)
    if (!core) this.#cores.set(id, (core = pageCore(this.#state, id)))
    return core
  }

  /** Every page; from then on all states that follow share what stays. */
  #allCores(): LayeredMap<PageCore> {
    for (const id of this.#pending) if (this.site.pageData(id)) this.#core(id)
    this.#pending = []
    if (this.#cores.size > 0) this.#earlier = this.#earlier.with(this.#cores)
    this.#cores = new Map()
    return this.#earlier
  }

  with(patch: Patch): ResolvedSite {
    return this.#become(patchSite(this.site, patch))
  }

  reread(text: string, changed: Iterable<string>): ResolvedSite {
    const { site, pages } = rereadSite(this.site, text, new Set(changed))
    return pages ? this.#become({ site, pages }, true) : resolveSite(site)
  }

  serialize(since?: ResolvedSite): SerializedSite {
    const { change } = this
    const isNext = change !== undefined && change.before === since
    return serializeSite(this.site, isNext ? { before: change.before.site, pages: change.edited } : undefined)
  }

  receive(serialized: SerializedSite): ResolvedSite {
    return serialized.change
      ? this.#become(deserializeChange(this.site, serialized), true)
      : resolveSite(deserializeSite(serialized, this.site.files))
  }

  release(): void {
    this.#change = undefined
    this.#steps = 0
  }

  #become({ site, pages: edited }: Patched, isReread = false): ResolvedSite {
    const arePathsSame = ![...edited].some((id) => this.site.pageData(id)?.path !== site.pageData(id)?.path)
    const after = { site, prepared: prepare(site, { ...this.#state, arePathsSame }) }
    const reach = reachOf(this.#state, after, edited, () => (this.#list ??= this.pageIds.map((id) => this.#core(id))))
    const earlier = reach === 'all' ? NO_CORES : this.#allCores().with(new Map([...reach].map((id) => [id, undefined])))
    // Otherwise the first of many states in a row would never be released.
    if (this.#steps >= MOST_STEPS) this.release()
    const made = new Resolved(after, earlier, { before: this, edited, reach, isReread })
    made.#steps = this.#steps + 1
    return made
  }

  forFacts(site: Site): ResolvedSite {
    // Without the change: measures made through this view would keep all earlier states in memory.
    const seen = new Resolved({ site, prepared: this.#prepared })
    seen.#origin = this
    return seen
  }

  readonly pointerTo = (list: EntryList, entry: object): string => {
    const pointer = entryPointer(list, entry)
    return this.#origin ? pointer : jsonPointer(this.site.data, pointer)
  }

  readonly nameOfEntry = (entry: AssignData): string =>
    `assign entry ${(positionOf(this.site.data, 'assign', entry) ?? -1) + 1}`

  insertsOn(facts: PageFacts, template: Template | undefined): readonly PlacedInsert[] {
    const found = this.#prepared.inserts.index.match(facts, template?.id ?? null).map((m) => m.entry)
    return found.length > 1 ? [...found].sort((a, b) => a.index - b.index) : found
  }

  /** What style changes of a page; pages with the same layout and the same classes that style asks of share it. */
  styleOf(page: ResolvedPage, viewport: Viewport): StyleResult {
    const { styles: sheets, styled } = this.#prepared
    if (sheets.styles.length === 0) return NO_STYLE
    const { styles, classes, name } = this.#stylesOn(page.core)
    if (styles.length === 0) return NO_STYLE
    let known = styled.get(page.layout)
    if (!known) styled.set(page.layout, (known = { parts: this.#partsIn(page.layout), results: new Map() }))
    const { parts, results } = known
    const key = `${name} ${viewport.name} ${viewport.width} ${viewport.height}`
    let result = results.get(key)
    if (!result) {
      const settings = (path: SettingPath): Json => page.layout.decide(path, viewport.name).value
      const matched = this.#matched(`${key} ${[...parts].join()}`, () => {
        const locators = this.site.data.locators ?? {}
        const tree = chromeTree(locators, (part) => parts.has(part), classes)
        return matchStyles({ tree, withAbsent: chromeTree(locators, () => true, classes), styles }, viewport)
      })
      results.set(key, (result = applyStyles(matched, viewport, this.rem, settings)))
    }
    return result
  }

  #matched(key: string, match: () => MatchedStyles): MatchedStyles {
    const { matched } = this.#prepared
    let found = matched.get(key)
    if (!found) matched.set(key, (found = match()))
    return found
  }

  /** The styles that apply to a page, and all of the page that they can ask for. */
  #stylesOn(core: PageCore) {
    const { styles: sheets, stylesOn } = this.#prepared
    let found = stylesOn.get(core)
    if (!found) {
      const styles = sheets.appliesTo(core.facts, core.template?.id ?? null)
      const classes = styles.length > 0 ? classesOf(core) : []
      const asked = sheets.classes.has('*') ? classes : classes.filter((name) => sheets.classes.has(name))
      const name = `${styles.map((style) => sheets.styles.indexOf(style)).join()} ${asked.join('.')}`
      stylesOn.set(core, (found = { styles, classes, name }))
    }
    return found
  }

  /** The parts that are in a layout's markup, which is one for all widths: all but those absent at every viewport. */
  #partsIn(layout: Layout): ReadonlySet<ChromePart> {
    const isIn = (part: ChromePart): boolean => {
      if (!Object.hasOwn(FACETS, part) || !Object.hasOwn(FACETS[part as Facet], 'presence')) return true
      return this.site.viewports.some(({ name }) => {
        const isNone = part === 'sidebar' && layout.decide('sidebar.side', name).value === 'none'
        return !isNone && layout.decide(`${part}.presence`, name).value !== 'absent'
      })
    }
    return new Set(LOCATORS.filter(isIn))
  }
}

const NO_STYLE: StyleResult = { entries: new Map(), passed: new Map(), notUnderstood: [] }

/** The classes of a page's outermost element. */
export function classesOf({ id, data, facts, template }: PageCore): readonly string[] {
  const purposes = facts.purposes.flatMap((purpose) => [purpose.split(':')[0] ?? '', purpose.replace(':', '-')])
  return [
    ...new Set([
      ...[`page-${id}`, `kind-${facts.kind}`],
      ...(template ? [`template-${template.id}`] : []),
      ...purposes.map((purpose) => `purpose-${purpose}`),
      ...(facts.builder === undefined ? [] : [`built-${facts.builder}`]),
      ...(data.classes ?? []),
    ]),
  ]
}
