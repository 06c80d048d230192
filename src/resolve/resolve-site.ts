import { parseLength } from '../css/length.js'
import { FACETS, type Facet, type PropertyPath } from '../model/facets.js'
import { own, toPointer } from '../model/json.js'
import { patchSite, reachOf, type Patch } from '../model/patch.js'
import type { PageData } from '../model/schema.js'
import type { Site, Viewport } from '../model/site.js'
import { LAYERS, type SettingsLayer } from '../model/site-data.js'
import { PageFacts, purposesOf } from '../select/page-facts.js'
import { compileWhere } from '../select/selector.js'
import { WhereIndex } from '../select/where-index.js'
import { readAssignments, type Assignments } from './assignments.js'
import { builderBarred, TemplateChoice } from './choose-template.js'
import { BASELINE, type Contribution } from './contribution.js'
import { chromeTree, type ChromePart } from './chrome-tree.js'
import { isOn } from './extensions.js'
import { LayoutCache } from './layout-cache.js'
import { Layout } from './layout.js'
import { ResolvedPage, type PageContext, type PlacedInsert } from './page.js'
import { pageComparison, type PageComparison } from './same-inputs.js'
import { readSettings } from './settings.js'
import { applyStyles, type StyleResult } from './style-layer.js'
import { readSiteStyles, type SiteStyles } from './style-sheets.js'
import { readTemplates, type Template } from './templates.js'

/** A site whose pages can be asked for anything; each is worked out when it is asked for. */
export interface ResolvedSite {
  readonly site: Site
  readonly pageIds: readonly string[]
  readonly templates: ReadonlyMap<string, Template>
  readonly assignments: Assignments
  /** One rem in px. */
  readonly rem: number
  /** @throws {RangeError} When there is no page of that id. */
  readonly page: (id: string) => ResolvedPage
  readonly pages: () => Iterable<ResolvedPage>
  /** The site with a JSON Patch (RFC 6902) applied in memory. @throws {SiteError} When the result is no site. */
  readonly with: (patch: Patch) => ResolvedSite
}

const DEFAULT_BASE = 16

/** Makes a site ready to be asked; cheap, for pages are worked out when asked for. */
export function resolveSite(site: Site): ResolvedSite {
  return new Resolved(site, prepare(site))
}

/** What is read of a site once, and holds for every site that differs from it in single pages only. */
interface Prepared {
  readonly templates: ReadonlyMap<string, Template>
  readonly assignments: Assignments
  readonly rem: number
  readonly purposes: ReadonlyMap<string, readonly string[]>
  readonly inserts: WhereIndex<PlacedInsert>
  /** Contributions that do not depend on the page, by name. */
  readonly fixed: ReadonlyMap<string, Contribution>
  readonly styles: SiteStyles
  /** Kinds whose extension is off: their pages are dormant. */
  readonly asleep: ReadonlySet<string>
  /** By all that they depend on. */
  readonly layouts: LayoutCache
  readonly styled: Map<Layout, Map<string, StyleResult>>
}

function prepare(site: Site): Prepared {
  const templates = readTemplates(site.data)
  return {
    templates,
    assignments: readAssignments(site),
    rem: remOf(site),
    purposes: purposesOf(site.data),
    inserts: indexInserts(site),
    fixed: fixedContributions(site, templates),
    styles: readSiteStyles(site),
    asleep: new Set(
      Object.entries(site.data.kinds ?? {}).flatMap(([id, kind]) => (isOn(site.data, kind.from) ? [] : [id])),
    ),
    layouts: new LayoutCache(),
    styled: new Map(),
  }
}

class Resolved implements ResolvedSite, PageContext {
  readonly site: Site
  readonly #prepared: Prepared
  readonly #pages = new Map<string, ResolvedPage>()
  /** The site that this one differs from in some pages only, and which those are. */
  readonly #base: Resolved | undefined
  readonly #changed: ReadonlySet<string>
  /** The site before a change that may reach any page, and whether a page gets the same in both. */
  readonly #earlier: Earlier | undefined
  /** Layouts after the change, by what they were before it. */
  readonly #likes = new Map<Layout, Layout>()

