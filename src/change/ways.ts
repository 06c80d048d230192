import { freeName } from './free-name.js'
import { factsOf } from '../inspect/engine/known-facts.js'
import { overridePages, setAt } from '../inspect/propose.js'
import { pathOf, ARRANGED, definitionOf, type PropertyPath } from '../model/facets.js'
import { isObject, own, toPointer, type Json } from '../model/json.js'
import type { Patch } from '../model/patch.js'
import { SiteError } from '../model/problem.js'
import { UnknownNameError, unknownProperty, ValueError } from '../model/unknown-name.js'
import { WembraError } from '../model/wembra-error.js'
import { expectPages } from '../inspect/expect-pages.js'
import { sameValue, type PageView, type ResolvedPage } from '../resolve/page.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { selectorsOf } from '../select/selector.js'
import type { Where } from '../model/site-data.js'
import { toEnd } from '../inspect/turns.js'
import { touchedFindings, type FindingRecords } from './changed-findings.js'
import { changedPages, Step, tryPatch } from '../inspect/engine/step.js'

/** What some pages should get. */
export interface Goal {
  readonly property: PropertyPath
  readonly value: Json
}

/** A change after which the pages get what they should, tried in memory. */
export interface Way {
  readonly title: string
  readonly patch: Patch
  /** How many settings it adds or changes. */
  readonly settings: number
  /** Other pages that it changes. */
  readonly others: readonly string[]
  /** Keys of findings that it brings about, and that it ends. */
  readonly caused: readonly string[]
  readonly cured: readonly string[]
}

/** A change that would not do, and what is in its way. */
export interface Blocked {
  readonly title: string
  readonly because: string
}

/** Changes that give pages a certain layout, and what does not work. */
export interface Ways {
  /** Whether the pages have it already. */
  readonly isMet: boolean
  /** From the smallest: by other pages changed, findings brought about, settings added. */
  readonly ways: readonly Way[]
  readonly blocked: readonly Blocked[]
}

/** How changes are looked for. */
export interface WaysOptions {
  /** How the pages were meant, for an assign entry; default by their ids. */
  readonly where?: Where
  readonly now?: Date
}

/**
 * Finds the ways to give pages a layout, at every layer where it can be done. Each is tried in memory:
 * what it reports about other pages and findings is what happened.
 *
 * @example
 * findWays(resolved, ['visit'], [{ property: 'header.position', value: 'flow' }]).ways[0]?.title // => 'set it on the page visit'
 */
export function findWays(
  resolved: ResolvedSite,
  pages: readonly string[],
  goals: readonly Goal[],
  options: WaysOptions = {},
): Ways {
  expectPages(resolved, pages)
  for (const goal of goals) expectGoal(resolved, pages, goal)
  const isMet = pages.every((id) => goals.every((goal) => meets(resolved.page(id), goal, resolved.rem)))
  if (isMet) return { isMet, ways: [], blocked: [] }
  const known = factsOf(resolved, { now: options.now })
  const ways: Way[] = []
  const blocked: Blocked[] = []
  for (const { title, patch } of candidates(resolved, pages, goals, options.where)) {
    const after = tryPatch(resolved, patch)
    if (!after) continue
    const unmet = firstUnmet(after, pages, goals)
    if (unmet) {
      if (unmet.because !== undefined) blocked.push({ title, because: unmet.because })
      continue
    }
    const step = new Step(known, after)
    const { before, after: later } = toEnd(touchedFindings(known, step))
    ways.push({
      title,
      patch,
      settings: countSettings(patch),
      others: changedPages(step, pages),
      caused: grown(before, later),
      cured: grown(later, before),
    })
  }
  const size = (way: Way): readonly number[] => [way.others.length, way.caused.length, way.settings]
  return { isMet, ways: ways.sort((a, b) => compareSizes(size(a), size(b))), blocked: distinct(blocked) }
}

