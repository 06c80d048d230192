import { pageAnswering } from '../inspect/links.js'
import { distance } from 'fastest-levenshtein'
import { removeAt, setAt } from '../inspect/propose.js'
import { isPropertyPath, definitionOf, isFacet } from '../model/facets.js'
import { own, toPointer, type Json } from '../model/json.js'
import type { Patch } from '../model/patch.js'
import type { Item } from '../model/site-data.js'
import type { ResolvedPage } from '../resolve/page.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import type { Comparer, Discrepancy } from './compare.js'
import type { OutlineNode } from './observation.js'
import { folded, textsIn } from './seen-words.js'

/** A single change of the site file that would make some pages what they really are. */
export interface Cause {
  readonly title: string
  readonly patch: Patch
  /** What in the site file it would change. */
  readonly at: string
}

/** Pages on which the same is seen of a property. */
export interface DriftGroup {
  readonly property: string
  readonly pages: readonly string[]
  readonly discrepancies: readonly Discrepancy[]
  /** What is seen, by viewport; the same on all its pages. */
  readonly seen: ReadonlyMap<string, Json>
}

/** Changes that might make a group's pages what they are; those nearest to what decides now come first. */
export function* candidates(now: ResolvedSite, comparer: Comparer, group: DriftGroup): Generator<Cause> {
  const { property } = group
  const [first = '', second = ''] = property.split('.')
  const pages = group.pages.map((id) => now.page(id))
  for (const { path, value } of settingsFor(now, group)) yield* atLayers(now, pages, path, value)
  if ((first === 'header' || first === 'footer') && second !== 'presence' && second !== 'position') {
    yield* inSurround(now, comparer, group, first)
    for (const [id, surround] of Object.entries(now.site.data.surrounds ?? {}))
      if (surround.as === first) yield* atLayers(now, pages, `${first}.use`, id)
  }
  if (first === 'body') yield* inBody(now, pages, property.slice(5), group)
  if (property === 'title.words')
    yield {
      title: 'another title',
      at: `/pages/${group.pages[0]}/title`,
      patch: group.pages.flatMap((id) => setAt(now.site, ['pages', id, 'title'], [...group.seen.values()][0] ?? '')),
    }
  if (property === 'page.presence')
    for (const status of ['draft', 'published'])
      yield {
        title: `${group.pages.join(', ')} ${group.pages.length === 1 ? 'is' : 'are'} ${status}`,
        at: toPointer(['pages', group.pages[0] ?? '', 'status']),
        patch: group.pages.flatMap((id) => setAt(now.site, ['pages', id, 'status'], status)),
      }
  if (property === 'page.ground') yield* ofGround(now, pages, group)
  yield* otherTemplates(now, pages)
}

const wordsOfValue = (value: Json): string => (typeof value === 'string' ? value : JSON.stringify(value))

/** What could be set of a layout so that it shows what is seen. */
function settingsFor(
  now: ResolvedSite,
  { property, seen, pages }: DriftGroup,
): readonly { path: string; value: Json }[] {
  const [facet = '', name = ''] = property.split('.')
  const widths = new Map(now.site.viewports.map((v) => [v.name, v.width]))
  const values = [...seen]
  const each = (to: (value: Json, viewport: string) => Json): readonly Json[] => spread(now, seen, to, pages, property)
  const say = (path: string, to: (value: Json, viewport: string) => Json = (value) => value) =>
    each(to).map((value) => ({ path, value }))
  if (property === 'width.container') {
    const isFull = values.every(([viewport, value]) => value === widths.get(viewport))
    const gutters = say('width.gutter', (value, viewport) =>
      Math.max(0, ((widths.get(viewport) ?? 0) - Number(value)) / 2),
    )
    return [
      ...(isFull ? [{ path: 'width.mode', value: 'full' }] : [{ path: 'width.mode', value: 'boxed' }]),
      ...say('width.max'),
      ...gutters,
    ]
  }
  if (property === 'width.column') return say('width.columnMax')
  if (property === 'comments.width') return say('comments.maxWidth')
  if (property === 'sidebar.presence') {
    const gone = values.every(([, value]) => value === 'absent' || value === 'hidden')
    return [
      ...(gone
        ? [{ path: 'sidebar.side', value: 'none' }]
        : ['right', 'left'].map((value) => ({ path: 'sidebar.side', value }))),
      ...say(property),
    ]
  }
  if (property === 'sidebar.side' && values.some(([, value]) => value === 'below'))
    return [...widths.values()].map((width) => ({ path: 'sidebar.stackAt', value: `${width}px` }))
  if (property === 'header.height' || property === 'footer.height' || !isFacet(facet)) return []
  return definitionOf(`${facet}.${name}`) ? say(property) : []
}

