import type { Item } from '../model/site-data.js'
import type { SiteData } from '../model/schema.js'
import type { Site } from '../model/site.js'
import type { Layout } from './layout.js'
import type { ResolvedPage } from './page.js'
import type { Settings } from './settings.js'
import type { Template } from './templates.js'

/** Parts of a site that reach a page only through its template and layout, which are compared one by one. */
const COMPARED = new Set<keyof SiteData>(['theme', 'kinds', 'templates', 'assign', 'builders', 'pages', 'surrounds'])

/** Whether a page gets the same in two versions of a site. */
export interface PageComparison {
  /** By the page of the earlier version alone; `false` where that does not tell. */
  readonly isUntouched: (old: ResolvedPage) => boolean
  /** Whether the page has the same template and entries, so that only what these say may differ. */
  readonly isChosenAlike: (old: ResolvedPage) => boolean
  /** By the page of both. */
  readonly isSame: (old: ResolvedPage, now: ResolvedPage) => boolean
}

/**
 * How two versions of a site differ, as far as their pages can share what was worked out: `undefined` where something
 * changed that any page may look at.
 */
export function pageComparison({ data: before }: Site, { data: after, pageData }: Site): PageComparison | undefined {
  const keys = new Set([...Object.keys(before), ...Object.keys(after)]) as Set<keyof SiteData>
  for (const key of keys) if (!COMPARED.has(key) && before[key] !== after[key]) return undefined
  const surrounds = changedIds(before.surrounds, after.surrounds)
  if (surrounds.size > 0 && isUsedEverywhere(after, surrounds)) return undefined
  const chosenAlike = choosersKey(before) === choosersKey(after)
  const templates = withHeirs(changedIds(before.templates, after.templates), before, after)
  const kinds = changedIds(before.kinds, after.kinds)
  const builders = changedIds(before.builders, after.builders)
  const isAlike = chosenAlike && before.assign === after.assign
  const isNarrow = isAlike && before.theme === after.theme
  return {
    isChosenAlike: (old) => isAlike && old.data === pageData(old.id),
    isUntouched: (old) =>
      isNarrow &&
      old.data === pageData(old.id) &&
      !templates.has(old.choice.template?.id ?? '') &&
      !kinds.has(old.facts.kind) &&
      !builders.has(old.facts.builder ?? '') &&
      !mentions(old, surrounds),
    isSame: (old, now) =>
      old.data === now.data &&
      old.dormant === now.dormant &&
      templateKey(old.choice.template) === templateKey(now.choice.template) &&
      isSameLayout(old.layout, now.layout) &&
      old.ground.colour === now.ground.colour &&
      old.ground.ink === now.ground.ink &&
      (chosenAlike || choiceKey(old) === choiceKey(now)) &&
      !mentions(now, surrounds),
  }
}

type Things = Readonly<Record<string, object>> | undefined

/** The ids of things that differ, came or went. */
function changedIds(before: Things, after: Things): ReadonlySet<string> {
  if (before === after) return new Set()
  const ids = new Set([...Object.keys(before ?? {}), ...Object.keys(after ?? {})])
  return new Set([...ids].filter((id) => before?.[id] !== after?.[id]))
}

/** With the templates that take one of them as their base, at any remove. */
function withHeirs(ids: ReadonlySet<string>, before: SiteData, after: SiteData): ReadonlySet<string> {
  const found = new Set(ids)
  const bases = [before, after].flatMap((site) =>
    Object.entries(site.templates ?? {}).map(([id, { base }]) => [id, base] as const),
  )
  for (let size = -1; size !== found.size;) {
    size = found.size
    for (const [id, base] of bases) if (base !== undefined && found.has(base)) found.add(id)
  }
  return found
}

/** All by which templates are chosen, but the pages' own words. */
const choosersKey = ({ theme, kinds, builders, templates, assign, choose }: SiteData): string =>
  JSON.stringify([
    theme.template,
    choose,
    Object.entries(kinds ?? {}).map(([id, { template, from }]) => [id, template, from]),
    Object.entries(builders ?? {}).map(([id, { template, from, kinds: only }]) => [id, template, from, only]),
    Object.entries(templates ?? {}).map(([id, { base, from, enabled, for: only }]) => [id, base, from, enabled, only]),
    (assign ?? []).map(({ template, where, except }) => (template === undefined ? null : [template, where, except])),
  ])

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

/** Whether two layouts come of the same words. */
function isSameLayout(a: Layout, b: Layout): boolean {
  if (a === b) return true
  if (a.contributions.length !== b.contributions.length || a.facets?.join() !== b.facets?.join()) return false
  return a.contributions.every((one, index) => {
    const other = b.contributions[index]
    return (
      other !== undefined &&
      one.layer === other.layer &&
      one.name === other.name &&
      (one.settings === other.settings || settingsKey(one.settings) === settingsKey(other.settings))
    )
  })
}

const settingsKeys = new WeakMap<Settings, string>()

function settingsKey(settings: Settings): string {
  let key = settingsKeys.get(settings)
  if (key === undefined) {
    key = JSON.stringify([[...settings.values], [...settings.locks]])
    settingsKeys.set(settings, key)
  }
  return key
}

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