  constructor(
    site: Site,
    prepared: Prepared,
    base?: Resolved,
    changed: ReadonlySet<string> = new Set(),
    earlier?: Earlier,
  ) {
    this.site = site
    this.#prepared = prepared
    this.#base = base
    this.#changed = changed
    this.#earlier = earlier
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
    if (this.#base && !this.#changed.has(id)) return this.#base.page(id)
    let page = this.#pages.get(id)
    if (!page) {
      page = this.#fromEarlier(id) ?? this.#make(id)
      this.#pages.set(id, page)
    }
    return page
  }

  /** The page as it was before a change, where the change does not reach it. */
  #fromEarlier(id: string): ResolvedPage | undefined {
    if (!this.#earlier?.site.site.pageData(id)) return undefined
    const { site, isUntouched, isSame, isChosenAlike } = this.#earlier
    const old = site.page(id)
    if (isUntouched(old)) return old
    const now = isChosenAlike(old) ? this.#like(old) : this.#make(id)
    return isSame(old, now) ? old : now
  }

  /** A page as it was before a change that leaves alone what is chosen for it: nothing is matched anew. */
  #like({ facts, data, dormant, choice: { template: old }, layout }: ResolvedPage): ResolvedPage {
    const template = old && this.templates.get(old.id)
    const choice = dormant ? TemplateChoice.dormant(this, facts, data) : new TemplateChoice(this, facts, data, template)
    let like = this.#likes.get(layout)
    if (!like) this.#likes.set(layout, (like = this.#layoutLike(layout, facts.kind, template)))
    return new ResolvedPage(this, facts, data, { dormant, choice, layout: like })
  }

