import { parseSides } from '../css/length.js'
import { isObject, own, toPointer, fromPointer, valueAt, type Json, type JsonObject } from '../model/json.js'
import type { Operation, Patch } from '../model/patch.js'
import type { PropertyPath } from '../model/facets.js'
import type { Site } from '../model/site.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { atViewport } from '../resolve/settings.js'
import type { Proposal } from './rule.js'

/** Operations that set a value at a path, making the maps on the way that are not there yet. */
export function setAt(site: Site, path: readonly string[], value: Json): Operation[] {
  let here: Json | undefined = site.data as unknown as JsonObject
  for (let depth = 0; depth < path.length - 1; depth++) {
    const next: Json | undefined = isObject(here)
      ? own(here, path[depth] as string)
      : (here as readonly Json[])[Number(path[depth])]
    if (next === undefined) {
      const inner = path.slice(depth + 1).reduceRight<Json>((inside, key) => ({ [key]: inside }), value)
      return [{ op: 'add', path: toPointer(path.slice(0, depth + 1)), value: inner }]
    }
    here = next
  }
  const last = path.at(-1) as string
  const exists = isObject(here) && own(here, last) !== undefined
  return [{ op: exists ? 'replace' : 'add', path: toPointer(path), value }]
}

/** A page override of one property on each of some pages. */
export const overridePages = (site: Site, pages: readonly string[], property: PropertyPath, value: Json): Patch =>
  pages.flatMap((page) => setAt(site, ['pages', page, 'layout', ...property.split('.')], value))

/** A title of a proposal, with where it takes place: "in template t", "on these 3 pages". */
export type TitleAt = (where: string) => string

/**
 * A property given a value for some pages, best first: at the one setting that decides it for all of them, at the
 * template or kind that they share, and as an override of each. What reaches other pages as well, the proof shows.
 */
export function giveTo(
  resolved: ResolvedSite,
  pages: readonly string[],
  property: PropertyPath,
  value: Json,
  title: TitleAt,
): Proposal[] {
  const { site } = resolved
  const shared = pages.length > 1 ? sharedPlaces(resolved, pages, property) : []
  return [
    ...shared.map((path) => ({ title: title(layerInWords(site, path)), patch: setAt(site, path, value) })),
    { title: title(`on ${pagesInWords(pages)}`), patch: overridePages(site, pages, property, value) },
  ]
}

/** Places of the document, other than pages, from which all of some pages could get a property. */
function sharedPlaces(resolved: ResolvedSite, pages: readonly string[], property: PropertyPath): string[][] {
  const { site } = resolved
  const viewports = site.viewports.map(({ name }) => name)
  const ofAll = (read: (page: string) => string | undefined): string | undefined => {
    const first = read(pages[0] ?? '')
    return first !== undefined && pages.every((page) => read(page) === first) ? first : undefined
  }
  const deciding = ofAll((page) => {
    const found = new Set(viewports.map((name) => resolved.page(page).at(name).decidedBy(property)?.pointer))
    return found.size === 1 ? [...found][0] : undefined
  })
  const template = ofAll((page) => resolved.page(page).choice.template?.id)
  const kind = ofAll((page) => resolved.page(page).facts.kind)
  const keys = ['layout', ...property.split('.')]
  const isShared = deciding !== undefined && deciding.endsWith(`/${keys.join('/')}`) && !deciding.startsWith('/pages/')
  const paths = [
    ...(isShared ? [fromPointer(deciding)] : []),
    ...(template === undefined ? [] : [['templates', template, ...keys]]),
    ...(kind !== undefined && own(site.data.kinds, kind) ? [['kinds', kind, ...keys]] : []),
  ]
  return paths.filter((path, n) => paths.findIndex((other) => other.join('\n') === path.join('\n')) === n)
}

/** The layer that a path of the document belongs to, as it goes into a title. */
function layerInWords(site: Site, [section = '', id = '']: readonly string[]): string {
  if (section === 'theme') return 'in the theme'
  if (section === 'templates') return `in template ${id}`
  if (section === 'kinds') return `for kind ${id}`
  if (section === 'builders') return `for builder ${id}`
  return `in assign entry ${Number(id) + 1} of ${site.data.assign?.length ?? 0}`
}

/** Holders of settings are left out with what they held, but not the things that they belong to. */
const EMPTY_GOES = new Set(['layout', 'title', 'header', 'footer', 'byline', 'leadImage', 'sidebar', 'width'])
for (const key of ['spacing', 'comments', 'findable', 'items', 'built', 'share', 'background']) EMPTY_GOES.add(key)

