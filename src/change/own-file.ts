import { isEqual } from 'es-toolkit'
import { EditedDocument } from '../model/edited-document.js'
import { fromPointer, isObject, toPointer, valueAt, type Json } from '../model/json.js'
import { placeIn, originOf, type Origin } from '../model/origin.js'
import type { Operation } from '../model/patch.js'
import { SiteError } from '../model/problem.js'
import { readSite } from '../model/read-site.js'
import { JOINED_LISTS } from '../model/sections.js'
import { sitePartsOf, type Site } from '../model/site.js'
import type { Source } from '../model/source.js'
import { EditError, type TextOperation } from './edit-text.js'

/** A value to write into one of the site's own files; `null` removes the value of an extended file. */
export interface Overlay {
  readonly source: Source
  /** Pointer in that file. */
  readonly pointer: string
  /** Pointer in the merged document; that of the whole list if an operation changes one of its entries. */
  readonly path: string
  readonly value: Json
  /** Pointer in that file to what the merged document has there; default `pointer`. */
  readonly origin?: string
}

/** Whether a file is one that the site extends, directly or not. */
export const isUnderneath = (site: Site, { file }: Source): boolean => (sitePartsOf(site).nearness.get(file) ?? 0) > 0

/**
 * Translates an operation on a value of an extended file to one in the site's own files, so that other sites that extend
 * the file do not change.
 *
 * @throws {EditError} For an entry of a list that is joined from all files.
 */
export function overlayOf(site: Site, document: Json, origin: Origin, operation: Operation): Overlay {
  const keys = fromPointer(operation.path)
  const [section = '', position] = keys
  if (JOINED_LISTS.has(section)) {
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

/** The place for a path in the site's own files: in the file that has the longest part of the path. */
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

/** Extends an operation to add the parent maps that a file does not have yet. */
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
 * The removal of a value from an own file if the extended files already give the wanted result, together with parent maps
 * that become empty. `undefined` if the value must stay.
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
  if (!isEqual(valueAt(underneath, path), value)) return undefined
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

/** The merged document of the extended files alone; `undefined` if there are none. */
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
    // The extended files may not form a valid site by themselves.
    if (error instanceof SiteError) return undefined
    throw error
  }
}
