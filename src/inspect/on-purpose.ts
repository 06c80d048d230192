import { fromPointer, isObject, own, toPointer, type Json } from '../model/json.js'
import type { Operation, Patch } from '../model/patch.js'
import type { PropertyPath } from '../model/facets.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import type { Layout } from '../model/site-data.js'
import { readSettings } from '../resolve/settings.js'
import type { Template } from '../resolve/templates.js'

/** Layers at which a person decides for these pages, unlike the site's defaults. */
const DELIBERATE: ReadonlySet<string> = new Set(['template', 'assign', 'page'])
/** Parts that a fix must not show again on its own. */
const BROUGHT_BACK: readonly PropertyPath[] = ['header.presence', 'footer.presence', 'title.presence']
/** Lists of things that a visitor sees or can click; gaps in `arrange` do not count. */
const LISTS_OF_ITEMS: ReadonlySet<string> = new Set(['items', 'rows', 'social', 'menus', 'body', 'links', 'columns'])

/**
 * Whether a patch undoes what somebody set on purpose: it brings back a header, footer or title that a page, template or
 * assign entry removes, or removes an item or link that a visitor can see. Only a person decides that.
 */
export const undoesOnPurpose = (patch: Patch, resolved: ResolvedSite): boolean =>
  patch.some((operation) => removesItem(operation) || bringsBack(operation, resolved))

function removesItem({ op, path }: Operation): boolean {
  if (op !== 'remove') return false
  const around = fromPointer(path).slice(0, -1)
  const list = around.at(-1) ?? ''
  return LISTS_OF_ITEMS.has(list) || around.at(-2) === 'menus'
}

function bringsBack(operation: Operation, resolved: ResolvedSite): boolean {
  if (!('value' in operation)) return false
  return leavesOf(operation).some(({ path, value }) => {
    const [section, id = '', , ...rest] = path
    const property = BROUGHT_BACK.find((each) => each === rest.slice(0, 2).join('.'))
    if (!property || value !== 'shown' || path[2] !== 'layout') return false
    if (section === 'pages')
      return resolved.site.pageData(id) !== undefined && isRemovedOnPurpose(resolved, id, property)
    if (section === 'kinds') return isRemoved(own(resolved.site.data.kinds, id)?.layout, property)
    return section === 'templates' && isRemovedBy(resolved.templates.get(id), property)
  })
}

function isRemovedOnPurpose(resolved: ResolvedSite, id: string, property: PropertyPath): boolean {
  const page = resolved.page(id)
  if (page.dormant) return false
  return resolved.site.viewports.some(({ name }) => {
    const view = page.at(name)
    return view.presence(property) !== 'shown' && DELIBERATE.has(view.decidedBy(property)?.layer ?? '')
  })
}

/** Whether a kind's settings remove a part. */
function isRemoved(layout: Layout | undefined, property: PropertyPath): boolean {
  const value = readSettings(layout, '').values.get(property)?.value
  return value !== undefined && value !== 'shown'
}

const isRemovedBy = (template: Template | undefined, property: PropertyPath): boolean => {
  const value = template?.settings.values.get(property)?.value
  return value !== undefined && value !== 'shown'
}

/** A value with its path in the document. */
interface Leaf {
  readonly path: readonly string[]
  readonly value: Json
}

/** The values that an operation sets, each with its whole path; a removal has its own path alone. */
function leavesOf(operation: Operation): readonly Leaf[] {
  const open: Leaf[] = [{ path: fromPointer(operation.path), value: 'value' in operation ? operation.value : null }]
  const leaves: Leaf[] = []
  for (let next = open.pop(); next; next = open.pop()) {
    const { path, value } = next
    if (!isObject(value)) leaves.push(next)
    else for (const [key, inner] of Object.entries(value)) open.push({ path: [...path, key], value: inner as Json })
  }
  return leaves
}

/** Whether a patch sets the same override on several pages. */
export function repeatsOverride(patch: Patch): boolean {
  const pages = new Map<string, Set<string>>()
  for (const operation of patch)
    for (const { path, value } of leavesOf(operation)) {
      const [section, id = '', ...rest] = path
      if (section !== 'pages' || rest[0] !== 'layout' || operation.op === 'remove') continue
      const key = JSON.stringify([rest, value])
      pages.set(key, (pages.get(key) ?? new Set()).add(id))
    }
  return [...pages.values()].some(({ size }) => size > 1)
}

/** A setting of a layout that a patch gives a value. */
export interface PatchedSetting {
  /** Pointer in the document. */
  readonly pointer: string
  readonly value: Json
}

/** The settings that a patch gives a value. */
export const settingsIn = (patch: Patch): readonly PatchedSetting[] =>
  patch
    .filter(({ op }) => op !== 'remove')
    .flatMap(leavesOf)
    .filter(({ path }) => path.includes('layout'))
    .map(({ path, value }) => ({ pointer: toPointer(path), value }))
