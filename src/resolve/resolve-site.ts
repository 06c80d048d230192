import { UnknownNameError } from '../model/unknown-name.js'
import { FACETS, type Facet } from '../model/facets.js'
import { patchSite, type Patch, type Patched } from '../model/patch.js'
import { rereadSite } from '../model/reread-site.js'
import { deserializeChange, deserializeSite, serializeSite, type SerializedSite } from '../model/serialize-site.js'
import type { Site, Viewport } from '../model/site.js'
import { LOCATORS } from '../model/site-data.js'
import type { PageFacts } from '../select/page-facts.js'
import type { Assignments } from './assignments.js'
import { keepsChoices, type EarlierCore } from './carried-choice.js'
import { chromeTree, type ChromePart } from './chrome-tree.js'
import { Family, makeCore } from './family.js'
import type { Layout } from './layout.js'
import { ResolvedPage, type PageContext, type PageCore, type PlacedInsert } from './page.js'
import { prepare, prepareAgain, type Prepared } from './prepare.js'
import { Renumbering } from './renumbered.js'
import { reachOf, type Reach, type SiteState } from './reach.js'
import { applyStyles, matchStyles, type StyleResult } from './style-layer.js'
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
  /** Lets go of the states that it was made out of: nothing is told about the change that made it any more. */
  readonly letGo: () => void
  /** The same site as another sees it who notes what is asked of it. */
  readonly seenThrough: (site: Site) => ResolvedSite
}

/** How a site came out of another. */
export interface SiteChange {
  readonly before: ResolvedSite
  /** Pages whose own data changed, came or went. */
  readonly edited: ReadonlySet<string>
  /** Pages whose settings it may reach. */
  readonly reach: Reach
  /** Entries of lists that have another number since. */
  readonly renumbering: Renumbering
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
  return new Resolved(new Family(site, prepare(site)))
}

/** Past so many pages that differ from it, a state founds a family of its own. */
const FAMILY_FLOOR = 64
const mostApart = (pages: number): number => Math.max(FAMILY_FLOOR, Math.sqrt(pages) * 4)

/** Past so many changes in a row the states before them are let go. */
const MOST_STEPS = 100

class Resolved implements ResolvedSite, PageContext {
  readonly site: Site
  #change: SiteChange | undefined
  readonly #prepared: Prepared
  readonly #family: Family
  /** Pages that are not those of the family, and what is known of them. */
  readonly #apart: ReadonlySet<string>
  readonly #cores: Map<string, PageCore>
  readonly #pages = new Map<string, ResolvedPage>()
  /** By what pages are made: the site itself, whoever sees it. */
  #made: SiteState
  #earlier: EarlierCore | undefined
  #isKeeping = true
  /** For how many changes the states before it are held on to. */
  #steps = 0

  constructor(
    family: Family,
    { site, prepared }: SiteState = family,
    apart: ReadonlySet<string> = new Set(),
    cores = new Map<string, PageCore>(),
    change?: SiteChange,
  ) {
    this.site = site
    this.#change = change
    this.#made = { site, prepared }
    this.#prepared = prepared
    this.#family = family
    this.#apart = apart
    this.#cores = cores
  }

  get change(): SiteChange | undefined {
    return this.#change
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
      if (this.#isKeeping) this.#pages.set(id, page)
    }
    return page
  }

  /** Going through all pages remembers none: what they have in common is shared, and a page by itself is quickly made. */
  *pages(): Iterable<ResolvedPage> {
    for (const id of this.pageIds) yield this.#pages.get(id) ?? new ResolvedPage(this, this.#core(id))
  }

  #core(id: string): PageCore {
    if (!this.#apart.has(id)) return this.#family.core(id)
    let core = this.#cores.get(id)
    // Layouts of single edits are not kept for others: no page but this one is likely to have them.
    if (!core) {
      const isShared = this.#prepared !== this.#family.prepared
      core = makeCore(this.#made, id, isShared, this.#earlier?.(id))
      this.#cores.set(id, core)
    }
    return core
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

  letGo(): void {
    this.#change = undefined
    this.#steps = 0
  }

  #become({ site, pages: edited }: Patched, isReread = false): ResolvedSite {
    const prepared = prepareAgain(this.site, this.#prepared, site, edited)
    const after = { site, prepared }
    const reach = reachOf(this.#made, after, edited, {
      index: () => this.#family.index,
      others: [...this.#apart].flatMap((id) => (this.site.pageData(id) ? [this.#core(id)] : [])),
    })
    const renumbering = Renumbering.between(this.site.data, site.data)
    // Of many changes in a row only so many are held on to, the last one always: the first would never be let go.
    if (this.#steps >= MOST_STEPS) this.letGo()
    const change = { before: this, edited, reach, renumbering, isReread }
    // Whose entries have other numbers is not asked of each page: what is needed of them is made again.
    const earlier = keepsChoices(this.#made, after, edited) ? this.#earlierCores() : undefined
    const made = this.#after(after, renumbering.isEmpty ? reach : 'all', change, earlier)
    made.#earlier = earlier
    made.#steps = this.#steps + 1
    return made
  }

  /** What is known of pages, without holding on to this state. */
  #earlierCores(): EarlierCore {
    const apart = this.#apart
    const [mine, others] = [this.#cores, this.#family.known]
    return (id) => (apart.has(id) ? mine : others).get(id)
  }

  #after(after: SiteState, reach: Reach, change: SiteChange, earlier: EarlierCore | undefined): Resolved {
    const { site, prepared } = after
    if (reach === 'all')
      return new Resolved(new Family(site, prepared, undefined, earlier), after, undefined, undefined, change)
    const apart = new Set([...this.#apart, ...reach])
    const cores = new Map([...this.#cores].filter(([id]) => !reach.has(id)))
    if (apart.size <= mostApart(site.pageIds.length)) return new Resolved(this.#family, after, apart, cores, change)
    for (const [id, core] of this.#family.known) if (!apart.has(id)) cores.set(id, core)
    return new Resolved(new Family(site, prepared, cores, earlier), after, undefined, undefined, change)
  }

  seenThrough(site: Site): ResolvedSite {
    const state = { site, prepared: this.#prepared }
    // How it came about it does not know: what is measured through it would hold on to all states before.
    const seen = new Resolved(this.#family, state, this.#apart, this.#cores)
    seen.#isKeeping = false
    seen.#made = this.#made
    seen.#earlier = this.#earlier
    return seen
  }

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
      result = this.#prepared.alike.resultOf(
        `${key} ${[...parts].join()}`,
        (path) => page.layout.decide(path, viewport.name).value,
        () => {
          const locators = this.site.data.locators ?? {}
          const tree = chromeTree(locators, (part) => parts.has(part), classes)
          return matchStyles({ tree, withAbsent: chromeTree(locators, () => true, classes), styles }, viewport)
        },
        (matched, settings) => applyStyles(matched, viewport, this.rem, settings),
      )
      results.set(key, result)
    }
    return result
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
