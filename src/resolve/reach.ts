import equal from 'fast-deep-equal'
import { definitionOf, PROPERTY_PATHS } from '../model/facets.js'
import { isObject, own } from '../model/json.js'
import type { SiteData } from '../model/schema.js'
import type { Site } from '../model/site.js'
import { isMeant, type CompiledWhere } from '../select/selector.js'
import { namedTemplates } from './choose-template.js'
import type { Assignment } from './assignments.js'
import { keepsOrder, unlikeParts } from './renumbered.js'
import type { Layout } from './layout.js'
import type { PageCore } from './page.js'
import type { PageIndex } from './page-index.js'
import type { Prepared } from './prepare.js'
import type { Template } from './templates.js'

/** One state of a site, as far as it decides what pages get. */
export interface SiteState {
  readonly site: Site
  readonly prepared: Prepared
}

/** The pages that may get something else by their settings; `all` where that cannot be distinguished from any. */
export type Reach = ReadonlySet<string> | 'all'

/** Sections that decide for every page. */
const EVERYWHERE = ['viewports', 'typography', 'extensions', 'precedence', 'choose', 'styles', 'locators'] as const

/**
 * The pages whose settings a change may reach: their template, what their layers set, their inserts. What is printed
 * by names (surrounds, menus, assets) is not asked here.
 *
 * @param edited - Pages whose own data changed, came or went.
 * @param index - Pages of the earlier state that are known to be as they were when it was made, and `others`, which are not.
 */
export function reachOf(
  before: SiteState,
  after: SiteState,
  edited: ReadonlySet<string>,
  pages: { readonly index: () => PageIndex; readonly others: readonly PageCore[] },
): Reach {
  const [a, b] = [before.site.data, after.site.data]
  if (EVERYWHERE.some((key) => a[key] !== b[key])) return 'all'
  if (a.theme !== b.theme && (a.theme.layout !== b.theme.layout || a.theme.template !== b.theme.template)) return 'all'
  const reached = new Set(edited)
  const add = (ids: Iterable<string>): void => {
    for (const id of ids) reached.add(id)
  }
  const having = (test: (core: PageCore) => boolean, indexed: (index: PageIndex) => Iterable<string>): void => {
    add(indexed(pages.index()))
    for (const core of pages.others) if (test(core)) reached.add(core.id)
  }
  const matching = (where: CompiledWhere | undefined): void => {
    if (where)
      having(
        ({ facts, template }) => isMeant(where, facts, template?.id ?? null),
        (index) => index.matching(where),
      )
  }
  const led = new Set([...edited].filter((id) => isLed(before.site, after.site, id)))
  if (led.size > 0)
    having(
      ({ facts }) => facts.ancestors.some((id) => led.has(id)),
      (index) => index.descendants(led),
    )
  for (const id of changedIds(a.kinds, b.kinds))
    having(
      ({ facts }) => facts.kind === id,
      (index) => index.of('kind', id),
    )
  for (const id of changedIds(a.builders, b.builders))
    having(
      ({ facts }) => facts.builder === id,
      (index) => index.of('builder', id),
    )
  if (a.purposes !== b.purposes)
    for (const id of new Set([...before.prepared.purposes.keys(), ...after.prepared.purposes.keys()]))
      if (!equal(before.prepared.purposes.get(id), after.prepared.purposes.get(id))) reached.add(id)
  const templates = changedTemplates(before.prepared.templates, after.prepared.templates)
  for (const id of templates.changed)
    having(
      ({ template }) => template?.id === id,
      (index) => index.of('template', id),
    )
  for (const id of templates.choices)
    having(
      (core) => namedTemplates(namingIn(before), core.facts, core.data).includes(id),
      (index) => index.naming(id),
    )
  const [old, now] = [before.prepared.assignments, after.prepared.assignments]
  if (old !== now) {
    const isSame = (x: Assignment, y: Assignment): boolean => x.nearness === y.nearness && x.facets === y.facets
    for (const where of changedEntries(old.entries, now.entries, isSame, (entry) => entry.where)) matching(where)
  }
  const [was, is] = [before.prepared.inserts.entries, after.prepared.inserts.entries]
  if (was !== is) {
    const of = (list: typeof was) => list.map(({ entry, where }) => ({ ...entry, where }))
    for (const where of changedEntries(
      of(was),
      of(is),
      () => true,
      (entry) => entry.where,
    ))
      matching(where)
  }
  const names = new Set(
    NAMED.flatMap(([section, kinds]) =>
      meaningChanged(a, b, section).flatMap((id) => kinds.map((of) => `${of} ${id}`)),
    ),
  )
  if (names.size > 0)
    having(
      ({ layout }) => mentions(layout, names),
      (index) => [...index.layouts].flatMap(([layout, ids]) => (mentions(layout, names) ? ids : [])),
    )
  return reached
}

