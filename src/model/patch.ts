import type { Operation } from 'rfc6902'
import { checkNamesOf } from './check-names.js'
import { checkSchema } from './check-schema.js'
import { EditedDocument, expectOperation, PatchError } from './edited-document.js'
import { fromPointer, isObject, own, toPointer, valueAt, type Json, type JsonObject } from './json.js'
import { DEFAULT_VIEWPORTS } from './load.js'
import { moveOrigins, originOf, type Origin } from './origin.js'
import { carryPaths } from './paths.js'
import { SiteError, type Problem } from './problem.js'
import type { PageData, SiteData } from './schema.js'
import { sectionsWith } from './sections.js'
import { expandSite } from './shorthand.js'
import { siteOf, sitePartsOf, viewportsIn, type Site, type SiteParts } from './site.js'
import { withTokens } from './tokens.js'

/** A JSON Patch (RFC 6902) against the merged site document. */
export type Patch = readonly Operation[]
export type { Operation }

/** Sections of the document that are maps of things by id. */
const MAPS = new Set<string>(sectionsWith('holds', 'map'))

/** What a patch touches. */
export interface Touched {
  /** Pages that it changes, adds or removes; `null` where it names none in particular. */
  readonly pages: ReadonlySet<string> | null
  /** Sections other than the pages. */
  readonly sections: ReadonlySet<string>
}

export function touchedBy(patch: Patch): Touched {
  const keys = patch
    .filter(({ op }) => op !== 'test')
    .flatMap((operation) => ('from' in operation ? [operation.path, operation.from] : [operation.path]))
    .map(fromPointer)
  const sections = keys.map(([section]) => section)
  const ofPages = keys.filter(([section]) => section === 'pages')
  const isWhole = sections.includes(undefined)
  return {
    pages: isWhole || ofPages.some(({ length }) => length < 2) ? null : new Set(ofPages.map(([, id]) => id as string)),
    sections: new Set(sections.filter((section) => section !== undefined && section !== 'pages')) as Set<string>,
  }
}

/**
 * The site with a patch applied in memory; what the patch does not touch is shared with the old one, and only what it
 * touches is checked. Places stay those of the files as they are: what moves in a list keeps its own.
 * A patch that touches a surround sets its `measured` aside, for that was a measurement of the old one.
 *
 * @throws {PatchError} When an operation does not apply.
 * @throws {SiteError} When the result is no valid site.
 */
export function patchSite(site: Site, patch: Patch): Patched {
  patch.forEach(expectOperation)
  const operations = [...tokensIn(site, patch), ...measuredAside(site, patch)]
  const parts = sitePartsOf(site)
  const { pages: ids, sections } = touchedBy(operations)
  const edited = new EditedDocument({
    ...(parts.rest as unknown as JsonObject),
    pages: ids ? somePages(site, ids) : allPages(site),
  })
  let { origin } = parts
  const order = new PageOrder(site, parts.origin)
  operations.forEach((operation, index) => {
    edited.expect(operation, index)
    origin = moveOrigins(origin, edited.value, operation)
    order.follow(operation, edited.value)
    edited.apply(operation, index)
  })
  const document = edited.value
  if (!isObject(document)) throw new PatchError(operations.length - 1, 'the whole document cannot be replaced')
  const { pages, ...rest } = written(site, document, sections)
  const after = pages as unknown as SiteData['pages']
  const changes = new Map<string, PageData | undefined>()
  for (const id of ids ?? new Set([...site.pageIds, ...Object.keys(after)])) changes.set(id, own(after, id))
  const keys = ids ? order.keys : Object.keys(after)
  const made = siteOf({
    ...parts,
    rest: rest as unknown as SiteParts['rest'],
    pages: parts.pages.with(changes, keys),
    viewports: viewportsAfter(site, rest, sections),
    origin,
    printed: PRINTED.some((section) => sections.has(section)) ? {} : parts.printed,
  })
  carryPaths(site, made, changes.keys())
  return { site: made, pages: new Set(changes.keys()) }
}

/** A site that a patch was applied to. */
export interface Patched {
  readonly site: Site
  /** Pages that it may have changed, brought or taken away. */
  readonly pages: ReadonlySet<string>
}

function viewportsAfter(site: Site, document: JsonObject, sections: ReadonlySet<string>): Site['viewports'] {
  if (!sections.has('viewports')) return site.viewports
  return viewportsIn((document['viewports'] ?? DEFAULT_VIEWPORTS) as unknown as Parameters<typeof viewportsIn>[0])
}

/** What is printed by names, and how texts look. */
const PRINTED = sectionsWith('isPrinted', true)

/** The mark of what is printed by names, the same while none of it changed. */
export const printedAfter = ({ rest, printed }: SiteParts, now: SiteParts['rest']): object =>
  PRINTED.some((section) => rest[section] !== now[section]) ? {} : printed