/** An operation that removes what is at a pointer, with the maps around it that are empty then. */
export function removeAt(site: Site, pointer: string): Operation[] {
  const path = fromPointer(pointer)
  const root = site.data as unknown as Json
  if (valueAt(root, pointer) === undefined) return []
  while (path.length > 1) {
    const around = valueAt(root, toPointer(path.slice(0, -1)))
    if (!EMPTY_GOES.has(path.at(-2) as string) || !isObject(around) || Object.keys(around).length > 1) break
    path.pop()
  }
  return [{ op: 'remove', path: toPointer(path) }]
}

/** Compares pointers, list positions by number: `/a/9` before `/a/10`. */
function comparePointers(a: string, b: string): number {
  const [x, y] = [fromPointer(a), fromPointer(b)]
  const at = x.findIndex((key, n) => key !== y[n])
  if (at < 0) return x.length - y.length
  const apart = Number(x[at]) - Number(y[at])
  return Number.isNaN(apart) ? ((x[at] as string) < (y[at] ?? '') ? -1 : 1) : apart
}

/** Removes several things, later ones first, so that the other pointers stay valid. */
export function removeAll(site: Site, pointers: readonly string[]): Patch {
  return [...new Set(pointers)].sort((a, b) => comparePointers(b, a)).flatMap((pointer) => removeAt(site, pointer))
}

/** What a property, set at a place of the document, could be set to instead: there, and on the pages alone. */
export function setInstead(
  site: Site,
  { at, pages }: { readonly at: string; readonly pages: readonly string[] },
  property: PropertyPath,
  value: Json,
  title: string,
): Proposal[] {
  const path = fromPointer(at)
  const isThere = at.endsWith(`/${property.replaceAll('.', '/')}`)
  const here = isThere ? setAt(site, path, value) : []
  const onPage = path[0] === 'pages'
  return [
    { title: onPage ? title : `${title}, where it is set`, patch: here },
    ...(onPage && isThere
      ? []
      : [{ title: `${title}, on ${pagesInWords(pages)}`, patch: overridePages(site, pages, property, value) }]),
  ]
}

/** Computes the new value at a viewport. */
export type ValueAt = (before: Json | undefined, viewport: string) => Json

/** A value at some viewports and what was set before at the others, in as few entries as set it. */
export function atViewports(
  site: Site,
  before: Json | undefined,
  viewports: readonly string[],
  value: Exclude<Json, object> | ValueAt,
): Json {
  const names = site.viewports.map((v) => v.name)
  const valueAt: ValueAt = typeof value === 'function' ? value : () => value
  const values = names.map((name) => {
    const old = atViewport(before, name)
    return viewports.includes(name) ? valueAt(old, name) : old
  })
  const counts = new Map<string, number>()
  for (const each of values) counts.set(JSON.stringify(each), (counts.get(JSON.stringify(each)) ?? 0) + 1)
  const [usual] = [...counts].filter(([text]) => text !== undefined).sort(([, a], [, b]) => b - a)[0] ?? []
  const isUsual = (each: Json | undefined): boolean => JSON.stringify(each) === usual
  if (counts.size === 1 && values[0] !== undefined) return values[0]
  const entries = names.flatMap((name, n) =>
    values[n] === undefined || isUsual(values[n]) ? [] : [[name, values[n]] as const],
  )
  // Where a viewport has no value, `else` must not give it one.
  const isComplete = values.every((each) => each !== undefined)
  const rest = isComplete
    ? [['else', values.find(isUsual)] as const]
    : names.flatMap((name, n) => (isUsual(values[n]) ? [[name, values[n]] as const] : []))
  return Object.fromEntries([...entries, ...rest]) as Json
}

/** Removes the left and right of a padding. */
export function withoutSides(padding: Json | undefined): Json {
  const four = typeof padding === 'string' || typeof padding === 'number' ? parseSides(padding) : null
  if (!four) return padding ?? 0
  const [top, bottom] = [four.top.source, four.bottom.source]
  return top === bottom ? `${top} 0` : `${top} 0 ${bottom}`
}

/** Adds to the top of a padding. */
export function paddedAtTop(padding: Json | undefined, px: number): Json {
  const four = typeof padding === 'string' || typeof padding === 'number' ? parseSides(padding) : null
  if (!four) return `${px}px 0 0`
  const { top, right, bottom, left } = four
  const known = /^[\d.]+(px)?$/.exec(top.source)
  const more = known ? `${Math.round((parseFloat(top.source) + px) * 1000) / 1000}px` : `calc(${top.source} + ${px}px)`
  return [more, right.source, bottom.source, left.source].join(' ')
}

export const pagesInWords = (pages: readonly string[]): string =>
  pages.length === 1 ? `the page ${pages[0]}` : `these ${pages.length} pages`
