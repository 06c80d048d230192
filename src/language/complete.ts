import { RULES } from '../inspect/rules/index.js'
import { FACET_NAMES, PROPERTY_PATHS } from '../model/facets.js'
import { isObject, type Json } from '../model/json.js'
import { POLICY_FIGURES } from '../model/site-data.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { meaningAt, sectionOf, THING } from './names.js'
import type { Span, TextPlace } from './places.js'
import type { SiteProject } from './project.js'
import { keysAt, shapesAt, wordsAt } from './schema-keys.js'
import { gapAt, type Gap } from './text-tree.js'
import { tokenValue } from './token-value.js'

/** Something that could be written. */
export interface Completion {
  readonly label: string
  readonly kind: 'key' | 'word' | 'id' | 'token' | 'rule' | 'property'
  /** What it is, in a few words. */
  readonly detail: string
  readonly sentence: string
  /** What takes the place of what is typed. */
  readonly text: string
  readonly span: Span
}

type Proposed = Pick<Completion, 'label' | 'kind' | 'detail' | 'sentence'>

const proposed = (kind: Completion['kind'], label: string, detail = '', sentence = ''): Proposed => ({
  ...{ kind, label, detail, sentence },
})

/** What could be written at a place of a site file: keys with their sentences, ids, words, tokens, rules, properties. */
export function completionsAt(project: SiteProject, file: string, place: TextPlace): readonly Completion[] {
  if (file.endsWith('.css')) return []
  const lines = project.lines(file)
  const { text } = lines
  const offset = lines.offset(place)
  const gap = gapAt(text, file, offset)
  if (!gap) return []
  const { site: resolved } = project
  const isToken = /["']\{$/.test(text.slice(Math.max(0, gap.from - 2), gap.from)) || gap.typed.startsWith('{')
  if (isToken) return tokens(resolved).map((each) => written(each, gap, lines.span(gap), ''))
  const keys = gap.on === 'value' ? [] : keysFor(resolved, gap)
  const values = gap.on === 'key' ? [] : valuesFor(resolved, gap)
  const span = lines.span(gap)
  const after = /^\s*:/.test(text.slice(gap.to, gap.to + 80)) ? '' : ': '
  const begins = ({ label }: Proposed): boolean => label.toLowerCase().startsWith(gap.typed.toLowerCase())
  return [
    ...values.filter(begins).map((each) => written(each, gap, span, '')),
    ...keys.filter(begins).map((each) => written(each, gap, span, after)),
  ]
}

function written(each: Proposed, gap: Gap, span: Span, after: string): Completion {
  const text = gap.isQuoted && !/^(true|false|\d+)$/.test(each.label) ? JSON.stringify(each.label) : each.label
  return { ...each, text: text + after, span }
}

function keysFor(resolved: ResolvedSite | undefined, gap: Gap): readonly Proposed[] {
  const { path, known } = gap
  const isNew = ({ label }: Proposed): boolean => !known.includes(label)
  const last = path.at(-1)
  if (path.length === 1 && last === 'severity') return rules().filter(isNew)
  if (last === 'require') return properties([...POLICY_FIGURES]).filter(isNew)
  if (last === 'items' && path.includes('layout')) return itemIds(resolved, path).filter(isNew)
  const keys = [...keysAt(path)].map(([key, sentence]) => proposed('key', key, '', sentence))
  return [...keys, ...viewportKeys(resolved, path)].filter(isNew)
}

/** Viewports and `else`, where a map by viewport may stand for a value. */
function viewportKeys(resolved: ResolvedSite | undefined, path: readonly string[]): readonly Proposed[] {
  // At the top keys of maps are ids.
  if (!resolved || path.length < 3) return []
  const isMap = shapesAt(path).some(
    ({ properties, additionalProperties }) => !properties && isObject(additionalProperties),
  )
  if (!isMap || path[1] === 'listing') return []
  const sizes = resolved.site.viewports.map(({ name, width, height }) => proposed('id', name, `${width}×${height} px`))
  return [...sizes, proposed('key', 'else', '', 'At all other viewports.')]
}

function valuesFor(resolved: ResolvedSite | undefined, { path }: Gap): readonly Proposed[] {
  const holder = /^\d+$/.test(path.at(-1) ?? '') ? path.at(-2) : path.at(-1)
  if (holder === 'rule') return rules()
  if (holder === 'lock') return properties([])
  const words = wordsAt(path).map((word) => proposed('word', word))
  if (!resolved) return words
  if (holder === 'hide')
    return resolved.site.viewports.map(({ name, width, height }) => proposed('id', name, `${width}×${height} px`))
  return [...ids(resolved, path), ...words]
}

function ids(resolved: ResolvedSite, path: readonly string[]): readonly Proposed[] {
  // Where a text may stand, all above it is of the right shape, and names can be looked for.
  if (!shapesAt(path).some(({ type }) => [type].flat().includes('string'))) return []
  const meaning = meaningAt(path)
  if (!meaning) return []
  const section = sectionOf(meaning)
  if (!section) {
    const tags = new Set(resolved.pageIds.flatMap((id) => resolved.site.pageData(id)?.tags ?? []))
    return [...tags].sort().map((tag) => proposed('id', tag, 'tag'))
  }
  const things = resolved.site.data[section] as Readonly<Record<string, unknown>> | undefined
  const isMeant = (thing: unknown): boolean =>
    !['header', 'footer', 'sidebar'].includes(meaning) ||
    (isObject(thing as Json) && (thing as { as?: unknown }).as === meaning)
  return Object.entries(things ?? {})
    .filter(([, thing]) => isMeant(thing))
    .map(([id, thing]) => proposed('id', id, nameOf(thing) ?? THING[section]))
}

/** What a thing is called besides its id. */
function nameOf(thing: unknown): string | undefined {
  const { label, title } = (isObject(thing as Json) ? thing : {}) as {
    readonly label?: unknown
    readonly title?: unknown
  }
  const name = label ?? title
  return typeof name === 'string' ? name : undefined
}

/** Ids of items and rows of the headers or footers that a page may have. */
function itemIds(resolved: ResolvedSite | undefined, path: readonly string[]): readonly Proposed[] {
  const facet = path.at(-2)
  const all = Object.entries(resolved?.site.data.surrounds ?? {}).filter(([, { as }]) => as === facet)
  const found = all.flatMap(([id, { rows = [] }]) =>
    rows.flatMap((row) =>
      [row.id, ...(row.items ?? []).map((item) => item.id)].flatMap((each) =>
        each === undefined ? [] : [[each, id] as const],
      ),
    ),
  )
  return [...new Map(found)].map(([item, surround]) => proposed('id', item, `of ${surround}`))
}

const rules = (): readonly Proposed[] =>
  RULES.map(({ id, severity, summary }) => proposed('rule', id, severity, summary))

const properties = (more: readonly string[]): readonly Proposed[] =>
  [...FACET_NAMES, ...PROPERTY_PATHS, ...more].map((path) => proposed('property', path))

function tokens(resolved: ResolvedSite | undefined): readonly Proposed[] {
  const all = resolved?.site.tokens ?? new Map()
  return [...all.keys()].map((name) => proposed('token', name, tokenValue(all, name)))
}
