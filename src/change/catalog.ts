import { measurePage } from '../measure/page.js'
import { itemKindOf } from '../model/item-kinds.js'
import { toPointer, type Json } from '../model/json.js'
import { addToList } from '../model/lists.js'
import type { SourcePlace } from '../model/problem.js'
import type { SurroundData } from '../model/schema.js'
import type { ArrangeEntry, Item } from '../model/site-data.js'
import { UnknownNameError } from '../model/unknown-name.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import type { Template } from '../resolve/templates.js'

/** A template with what it prints and who gets it. */
export interface CatalogTemplate {
  readonly id: string
  readonly label: string | null
  readonly at: SourcePlace
  /** Not disabled, nor of an extension that is off. */
  readonly isOn: boolean
  readonly base: string | null
  /** The main column, top to bottom, in words: `title`, `gap 64px`, `content`. */
  readonly arrange: readonly string[]
  /** Its settings, those of its base included, by property. */
  readonly settings: Readonly<Record<string, Json>>
  /** Kinds it may be used on; `null` for all. */
  readonly for: readonly string[] | null
  readonly builder: string | null
  readonly extension: string | null
  readonly pages: readonly string[]
  /** Pages for which it is chosen, and which get another template. */
  readonly overridden: readonly string[]
}

/** A header, footer or sidebar with what it prints and where. */
export interface CatalogSurround {
  readonly id: string
  readonly as: string
  readonly at: SourcePlace
  readonly copyOf: string | null
  readonly extension: string | null
  /** Items by row, in words; a sidebar has one row. */
  readonly rows: readonly { readonly id: string | null; readonly items: readonly string[] }[]
  /** Pages that print it at some viewport. */
  readonly pages: readonly string[]
}

/** How many pages of a kind, made with a builder, get a template. */
export interface CatalogUse {
  readonly kind: string
  readonly template: string | null
  readonly builder: string | null
  readonly pages: number
}

/** All templates and surrounds of a site. */
export interface Catalog {
  readonly templates: readonly CatalogTemplate[]
  readonly surrounds: readonly CatalogSurround[]
  readonly uses: readonly CatalogUse[]
}

/**
 * Lists every template and surround with what it prints and which pages get it.
 *
 * @example
 * catalogOf(resolved).surrounds.map(({ id, pages }) => [id, pages]) // => [['top', ['visit']]]
 */
export function catalogOf(resolved: ResolvedSite): Catalog {
  const { site } = resolved
  const awake = [...resolved.pages()].filter((page) => !page.dormant)
  const printed = new Map<string, Set<string>>()
  const note = (id: unknown, page: string): void => {
    if (typeof id === 'string') printed.set(id, (printed.get(id) ?? new Set()).add(page))
  }
  const uses = new Map<string, CatalogUse>()
  const got = new Map<string, string[]>()
  const passedOver = new Map<string, string[]>()
  for (const page of awake) {
    const mine = page.choice.template?.id
    if (mine !== undefined) addToList(got, mine, page.id)
    for (const value of new Set(page.templateChain.map((entry) => entry.value)))
      if (typeof value === 'string' && value !== mine) addToList(passedOver, value, page.id)
    for (const { name } of site.viewports) {
      const measure = measurePage(page, name)
      for (const facet of ['header', 'footer', 'sidebar'] as const)
        if (measure.box(facet)) note(measure.view.value(`${facet}.use`), page.id)
      for (const { item } of measure.items) note(item.use, page.id)
    }
    const use = {
      kind: page.facts.kind,
      template: page.choice.template?.id ?? null,
      builder: page.facts.builder ?? null,
    }
    const key = JSON.stringify(use)
    uses.set(key, { ...use, pages: (uses.get(key)?.pages ?? 0) + 1 })
  }
  const templates = [...resolved.templates.values()].map((template): CatalogTemplate => {
    const { id, data } = template
    return {
      ...{ id, label: data.label ?? null, at: site.locate(toPointer(['templates', id])), isOn: template.isOn },
      base: data.base ?? null,
      arrange: template.arrange.map(arrangeInWords),
      settings: settingsOf(template),
      for: template.for ?? null,
      ...{ builder: template.builder ?? null, extension: data.from ?? null },
      pages: got.get(id) ?? [],
      overridden: passedOver.get(id) ?? [],
    }
  })
  const surrounds = Object.entries(site.data.surrounds ?? {}).map(([id, data]): CatalogSurround => ({
    ...{ id, as: data.as, at: site.locate(toPointer(['surrounds', id])), copyOf: data.copyOf ?? null },
    extension: data.from ?? null,
    rows: rowsOf(data),
    pages: resolved.pageIds.filter((page) => printed.get(id)?.has(page)),
  }))
  const byUse = [...uses.values()].sort((a, b) => b.pages - a.pages || a.kind.localeCompare(b.kind))
  return { templates, surrounds, uses: byUse }
}

