import { setAt } from '../inspect/propose.js'
import { definitionOf, isFacet } from '../model/facets.js'
import { own, toPointer, type Json } from '../model/json.js'
import type { ResolvedPage } from '../resolve/page.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { inBody } from './body-candidates.js'
import { pxSetting, spread, type Cause, type DriftGroup } from './cause.js'
import type { Comparer, Discrepancy } from './compare.js'
import { atLayers, jointly } from './layer-candidates.js'
import { inSurround } from './surround-candidates.js'

/**
 * Changes that might make a group's pages what they are; those nearest to what decides now come first.
 *
 * @param open - All that is not explained yet, of any property.
 */
export function* candidates(
  now: ResolvedSite,
  comparer: Comparer,
  group: DriftGroup,
  open: readonly Discrepancy[],
): Generator<Cause> {
  const { property } = group
  const [first = '', second = ''] = property.split('.')
  const pages = group.pages.map((id) => now.page(id))
  for (const { path, value } of settingsFor(now, group)) yield* atLayers(now, pages, path, value)
  yield* jointly(now, group, open)
  if ((first === 'header' || first === 'footer') && second !== 'presence' && second !== 'position') {
    yield* inSurround(now, comparer, group, first, open)
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

/** What could be set of a layout so that it shows what is seen. */
function settingsFor(
  now: ResolvedSite,
  { property, seen, pages }: DriftGroup,
): readonly { path: string; value: Json }[] {
  const [facet = '', name = ''] = property.split('.')
  const widths = new Map(now.site.viewports.map((v) => [v.name, v.width]))
  const values = [...seen]
  const say = (path: string, to: (value: Json, viewport: string) => Json = pxSetting) =>
    spread(now, seen, to, pages, path).map((value) => ({ path, value }))
  if (property === 'width.container') {
    const isFull = values.every(([viewport, value]) => value === widths.get(viewport))
    const gutters = say('width.gutter', (value, viewport) =>
      pxSetting(Math.max(0, ((widths.get(viewport) ?? 0) - Number(value)) / 2)),
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