/** @throws {UnknownNameError | ValueError} For a property or value that there is not. */
function expectGoal(resolved: ResolvedSite, pages: readonly string[], { property, value }: Goal): void {
  const definition = definitionOf(property)
  if (!definition) throw unknownProperty(property)
  const { data } = resolved.site
  const known = { asset: data.assets, menu: data.menus }
  if (definition.type === 'id' && typeof value === 'string') {
    const of = definition.of === 'asset' || definition.of === 'menu' ? definition.of : 'surround'
    const names = Object.keys((of === 'surround' ? data.surrounds : known[of]) ?? {})
    if (!names.includes(value)) throw new UnknownNameError(of, value, names)
  }
  try {
    resolved.with(overridePages(resolved.site, pages.slice(0, 1), property, value))
  } catch (error) {
    if (!(error instanceof WembraError)) throw error
    const reason = error instanceof SiteError ? error.problems[0]?.message : error.message
    throw new ValueError(`${property} cannot have this value: ${reason ?? 'it is not allowed'}`)
  }
}

function compareSizes(a: readonly number[], b: readonly number[]): number {
  const index = a.findIndex((n, i) => n !== b[i])
  return index === -1 ? 0 : (a[index] as number) - (b[index] as number)
}

const distinct = (blocked: readonly Blocked[]): Blocked[] => [
  ...new Map(blocked.map((b) => [`${b.title} ${b.because}`, b])).values(),
]

/** Whether a page has what it should, at every viewport, style included. */
export function meets(page: ResolvedPage, { property, value }: Goal, rem: number): boolean {
  return (
    !page.dormant &&
    page.site.viewports.every(({ name }) => {
      const view = page.at(name)
      return isSame(view, property, value, rem)
    })
  )
}

/** Whether a view has a value, and of a facet that can be seen there: what is not printed has no surround to show. */
const isSame = (view: PageView, property: PropertyPath, value: Json, rem: number): boolean =>
  isSeen(view, property) &&
  sameValue(view.value(property) ?? (property.includes('.items.') ? 'shown' : null), value, view.viewport, rem)

function isSeen(view: PageView, property: PropertyPath): boolean {
  const [facet = '', name = ''] = property.split('.')
  const hasPresence = definitionOf(`${facet}.presence`) !== undefined
  return !hasPresence || name === 'presence' || name === 'items' || view.presence(pathOf(facet, 'presence')) === 'shown'
}

/** The first page and goal that a change leaves unmet, with what is in the way: a lock, a gate or a style. */
function firstUnmet(after: ResolvedSite, pages: readonly string[], goals: readonly Goal[]) {
  for (const id of pages)
    for (const goal of goals) {
      const page = after.page(id)
      if (meets(page, goal, after.rem)) continue
      if (page.dormant) return { because: `the page ${id} is dormant` }
      const view = page.site.viewports
        .map(({ name }) => page.at(name))
        .find((v) => !isSame(v, goal.property, goal.value, after.rem))
      const chain = view?.chain(goal.property) ?? []
      const shut = chain.find(
        (entry) => entry.outcome === 'locked' || (entry.outcome === 'skipped' && sameJson(entry.value, goal.value)),
      )
      const winner = chain.find((entry) => entry.outcome === 'wins')
      const [facet = ''] = goal.property.split('.')
      const because =
        shut?.because ??
        (winner?.layer === 'style' ? `the style ${winner.because}` : undefined) ??
        (view && !isSeen(view, goal.property) ? `its ${facet} is not shown; ask for ${facet}=shown as well` : undefined)
      return { because: because === undefined ? undefined : `on ${id}: ${because}` }
    }
  return undefined
}

const sameJson = (a: Json, b: Json): boolean => JSON.stringify(a) === JSON.stringify(b)

interface Candidate {
  readonly title: string
  readonly patch: Patch
}