/** Whether nothing is wrong with what of a site is not as it was before. */
export function isWellFormed(before: Site, site: Site, pages: ReadonlyMap<string, PageData | undefined>): boolean {
  const rest = sitePartsOf(site).rest as unknown as JsonObject
  const old = sitePartsOf(before).rest as unknown as JsonObject
  if (!Object.keys(REQUIRED).every((key) => key === 'pages' || Object.hasOwn(rest, key))) return false
  const given = [...pages].flatMap(([id, page]) => (page ? [[id, page as unknown as Json]] : []))
  const changed = {
    ...Object.fromEntries(Object.entries(rest).filter(([key, value]) => old[key] !== value)),
    pages: Object.fromEntries(given) as Json,
  }
  const { part, places } = onlyFresh(before, changed)
  const document = { ...rest, pages: changed.pages }
  const names = site.viewports.map(({ name }) => name)
  return patchProblems(site, { ...REQUIRED, ...part }, places, document, names).length === 0
}

/** The ids of a site's pages in the order that operations leave them in: as the keys of an object. */
class PageOrder {
  keys: readonly string[]
  readonly #origin: Origin

  constructor({ pageIds }: Site, origin: Origin) {
    this.keys = pageIds
    this.#origin = origin
  }

  /** With a new page, which comes after the others of the file that it would be written in. */
  #with(id: string): readonly string[] {
    const fileOf = (page: string) => originOf(this.#origin, ['pages', page]).origin.source
    const file = fileOf(id)
    const last = this.keys.findLastIndex((page) => fileOf(page) === file)
    const at = last < 0 ? this.keys.length : last + 1
    return [...this.keys.slice(0, at), id, ...this.keys.slice(at)]
  }

  follow(operation: Operation, before: Json): void {
    const take = (pointer: string): void => {
      const [section, id, ...inside] = fromPointer(pointer)
      if (section === 'pages' && inside.length === 0) this.keys = this.keys.filter((key) => key !== id)
    }
    if (operation.op === 'remove') take(operation.path)
    if (operation.op === 'move') take(operation.from)
    const [section, id, ...inside] = fromPointer(operation.path)
    const isNew = operation.op !== 'remove' && valueAt(before, operation.path) === undefined
    if (section === 'pages' && id !== undefined && inside.length === 0 && isNew) this.keys = this.#with(id)
  }
}

/** The document with shorthand expanded where a patch may have brought some. @throws {SiteError} Where it is no site. */
function written(site: Site, document: JsonObject, sections: ReadonlySet<string>): JsonObject {
  const names = viewportsAfter(site, document, sections).map((v) => v.name)
  // What was checked before need not be checked again, but for other viewports, which are named everywhere.
  const isSome = !sections.has('viewports')
  const keys = isSome ? [...sections, 'pages'].filter((key) => Object.hasOwn(document, key)) : Object.keys(document)
  const part = Object.fromEntries(keys.map((key) => [key, document[key] as Json]))
  const fresh = isSome ? onlyFresh(site, part) : { part, places: new Map<string, readonly number[]>() }
  const expanded = expandSite(fresh.part, names)
  const result = { ...document, ...whole(part, expanded, fresh.places) }
  const stays = ([key]: readonly [string, Json]): boolean =>
    !sections.has(key) && (key !== 'pages' || Object.hasOwn(document, key))
  const checked = { ...Object.fromEntries(Object.entries(REQUIRED).filter(stays)), ...expanded }
  const problems = patchProblems(site, checked, fresh.places, result, names)
  if (problems.length > 0) throw new SiteError(problems)
  return result
}

/** What every site has, for checking parts alone. */
const REQUIRED: JsonObject = { wembra: 1, site: { name: '' }, theme: {}, pages: {} }

/** Where entries of a shortened list are in the whole one, by section. */
type Places = ReadonlyMap<string, readonly number[]>

/** Of maps by id and of lists, the entries that are not those of the site. */
function onlyFresh(site: Site, part: JsonObject): { readonly part: JsonObject; readonly places: Places } {
  const places = new Map<string, readonly number[]>()
  const entries = Object.entries(part).map(([section, value]): readonly [string, Json] => {
    // Asking the data for its pages would gather them all.
    if (section === 'pages') return [section, isObject(value) ? freshKeys(site, value) : value]
    const old = site.data[section as Exclude<keyof SiteData, 'pages'>] as unknown as Json | undefined
    if (Array.isArray(value) && Array.isArray(old)) {
      const list = value as readonly Json[]
      const known = new Set(old as readonly Json[])
      const fresh = list.flatMap((each, n) => (known.has(each) ? [] : [n]))
      places.set(section, fresh)
      return [section, fresh.map((n) => list[n] as Json)]
    }
    if (!MAPS.has(section) || !isObject(value) || !isObject(old)) return [section, value]
    return [section, Object.fromEntries(Object.entries(value).filter(([id, each]) => own(old, id) !== each))]
  })
  return { part: Object.fromEntries(entries), places }
}

