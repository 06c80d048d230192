import picomatch from 'picomatch'
import type { BySize, Entry, LayoutRecord, Look, Match, Store, Value } from './store.js'

/** What the theme prints of its own, in order, where a layout does not set. */
const ORDER = ['heading', 'credits', 'cover', 'content', 'replies'] as const

/** What the theme does when no option says otherwise. */
const DEFAULTS: Look = {
  top: { display: 'on', position: 'flow', clearance: 0 },
  bottom: { display: 'on' },
  heading: { display: 'on', place: 'content', padding: 0 },
  credits: { display: 'off' },
  cover: { display: 'off', place: 'content' },
  rail: { display: 'on', side: 'none', width: '300px', gap: '40px', stackAt: '900px' },
  width: { mode: 'boxed', max: '1160px', gutter: '24px', padding: 0 },
  spacing: { before: '48px', after: '48px' },
  replies: { display: 'off' },
  search: { site: true, web: true },
}

/** How an entry is to look: its layout, and each setting at each size of screen. */
export interface Decided {
  readonly layout: string | undefined
  readonly order: readonly Value[]
  readonly at: (part: string, property: string, size: string) => Value | undefined
  /** All sizes at once. */
  readonly bySize: (part: string, property: string) => Record<string, Value | undefined>
}

/** A value at one size of screen. */
export function atSize<T extends Value>(
  value: BySize<T> | undefined,
  size: string,
  sizes: readonly string[],
): T | undefined {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return value as T | undefined
  const map = value as Record<string, T>
  if (!Object.keys(map).some((key) => key === 'else' || sizes.includes(key))) return value as unknown as T
  return map[size] ?? map['else']
}

export const isOn = (store: Store, plugin: string | undefined): boolean =>
  plugin === undefined || store.plugins[plugin]?.on === true

/** Whether an entry can be shown at all: not while the plugin that brought its type is off. */
export const isServed = (store: Store, entry: Entry): boolean => {
  const type = store.types[entry.type]
  return isOn(store, type?.plugin)
}

export function decide(store: Store, entry: Entry): Decided {
  const sizes = Object.keys(store.sizes)
  const rules = store.rules
    .map((rule, index) => ({ rule, index, weight: weightOf(store, entry, rule.match, rule.except) }))
    .filter((each): each is typeof each & { weight: number[] } => each.weight !== undefined)
    .sort((a, b) => compare(a.weight, b.weight) || b.index - a.index)
  const tool = entry.tool === undefined ? undefined : store.tools[entry.tool]
  const toolFits = tool && (!tool.types || tool.types.includes(entry.type))
  const wanted = [
    store.optionsLayout,
    store.types[entry.type]?.layout,
    ...rules.map(({ rule }) => rule.layout),
    ...(toolFits ? [tool.layout, entry.toolLayout] : []),
    entry.layout,
  ].filter((name) => name !== undefined)
  const name = chosen(store, entry, wanted)
  const chain = name === undefined ? [] : lineage(store, name)
  const layers: { look: Look; fixed?: readonly string[] | undefined }[] = [
    { look: DEFAULTS },
    { look: store.options },
    { look: store.types[entry.type]?.look ?? {} },
    ...chain.map(({ look, fixed }) => ({ look, fixed })),
    ...rules.flatMap(({ rule }) => [{ look: rule.look ?? regionLook(store, rule.region) }]),
    { look: toolFits ? tool.look : {} },
    { look: entry.look },
  ]
  const parts = store.types[entry.type]?.parts
  const at = (part: string, property: string, size: string): Value | undefined => {
    let found: Value | undefined
    let isFixed = false
    for (const [index, { look, fixed }] of layers.entries()) {
      const said = atSize(look[part]?.[property] as BySize<Value> | undefined, size, sizes)
      // Above the type only what the type allows may be said.
      if (said !== undefined && !isFixed && (index < 3 || !parts || parts.includes(part))) found = said
      if (fixed?.some((path) => path === part || path === `${part}.${property}`)) isFixed = true
    }
    return found
  }
  const order = [...chain].reverse().find((layout) => layout.order)?.order ?? ORDER
  const gated = (part: string, property: string, size: string): Value | undefined =>
    property === 'display' && (ORDER as readonly string[]).includes(part) && !order.includes(part)
      ? 'off'
      : at(part, property, size)
  return {
    layout: name,
    order,
    at: gated,
    bySize: (part, property) => Object.fromEntries(sizes.map((size) => [size, gated(part, property, size)])),
  }
}

