import { setAt } from '../inspect/propose.js'
import { toPointer } from '../model/json.js'
import type { Patch } from '../model/patch.js'
import type { Item } from '../model/site-data.js'
import type { ResolvedPage } from '../resolve/page.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { spread, type Cause, type DriftGroup } from './cause.js'

/** Changes of a page's own sections. */
export function* inBody(
  now: ResolvedSite,
  pages: readonly ResolvedPage[],
  what: string,
  group: DriftGroup,
): Generator<Cause> {
  const [id = '', name = ''] = [what.slice(0, what.lastIndexOf('.')), what.slice(what.lastIndexOf('.') + 1)]
  for (const page of pages) {
    const path = sectionPath(page.data.body as readonly Item[] | undefined, id, ['pages', page.id, 'body'])
    const insert = (now.site.data.inserts ?? []).findIndex((each) => each.id === id)
    const holder = path ?? (insert >= 0 ? ['inserts', String(insert)] : undefined)
    if (!holder) {
      if (what === 'sections')
        yield { title: 'other sections', at: toPointer(['pages', page.id, 'body']), patch: withoutUnseen(page, group) }
      continue
    }
    const key = { height: ['height'], width: ['maxWidth'], background: ['background', 'color'] }[name]
    if (!key) continue
    for (const value of spread(now, group.seen, (v) => v, [page.id], group.property))
      yield {
        title: `the section ${id} has another ${name}`,
        at: toPointer(holder),
        patch: setAt(now.site, [...holder, ...key], value),
      }
  }
}

function withoutUnseen(page: ResolvedPage, { seen }: DriftGroup): Patch {
  const there = new Set([...seen.values()].flat() as string[])
  return (page.data.body ?? [])
    .flatMap((item, n) => (item.section !== undefined && !there.has(item.section) ? [n] : []))
    .reverse()
    .map((n) => ({ op: 'remove' as const, path: toPointer(['pages', page.id, 'body', String(n)]) }))
}

/** Where a section is, at any depth. */
function sectionPath(
  items: readonly Item[] | undefined,
  id: string,
  path: readonly string[],
): readonly string[] | undefined {
  for (const [n, item] of (items ?? []).entries()) {
    const here = [...path, String(n)]
    if (item.section === id) return here
    const lists = [
      [item.items, [...here, 'items']] as const,
      ...(item.columns ?? []).map((c, i) => [c.items, [...here, 'columns', String(i), 'items']] as const),
    ]
    for (const [list, at] of lists) {
      const found = sectionPath(list, id, at)
      if (found) return found
    }
  }
  return undefined
}
