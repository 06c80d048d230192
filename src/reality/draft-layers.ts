import { definitionOf } from '../model/facets.js'
import type { Json } from '../model/json.js'

/** What a page needs set, however it is set: `facet.property` → value. */
export type Settings = ReadonlyMap<string, Json>

export interface LayeredPage {
  readonly id: string
  readonly kind: string
  readonly settings: Settings
}

/** A value with how many of the pages in its scope have it. */
export interface Supported {
  readonly value: Json
  readonly pages: number
  readonly of: number
}

export type SupportedSettings = ReadonlyMap<string, Supported>

export interface Layers {
  readonly theme: SupportedSettings
  readonly kinds: ReadonlyMap<string, SupportedSettings>
  readonly templates: readonly {
    readonly id: string
    readonly settings: SupportedSettings
    readonly pages: readonly string[]
  }[]
  readonly pages: ReadonlyMap<string, Settings>
}

/** What only a template can set: what is printed in which order, and the ground of its pages. */
export const ARRANGE = 'arrange'
export const GROUND = 'ground'
const isTemplates = (property: string): boolean => property === ARRANGE || property === GROUND

/**
 * Expresses what pages need with few settings: what most have is the theme's; a kind sets what most of its pages have and
 * the theme does not; pages that differ in the same settings share a template; what is left is set on the page.
 * Each step is taken only where it needs fewer settings than without it.
 */
export function layersOf(pages: readonly LayeredPage[]): Layers {
  const properties = [...new Set(pages.flatMap(({ settings }) => [...settings.keys()]))]
  const theme = new Map<string, Supported>()
  for (const property of properties) {
    if (isTemplates(property)) continue
    const usual = usualOf(pages, property)
    if (usual && textOf(usual.value) !== textOf(baselineOf(property))) theme.set(property, usual)
  }
  const kinds = new Map<string, Map<string, Supported>>()
  for (const kind of new Set(pages.map((page) => page.kind))) {
    const mine = pages.filter((page) => page.kind === kind)
    const said = new Map<string, Supported>()
    for (const property of properties) {
      if (isTemplates(property)) continue
      const below = theme.get(property)?.value ?? baselineOf(property)
      const usual = usualOf(mine, property)
      if (!usual || textOf(usual.value) === textOf(below)) continue
      const without = mine.filter(
        ({ settings }) => settings.has(property) && textOf(settings.get(property)) !== textOf(below),
      ).length
      if (without > 1 + (without - usual.pages) + agreeing(mine, property, below)) said.set(property, usual)
    }
    if (said.size > 0) kinds.set(kind, said)
  }
  const left = new Map(
    pages.map(({ id, kind, settings }) => {
      const below = (property: string): Json | undefined =>
        kinds.get(kind)?.get(property)?.value ?? theme.get(property)?.value ?? baselineOf(property)
      return [
        id,
        new Map([...settings].filter(([property, value]) => textOf(value) !== textOf(below(property)))),
      ] as const
    }),
  )
  const templates = shareTemplates(pages, left)
  return { theme, kinds, templates, pages: left }
}

/** A value as a text; an unset value and nothing are the same. */
const textOf = (value: Json | undefined): string => JSON.stringify(value ?? null)

/** The default when no layer sets it otherwise, written as drafts write it. */
function baselineOf(property: string): Json | undefined {
  const definition = definitionOf(property)
  if (!definition) return undefined
  const { baseline, type } = definition
  if (type === 'length' && definition.also === 'none' && baseline === null) return 'none'
  return typeof baseline === 'number' ? `${baseline}px` : baseline
}

function usualOf(pages: readonly LayeredPage[], property: string): Supported | undefined {
  const counts = new Map<string, number>()
  let of = 0
  for (const { settings } of pages) {
    const value = settings.get(property)
    if (value === undefined) continue
    of += 1
    counts.set(textOf(value), (counts.get(textOf(value)) ?? 0) + 1)
  }
  const [best] = [...counts].sort(([, a], [, b]) => b - a)
  return best && { value: JSON.parse(best[0]) as Json, pages: best[1], of }
}

/** Pages that would have to set otherwise if their kind set something. */
const agreeing = (pages: readonly LayeredPage[], property: string, below: Json | undefined): number =>
  pages.filter(({ settings }) => settings.has(property) && textOf(settings.get(property)) === textOf(below)).length

/** Takes settings that several pages share out of them, into templates; mostly first, a page gets one template. */
function shareTemplates(pages: readonly LayeredPage[], left: Map<string, Map<string, Json>>): Layers['templates'] {
  const templates: { id: string; settings: SupportedSettings; pages: readonly string[] }[] = []
  const free = new Set(pages.map(({ id }) => id))
  const names = new Set<string>()
  for (;;) {
    const best = bestShare(left, free)
    if (!best) break
    for (const id of best.pages) {
      free.delete(id)
      const own = left.get(id)
      for (const property of best.settings.keys()) own?.delete(property)
    }
    const id = nameOf(best.pages, pages, names)
    const count = best.pages.length
    templates.push({
      id,
      pages: best.pages,
      settings: new Map([...best.settings].map(([property, value]) => [property, { value, pages: count, of: count }])),
    })
  }
  return templates
}

type Entry = readonly [string, Json]

interface Share {
  readonly settings: ReadonlyMap<string, Json>
  readonly pages: readonly string[]
  readonly saved: number
}

/** How many different sets of settings are compared with each other. */
const MOST_SETS = 400

function bestShare(left: ReadonlyMap<string, ReadonlyMap<string, Json>>, free: ReadonlySet<string>): Share | undefined {
  const sets = new Map<string, readonly Entry[]>()
  for (const id of free) {
    const own = [...(left.get(id) ?? [])]
    if (own.length > 0 && sets.size < MOST_SETS) sets.set(JSON.stringify(own), own)
  }
  const candidates = new Map(sets)
  const lists = [...sets.values()]
  for (const [n, a] of lists.entries())
    for (const b of lists.slice(n + 1)) {
      const other = new Map(b.map(([property, value]) => [property, textOf(value)]))
      const both = a.filter(([property, value]) => other.get(property) === textOf(value))
      if (both.length > 0) candidates.set(JSON.stringify(both), both)
    }
  let best: Share | undefined
  for (const entries of candidates.values()) {
    const pages = [...free].filter((id) => {
      const own = left.get(id)
      const has = entries.every(
        ([property, value]) => own?.has(property) && textOf(own.get(property)) === textOf(value),
      )
      // What only a template can set must all be set by this one, which then is the page's only one.
      return (
        has && [ARRANGE, GROUND].every((each) => own?.has(each) === entries.some(([property]) => property === each))
      )
    })
    const saved = pages.length * entries.length - entries.length - pages.length
    const isNeeded = entries.some(([property]) => isTemplates(property))
    if (pages.length === 0 || (saved <= 0 && !isNeeded)) continue
    if (!best || saved > best.saved) best = { settings: new Map(entries), pages, saved }
  }
  return best
}

/** A template is called after what its pages share: their kind, or the first part of their addresses, or the page. */
function nameOf(ids: readonly string[], pages: readonly LayeredPage[], taken: Set<string>): string {
  const kinds = new Set(pages.filter(({ id }) => ids.includes(id)).map(({ kind }) => kind))
  const wanted = ids.length === 1 ? `for-${ids[0]}` : kinds.size === 1 ? `${[...kinds][0]}-view` : 'shared'
  let name = wanted
  for (let n = 2; taken.has(name); n++) name = `${wanted}-${n}`
  taken.add(name)
  return name
}
