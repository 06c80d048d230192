import { parseLength } from '../css/length.js'
import { toPointer } from '../model/json.js'
import type { Site } from '../model/site.js'
import { purposesOf } from '../select/page-facts.js'
import { compileWhere } from '../select/selector.js'
import { WhereIndex, type IndexedEntry } from '../select/where-index.js'
import { AlikeStyles } from './alike-styles.js'
import type { ChromePart } from './chrome-tree.js'
import { readAssignments, type Assignments } from './assignments.js'
import type { Contribution } from './contribution.js'
import { isOn } from './extensions.js'
import { LayoutCache } from './layout-cache.js'
import type { Layout } from './layout.js'
import type { PageCore, PlacedInsert } from './page.js'
import { readSettings, type Settings } from './settings.js'
import type { StyleResult } from './style-layer.js'
import { readSiteStyles, type SiteStyle, type SiteStyles } from './style-sheets.js'
import { readTemplates, type Template } from './templates.js'

/** What is read of a site once, for all its pages. */
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
  readonly alike: AlikeStyles
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

export function prepare(site: Site): Prepared {
  const templates = readTemplates(site.data)
  return {
    templates,
    assignments: readAssignments(site),
    rem: remOf(site),
    purposes: purposesOf(site.data),
    inserts: indexInserts(site),
    fixed: fixedContributions(site, templates),
    styles: readSiteStyles(site),
    asleep: asleepIn(site),
    layouts: new LayoutCache(),
    styled: new WeakMap(),
    stylesOn: new WeakMap(),
    alike: new AlikeStyles(),
  }
}

/** What is read of a changed site; what the change leaves alone is taken from before it, the same objects. */
export function prepareAgain(before: Site, old: Prepared, site: Site, pages: Iterable<string>): Prepared {
  const [a, b] = [before.data, site.data]
  const isSame = (...keys: readonly (keyof Site['data'])[]): boolean => keys.every((key) => a[key] === b[key])
  const isLed = [...pages].some((id) => before.pageData(id)?.path !== site.pageData(id)?.path)
  if (isSame(...NEEDED) && (!isLed || !old.assignments.hasUnder)) return old
  const templates = isSame('templates', 'extensions') ? old.templates : readTemplates(b, old.templates)
  const isAssigned = isSame('assign', 'surrounds', 'extensions', 'purposes') && (!isLed || !old.assignments.hasUnder)
  const earlier = {
    before: old.assignments,
    arePathsSame: !isLed && isSame('purposes'),
    areSurroundsSame: isSame('surrounds', 'extensions'),
  }
  const isStyled = isSame('styles', 'extensions', 'locators', 'viewports', 'typography', 'purposes') && !isLed
  return {
    templates,
    assignments: isAssigned ? old.assignments : readAssignments(site, earlier),
    rem: isSame('typography') ? old.rem : remOf(site),
    purposes: isSame('purposes') ? old.purposes : purposesOf(b),
    inserts: isSame('inserts', 'extensions', 'purposes') && !isLed ? old.inserts : indexInserts(site),
    fixed:
      isSame('theme', 'kinds', 'builders') && templates === old.templates
        ? old.fixed
        : fixedContributions(site, templates, old.fixed),
    styles: isStyled ? old.styles : readSiteStyles(site),
    asleep: asleepIn(site),
    layouts: new LayoutCache(),
    styled: isStyled ? old.styled : new WeakMap(),
    stylesOn: isStyled ? old.stylesOn : new WeakMap(),
    alike: isStyled ? old.alike : new AlikeStyles(),
  }
}

/** Sections that something is read of for all pages; the others are looked up when they are needed. */
const NEEDED = [
  ...(['theme', 'kinds', 'templates', 'assign', 'builders', 'surrounds', 'inserts', 'styles', 'locators'] as const),
  ...(['extensions', 'purposes', 'typography', 'viewports', 'precedence', 'choose', 'menus', 'assets'] as const),
]

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

const known = new WeakMap<object, { readonly base: string; readonly settings: Settings }>()

/** Layout settings, read once for as long as they stay the same object in the same place. */
function settingsAt(layout: Parameters<typeof readSettings>[0], base: string): Settings {
  if (!layout) return readSettings(layout, base)
  const old = known.get(layout)
  if (old?.base === base) return old.settings
  const settings = readSettings(layout, base)
  known.set(layout, { base, settings })
  return settings
}

/** The contributions that do not depend on the page, by name. */
function fixedContributions(
  { data }: Site,
  templates: ReadonlyMap<string, Template>,
  before?: ReadonlyMap<string, Contribution>,
): Map<string, Contribution> {
  const found = new Map<string, Contribution>()
  const add = (key: string, contribution: Contribution): void => {
    const old = before?.get(key)
    found.set(key, old?.settings === contribution.settings ? old : contribution)
  }
  const themes = settingsAt(data.theme.layout, '/theme/layout')
  add('theme', { layer: 'theme', settings: themes, name: 'theme options' })
  for (const [id, kind] of Object.entries(data.kinds ?? {})) {
    const settings = settingsAt(kind.layout, toPointer(['kinds', id, 'layout']))
    add(`kind ${id}`, { layer: 'kind', settings, name: `kind ${id}` })
  }
  for (const [id, template] of templates)
    add(`template ${id}`, { layer: 'template', settings: template.settings, name: `template ${id}` })
  for (const [id, builder] of Object.entries(data.builders ?? {})) {
    const settings = settingsAt(builder.layout, toPointer(['builders', id, 'layout']))
    add(`builder ${id}`, { layer: 'builder', settings, name: `builder ${id}` })
  }
  return found
}