/** Every place where it could be set. */
function candidates(
  resolved: ResolvedSite,
  pages: readonly string[],
  goals: readonly Goal[],
  where: Where | undefined,
): readonly Candidate[] {
  const { site } = resolved
  const found = pages.map((id) => resolved.page(id))
  const layoutOf = (): Json =>
    goals.reduce<Json>((layout, { property, value }) => withSetting(layout, property.split('.'), value), {})
  const at = (holder: readonly string[]): Patch =>
    goals.reduce<{ patch: Patch; site: ResolvedSite }>(
      ({ patch, site: now }, { property, value }) => {
        const more = setAt(now.site, [...holder, 'layout', ...property.split('.')], value)
        return { patch: [...patch, ...more], site: tryPatch(now, more) ?? now }
      },
      { patch: [], site: resolved },
    ).patch
  const onPages = (property: (goal: Goal) => boolean): Patch =>
    pages.flatMap((id) => {
      const mine = goals.filter(property)
      return mine.reduce<{ patch: Patch; site: ResolvedSite }>(
        ({ patch, site: now }, { property: path, value }) => {
          const more = overridePages(now.site, [id], path, value)
          return { patch: [...patch, ...more], site: tryPatch(now, more) ?? now }
        },
        { patch: [], site: resolved },
      ).patch
    })
  const common = <T>(of: (page: ResolvedPage) => T): T | undefined => {
    const values = new Set(found.map(of))
    return values.size === 1 ? [...values][0] : undefined
  }
  const kind = common((page) => page.facts.kind)
  const template = common((page) => page.choice.template?.id)
  const builder = common((page) => page.facts.builder)
  const name = pages.length === 1 ? `the page ${pages[0]}` : `these ${pages.length} pages`
  const isUnmet = (goal: Goal): boolean => found.some((page) => !meets(page, goal, resolved.rem))
  const selector = where ?? [{ page: [...pages] }]
  const early = selectorsOf(selector)
  return [
    { title: `set it on ${name}`, patch: onPages(isUnmet) },
    ...templateWays(resolved, found, goals),
    ...(template === undefined
      ? []
      : [
          { title: `set it in the template ${template}`, patch: at(['templates', template]) },
          ...openGates(resolved, template, goals, at(['templates', template])),
          copyWay(resolved, template, pages, layoutOf()),
        ]),
    {
      title: where ? 'an assign entry for these pages' : `an assign entry for ${name}`,
      patch: [
        ...(site.data.assign ? [] : [{ op: 'add' as const, path: '/assign', value: [] }]),
        { op: 'add', path: '/assign/-', value: { layout: layoutOf(), where: early as unknown as Json } },
      ],
    },
    ...entriesOnAll(resolved, found).map((index) => ({
      title: `set it in assign entry ${index + 1}`,
      patch: at(['assign', String(index)]),
    })),
    ...(builder !== undefined && own(site.data.builders, builder)
      ? [{ title: `set it for the builder ${builder}`, patch: at(['builders', builder]) }]
      : []),
    ...(kind !== undefined && own(site.data.kinds, kind)
      ? [{ title: `set it for kind ${kind}`, patch: at(['kinds', kind]) }]
      : []),
    { title: 'a theme option', patch: at(['theme']) },
  ]
}

/** The assign entries with settings that match every one of some pages. */
function entriesOnAll({ assignments }: ResolvedSite, pages: readonly ResolvedPage[]): readonly number[] {
  const matched = pages.map(
    (page) =>
      new Set(assignments.settingsFor(page.facts, page.choice.template?.id ?? null).map(({ entry }) => entry.index)),
  )
  return assignments.entries.flatMap(({ index, data }) =>
    data.layout && matched.every((entries) => entries.has(index)) ? [index] : [],
  )
}

function withSetting(layout: Json, path: readonly string[], value: Json): Json {
  const [key = '', ...rest] = path
  const inside = isObject(layout) ? layout : {}
  return { ...inside, [key]: rest.length === 0 ? value : withSetting(inside[key] ?? {}, rest, value) }
}