const settingsOf = (template: Template): Readonly<Record<string, Json>> =>
  Object.fromEntries([...template.settings.values].map(([path, { value }]) => [path, value]))

const rowsOf = ({ rows = [], items = [] }: SurroundData): CatalogSurround['rows'] => [
  ...rows.map((row) => ({ id: row.id ?? null, items: (row.items ?? []).map(itemInWords) })),
  ...(items.length > 0 ? [{ id: null, items: items.map(itemInWords) }] : []),
]

/** An entry of `arrange` in words: `content`, `gap 64px`, `listing article`. */
export const arrangeInWords = (entry: ArrangeEntry): string => (typeof entry === 'string' ? entry : itemInWords(entry))

/** An item in words: its kind, and what of it people know it by. */
export function itemInWords(item: Item): string {
  const kind = itemKindOf(item) ?? 'item'
  const value = (item as Readonly<Record<string, Json | undefined>>)[kind]
  const known =
    kind === 'heading' ? item.text : kind === 'social' ? item.social?.map(({ label }) => label).join(', ') : value
  const text = typeof known === 'string' || typeof known === 'number' ? ` ${String(known)}` : ''
  return `${kind}${text.length > MOST_LETTERS ? `${text.slice(0, MOST_LETTERS - 1)}…` : text}`
}

/** Letters of an item's text that a catalog shows. */
const MOST_LETTERS = 40

/** One property, slot or item in which two templates or surrounds differ, or which only one has. */
export interface SharedDifference {
  readonly what: string
  /** `null` where it has none. */
  readonly a: Json
  readonly b: Json
}

/** Two templates or two surrounds side by side. */
export interface SharedComparison {
  readonly kind: 'template' | 'surround'
  readonly a: string
  readonly b: string
  readonly differences: readonly SharedDifference[]
  /** How many properties, slots and items are the same. */
  readonly same: number
}

/**
 * Compares two templates (slots, settings with those of their bases) or two surrounds (settings, rows, items).
 *
 * @throws {UnknownNameError} When the site has no such template or surround.
 * @example
 * compareShared(resolved, 'surround', 'top', 'top').differences // => []
 */
export function compareShared(
  resolved: ResolvedSite,
  kind: SharedComparison['kind'],
  a: string,
  b: string,
): SharedComparison {
  const [mine, theirs] = [a, b].map((id) => (kind === 'template' ? templateParts : surroundParts)(resolved, id)) as [
    Parts,
    Parts,
  ]
  const names = [...new Set([...mine.keys(), ...theirs.keys()])]
  const all = names.map((what) => ({ what, a: mine.get(what) ?? null, b: theirs.get(what) ?? null }))
  const differences = all.filter((each) => JSON.stringify(each.a) !== JSON.stringify(each.b))
  return { kind, a, b, differences, same: all.length - differences.length }
}

type Parts = ReadonlyMap<string, Json>

function templateParts({ templates }: ResolvedSite, id: string): Parts {
  const template = templates.get(id)
  if (!template) throw new UnknownNameError('template', id, templates.keys())
  const { data } = template
  return new Map<string, Json>([
    ...(['label', 'base', 'builder', 'for'] as const).flatMap((key) =>
      data[key] === undefined ? [] : [[key, data[key] as Json] as const],
    ),
    ['arrange', template.arrange.map(arrangeInWords).join(', ')],
    ...[...template.settings.values].map(([path, { value }]) => [path, value] as const),
  ])
}

/** Keys of a surround that are compared by what is in them, or name it. */
const APART: ReadonlySet<string> = new Set(['as', 'rows', 'items', 'allow'])

function surroundParts({ site }: ResolvedSite, id: string): Parts {
  const all = site.data.surrounds ?? {}
  const data = Object.hasOwn(all, id) ? all[id] : undefined
  if (!data) throw new UnknownNameError('surround', id, Object.keys(all))
  const parts = new Map<string, Json>([['as', data.as]])
  for (const [key, value] of Object.entries(data)) if (!APART.has(key)) parts.set(key, value as Json)
  const addItems = (items: readonly Item[] | undefined, around: string): void => {
    items?.forEach((item, n) => {
      const { id: name = String(n + 1), height } = item
      parts.set(
        `${around}item ${name}`,
        `${itemInWords(item)}${height === undefined ? '' : `, height ${JSON.stringify(height)}`}`,
      )
    })
  }
  data.rows?.forEach((row, n) => {
    const around = `row ${row.id ?? n + 1}`
    parts.set(around, JSON.stringify({ padding: row.padding, hide: row.hide, stays: row.stays }))
    addItems(row.items, `${around}, `)
  })
  addItems(data.items, '')
  return parts
}
