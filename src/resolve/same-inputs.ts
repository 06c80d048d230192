import type { Item } from '../model/site-data.js'
import type { SiteData } from '../model/schema.js'
import type { Layout } from './layout.js'
import type { ResolvedPage } from './page.js'
import type { Settings } from './settings.js'
import type { Template } from './templates.js'

/** Parts of a site that reach a page only through its template and layout, which are compared one by one. */
const COMPARED = new Set<keyof SiteData>(['theme', 'kinds', 'templates', 'assign', 'builders', 'pages', 'surrounds'])

/**
 * How two versions of a site differ, as far as their pages can share what was worked out: `undefined` where something
 * changed that any page may look at, else a test of whether a page gets the same in both.
 */
export function pageComparison(
  before: SiteData,
  after: SiteData,
): ((old: ResolvedPage, now: ResolvedPage) => boolean) | undefined {
  const keys = new Set([...Object.keys(before), ...Object.keys(after)]) as Set<keyof SiteData>
  for (const key of keys) if (!COMPARED.has(key) && before[key] !== after[key]) return undefined
  const changed = changedSurrounds(before, after)
  if (changed.size > 0 && isUsedEverywhere(after, changed)) return undefined
  return (old, now) =>
    old.data === now.data &&
    old.dormant === now.dormant &&
    templateKey(old.choice.template) === templateKey(now.choice.template) &&
    layoutKey(old.layout) === layoutKey(now.layout) &&
    old.ground.colour === now.ground.colour &&
    old.ground.ink === now.ground.ink &&
    choiceKey(old) === choiceKey(now) &&
    !mentions(now, changed)
}

function changedSurrounds(before: SiteData, after: SiteData): ReadonlySet<string> {
  if (before.surrounds === after.surrounds) return new Set()
  const ids = new Set([...Object.keys(before.surrounds ?? {}), ...Object.keys(after.surrounds ?? {})])
  return new Set([...ids].filter((id) => before.surrounds?.[id] !== after.surrounds?.[id]))
}

/** Whether a surround stands in an insert, a template or another surround, through which any page may get it. */
function isUsedEverywhere(site: SiteData, surrounds: ReadonlySet<string>): boolean {
  const lists: readonly (readonly Item[] | undefined)[] = [
    ...(site.inserts ?? []).map((insert) => [insert as unknown as Item]),
    ...Object.values(site.templates ?? {}).map(({ arrange }) =>
      (arrange ?? []).filter((entry): entry is Item => typeof entry !== 'string'),
    ),
    ...Object.values(site.surrounds ?? {}).flatMap(({ rows, items }) => [items, ...(rows ?? []).map((r) => r.items)]),
  ]
  return lists.some((list) => usesIn(list).some((id) => surrounds.has(id)))
}

const usesIn = (items: readonly Item[] | undefined): readonly string[] =>
  (items ?? []).flatMap((item) => [
    ...(item.use === undefined ? [] : [item.use]),
    ...usesIn(item.items),
    ...(item.columns ?? []).flatMap((column) => usesIn(column.items)),
  ])

function mentions({ layout, data }: ResolvedPage, surrounds: ReadonlySet<string>): boolean {
  if (surrounds.size === 0) return false
  const said = ['header.use', 'footer.use', 'sidebar.use'].flatMap((path) =>
    layout.contributions.flatMap(({ settings }) => {
      const value = settings.values.get(path)?.value
      return typeof value === 'object' && value !== null ? Object.values(value) : [value]
    }),
  )
  return [...said, ...usesIn(data.body)].some((id) => typeof id === 'string' && surrounds.has(id))
}

const choiceKey = ({ choice }: ResolvedPage): string =>
  choice.chain.map(({ value, pointer, outcome, because }) => `${value} ${pointer} ${outcome} ${because}`).join('\n')

const layoutKeys = new WeakMap<Layout, string>()

function layoutKey(layout: Layout): string {
  let key = layoutKeys.get(layout)
  if (key === undefined) {
    key = JSON.stringify([
      layout.facets,
      layout.contributions.map(({ layer, name, settings }) => [layer, name, ...settingsKey(settings)]),
    ])
    layoutKeys.set(layout, key)
  }
  return key
}

const settingsKey = ({ values, locks }: Settings) => [[...values], [...locks]]

const templateKeys = new WeakMap<Template, string>()

function templateKey(template: Template | undefined): string {
  if (!template) return ''
  let key = templateKeys.get(template)
  if (key === undefined) {
    const { id, arrange, arrangePointer, data } = template
    key = JSON.stringify([id, arrange, arrangePointer, data.allow])
    templateKeys.set(template, key)
  }
  return key
}
