import { fromPointer, own, toPointer, type Json } from '../model/json.js'
import type { Patch } from '../model/patch.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { freeName } from './free-name.js'
import { usesOf } from './uses.js'

/** A shared surround that a patch edits, with the pages that show it. */
export interface SharedEdit {
  readonly surround: string
  readonly pages: readonly string[]
}

/** The surrounds that a patch edits and that more than one page shows. */
export function sharedEdits(resolved: ResolvedSite, patch: Patch): readonly SharedEdit[] {
  const ids = new Set(
    patch.flatMap(({ path }) => {
      const [section, id, key] = fromPointer(path)
      return section === 'surrounds' && id !== undefined && key !== undefined ? [id] : []
    }),
  )
  return [...ids].flatMap((surround) => {
    if (!own(resolved.site.data.surrounds, surround)) return []
    const pages = usesOf(resolved, 'surround', surround).changes
    return pages.length > 1 ? [{ surround, pages }] : []
  })
}

/**
 * The same edit for some pages alone: the surround is copied, the copy edited, and these pages pointed to it.
 *
 * @returns `undefined` where the patch edits more than one shared surround, or something else as well.
 */
export function copyInstead(resolved: ResolvedSite, patch: Patch, pages: readonly string[]): Patch | undefined {
  const [edit, ...more] = sharedEdits(resolved, patch)
  const { surrounds } = resolved.site.data
  const surround = edit && own(surrounds, edit.surround)
  const isOnly = patch.every(
    ({ path }) => fromPointer(path)[1] === edit?.surround && fromPointer(path)[0] === 'surrounds',
  )
  if (!edit || !surround || more.length > 0 || !isOnly) return undefined
  const copy = freeName(`${edit.surround}-${pages[0] ?? 'copy'}`, (name) => own(surrounds, name) !== undefined)
  const own_ = patch.map(
    ({ path }) =>
      fromPointer(path)
        .slice(2)
        .find((key) => !/^(rows|items|\d+)$/.test(key)) ?? 'rows',
  )
  const data = { ...surround, copyOf: edit.surround, own: [...new Set(own_)] } as unknown as Json
  const moved = patch.map((operation) => {
    const path = toPointer(['surrounds', copy, ...fromPointer(operation.path).slice(2)])
    return { ...operation, path } as Patch[number]
  })
  return [
    { op: 'add', path: toPointer(['surrounds', copy]), value: data },
    ...moved,
    ...(resolved.site.data.assign ? [] : [{ op: 'add' as const, path: '/assign', value: [] }]),
    { op: 'add', path: '/assign/-', value: { use: copy, where: [{ page: [...pages] }] } },
  ]
}
