import { applyPatch, type Operation } from 'rfc6902'
import { checkNames } from './check-names.js'
import { checkSchema } from './check-schema.js'
import { fromPointer, isObject, own, toPointer, type Json, type JsonObject } from './json.js'
import { SiteError, type Problem } from './problem.js'
import type { PageData, SiteData } from './schema.js'
import { expandSite } from './shorthand.js'
import type { Site } from './site.js'
import { withTokens } from './tokens.js'

/** A JSON Patch (RFC 6902) against the merged site document. */
export type Patch = readonly Operation[]
export type { Operation }

/** Thrown for a patch that cannot be applied. */
export class PatchError extends Error {
  override readonly name = 'PatchError'
  /** Index of the operation at fault. */
  readonly operation: number

  constructor(operation: number, reason: string) {
    super(`operation ${operation + 1} of the patch: ${reason}`)
    this.operation = operation
  }
}

/** What a patch reaches. */
export interface Reach {
  /** Pages it changes; `null` when it may change, add or remove any. */
  readonly pages: readonly string[] | null
  /** Whether it changes nothing but what those pages alone have: their settings, body, template and the like. */
  readonly pagesOnly: boolean
}

/**
 * What of a page other pages look at: no two have one path, descendants ask for their ancestors' paths, and listings
 * for the published pages of a kind.
 */
const SHARED_KEYS = new Set(['path', 'parent', 'kind', 'status'])

export function reachOf(patch: Patch): Reach {
  const paths = patch.flatMap((operation) =>
    'from' in operation ? [operation.path, operation.from] : [operation.path],
  )
  const keys = paths.map(fromPointer)
  const ofPages = keys.filter(([section]) => section === undefined || section === 'pages')
  const isOwn = ([, id, key]: readonly string[]): boolean =>
    id !== undefined && key !== undefined && !SHARED_KEYS.has(key)
  if (!ofPages.every(isOwn)) return { pages: null, pagesOnly: false }
  const pages = [...new Set(ofPages.map(([, id]) => id as string))]
  return { pages, pagesOnly: ofPages.length === keys.length }
}

/**
 * The site with a patch applied in memory; what the patch does not touch is shared with the old one.
 * A patch that touches a surround sets its `measured` aside, for that was a measurement of the old one.
 *
 * @throws {PatchError} When an operation does not apply.
 * @throws {SiteError} When the result is no valid site.
 */
export function patchSite(site: Site, patch: Patch): Site {
  const operations = [...tokensIn(site, patch), ...measuredAside(site, patch)]
  const { pages, pagesOnly } = reachOf(operations)
  const rest = pagesOnly ? {} : restOf(site.data)
  let document: Json = {
    ...rest,
    pages: pages === null ? (site.data.pages as unknown as Json) : somePages(site, pages),
  }
  operations.forEach((operation, index) => {
    document = applyOperation(document, operation, index)
  })
  const data = expandSite(
    document as JsonObject,
    site.viewports.map((v) => v.name),
  )
  const problems = patchProblems(site, pagesOnly ? { ...REQUIRED, ...data } : data)
  if (problems.length > 0) throw new SiteError(problems)
  if (pages === null) return whole(site, data as unknown as SiteData)
  return overlaid(site, pagesOnly ? restOf(site.data) : data, data['pages'] as unknown as SiteData['pages'])
}

/** What every site has, for checking pages alone. */
const REQUIRED: JsonObject = { wembra: 1, site: { name: '' }, theme: {} }

/** Some of the pages, so that what a patch does not touch need not be looked at. */
function somePages(site: Site, pages: readonly string[]): JsonObject {
  return Object.fromEntries(
    pages.flatMap((id) => {
      const page = site.pageData(id)
      return page ? [[id, page as unknown as Json]] : []
    }),
  )
}

/** Everything but the pages; asking for those would gather them all. */
function restOf(data: SiteData): JsonObject {
  const keys = Object.keys(data).filter((key) => key !== 'pages')
  return Object.fromEntries(keys.map((key) => [key, data[key as keyof SiteData] as unknown as Json]))
}

function whole(site: Site, data: SiteData): Site {
  return {
    ...site,
    data,
    pageIds: Object.keys(data.pages),
    pageData: (id) => own(data.pages, id),
    ...viewportsOf(site, data),
  }
}

/** The site with some pages laid over the old ones; the whole is gathered only when somebody asks for it. */
function overlaid(site: Site, rest: JsonObject, over: SiteData['pages']): Site {
  let gathered: Record<string, PageData> | undefined
  const data = Object.defineProperty({ ...rest }, 'pages', {
    enumerable: true,
    get: () => (gathered ??= { ...site.data.pages, ...over }),
  }) as unknown as SiteData
  return { ...site, data, pageData: (id) => own(over, id) ?? site.pageData(id), ...viewportsOf(site, data) }
}

function viewportsOf(site: Site, data: SiteData): Pick<Site, 'viewports'> {
  const named = data.viewports && Object.entries(data.viewports)
  return { viewports: named ? named.map(([name, { width, height }]) => ({ name, width, height })) : site.viewports }
}

/**
 * A document with one operation applied; what it does not touch is shared.
 *
 * @throws {PatchError} When it does not apply; `index` is what the message counts it as.
 */
export function applyOperation(document: Json, operation: Operation, index: number): Json {
  // The library changes its argument; only the way to what changes is copied.
  let root = copyAlong(document, fromPointer(operation.path))
  if ('from' in operation) root = copyAlong(root, fromPointer(operation.from))
  const [error] = applyPatch(root, [operation])
  if (error) throw new PatchError(index, `${operation.op} ${operation.path}: ${reasonOf(error)}`)
  return root
}

const reasonOf = (error: Error): string =>
  error.name === 'MissingError'
    ? 'nothing stands there'
    : error.name === 'TestError'
      ? 'another value stands there'
      : error.message

function copyAlong(value: Json, path: readonly string[]): Json {
  if (Array.isArray(value)) {
    const copy = [...(value as readonly Json[])]
    const [key, ...rest] = path
    const n = Number(key)
    if (rest.length > 0 && copy[n] !== undefined) copy[n] = copyAlong(copy[n], rest)
    return copy
  }
  if (!isObject(value)) return value
  const copy: Record<string, Json> = { ...value }
  const [key, ...rest] = path
  const child = key === undefined ? undefined : own(copy, key)
  if (key !== undefined && rest.length > 0 && child !== undefined) copy[key] = copyAlong(child, rest)
  return copy
}

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

function patchProblems(site: Site, data: Json): Problem[] {
  const viewports = site.viewports.map((v) => v.name)
  const at = (pointer: string) => site.locate(pointer)
  const bySchema = checkSchema(data, viewports).map((p) => ({
    ...at(toPointer(p.path)),
    code: p.code,
    message: p.message,
  }))
  if (bySchema.length > 0) return bySchema
  return checkNames(data as unknown as SiteData).map((p) => ({ ...at(p.pointer), code: p.code, message: p.message }))
}
