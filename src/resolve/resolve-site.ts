import { parseLength } from '../css/length.js'
import { FACETS, type Facet, type PropertyPath } from '../model/facets.js'
import { own, toPointer } from '../model/json.js'
import { patchSite, type Patch } from '../model/patch.js'
import type { PageData } from '../model/schema.js'
import type { Site, Viewport } from '../model/site.js'
import { LAYERS, type SettingsLayer } from '../model/site-data.js'
import { factsOf, purposesOf, type PageFacts } from '../select/page-facts.js'
import { compileWhere } from '../select/selector.js'
import { WhereIndex } from '../select/where-index.js'
import { readAssignments, type Assignments } from './assignments.js'
import { builderBarred, chooseTemplate, type TemplateChoice } from './choose-template.js'
import { BASELINE, type Contribution } from './contribution.js'
import { chromeTree, type ChromePart } from './chrome-tree.js'
import { isOn } from './extensions.js'
import { Layout } from './layout.js'
import {
  createView,
  viewportFor,
  type ChainEntry,
  type PageView,
  type PlacedInsert,
  type ResolvedPage,
} from './page.js'
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
  return new Resolved(site)
}

class Resolved implements ResolvedSite {
  readonly site: Site
  readonly templates: ReadonlyMap<string, Template>
  readonly assignments: Assignments
  readonly rem: number
  readonly #purposes: ReadonlyMap<string, readonly string[]>
  readonly #inserts: WhereIndex<PlacedInsert>
  readonly #pages = new Map<string, ResolvedPage>()
  readonly #layouts = new Map<string, Layout>()
  readonly #fixed: ReadonlyMap<string, Contribution>
  readonly #styles: SiteStyles
  readonly #styled = new Map<Layout, Map<string, StyleResult>>()

  constructor(site: Site) {
    const { data } = site
    this.site = site
    this.templates = readTemplates(data)
    this.assignments = readAssignments(site)
    this.rem =
      parseLength(data.typography?.base ?? DEFAULT_BASE)?.px({ width: 0, height: 0, rem: DEFAULT_BASE }) ?? DEFAULT_BASE
    this.#purposes = purposesOf(data)
    this.#inserts = new WhereIndex(
      (data.inserts ?? [])
        .map((insert, index) => ({
          entry: { index, data: insert },
          where: compileWhere(data, insert.where, insert.except),
        }))
        .filter(({ entry }) => isOn(data, entry.data.from)),
    )
    this.#fixed = fixedContributions(site, this.templates)
    this.#styles = readSiteStyles(site)
  }

  get pageIds(): readonly string[] {
    return Object.keys(this.site.data.pages)
  }

  page(id: string): ResolvedPage {
    let page = this.#pages.get(id)
    if (!page) {
      const data = own(this.site.data.pages, id)
      if (!data) throw new RangeError(`there is no page "${id}"`)
      page = this.#resolve(id, data)
      this.#pages.set(id, page)
    }
    return page
  }

  *pages(): Iterable<ResolvedPage> {
    for (const id of this.pageIds) yield this.page(id)
  }

  with(patch: Patch): ResolvedSite {
    return resolveSite(patchSite(this.site, patch))
  }

  #resolve(id: string, data: PageData): ResolvedPage {
    const { site, rem } = this
    const facts = factsOf(site.data, id, data, this.#purposes)
    const dormant = !isOn(site.data, own(site.data.kinds, facts.kind)?.from)
    const choice: TemplateChoice = dormant
      ? { template: undefined, because: 'its kind comes from an extension that is off', chain: [] }
      : chooseTemplate(site, this.templates, this.assignments, facts, data)
    const layout = this.#layoutOf(facts, data, choice.template)
    const views = new Map<string, PageView>()
    const { theme } = site.data
    const page: ResolvedPage = {
      id,
      data,
      facts,
      site,
      dormant,
      choice,
      get templateChain(): readonly ChainEntry[] {
        return choice.chain.map(({ pointer, ...voice }) => ({ ...voice, at: site.locate(pointer) }))
      },
      layout,
      inserts: this.#inserts.match(facts, choice.template?.id ?? null).map((m) => m.entry),
      ground: {
        colour: choice.template?.ground.colour ?? theme.ground?.colour ?? '#fff',
        ink: choice.template?.ground.ink ?? theme.ground?.ink ?? '#000',
      },
      at: (chosen) => {
        const viewport = viewportFor(site, chosen)
        const key = `${viewport.name} ${viewport.width} ${viewport.height}`
        let view = views.get(key)
        if (!view) {
          view = createView(page, viewport, rem, (at) => this.#styleOf(page, at))
          views.set(key, view)
        }
        return view
      },
    }
    return page
  }

  /** What style changes of a page; pages with the same layout and the same classes that style asks of share it. */
  #styleOf(page: ResolvedPage, viewport: Viewport): StyleResult {
    const styles = this.#styles.appliesTo(page.facts, page.choice.template?.id ?? null)
    if (styles.length === 0) return NO_STYLE
    const classes = classesOf(page)
    const asked = this.#styles.classes.has('*') ? classes : classes.filter((name) => this.#styles.classes.has(name))
    const which = styles.map((style) => this.#styles.styles.indexOf(style)).join()
    const key = `${which} ${asked.join('.')} ${viewport.name} ${viewport.width} ${viewport.height}`
    let ofLayout = this.#styled.get(page.layout)
    if (!ofLayout) {
      ofLayout = new Map()
      this.#styled.set(page.layout, ofLayout)
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

  #layoutOf(facts: PageFacts, data: PageData, template: Template | undefined): Layout {
    const { site } = this
    const assigned = this.assignments.settingsFor(facts, template?.id ?? null)
    const builder = facts.builder !== undefined && !builderBarred(site, facts) ? facts.builder : undefined
    const entries = assigned.map((m) => m.entry.index).join(',')
    const own_ = data.layout ? JSON.stringify(data.layout) : ''
    const key = `${facts.kind}\n${template?.id ?? ''}\n${entries}\n${builder ?? ''}\n${own_}`
    let layout = this.#layouts.get(key)
    if (!layout) {
      const fixed = (name: string): Contribution[] => [this.#fixed.get(name) ?? []].flat()
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
      const facets = own(site.data.kinds, facts.kind)?.facets as readonly Facet[] | undefined
      layout = new Layout(
        site.data,
        order.flatMap((layer) => bySource[layer]),
        template,
        facets,
      )
      this.#layouts.set(key, layout)
    }
    return layout
  }
}

const NO_STYLE: StyleResult = { voices: new Map(), passed: new Map(), notUnderstood: [] }

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