/** Templates that are there and do it, alone or with what is missing set on the pages. */
function templateWays(
  resolved: ResolvedSite,
  pages: readonly ResolvedPage[],
  goals: readonly Goal[],
): readonly Candidate[] {
  const usable = [...resolved.templates.values()].filter(
    ({ id, isOn, for: kinds }) =>
      isOn && pages.every((page) => page.choice.template?.id !== id && (!kinds || kinds.includes(page.facts.kind))),
  )
  return usable.flatMap(({ id }): readonly Candidate[] => {
    const choose: Patch = pages.flatMap((page) => setAt(resolved.site, ['pages', page.id, 'template'], id))
    const after = tryPatch(resolved, choose)
    if (!after) return []
    const missing = goals.filter((goal) => pages.some((page) => !meets(after.page(page.id), goal, resolved.rem)))
    if (missing.length === goals.length && goals.length > 0) return []
    if (missing.length === 0) return [{ title: `the template ${id}, which does it already`, patch: choose }]
    const rest = pages.flatMap((page) =>
      missing.flatMap(({ property, value }) => overridePages(after.site, [page.id], property, value)),
    )
    const names = missing.map((goal) => goal.property).join(' and ')
    return [{ title: `the template ${id}, with ${names} set beside it`, patch: [...choose, ...rest] }]
  })
}

/** A template with what it should print put into its arrange, before the content. */
function openGates(
  resolved: ResolvedSite,
  template: string,
  goals: readonly Goal[],
  layout: Patch,
): readonly Candidate[] {
  const found = resolved.templates.get(template)
  const shut = goals
    .filter(({ property, value }) => property.endsWith('.presence') && value === 'shown')
    .map(({ property }) => property.split('.')[0] as (typeof ARRANGED)[number])
    .filter((facet) => ARRANGED.includes(facet) && found && !found.arrange.includes(facet))
  if (!found || shut.length === 0) return []
  const at = Math.max(0, found.arrange.indexOf('content'))
  const arrange = [...found.arrange.slice(0, at), ...shut, ...found.arrange.slice(at)] as unknown as Json
  const patch = setAt(resolved.site, ['templates', template, 'arrange'], arrange)
  return [{ title: `print ${shut.join(' and ')} in the template ${template}`, patch: [...patch, ...layout] }]
}

/** A template of its own for the pages, laid over the one they have. */
function copyWay(resolved: ResolvedSite, template: string, pages: readonly string[], layout: Json): Candidate {
  const { templates } = resolved.site.data
  const name = freeName(`${template}-${pages[0] ?? 'copy'}`, (id) => own(templates, id) !== undefined)
  return {
    title: `a new template, ${name}, based on ${template}`,
    patch: [
      { op: 'add', path: toPointer(['templates', name]), value: { base: template, layout } },
      ...pages.flatMap((page) => setAt(resolved.site, ['pages', page, 'template'], name)),
    ],
  }
}

/** How many values a patch sets. */
const countSettings = (patch: Patch): number =>
  patch.reduce((sum, operation) => sum + ('value' in operation ? leaves(operation.value as Json) : 1), 0)

const leaves = (value: Json): number =>
  isObject(value)
    ? Object.values(value).reduce<number>((sum, each) => sum + leaves(each), 0)
    : Array.isArray(value) && value.length > 0
      ? (value as readonly Json[]).reduce<number>((sum, each) => sum + leaves(each), 0)
      : 1

/** Findings that are in the later state and not, or on fewer pages, in the earlier. */
const grown = (earlier: FindingRecords, later: FindingRecords): readonly string[] =>
  Object.entries(later).flatMap(([key, { pages }]) => {
    const known = new Set(earlier[key]?.pages ?? [])
    const isNew = !Object.hasOwn(earlier, key)
    return isNew || pages.some((page) => !known.has(page)) ? [key] : []
  })
