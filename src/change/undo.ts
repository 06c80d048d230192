import { isEqual as equal } from 'es-toolkit'
import { fromPointer, toPointer, valueAt, type Json } from '../model/json.js'
import { EditedDocument } from '../model/edited-document.js'
import { measuredAside, type Operation, type Patch } from '../model/patch.js'
import type { Site } from '../model/site.js'
import { writtenValue } from './written-value.js'

/**
 * The patch that takes a patch back: applied to the patched site it gives the site's document as it was.
 *
 * @throws {PatchError} When the patch does not apply.
 * @example
 * undoPatch(resolved.site, [{ op: 'add', path: '/pages/visit/kind', value: 'event' }]) // => [{ op: 'remove', path: '/pages/visit/kind' }]
 */
export function undoPatch(site: Site, patch: Patch): Patch {
  const edited = new EditedDocument(site.data as unknown as Json)
  const steps: Patch[] = []
  ;[...patch, ...measuredAside(site, patch)].forEach((operation, index) => {
    edited.expect(operation, index)
    steps.push(inverse(site, edited.value, operation))
    edited.apply(operation, index)
  })
  return steps.reverse().flat()
}

function inverse(site: Site, before: Json, operation: Operation): Patch {
  const { op, path } = operation
  const old = valueAt(before, path)
  switch (op) {
    case 'test':
      return []
    case 'replace':
    case 'remove':
      return [{ op: op === 'remove' ? 'add' : 'replace', path, value: asWritten(site, path, old) }]
    case 'move': {
      const back: Patch = [{ op: 'move', from: path, path: operation.from }]
      return isMember(before, path) && old !== undefined ? [...back, { op: 'add', path, value: old }] : back
    }
    case 'add':
    case 'copy':
      return isMember(before, path) && old !== undefined
        ? [{ op: 'replace', path, value: asWritten(site, path, old) }]
        : [{ op: 'remove', path: placeOf(before, path) }]
  }
}

/** The value as people wrote it, where it is still in its place. */
function asWritten(site: Site, path: string, value: Json | undefined): Json {
  const written = equal(valueAt(site.data as unknown as Json, path), value) ? writtenValue(site, path) : value
  return written ?? null
}

const holderOf = (document: Json, path: string): Json | undefined =>
  valueAt(document, toPointer(fromPointer(path).slice(0, -1)))

/** Whether a pointer names a key of an object, and not a place in a list, where adding moves the rest along. */
const isMember = (document: Json, path: string): boolean => !Array.isArray(holderOf(document, path))

/** Where an added value is: `-` is the end of a list. */
function placeOf(before: Json, path: string): string {
  const keys = fromPointer(path)
  const holder = holderOf(before, path)
  if (!Array.isArray(holder) || keys.at(-1) !== '-') return path
  return toPointer([...keys.slice(0, -1), String(holder.length)])
}