/** A value for all viewports, and one that is set only where it is seen. */
function spread(
  now: ResolvedSite,
  seen: ReadonlyMap<string, Json>,
  to: (value: Json, viewport: string) => Json,
  pages: readonly string[],
  property: string,
): readonly Json[] {
  const said = [...seen].map(([viewport, value]) => [viewport, to(value, viewport)] as const)
  const distinct = new Set(said.map(([, value]) => JSON.stringify(value)))
  const plain = distinct.size === 1 && said[0] ? [said[0][1]] : []
  const first = pages[0] === undefined ? undefined : now.page(pages[0])
  if (said.length === now.site.viewports.length && distinct.size === 1) return plain
  const map = new Map(said)
  const all = now.site.viewports.flatMap(({ name }) => {
    const value =
      map.get(name) ??
      (first && !first.dormant && isPropertyPath(property) ? first.at(name).value(property) : undefined)
    return value === undefined || value === null ? [] : [[name, value] as const]
  })
  return [...plain, ...(all.length > 0 ? [Object.fromEntries(all) as Json] : [])]
}

/** A setting at every layer where it could be set for these pages; where it is set now comes first. */
function* atLayers(now: ResolvedSite, pages: readonly ResolvedPage[], path: string, value: Json): Generator<Cause> {
  const { site } = now
  const awake = pages.filter((page) => !page.dormant)
  const keys = path.split('.')
  const title = `${path} ${wordsOfValue(value)}`
  const distinct = <T>(of: (page: ResolvedPage) => T | undefined): readonly T[] => [
    ...new Set(awake.flatMap((page) => of(page) ?? [])),
  ]
  const deciding = new Set(
    isPropertyPath(path)
      ? awake.flatMap((page) => site.viewports.flatMap(({ name }) => page.at(name).decidingPointer(path) ?? []))
      : [],
  )
  for (const at of deciding)
    if (!at.startsWith('/styles') && !at.startsWith('/pages'))
      yield { title: `without ${at}`, at, patch: removeAt(site, at) }
  const holders: (readonly [string, readonly string[]])[] = [
    ...distinct((page) => page.choice.template?.id).map((id) => [`in the template ${id}`, ['templates', id]] as const),
    ...distinct((page) => page.facts.kind)
      .filter((id) => own(site.data.kinds, id))
      .map((id) => [`for kind ${id}`, ['kinds', id]] as const),
    ...distinct((page) => page.facts.builder)
      .filter((id) => own(site.data.builders, id))
      .map((id) => [`for the builder ${id}`, ['builders', id]] as const),
    ['in the theme options', ['theme']],
    ...entriesOn(now, awake).map((index) => [`in assign entry ${index + 1}`, ['assign', String(index)]] as const),
  ]
  const said = holders.map(([where, holder]) => ({ where, path: [...holder, 'layout', ...keys] }))
  const isDeciding = (p: readonly string[]): boolean => deciding.has(toPointer(p))
  for (const each of [...said.filter((s) => isDeciding(s.path)), ...said.filter((s) => !isDeciding(s.path))])
    yield { title: `${title} ${each.where}`, at: toPointer(each.path), patch: setAt(site, each.path, value) }
  const own_ = (id: string): readonly string[] => ['pages', id, 'layout', ...keys]
  const [page] = pages
  const where = pages.length === 1 ? `on the page ${page?.id}` : `on these ${pages.length} pages`
  yield {
    title: `${title} ${where}`,
    at: toPointer(own_(page?.id ?? '')),
    patch: pages.flatMap(({ id }) => setAt(site, own_(id), value)),
  }
  for (const at of deciding)
    if (at.startsWith('/pages')) yield { title: `without the override ${at}`, at, patch: removeAt(site, at) }
}

/** Assign entries that set something on every one of some pages. */
function entriesOn({ assignments }: ResolvedSite, pages: readonly ResolvedPage[]): readonly number[] {
  const sets = pages.map(
    (page) => new Set(assignments.settingsFor(page.facts, page.choice.template?.id ?? null).map((m) => m.entry.index)),
  )
  return assignments.entries.flatMap(({ index, data }) =>
    data.layout && sets.every((set) => set.has(index)) ? [index] : [],
  )
}

