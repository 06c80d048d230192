import { WembraError } from '../model/wembra-error.js'
import { didYouMean } from '../model/did-you-mean.js'
import { fromPointer, own, toPointer, type Json, type JsonObject } from '../model/json.js'
import type { Operation, Patch } from '../model/patch.js'
import { sectionsWith } from '../model/sections.js'
import type { Site } from '../model/site.js'
import { setAt } from '../inspect/propose.js'

/** Thrown for a path of the site document that does not exist. */
export class PathError extends WembraError {
  override readonly name = 'PathError'
  readonly code = 'path'
}

/** The keys of `templates.campaign.layout.width.max`, or of a JSON Pointer, which may hold ids with dots. */
export const keysOf = (path: string): readonly string[] => (path.startsWith('/') ? fromPointer(path) : path.split('.'))

/** Sections that people change by path. */
const SETTABLE: readonly string[] = sectionsWith('isSettable', true)

/**
 * A patch that sets a path of the site document.
 *
 * @throws {PathError} When it begins or goes on with what is not there.
 * @example
 * setPath(resolved.site, 'pages.visit.kind', 'event') // => [{ op: 'add', path: '/pages/visit/kind', value: 'event' }]
 */
export function setPath(site: Site, path: string, value: Json): Patch {
  const keys = keysOf(path)
  const [section = '', id] = keys
  if (!SETTABLE.includes(section)) throw unknownPath(path, section, SETTABLE)
  const entries = own(site.data as unknown as JsonObject, section)
  // What is set in something new would be a thing of its own that nothing uses.
  if (['templates', 'pages', 'surrounds', 'builders'].includes(section) && id !== undefined) {
    const ids = Object.keys((entries ?? {}) as JsonObject)
    if (keys.length > 2 && !ids.includes(id)) throw unknownPath(path, id, ids)
  }
  return setAt(site, keys, value)
}

/** A patch that removes a path of the site document. @throws {PathError} When it does not exist. */
export function unsetPath(site: Site, path: string): Operation[] {
  let here: Json | undefined = site.data as unknown as JsonObject
  for (const key of keysOf(path)) {
    const next: Json | undefined = Array.isArray(here)
      ? (here as readonly Json[])[Number(key)]
      : own((here ?? {}) as JsonObject, key)
    if (next === undefined) throw unknownPath(path, key, Object.keys((here ?? {}) as JsonObject))
    here = next
  }
  return [{ op: 'remove', path: toPointer(keysOf(path)) }]
}

function unknownPath(path: string, key: string, known: readonly string[]): PathError {
  const meant = didYouMean(key, known)
  const hint = meant ? `did you mean "${meant}"?` : `there are: ${known.slice(0, 12).join(', ')}`
  return new PathError(`"${path}" does not exist: there is no "${key}"; ${hint}`)
}
