import { removeAt, setAt } from '../inspect/propose.js'
import { isPropertyPath, type PropertyPath } from '../model/facets.js'
import { isObject, own, toPointer, type Json, type JsonObject } from '../model/json.js'
import type { Operation } from '../model/patch.js'
import type { Site } from '../model/site.js'
import type { ResolvedPage } from '../resolve/page.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { pxSetting, spread, type Cause, type DriftGroup } from './cause.js'
import type { Discrepancy } from './compare.js'

/** A value as it goes into a title: `desk 80px, phone 0px` where it differs by viewport. */
const wordsOfValue = (value: Json): string => {
  if (typeof value === 'string') return value
  if (!isObject(value)) return JSON.stringify(value)
  return Object.entries(value)
    .map(([viewport, at]) => `${viewport} ${wordsOfValue(at)}`)
    .join(', ')
}

/** A setting at every layer where it could be set for these pages; where it is set now comes first. */
export function* atLayers(
  now: ResolvedSite,
  pages: readonly ResolvedPage[],
  path: string,
  value: Json,
): Generator<Cause> {
  const { site } = now
  const awake = pages.filter((page) => !page.dormant)
  const keys = path.split('.')
  const title = `${path} ${wordsOfValue(value)}`
  const deciding = new Set(
    isPropertyPath(path)
      ? awake.flatMap((page) => site.viewports.flatMap(({ name }) => page.at(name).decidingPointer(path) ?? []))
      : [],
  )
  for (const at of deciding)
    if (!at.startsWith('/styles') && !at.startsWith('/pages'))
      yield { title: `without ${at}`, at, patch: removeAt(site, at) }
  const said = holdersOf(now, awake).map(([where, holder]) => ({ where, path: [...holder, 'layout', ...keys] }))
  const isDeciding = (p: readonly string[]): boolean => deciding.has(toPointer(p))
  for (const each of [...said.filter((s) => isDeciding(s.path)), ...said.filter((s) => !isDeciding(s.path))])
    yield { title: `${title} ${each.where}`, at: toPointer(each.path), patch: setAt(site, each.path, value) }
  const own_ = (id: string): readonly string[] => ['pages', id, 'layout', ...keys]
  const [page] = pages
  const where = pages.length === 1 ? `on the page ${page?.id}` : `on these ${pages.length} pages`
  yield {
    title: `${title} ${where}`,
    at: toPointer(own_(page?.id ?? '')),
    patch: pages.flatMap(({ id }) => setAt(site, own_(id), value)),
  }
  for (const at of deciding)
    if (at.startsWith('/pages')) yield { title: `without the override ${at}`, at, patch: removeAt(site, at) }
}

/** Layers from which all of some pages could get a setting: in words, and where they are. */
function holdersOf(
  now: ResolvedSite,
  pages: readonly ResolvedPage[],
): readonly (readonly [where: string, path: readonly string[]])[] {
  const { data } = now.site
  const distinct = (of: (page: ResolvedPage) => string | undefined): readonly string[] => [
    ...new Set(pages.flatMap((page) => of(page) ?? [])),
  ]
  return [
    ...distinct((page) => page.choice.template?.id).map((id) => [`in the template ${id}`, ['templates', id]] as const),
    ...distinct((page) => page.facts.kind)
      .filter((id) => own(data.kinds, id))
      .map((id) => [`for kind ${id}`, ['kinds', id]] as const),
    ...distinct((page) => page.facts.builder)
      .filter((id) => own(data.builders, id))
      .map((id) => [`for the builder ${id}`, ['builders', id]] as const),
    ['in the theme options', ['theme']],
    ...entriesOn(now, pages).map((index) => [`in assign entry ${index + 1}`, ['assign', String(index)]] as const),
  ]
}

