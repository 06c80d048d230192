import { parseLength } from '../css/length.js'
import { toPointer } from '../model/json.js'
import { sectionsWith, type SectionName } from '../model/sections.js'
import type { Site } from '../model/site.js'
import { purposesOf } from '../select/page-facts.js'
import { compileWhere } from '../select/selector.js'
import { WhereIndex, type IndexedEntry } from '../select/where-index.js'
import type { ChromePart } from './chrome-tree.js'
import { readAssignments, type Assignments } from './assignments.js'
import type { Contribution } from './contribution.js'
import { isOn } from './extensions.js'
import { LayoutCache } from './layout-cache.js'
import type { Layout } from './layout.js'
import type { PageCore, PlacedInsert } from './page.js'
import { readSettings } from './settings.js'
import type { MatchedStyles, StyleResult } from './style-layer.js'
import { readSiteStyles, type SiteStyle, type SiteStyles } from './style-sheets.js'
import { readTemplates, type Template } from './templates.js'

/** Parts of a site that are read once for all pages. */
export interface Prepared {
  readonly templates: ReadonlyMap<string, Template>
  readonly assignments: Assignments
  /** One rem in px. */
  readonly rem: number
  readonly purposes: ReadonlyMap<string, readonly string[]>
  readonly inserts: Inserts
  /** Contributions that do not depend on the page, by name. */
  readonly fixed: ReadonlyMap<string, Contribution>
  readonly styles: SiteStyles
  /** Kinds whose extension is off: their pages are dormant. */
  readonly asleep: ReadonlySet<string>
  /** By all that they depend on. */
  readonly layouts: LayoutCache
  readonly styled: WeakMap<Layout, StyledLayout>
  readonly stylesOn: WeakMap<PageCore, PageStyles>
  /** What styles declare on each part, by styles, classes, markup and window. */
  readonly matched: Map<string, MatchedStyles>
}

/** What styles make of a layout. */
export interface StyledLayout {
  /** The parts that are in its markup. */
  readonly parts: ReadonlySet<ChromePart>
  /** By styles, classes and window. */
  readonly results: Map<string, StyleResult>
}

/** The styles that apply to a page, with all of it that they can ask for. */
export interface PageStyles {
  readonly styles: readonly SiteStyle[]
  readonly classes: readonly string[]
  /** The same for pages that styles cannot distinguish. */
  readonly name: string
}

export interface Inserts {
  readonly entries: readonly IndexedEntry<PlacedInsert>[]
  readonly index: WhereIndex<PlacedInsert>
}

const DEFAULT_BASE = 16

/** One state of a site with its prepared parts. */
export interface SiteState {
  readonly site: Site
  readonly prepared: Prepared
}

/** An earlier state, and whether all pages have kept their paths. */
export interface EarlierState extends SiteState {
  readonly arePathsSame: boolean
}

/** Prepares a site; reuses the objects of an earlier state for everything that did not change since. */
export function prepare(site: Site, earlier?: EarlierState): Prepared {
  const { data } = site
  const before = earlier?.prepared
  const isSame = (...sections: readonly SectionName[]): boolean =>
    earlier !== undefined && sections.every((section) => earlier.site.data[section] === data[section])
  // What selects by `under` is as specific as other pages' paths.
  const arePathsSame = earlier?.arePathsSame === true && isSame('purposes')
  if (before && arePathsSame && isSame(...PREPARED)) return before
  const kept = <K extends keyof Prepared>(key: K, isKept: boolean, read: () => Prepared[K]): Prepared[K] =>
    before && isKept ? before[key] : read()
  const templates = kept('templates', isSame('templates', 'extensions'), () => readTemplates(data, before?.templates))
  const areSurroundsSame = isSame('surrounds', 'extensions')
  const isStyled = arePathsSame && isSame('styles', 'extensions', 'locators', 'viewports', 'typography')
  const areFixedSame = templates === before?.templates && isSame('theme', 'kinds', 'builders')
  return {
    templates,
    assignments: kept('assignments', arePathsSame && areSurroundsSame && isSame('assign'), () =>
      readAssignments(site, before && { before: before.assignments, arePathsSame, areSurroundsSame }),
    ),
    rem: kept('rem', isSame('typography'), () => remOf(site)),
    purposes: kept('purposes', isSame('purposes'), () => purposesOf(data)),
    inserts: kept('inserts', arePathsSame && isSame('inserts', 'extensions'), () => indexInserts(site)),
    fixed: kept('fixed', areFixedSame, () => fixedContributions(site, templates)),
    styles: kept('styles', isStyled, () => readSiteStyles(site)),
    asleep: kept('asleep', isSame('kinds', 'extensions'), () => asleepIn(site)),
    layouts: new LayoutCache(),
    styled: kept('styled', isStyled, () => new WeakMap()),
    stylesOn: kept('stylesOn', isStyled, () => new WeakMap()),
    matched: kept('matched', isStyled, () => new Map()),
  }
}

/** The sections that `Prepared` depends on; others are read when they are needed. */
const PREPARED = sectionsWith('isPrepared', true)

const asleepIn = ({ data }: Site): ReadonlySet<string> =>
  new Set(Object.entries(data.kinds ?? {}).flatMap(([id, kind]) => (isOn(data, kind.from) ? [] : [id])))

function remOf({ data }: Site): number {
  const context = { width: 0, height: 0, rem: DEFAULT_BASE }
  return parseLength(data.typography?.base ?? DEFAULT_BASE)?.px(context) ?? DEFAULT_BASE
}

function indexInserts(site: Site): Inserts {
  const entries = (site.data.inserts ?? [])
    .map((data, index) => ({ entry: { index, data }, where: compileWhere(site, data.where, data.except) }))
    .filter(({ entry }) => isOn(site.data, entry.data.from))
  return { entries, index: new WhereIndex(entries) }
}

/** The contributions that do not depend on the page, by name. */
function fixedContributions({ data }: Site, templates: ReadonlyMap<string, Template>): Map<string, Contribution> {
  const found = new Map<string, Contribution>()
  const add = (layer: 'kind' | 'builder', section: 'kinds' | 'builders'): void => {
    for (const [id, { layout }] of Object.entries(data[section] ?? {})) {
      const settings = readSettings(layout, toPointer([section, id, 'layout']))
      found.set(`${layer} ${id}`, { layer, settings, name: `${layer} ${id}` })
    }
  }
  const theme = readSettings(data.theme.layout, '/theme/layout')
  found.set('theme', { layer: 'theme', settings: theme, name: 'theme options' })
  add('kind', 'kinds')
  add('builder', 'builders')
  for (const [id, { settings }] of templates)
    found.set(`template ${id}`, { layer: 'template', settings, name: `template ${id}` })
  return found
}