  #layoutLike({ contributions }: Layout, kind: string, template: Template | undefined): Layout {
    const { fixed } = this.#prepared
    const now = contributions.map((old) => fixed.get(old.layer === 'theme' ? 'theme' : old.name) ?? old)
    return new Layout(this.site.data, now, template, facetsFor(this.site, kind))
  }

  #make(id: string): ResolvedPage {
    const data = this.site.pageData(id)
    if (!data) throw new RangeError(`there is no page "${id}"`)
    const facts = new PageFacts(this.site, id, data, this.#prepared.purposes.get(id))
    const dormant = this.#prepared.asleep.has(facts.kind)
    const choice = dormant ? TemplateChoice.dormant(this, facts, data) : TemplateChoice.of(this, facts, data)
    return new ResolvedPage(this, facts, data, { dormant, choice, layout: this.#layoutOf(facts, data, choice) })
  }

  /** Going through all pages remembers none: what is shared is their layouts, and a page by itself is quickly made. */
  *pages(): Iterable<ResolvedPage> {
    for (const id of this.pageIds) yield this.#pages.get(id) ?? this.#make(id)
  }

  with(patch: Patch): ResolvedSite {
    const site = patchSite(this.site, patch)
    const { pages, pagesOnly } = reachOf(patch)
    if (!pagesOnly || pages === null) {
      const comparison = pages === null ? undefined : pageComparison(this.site, site)
      return new Resolved(site, prepare(site), undefined, undefined, comparison && { site: this, ...comparison })
    }
    // One base however many edits follow each other, so that asking does not go through all of them.
    const changed = new Set([...this.#changed, ...pages])
    return new Resolved(site, this.#prepared, this.#base ?? this, changed)
  }

  insertsOn(facts: PageFacts, choice: TemplateChoice): readonly PlacedInsert[] {
    const found = this.#prepared.inserts.match(facts, choice.template?.id ?? null).map((m) => m.entry)
    return found.length > 1 ? [...found].sort((a, b) => a.index - b.index) : found
  }

  /** What style changes of a page; pages with the same layout and the same classes that style asks of share it. */
  styleOf(page: ResolvedPage, viewport: Viewport): StyleResult {
    const { styles: sheets, styled } = this.#prepared
    if (sheets.styles.length === 0) return NO_STYLE
    const styles = sheets.appliesTo(page.facts, page.choice.template?.id ?? null)
    if (styles.length === 0) return NO_STYLE
    const classes = classesOf(page)
    const asked = sheets.classes.has('*') ? classes : classes.filter((name) => sheets.classes.has(name))
    const which = styles.map((style) => sheets.styles.indexOf(style)).join()
    const key = `${which} ${asked.join('.')} ${viewport.name} ${viewport.width} ${viewport.height}`
    let ofLayout = styled.get(page.layout)
    if (!ofLayout) {
      ofLayout = new Map()
      styled.set(page.layout, ofLayout)
    }
    let result = ofLayout.get(key)
    if (!result) {
      const locators = this.site.data.locators ?? {}
      const tree = chromeTree(locators, (part) => this.#isInMarkup(page, part), classes)
      const withAbsent = chromeTree(locators, () => true, classes)
      const settings = (path: PropertyPath) => page.layout.decide(path, viewport.name).value
      result = applyStyles({ tree, withAbsent, styles }, viewport, this.rem, settings)
      ofLayout.set(key, result)
    }
    return result
  }

  /** There is one markup for all widths: a part is in it unless it is absent at every viewport. */
  #isInMarkup({ layout }: ResolvedPage, part: ChromePart): boolean {
    if (!Object.hasOwn(FACETS, part) || !Object.hasOwn(FACETS[part as Facet], 'presence')) return true
    return this.site.viewports.some(({ name }) => {
      const isNone = part === 'sidebar' && layout.decide('sidebar.side', name).value === 'none'
      return !isNone && layout.decide(`${part}.presence`, name).value !== 'absent'
    })
  }

  #layoutOf(facts: PageFacts, data: PageData, { template }: TemplateChoice): Layout {
    const { site } = this
    const assigned = this.assignments.settingsFor(facts, template?.id ?? null)
    const builder = facts.builder !== undefined && !builderBarred(site, facts) ? facts.builder : undefined
    const { layouts, fixed: known } = this.#prepared
    let place = layouts.under(template).under(facts.kind).under(builder)
    for (const { entry } of assigned) place = place.under(entry.index)
    if (data.layout) place = place.under(JSON.stringify(data.layout))
    if (!place.layout) {
      const fixed = (name: string): Contribution[] => [known.get(name) ?? []].flat()
      const bySource: Readonly<Record<SettingsLayer, readonly Contribution[]>> = {
        baseline: [BASELINE],
        theme: fixed('theme'),
        kind: fixed(`kind ${facts.kind}`),
        template: template ? fixed(`template ${template.id}`) : [],
        assign: assigned.flatMap((m) => m.entry.contribution ?? []),
        builder: builder === undefined ? [] : fixed(`builder ${builder}`),
        page: data.layout
          ? [{ layer: 'page', settings: readSettings(data.layout, ''), name: "this page's own setting" }]
          : [],
      }
      const order = site.data.precedence ?? LAYERS
      place.layout = new Layout(
        site.data,
        order.flatMap((layer) => bySource[layer]),
        template,
        facetsFor(site, facts.kind),
      )
    }
    return place.layout
  }
}

/** The site before a change that may reach any page, and how to tell which it reaches. */
interface Earlier extends PageComparison {
  readonly site: Resolved
}

/** The facets that may be set above the kind; all where it is undefined. */
const facetsFor = ({ data }: Site, kind: string): readonly Facet[] | undefined =>
  own(data.kinds, kind)?.facets as readonly Facet[] | undefined

const NO_STYLE: StyleResult = { voices: new Map(), passed: new Map(), notUnderstood: [] }

/** One rem in px. */
function remOf({ data }: Site): number {
  const context = { width: 0, height: 0, rem: DEFAULT_BASE }
  return parseLength(data.typography?.base ?? DEFAULT_BASE)?.px(context) ?? DEFAULT_BASE
}

function indexInserts(site: Site): WhereIndex<PlacedInsert> {
  const inserts = (site.data.inserts ?? []).map((data, index) => ({
    entry: { index, data },
    where: compileWhere(site, data.where, data.except),
  }))
  return new WhereIndex(inserts.filter(({ entry }) => isOn(site.data, entry.data.from)))
}

/** The classes of a page's outermost element. */
export function classesOf({ id, data, facts, choice }: ResolvedPage): readonly string[] {
  const purposes = facts.purposes.flatMap((purpose) => [purpose.split(':')[0] ?? '', purpose.replace(':', '-')])
  return [
    ...new Set([
      ...[`page-${id}`, `kind-${facts.kind}`],
      ...(choice.template ? [`template-${choice.template.id}`] : []),
      ...purposes.map((purpose) => `purpose-${purpose}`),
      ...(facts.builder === undefined ? [] : [`built-${facts.builder}`]),
      ...(data.classes ?? []),
    ]),
  ]
}

/** The contributions that do not depend on the page, by name. */
function fixedContributions(site: Site, templates: ReadonlyMap<string, Template>): Map<string, Contribution> {
  const { data } = site
  const found = new Map<string, Contribution>()
  const add = (contribution: Contribution, key = contribution.name): void => void found.set(key, contribution)
  add({ layer: 'theme', settings: readSettings(data.theme.layout, '/theme/layout'), name: 'theme options' }, 'theme')
  for (const [id, kind] of Object.entries(data.kinds ?? {}))
    add({ layer: 'kind', settings: readSettings(kind.layout, toPointer(['kinds', id, 'layout'])), name: `kind ${id}` })
  for (const [id, template] of templates)
    add({ layer: 'template', settings: template.settings, name: `template ${id}` })
  for (const [id, builder] of Object.entries(data.builders ?? {}))
    add({
      layer: 'builder',
      settings: readSettings(builder.layout, toPointer(['builders', id, 'layout'])),
      name: `builder ${id}`,
    })
  return found
}