/** The strongest of the layouts that are asked for and can be used. */
function chosen(store: Store, entry: Entry, wanted: readonly string[]): string | undefined {
  for (const name of [...wanted].reverse()) {
    if (name === 'none') return undefined
    const layout = store.layouts[name]
    if (layout?.on && isOn(store, layout.plugin) && (!layout.types || layout.types.includes(entry.type))) return name
  }
  return undefined
}

/** A layout after those it lies over. */
function lineage(store: Store, name: string): readonly LayoutRecord[] {
  const layout = store.layouts[name]
  if (!layout) return []
  return [...(layout.over === undefined ? [] : lineage(store, layout.over)), layout]
}

function regionLook(store: Store, region: string | undefined): Look {
  const as = region === undefined ? undefined : store.regions[region]?.['as']
  const part = { header: 'top', footer: 'bottom', sidebar: 'rail' }[String(as)]
  return part === undefined || region === undefined ? {} : { [part]: { region } }
}

export const entryMatches = (store: Store, entry: Entry, match: readonly Match[], except: readonly Match[]): boolean =>
  weightOf(store, entry, match, except) !== undefined

/** How specific a rule is for an entry; undefined where it does not apply. */
function weightOf(store: Store, entry: Entry, match: readonly Match[], except: readonly Match[]): number[] | undefined {
  if (except.some((each) => matches(store, entry, each))) return undefined
  const weights = match.filter((each) => matches(store, entry, each)).map((each) => weight(store, each))
  return weights.sort(compare).at(-1)
}

const compare = (a: readonly number[], b: readonly number[]): number => {
  const index = a.findIndex((n, i) => n !== b[i])
  return index < 0 ? 0 : (a[index] ?? 0) - (b[index] ?? 0)
}

const listOf = (value: string | readonly string[] | undefined) => (value === undefined ? undefined : list(value))
const list = (value: string | readonly string[] | undefined): readonly string[] => [value ?? []].flat()

function matches(store: Store, entry: Entry, match: Match): boolean {
  const tests: [readonly string[] | undefined, (value: string) => boolean][] = [
    [listOf(match.address), (glob) => picomatch.isMatch(entry.address, glob)],
    [listOf(match.beneath), (id) => isBeneath(store, entry, id)],
    [listOf(match.type), (type) => entry.type === type],
    [listOf(match.label), (label) => entry.labels.includes(label)],
    [listOf(match.entry), (id) => entry.id === id],
    [listOf(match.tool), (tool) => entry.tool === tool],
  ]
  return tests.every(([values, test]) => values === undefined || values.some(test))
}

function isBeneath(store: Store, entry: Entry, id: string): boolean {
  for (let at = entry.beneath; at !== undefined; at = store.entries.get(at)?.beneath) if (at === id) return true
  return false
}

function weight(store: Store, match: Match): number[] {
  const literal = list(match.address).flatMap((glob) =>
    glob.split('/').filter((part) => part !== '' && !part.includes('*')),
  )
  const beneath = list(match.beneath).flatMap((id) => (store.entries.get(id)?.address ?? '').split('/').filter(Boolean))
  const n = (value: unknown): number => (value === undefined ? 0 : 1)
  return [n(match.entry), n(match.role), literal.length + beneath.length, n(match.label), n(match.tool), n(match.type)]
}
