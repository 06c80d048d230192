import { isObject, own, toPointer, type Json, type JsonObject } from '../model/json.js'
import type { Operation, Patch } from '../model/patch.js'
import type { PropertyPath } from '../model/facets.js'
import type { Site } from '../model/site.js'

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

export const pagesInWords = (pages: readonly string[]): string =>
  pages.length === 1 ? `the page ${pages[0]}` : `these ${pages.length} pages`
