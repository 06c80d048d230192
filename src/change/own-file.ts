import { EditedDocument } from '../model/edited-document.js'
import { fromPointer, isObject, toPointer, valueAt, type Json } from '../model/json.js'
import { placeIn, originOf, type Origin } from '../model/origin.js'
import type { Operation } from '../model/patch.js'
import { SiteError } from '../model/problem.js'
import { readSite } from '../model/read-site.js'
import { sectionsWith } from '../model/sections.js'
import { sitePartsOf, type Site } from '../model/site.js'
import type { Source } from '../model/source.js'
import { EditError, type TextOperation } from './edit-text.js'

/** Lists to which every file adds: an entry of one file cannot be changed from another. */
const LISTS = new Set<string>(sectionsWith('holds', 'list'))

/** A place in one of the site's own files, and what is to be there: `null` takes away what lies underneath. */
export interface Overlay {
  readonly source: Source
  /** Pointer in that file. */
  readonly pointer: string
  /** Pointer in the merged document; above that of the operation where a whole list is replaced. */
  readonly path: string
  readonly value: Json
  /** Pointer in that file to what the merged document has there; default `pointer`. */
  readonly origin?: string
}

/** Whether a file is underneath the site's own and the files that it includes. */
export const isUnderneath = (site: Site, { file }: Source): boolean => (sitePartsOf(site).nearness.get(file) ?? 0) > 0

/**
 * What to write into a site's own files so that an operation on what a file underneath sets has its effect here alone.
 *
 * @throws {EditError} For an entry of a list to which every file adds.
 */
export function overlayOf(site: Site, document: Json, origin: Origin, operation: Operation): Overlay {
  const keys = fromPointer(operation.path)
  const [section = '', position] = keys
  if (LISTS.has(section)) {
    const entries = valueAt(document, toPointer([section]))
    const length = Array.isArray(entries) ? entries.length : 0
    const isNew = operation.op === 'add' && keys.length === 2 && (position === '-' || Number(position) === length)
    if (isNew) {
      // The entries of the site's own files come after those from underneath.
      const own = ownPlace(site, origin, [section])
      const path = toPointer([section, String(length)])
      return { ...own, path, value: [operation.value as Json], origin: `${own.pointer}/0` }
    }
    const { source } = placeIn(origin, keys)
    throw new EditError(`${source.file} lies underneath, and other sites may extend it: --base writes into it`)
  }
  const depth = keys.findIndex((_, n) => Array.isArray(valueAt(document, toPointer(keys.slice(0, n)))))
  const holder = depth < 0 ? keys : keys.slice(0, depth)
  let value: Json = 'value' in operation ? (operation.value as Json) : null
  if (depth >= 0) {
    const edited = new EditedDocument(valueAt(document, toPointer(holder)) as Json)
    edited.apply({ ...operation, path: toPointer(keys.slice(depth)) } as Operation, 0)
    value = edited.value
  }
  return { ...ownPlace(site, origin, holder), path: toPointer(holder), value }
}

/** Where a path would be written in the site's own files: in the one that has most of the way there. */
function ownPlace(site: Site, origin: Origin, path: readonly string[]): { source: Source; pointer: string } {
  for (let depth = path.length; depth > 0; depth--) {
    const around = path.slice(0, depth)
    if (originOf(origin, around).depth < depth) continue
    const { source, pointer } = placeIn(origin, around)
    if (!isUnderneath(site, source)) return { source, pointer: pointer + toPointer(path.slice(depth)) }
  }
  const source = site.sources.find(({ file }) => file === site.file)
  if (!source) throw new EditError('the site has no file of its own')
  return { source, pointer: toPointer(path) }
}

/** An operation that adds a value with the maps around it that a file does not have yet. */
export function withParents(root: Json, operation: TextOperation): TextOperation {
  if (operation.op === 'remove') return operation
  const keys = fromPointer(operation.path)
  let depth = keys.length - 1
  while (depth > 0 && valueAt(root, toPointer(keys.slice(0, depth))) === undefined) depth--
  if (depth === keys.length - 1) return operation
  const value = keys.slice(depth + 1).reduceRight<Json>((inside, key) => ({ [key]: inside }), operation.value)
  return { op: 'add', path: toPointer(keys.slice(0, depth + 1)), value }
}

/**
 * A removal of what an own file no longer needs to set: of a value that lies underneath as well, or that is to go where
 * nothing lies underneath; with the maps around it that are empty then and lie underneath. `undefined` for other operations.
 *
 * @param path - Pointer in the merged document; `pointer` in the own file.
 */
export function withoutOverlay(
  underneath: Json,
  root: Json,
  { path, value }: { readonly path: string; readonly value: Json | undefined },
  pointer: string,
): TextOperation | undefined {
  if (valueAt(root, pointer) === undefined) return undefined
  if (JSON.stringify(valueAt(underneath, path)) !== JSON.stringify(value)) return undefined
  const [keys, merged] = [fromPointer(pointer), fromPointer(path)]
  while (keys.length > 2) {
    const around = valueAt(root, toPointer(keys.slice(0, -1)))
    const isBelow = isObject(valueAt(underneath, toPointer(merged.slice(0, -1))))
    if (!isBelow || !isObject(around) || Object.keys(around).length > 1) break
    keys.pop()
    merged.pop()
  }
  return { op: 'remove', path: toPointer(keys) }
}

/** The document of the files underneath a site's own; `undefined` where it extends none. */
export function documentUnderneath(site: Site): Json | undefined {
  const own = site.sources.find(({ file }) => file === site.file)?.value
  if (!isObject(own)) return undefined
  const extended = own['extends']
  if (!Array.isArray(extended) || extended.length === 0) return undefined
  const { viewports, tokens } = own as { readonly viewports?: Json; readonly tokens?: Json }
  const shell = { wembra: 1, site: { name: '' }, extends: extended, theme: {}, pages: {}, viewports, tokens }
  try {
    const { data } = readSite(JSON.stringify(shell), {
      file: site.file.replace(/\.ya?ml$/, '.json'),
      files: site.files,
    })
    return data as unknown as Json
  } catch (error) {
    // Files that are no site without this one set nothing by themselves.
    if (error instanceof SiteError) return undefined
    throw error
  }
}
