import { distance } from 'fastest-levenshtein'
import { pageAnswering } from '../inspect/links.js'
import { setAt } from '../inspect/propose.js'
import { own, toPointer, type Json } from '../model/json.js'
import type { Item } from '../model/site-data.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { spread, type Cause, type DriftGroup } from './cause.js'
import type { Comparer, Discrepancy } from './compare.js'
import type { OutlineNode } from './observation.js'
import { folded, textsIn } from './seen-words.js'

/** Changes of a shared header or footer itself: its height, its menus, its words. */
export function* inSurround(
  now: ResolvedSite,
  comparer: Comparer,
  group: DriftGroup,
  facet: 'header' | 'footer',
  open: readonly Discrepancy[],
): Generator<Cause> {
  const { site } = now
  const [, name] = group.property.split('.')
  const first = group.pages.map((id) => now.page(id)).find((page) => !page.dormant)
  if (!first) return
  if (name === 'height') yield* everyHeight(now, comparer, facet, open)
  const uses = new Set(site.viewports.map(({ name: viewport }) => first.at(viewport).value(`${facet}.use`)))
  for (const id of uses) {
    const surround = typeof id === 'string' ? own(site.data.surrounds, id) : undefined
    if (!surround || typeof id !== 'string') continue
    const at = toPointer(['surrounds', id])
    const title = `the ${facet} ${id} itself`
    if (name === 'height')
      yield {
        title: `${title} has another height`,
        at,
        patch: setAt(site, ['surrounds', id, 'measured'], seenHeights(now, comparer, facet, group.pages[0])),
      }
    if (name === 'background' || name === 'ink')
      for (const value of spread(now, group.seen, (v) => v, group.pages, group.property))
        yield {
          title: `${title} has another ${name}`,
          at: `${at}/${name}`,
          patch: setAt(site, ['surrounds', id, name], value),
        }
    const items = (surround.rows ?? []).flatMap((row, r) =>
      (row.items ?? []).map((item, i) => ({
        item: item as Item,
        path: ['surrounds', id, 'rows', String(r), 'items', String(i)],
      })),
    )
    if (name === 'links')
      yield* ofMenus(
        now,
        comparer,
        group,
        facet,
        items.map(({ item }) => item),
      )
    if (name === 'words') yield* ofWords(now, comparer, group, facet, items)
  }
}

/** A bar's height at each viewport, as it is seen on a page. */
const seenHeights = ({ site }: ResolvedSite, comparer: Comparer, facet: 'header' | 'footer', page = ''): Json =>
  Object.fromEntries(
    site.viewports.flatMap(({ name }) => {
      const part = comparer.observationsOf(page).find((o) => o.viewport?.name === name)?.parts[facet]
      return part?.presence === 'shown' && part.box ? [[name, part.box.height]] : []
    }),
  )

/** One rule of a real style sheet changes the heights of several bars, of which the site file has each. */
function* everyHeight(
  now: ResolvedSite,
  comparer: Comparer,
  facet: 'header' | 'footer',
  open: readonly Discrepancy[],
): Generator<Cause> {
  const pageOf = new Map<string, string>()
  for (const { page, viewport, property } of open) {
    const use = property === `${facet}.height` ? now.page(page).at(viewport).value(`${facet}.use`) : undefined
    if (typeof use === 'string' && !pageOf.has(use)) pageOf.set(use, page)
  }
  if (pageOf.size < 2) return
  yield {
    title: `the ${facet}s ${[...pageOf.keys()].join(', ')} themselves have another height`,
    at: toPointer(['surrounds', [...pageOf.keys()][0] ?? '']),
    patch: [...pageOf].flatMap(([id, page]) =>
      setAt(now.site, ['surrounds', id, 'measured'], seenHeights(now, comparer, facet, page)),
    ),
  }
}

function* ofMenus(
  now: ResolvedSite,
  comparer: Comparer,
  group: DriftGroup,
  facet: 'header' | 'footer',
  items: readonly Item[],
): Generator<Cause> {
  const { site } = now
  const [page = ''] = group.pages
  const labels = new Map(
    comparer
      .observationsOf(page)
      .flatMap(({ parts }) => linksIn(parts[facet]?.outline ?? []).map(({ label, url }) => [url, label] as const)),
  )
  const front = site.data.purposes?.front
  const pathOf = (id: string): string => (id === front ? '/' : (site.pageData(id)?.path ?? ''))
  const links = ([...group.seen.values()].flat() as string[]).filter((link, n, all) => all.indexOf(link) === n)
  const expected = new Set(group.discrepancies.flatMap((d) => d.expected as readonly string[]))
  for (const { menu } of items) {
    if (menu === undefined) continue
    const entries = own(site.data.menus, menu) ?? []
    const stays = entries.filter((entry) =>
      links.includes(entry.page === undefined ? (entry.url ?? '') : pathOf(entry.page)),
    )
    const added = links
      .filter((link) => !expected.has(link))
      .map((link) => {
        const id = pageAnswering(now.site, link)
        const label = [...labels].find(([url]) => url.endsWith(link))?.[1] ?? link
        return id === undefined ? { label, url: link } : { label, page: id }
      })
    yield {
      title: `the menu ${menu} has other entries`,
      at: toPointer(['menus', menu]),
      patch: setAt(site, ['menus', menu], [...stays, ...added] as unknown as Json),
    }
  }
}

const linksIn = (nodes: readonly OutlineNode[]): readonly { label: string; url: string }[] =>
  nodes.flatMap((node) => [...(node.links ?? []), ...linksIn(node.items ?? [])])

function* ofWords(
  now: ResolvedSite,
  comparer: Comparer,
  group: DriftGroup,
  facet: 'header' | 'footer',
  items: readonly { item: Item; path: readonly string[] }[],
): Generator<Cause> {
  const [page = ''] = group.pages
  const texts = new Set(comparer.observationsOf(page).flatMap(({ parts }) => textsIn(parts[facet]?.outline ?? [])))
  const expected = new Set(items.flatMap(({ item }) => (item.text === undefined ? [] : folded(item.text))))
  const fresh = [...texts].filter((text) => !expected.has(text))
  for (const { item, path } of items) {
    if (item.text === undefined || texts.has(folded(item.text))) continue
    const [nearest] = fresh.sort((a, b) => distance(a, item.text ?? '') - distance(b, item.text ?? ''))
    const at = toPointer([...path, 'text'])
    if (nearest !== undefined)
      yield { title: `its text is “${nearest}”`, at, patch: setAt(now.site, [...path, 'text'], nearest) }
    yield { title: 'it is missing', at, patch: [{ op: 'remove', path: toPointer(path) }] }
  }
}
