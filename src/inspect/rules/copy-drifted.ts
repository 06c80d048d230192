import { isObject, toPointer, type Json, type JsonObject } from '../../model/json.js'
import type { ResolvedSite } from '../../resolve/resolve-site.js'
import { isOwn } from '../copies.js'
import { siteRule } from '../rule.js'
import { fromPointer, valueAt } from '../../model/json.js'
import { setAt } from '../propose.js'
import { allOf } from '../engine/reads.js'

/** A copy and its source, no longer the same. */
export const copyDrifted = siteRule({
  id: 'copy-drifted',
  severity: 'note',
  upkeep: 'other',
  facet: 'template',
  summary: 'A copy differs from what it was copied from, in something not listed in `own`.',
  matters: 'Two things that visitors take for one begin to differ, a little more with every edit.',
  holds:
    'A template or surround has `copyOf`, and a setting, row or item (of the same id) that both have differs and is not in `own`.',
  example: `surrounds:
  top: { as: header, background: "#fff", rows: [ { id: bar, padding: 20px, items: [ { id: logo, text: Quillmere } ] } ] }
  night: { as: header, copyOf: top, own: [ background ], background: "#111", rows: [ { id: bar, padding: 16px, items: [ { id: logo, text: Quillmere } ] } ] }
theme: { layout: { header: { use: top } } }
`,
  numbers: [],
  message: ({ worst }) =>
    `${worst.words?.['what'] ?? ''} of "${worst.words?.['copy'] ?? ''}" has drifted from "${worst.words?.['source'] ?? ''}", which it is a copy of`,
  advice: 'set the same value again, or list it in own',
  keys: ['templates', 'surrounds'],
  judge(_tally, { resolved }, report, section) {
    for (const { copy, source, parts } of copiesOf(resolved, section as 'templates' | 'surrounds'))
      for (const { path, at, sourceAt } of parts)
        report({
          at,
          pages: [],
          numbers: {},
          words: { what: path, copy, source, sourceAt },
          related: [{ pointer: sourceAt, because: 'the source' }],
        })
  },
  propose: ({ at, worst }, { site }) => {
    const value = valueAt(site.data as unknown as Json, worst.words?.['sourceAt'] ?? '')
    const said = fromPointer(at)
    return [
      ...(value === undefined
        ? []
        : [{ title: 'set the source’s value', patch: setAt(site, said, value), choice: true }]),
    ]
  },
})

interface Drift {
  readonly path: string
  readonly at: string
  readonly sourceAt: string
}

function copiesOf({ site }: ResolvedSite, section: 'templates' | 'surrounds') {
  const things = (allOf<object>(site.data[section]) ?? {}) as Readonly<Record<string, JsonObject>>
  return Object.entries(things).flatMap(([copy, data]) => {
    const source = data['copyOf']
    if (typeof source !== 'string' || !Object.hasOwn(things, source)) return []
    const own = data['own'] as readonly string[] | undefined
    const [mine, theirs] = [partsOf(data), partsOf(things[source] as JsonObject)]
    const parts = [...mine].flatMap(([path, part]): readonly Drift[] => {
      const other = theirs.get(path)
      if (!other || other.text === part.text || isOwn(own, path)) return []
      return [{ path, at: toPointer([section, copy]) + part.at, sourceAt: toPointer([section, source]) + other.at }]
    })
    return [{ copy, source, parts }]
  })
}

interface ThingPart {
  /** What it is, to compare. */
  readonly text: string
  /** Where it is in the thing. */
  readonly at: string
}

const APART = new Set(['label', 'copyOf', 'own', 'layout', 'rows', 'items', 'measured', 'from', 'allow', 'as', 'base'])

const partsOfThings = new WeakMap<JsonObject, ReadonlyMap<string, ThingPart>>()

/** The parts of a template or surround, found once for as long as it stays as it is. */
function partsOf(data: JsonObject): ReadonlyMap<string, ThingPart> {
  let known = partsOfThings.get(data)
  if (!known) partsOfThings.set(data, (known = findParts(data)))
  return known
}

/** The settings, rows and items of a template or surround that can be distinguished from others by a name. */
function findParts(data: JsonObject): ReadonlyMap<string, ThingPart> {
  const found = new Map<string, ThingPart>()
  const add = (name: string, value: Json | undefined, at: string): void =>
    void found.set(name, { text: JSON.stringify(value), at })
  for (const [key, value] of Object.entries(data)) if (!APART.has(key)) add(key, value, `/${key}`)
  const layout = data['layout']
  if (isObject(layout))
    for (const [facet, properties] of Object.entries(layout))
      if (isObject(properties))
        for (const [property, value] of Object.entries(properties))
          add(`${facet}.${property}`, value, `/layout/${facet}/${property}`)
  const items = (list: Json | undefined, here: string): void => {
    if (!Array.isArray(list)) return
    ;(list as readonly Json[]).forEach((item, n) => {
      if (isObject(item) && typeof item['id'] === 'string') add(item['id'], item, `${here}/${n}`)
    })
  }
  items(data['items'], '/items')
  const rows = data['rows']
  if (Array.isArray(rows))
    (rows as readonly Json[]).forEach((row, n) => {
      if (!isObject(row)) return
      items(row['items'], `/rows/${n}/items`)
      if (typeof row['id'] !== 'string') return
      for (const key of ['padding', 'hide', 'stays'])
        if (row[key] !== undefined) add(`${row['id']}.${key}`, row[key], `/rows/${n}/${key}`)
    })
  return found
}