/** Keys that every page has. */
const OF_EVERY_PAGE = new Set(['path', 'title'])

/** Of pages that were there before, the keys that are not as they were. */
const freshKeys = (site: Site, pages: JsonObject): JsonObject =>
  Object.fromEntries(
    Object.entries(pages).map(([id, page]) => {
      const old = site.pageData(id) as unknown as JsonObject | undefined
      if (!old || !isObject(page)) return [id, page]
      const isFresh = ([key, value]: readonly [string, Json]): boolean =>
        OF_EVERY_PAGE.has(key) || own(old, key) !== value
      return [id, Object.fromEntries(Object.entries(page).filter(isFresh))]
    }),
  )

/** Pages with all their keys again, those that changed in their expanded form. */
const wholePages = (all: JsonObject, fresh: JsonObject): JsonObject =>
  Object.fromEntries(
    Object.entries(all).map(([id, page]) => {
      const now = own(fresh, id)
      return [id, isObject(page) && isObject(now) ? { ...page, ...now } : page]
    }),
  )

/** Sections whole again, the entries that changed in their expanded form. */
const whole = (part: JsonObject, expanded: JsonObject, places: Places): JsonObject =>
  Object.fromEntries(
    Object.entries(expanded).map(([section, value]) => {
      const all = part[section]
      const fresh = places.get(section)
      if (section === 'pages' && isObject(value) && isObject(all)) return [section, wholePages(all, value)]
      if (fresh && Array.isArray(all) && Array.isArray(value)) {
        const list = [...(all as readonly Json[])]
        fresh.forEach((place, n) => (list[place] = (value as readonly Json[])[n] as Json))
        return [section, list]
      }
      return [section, MAPS.has(section) && isObject(value) && isObject(all) ? { ...all, ...value } : value]
    }),
  )

/** Some of the pages, so that what a patch does not touch need not be looked at. */
function somePages(site: Site, pages: ReadonlySet<string>): JsonObject {
  return Object.fromEntries(
    [...pages].flatMap((id) => {
      const page = site.pageData(id)
      return page ? [[id, page as unknown as Json]] : []
    }),
  )
}

const allPages = (site: Site): JsonObject => site.data.pages as unknown as JsonObject

/** The operations with tokens in the place of their names, `{group.name}`. */
function tokensIn(site: Site, patch: Patch): Patch {
  const problems: Problem[] = []
  const operations = patch.map((operation) => {
    if (!('value' in operation)) return operation
    const value = withTokens(operation.value as Json, site.tokens, (error) => {
      const place = site.locate(operation.path)
      problems.push({ ...place, code: error.code, message: `${error.message}; tokens are used as "{group.name}"` })
    })
    return { ...operation, value }
  })
  if (problems.length > 0) throw new SiteError(problems)
  return operations
}

/**
 * What a patch that touches a surround does besides: its `measured` goes, unless the patch gives one itself, for that
 * was a measurement of the old one.
 */
export function measuredAside({ data }: Site, patch: Patch): Patch {
  const ofSurrounds = patch.flatMap(({ path }) => {
    const [section, id, key] = fromPointer(path)
    return section === 'surrounds' && id !== undefined && key !== undefined ? [{ id, key }] : []
  })
  const given = new Set(ofSurrounds.flatMap(({ id, key }) => (key === 'measured' ? [id] : [])))
  for (const { path } of patch) {
    const [section, id, ...rest] = fromPointer(path)
    if (section === 'surrounds' && id !== undefined && rest.length === 0) given.add(id)
  }
  return [...new Set(ofSurrounds.map(({ id }) => id))].flatMap((id) =>
    given.has(id) || !own(data.surrounds, id)?.measured
      ? []
      : [{ op: 'remove' as const, path: toPointer(['surrounds', id, 'measured']) }],
  )
}

function patchProblems(
  site: Site,
  part: JsonObject,
  places: Places,
  document: JsonObject,
  viewports: readonly string[],
): Problem[] {
  const placed = ([section, index, ...rest]: readonly PropertyKey[]): readonly PropertyKey[] => {
    const place = places.get(String(section))?.[Number(index)]
    return [section, place ?? index, ...rest].filter((key) => key !== undefined)
  }
  const bySchema = checkSchema(part, viewports).map((p) => ({
    ...site.locate(toPointer(placed(p.path))),
    code: p.code,
    message: p.message,
  }))
  if (bySchema.length > 0) return bySchema
  const byName = checkNamesOf(part as unknown as SiteData, document as unknown as SiteData, site)
  return byName.map((p) => ({ ...site.locate(p.pointer), code: p.code, message: p.message }))
}
