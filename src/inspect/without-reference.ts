import { fromPointer, toPointer, valueAt, type Json } from '../model/json.js'
import type { Site } from '../model/site.js'
import { removeAt } from './propose.js'
import type { Proposal } from './rule.js'

/** Choices that remove a reference, together with anything that needs it. */
export function withoutReference(site: Site, at: string): readonly Proposal[] {
  const path = fromPointer(at)
  const [section] = path
  const root = site.data as unknown as Json
  // These are choices: the name may be misspelled, or the thing not written yet.
  const remove = (pointer: string, title: string): Proposal[] => [
    { title, patch: removeAt(site, pointer), choice: true },
  ]
  if (section === 'menus') return remove(toPointer(path.slice(0, 3)), 'remove the menu entry')
  const where = path.findIndex((key) => key === 'where' || key === 'except')
  if (section === 'assign' && where === -1) return remove(toPointer(path.slice(0, 2)), 'remove the entry')
  if (where !== -1) return withoutSelector(site, path, where)
  if (
    path.includes('layout') ||
    ['template', 'sendTo', 'parent', 'image', 'base', 'copyOf', 'builder'].includes(path.at(-1) as string)
  ) {
    const inItem = path.includes('body') || path.includes('items') || path.includes('arrange')
    if (inItem && path.at(-1) === 'image' && !path.includes('background'))
      return remove(toPointer(path.slice(0, -1)), 'remove the item')
    return remove(at, 'remove the reference')
  }
  const around = valueAt(root, toPointer(path.slice(0, -1)))
  if (Array.isArray(around)) return remove(at, 'remove the reference')
  return []
}

/** Removes a name from its list of values, else the selector from its list, else the entry. */
function withoutSelector(site: Site, path: readonly string[], where: number): readonly Proposal[] {
  const root = site.data as unknown as Json
  const steps = [path.length - 1, where + 1, where - 1].map((depth) => path.slice(0, depth + 1))
  for (const step of steps) {
    const list = valueAt(root, toPointer(step.slice(0, -1)))
    if (Array.isArray(list) && (list.length > 1 || step.length <= 2))
      return [{ title: 'remove the selector', patch: [{ op: 'remove', path: toPointer(step) }], choice: true }]
  }
  return []
}
