import { isEqual as equal } from 'es-toolkit'
import { definitionOf, PROPERTY_PATHS } from '../model/facets.js'
import { isObject, own } from '../model/json.js'
import { isSameList } from '../model/lists.js'
import type { SiteData } from '../model/schema.js'
import { sectionsWith } from '../model/sections.js'
import type { Site } from '../model/site.js'
import { isMeant, type CompiledWhere } from '../select/selector.js'
import { namedTemplates } from './choose-template.js'
import type { Layout } from './layout.js'
import type { PageCore } from './page.js'
import type { SiteState } from './prepare.js'
import type { Template } from './templates.js'

/** Pages that a change may reach; `all` where it may reach any. */
export type Reach = ReadonlySet<string> | 'all'

/** Sections that decide for every page. */
const FOR_ALL = sectionsWith('isForAll', true)

/**
 * The pages whose template, settings or inserts a change may affect. Surrounds, menus and assets that pages print by name
 * are not considered.
 *
 * @param edited - Pages whose own data changed, came or went.
 * @param cores - All pages as they were before.
 */
export function reachOf(
  before: SiteState,
  after: SiteState,
  edited: ReadonlySet<string>,
  cores: () => Iterable<PageCore>,
): Reach {
  const [a, b] = [before.site.data, after.site.data]
  if (FOR_ALL.some((key) => a[key] !== b[key])) return 'all'
  if (a.theme.layout !== b.theme.layout || a.theme.template !== b.theme.template) return 'all'
  const tests = testsOf(before, after, edited)
  const reached = new Set(edited)
  if (tests.length > 0) for (const core of cores()) if (tests.some((test) => test(core))) reached.add(core.id)
  return reached
}

type Test = (core: PageCore) => boolean

/** Tests whether a page uses one of the changed things; none if only pages changed. */
function testsOf(before: SiteState, after: SiteState, edited: ReadonlySet<string>): readonly Test[] {
  const [a, b] = [before.site.data, after.site.data]
  const tests: Test[] = []
  const having = (changed: ReadonlySet<string>, test: Test): void => {
    if (changed.size > 0) tests.push(test)
  }
  const moved = new Set([...edited].filter((id) => isMoved(before.site, after.site, id)))
  having(moved, ({ facts }) => facts.ancestors.some((id) => moved.has(id)))
  const kinds = changedIds(a.kinds, b.kinds)
  having(kinds, ({ facts }) => kinds.has(facts.kind))
  const builders = changedIds(a.builders, b.builders)
  having(builders, ({ facts }) => facts.builder !== undefined && builders.has(facts.builder))
  const [was, is] = [before.prepared.purposes, after.prepared.purposes]
  if (was !== is) tests.push(({ id }) => !equal(was.get(id), is.get(id)))
  const templates = changedIds(mapOf(before.prepared.templates), mapOf(after.prepared.templates))
  having(templates, ({ template }) => template !== undefined && templates.has(template.id))
  const choices = new Set([...templates].filter((id) => isChosenOtherwise(before, after, id)))
  having(choices, ({ facts, data }) => {
    const { site, prepared } = before
    return namedTemplates({ site, ...prepared }, facts, data).some((id) => choices.has(id))
  })
  const wheres = changedEntries(before, after)
  if (wheres.length > 0)
    tests.push(({ facts, template }) => wheres.some((where) => isMeant(where, facts, template?.id ?? null)))
  const names = changedNames(a, b)
  if (names.size > 0) {
    const known = new Map<Layout, boolean>()
    tests.push(({ layout }) => {
      let isNamed = known.get(layout)
      if (isNamed === undefined) known.set(layout, (isNamed = mentions(layout, names)))
      return isNamed
    })
  }
  return tests
}

/** Whether a page has another parent or path; selectors by `under` or path may then match other pages below it. */
function isMoved(before: Site, after: Site, id: string): boolean {
  const [old, now] = [before.pageData(id), after.pageData(id)]
  return old?.parent !== now?.parent || old?.path !== now?.path
}