/** Where one change of the box of the content, or of what is beside it, may show, and what would be set there. */
const OF_ONE_BOX: ReadonlyMap<string, PropertyPath> = new Map([
  ['width.container', 'width.max'],
  ['width.column', 'width.columnMax'],
  ['sidebar.gap', 'sidebar.gap'],
  ['sidebar.width', 'sidebar.width'],
  ['spacing.before', 'spacing.before'],
  ['spacing.after', 'spacing.after'],
])

/** Whether a property is one of those in which a single change of a box may show. */
export const isOfOneBox = (property: string): boolean => OF_ONE_BOX.has(property)

/**
 * All that one change of the content's box shows in, set in one layer: one rule of a real style sheet moves what the
 * site file says in several settings.
 */
export function* jointly(now: ResolvedSite, group: DriftGroup, open: readonly Discrepancy[]): Generator<Cause> {
  if (!isOfOneBox(group.property)) return
  const [id = ''] = group.pages
  const seen = new Map<string, Map<string, Json>>()
  for (const { page, property, viewport, seen: value } of open) {
    if (page !== id || !isOfOneBox(property)) continue
    seen.set(property, (seen.get(property) ?? new Map<string, Json>()).set(viewport, value))
  }
  if (seen.size < 2) return
  const settings = [...seen].map(([property, values]) => {
    const path = OF_ONE_BOX.get(property) as PropertyPath
    return [path, spread(now, values, pxSetting, group.pages, path).at(-1) ?? null] as const
  })
  const boxed: Settings = seen.has('width.container') ? [['width.mode', 'boxed'], ...settings] : settings
  const awake = group.pages.map((page) => now.page(page)).filter((page) => !page.dormant)
  const holders = [
    ...holdersOf(now, awake),
    ...(group.pages.length === 1 ? [[`on the page ${id}`, ['pages', id]] as const] : []),
  ]
  for (const [where, holder] of holders)
    for (const said of new Set([settings, boxed]))
      yield {
        title: `${said.map(([path, value]) => `${path} ${wordsOfValue(value)}`).join(' and ')} ${where}`,
        at: toPointer([...holder, 'layout']),
        patch: setEach(now.site, holder, said),
      }
}

type Settings = readonly (readonly [path: PropertyPath, value: Json])[]

/** Sets several properties of one layer; nothing where it says one of their facets in a word. */
function setEach(site: Site, holder: readonly string[], settings: Settings): Operation[] {
  const layout = holder.reduce<Json | undefined>(
    (here, key) => (isObject(here) ? own(here, key) : (here as readonly Json[] | undefined)?.[Number(key)]),
    site.data as unknown as JsonObject,
  )
  const said = isObject(layout) && isObject(layout['layout']) ? layout['layout'] : {}
  const facets = new Map<string, Map<string, Json>>()
  for (const [path, value] of settings) {
    const [facet = '', key = ''] = path.split('.')
    facets.set(facet, (facets.get(facet) ?? new Map<string, Json>()).set(key, value))
  }
  const whole = Object.fromEntries([...facets].map(([facet, keys]) => [facet, Object.fromEntries(keys)]))
  if (Object.keys(said).length === 0) return setAt(site, [...holder, 'layout'], whole)
  if ([...facets.keys()].some((facet) => said[facet] !== undefined && !isObject(said[facet]))) return []
  return [...facets].flatMap(([facet, keys]) =>
    said[facet] === undefined
      ? setAt(site, [...holder, 'layout', facet], Object.fromEntries(keys))
      : [...keys].flatMap(([key, value]) => setAt(site, [...holder, 'layout', facet, key], value)),
  )
}

/** Assign entries that set something on every one of some pages. */
function entriesOn({ assignments }: ResolvedSite, pages: readonly ResolvedPage[]): readonly number[] {
  const sets = pages.map(
    (page) => new Set(assignments.settingsFor(page.facts, page.choice.template?.id ?? null).map((m) => m.entry.index)),
  )
  return assignments.entries.flatMap(({ index, data }) =>
    data.layout && sets.every((set) => set.has(index)) ? [index] : [],
  )
}