/** Changes of a shared header or footer itself: its height, its menus, its words. */
function* inSurround(
  now: ResolvedSite,
  comparer: Comparer,
  group: DriftGroup,
  facet: 'header' | 'footer',
): Generator<Cause> {
  const { site } = now
  const [, name] = group.property.split('.')
  const first = group.pages.map((id) => now.page(id)).find((page) => !page.dormant)
  if (!first) return
  const uses = new Set(site.viewports.map(({ name: viewport }) => first.at(viewport).value(`${facet}.use`)))
  for (const id of uses) {
    const surround = typeof id === 'string' ? own(site.data.surrounds, id) : undefined
    if (!surround || typeof id !== 'string') continue
    const at = toPointer(['surrounds', id])
    const title = `the ${facet} ${id} itself`
    if (name === 'height') {
      const was = new Map(site.viewports.map((v) => [v.name, seenHeight(comparer, group, v.name)]))
      const value = Object.fromEntries([...was].flatMap(([viewport, px]) => (px === undefined ? [] : [[viewport, px]])))
      yield { title: `${title} has another height`, at, patch: setAt(site, ['surrounds', id, 'measured'], value) }
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

/** A bar's height at a viewport: what is seen of it on the group's first page. */
function seenHeight(comparer: Comparer, group: DriftGroup, viewport: string): number | undefined {
  const [facet] = group.property.split('.') as ['header' | 'footer']
  const [page = ''] = group.pages
  const part = comparer.observationsOf(page).find((o) => o.viewport?.name === viewport)?.parts[facet]
  return part?.presence === 'shown' ? part.box?.height : undefined
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

/** Changes of a page's own sections. */
function* inBody(now: ResolvedSite, pages: readonly ResolvedPage[], what: string, group: DriftGroup): Generator<Cause> {
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

function* ofGround(now: ResolvedSite, pages: readonly ResolvedPage[], { seen }: DriftGroup): Generator<Cause> {
  const [color] = [...seen.values()]
  if (typeof color !== 'string') return
  const templates = new Set(pages.flatMap((page) => page.choice.template?.id ?? []))
  yield {
    title: 'another ground',
    at: '/theme/ground/color',
    patch: setAt(now.site, ['theme', 'ground', 'color'], color),
  }
  for (const id of templates)
    yield {
      title: `another ground in the template ${id}`,
      at: toPointer(['templates', id, 'ground', 'color']),
      patch: setAt(now.site, ['templates', id, 'ground', 'color'], color),
    }
}

/** Past so many pages another template on each of them is no single change. */
const FEW_PAGES = 8

/** Other choices of a template, rules that are gone, what is switched off. */
function* otherTemplates(now: ResolvedSite, pages: readonly ResolvedPage[]): Generator<Cause> {
  const { site } = now
  const awake = pages.filter((page) => !page.dormant)
  const ids = [...now.templates.keys(), 'none']
  const rules = new Set(
    awake.flatMap((page) => [
      ...now.assignments.templatesFor(page.facts).map((m) => m.entry.index),
      ...now.assignments.settingsFor(page.facts, page.choice.template?.id ?? null).map((m) => m.entry.index),
    ]),
  )
  for (const index of rules)
    yield {
      title: `assign entry ${index + 1} is gone`,
      at: `/assign/${index}`,
      patch: [{ op: 'remove', path: `/assign/${index}` }],
    }
  for (const template of new Set(awake.flatMap((page) => page.choice.template?.id ?? [])))
    yield {
      title: `the template ${template} is switched off`,
      at: toPointer(['templates', template]),
      patch: setAt(site, ['templates', template, 'enabled'], false),
    }
  for (const [id, { enabled }] of Object.entries(site.data.extensions ?? {}))
    yield {
      title: `the extension ${id} is switched ${enabled ? 'off' : 'on'}`,
      at: toPointer(['extensions', id]),
      patch: setAt(site, ['extensions', id, 'enabled'], !enabled),
    }
  if (pages.length <= FEW_PAGES)
    for (const id of ids)
      yield {
        title: `the template ${id} on ${pages.map((page) => page.id).join(', ')}`,
        at: toPointer(['pages', pages[0]?.id ?? '', 'template']),
        patch: pages.flatMap((page) => setAt(site, ['pages', page.id, 'template'], id)),
      }
  for (const kind of new Set(awake.map((page) => page.facts.kind)))
    for (const id of own(site.data.kinds, kind) ? ids : [])
      yield {
        title: `the template ${id} for kind ${kind}`,
        at: toPointer(['kinds', kind, 'template']),
        patch: setAt(site, ['kinds', kind, 'template'], id),
      }
}