type Things = Readonly<Record<string, unknown>> | undefined

const mapOf = (things: ReadonlyMap<string, unknown>): Things => Object.fromEntries(things)

/** The ids of things that differ, came or went. */
export function changedIds(before: Things, after: Things): ReadonlySet<string> {
  if (before === after) return new Set()
  const ids = new Set([...Object.keys(before ?? {}), ...Object.keys(after ?? {})])
  for (const id of ids) if (own(before, id) === own(after, id)) ids.delete(id)
  return ids
}

/** Whether a template is available to other pages than before, or is unavailable for another reason. */
function isChosenOtherwise(before: SiteState, after: SiteState, id: string): boolean {
  const [old, now] = [before.prepared.templates.get(id), after.prepared.templates.get(id)]
  const deciding = (template: Template): unknown => {
    const { isOn, for: kinds, data } = template
    return [isOn, kinds, isOn || [data.enabled, data.from]]
  }
  return !old || !now || !equal(deciding(old), deciding(now))
}

/** The selectors of entries of `assign` and `inserts` that are new, gone or set something else. */
function changedEntries(before: SiteState, after: SiteState): readonly CompiledWhere[] {
  const ofAssign = ({ prepared }: SiteState): readonly Entry[] =>
    prepared.assignments.entries.map(({ data, where, nearness, facets }) => ({
      data,
      where,
      sets: `${nearness} ${facets}`,
    }))
  const ofInserts = ({ prepared }: SiteState): readonly Entry[] =>
    prepared.inserts.entries.map(({ entry: { data }, where }) => ({ data, where, sets: '' }))
  const [a, b] = [before.prepared, after.prepared]
  return [
    ...(a.assignments === b.assignments ? [] : changedIn(ofAssign(before), ofAssign(after))),
    ...(a.inserts === b.inserts ? [] : changedIn(ofInserts(before), ofInserts(after))),
  ]
}

interface Entry {
  readonly data: object
  readonly where: CompiledWhere
  /** What the same entry may set differently. */
  readonly sets: string
}

/** The selectors of changed entries; those of all entries if the order of unchanged ones differs, which decides ties. */
function changedIn(before: readonly Entry[], after: readonly Entry[]): readonly CompiledWhere[] {
  const [old, now] = [before, after].map((entries) => new Map(entries.map((entry) => [entry.data, entry])))
  const stay = before.filter(({ data }) => now?.has(data)).map(({ data }) => data)
  const isInOrder = isSameList(
    stay,
    after.flatMap(({ data }) => (old?.has(data) ? [data] : [])),
  )
  const changed = isInOrder
    ? [
        ...before.filter(({ data }) => !now?.has(data)),
        ...after.filter(({ data, sets }) => old?.get(data)?.sets !== sets),
      ]
    : [...before, ...after]
  return changed.map(({ where }) => where)
}

/** What settings can name, by the section that it is in. */
const NAMED = { surrounds: ['header', 'footer', 'sidebar'], menus: ['menu'], assets: ['asset'] } as const

/** Names whose thing is new, gone or of another type, such as `menu primary`. */
function changedNames(before: SiteData, after: SiteData): ReadonlySet<string> {
  const meaning = (data: SiteData, section: keyof typeof NAMED, id: string): unknown => {
    const thing = own(data[section] as Things, id) as SurroundLike | undefined
    return thing && (section === 'surrounds' ? [thing.as, thing.from] : [])
  }
  const names = new Set<string>()
  for (const section of Object.keys(NAMED) as (keyof typeof NAMED)[])
    for (const id of changedIds(before[section] as Things, after[section] as Things))
      if (!equal(meaning(before, section, id), meaning(after, section, id)))
        for (const of of NAMED[section]) names.add(`${of} ${id}`)
  return names
}

type SurroundLike = { readonly as?: string; readonly from?: string }

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