/** Whether a page is under another one than before, or has another path: what is under it may be meant by others then. */
export function isLed(before: Site, after: Site, id: string): boolean {
  const [old, now] = [before.pageData(id), after.pageData(id)]
  return old?.parent !== now?.parent || old?.path !== now?.path
}

/** What the entries mean that came, went or are not the same any more; a new number alone changes nothing. */
function changedEntries<T extends { readonly data: object }>(
  before: readonly T[],
  after: readonly T[],
  isSame: (old: T, now: T) => boolean,
  whereOf: (entry: T) => CompiledWhere,
): readonly CompiledWhere[] {
  const dataOf = ({ data }: T): object => data
  const { start, old, now, last } = unlikeParts(before, after, dataOf)
  if (!keepsOrder(old.map(dataOf), now.map(dataOf))) return [...before, ...after].map(whereOf)
  const known = new Map(old.map((entry) => [entry.data, entry]))
  const left = new Set(now.map(dataOf))
  const shift = now.length - old.length
  const earlier = (entry: T, n: number): T | undefined =>
    n < start ? before[n] : n - shift >= last ? before[n - shift] : known.get(entry.data)
  const differs = (entry: T, n: number): boolean => {
    const was = earlier(entry, n)
    return was !== entry && (!was || !isSame(was, entry))
  }
  return [...old.filter(({ data }) => !left.has(data)), ...after.filter(differs)].map(whereOf)
}

type Things = Readonly<Record<string, unknown>> | undefined

/** The ids of things that differ, came or went. */
export function changedIds(before: Things, after: Things): readonly string[] {
  if (before === after) return []
  const ids = new Set([...Object.keys(before ?? {}), ...Object.keys(after ?? {})])
  return [...ids].filter((id) => own(before, id) !== own(after, id))
}

/** Templates that differ, and those of which it changed who may choose them. */
export function changedTemplates(before: ReadonlyMap<string, Template>, after: ReadonlyMap<string, Template>) {
  const changed = new Set<string>()
  const choices = new Set<string>()
  if (before !== after)
    for (const id of new Set([...before.keys(), ...after.keys()])) {
      const [old, now] = [before.get(id), after.get(id)]
      if (old === now) continue
      changed.add(id)
      if (!old || !now || !equal(eligibility(old), eligibility(now))) choices.add(id)
    }
  return { changed, choices }
}

/** What decides whether a template is taken, and what is said of one that is not. */
const eligibility = ({ isOn, for: kinds, data: { enabled, from } }: Template): unknown => [
  isOn,
  kinds,
  isOn || [enabled, from],
]

const namingIn = ({ site, prepared: { templates, assignments } }: SiteState) => ({ site, templates, assignments })

/** What settings can name, by the section that it is in. */
const NAMED = [
  ['surrounds', ['header', 'footer', 'sidebar']],
  ['menus', ['menu']],
  ['assets', ['asset']],
] as const

/** Things of which it changed whether a name means them: they came, went, or are of another sort. */
function meaningChanged(before: SiteData, after: SiteData, section: (typeof NAMED)[number][0]): readonly string[] {
  const meaning = (data: SiteData, id: string): unknown => {
    if (section !== 'surrounds') return own(data[section] as Things, id) !== undefined
    const surround = own(data.surrounds, id)
    return surround && [surround.as, surround.from]
  }
  return changedIds(before[section] as Things, after[section] as Things).filter(
    (id) => !equal(meaning(before, id), meaning(after, id)),
  )
}

/** The properties that name something, with what they name. */
const NAMING = new Map(
  PROPERTY_PATHS.flatMap((path) => {
    const definition = definitionOf(path)
    return definition?.type === 'id' ? [[path, definition.of] as const] : []
  }),
)

/** Whether a layer of a layout names one of some things. */
const mentions = ({ contributions }: Layout, names: ReadonlySet<string>): boolean =>
  contributions.some(({ settings }) =>
    [...NAMING].some(([path, of]) => {
      const value = settings.values.get(path)?.value
      return [isObject(value) ? Object.values(value) : value].flat().some((name) => names.has(`${of} ${String(name)}`))
    }),
  )
