import { remembered } from '../../model/remembered.js'
import { isObject, own, toPointer, type Json } from '../../model/json.js'
import { addToList } from '../../model/lists.js'
import type { Patch } from '../../model/patch.js'
import type { ResolvedSite } from '../../resolve/resolve-site.js'
import type { Template } from '../../resolve/templates.js'
import { siteRule } from '../rule.js'
import { COPY_DIFFERENCES, COPY_SETTINGS } from '../thresholds.js'
import { isOwn } from '../copies.js'
import { allOf } from '../engine/reads.js'

/** Two templates that differ in next to nothing. */
export const templateCopies = siteRule({
  id: 'template-copies',
  severity: 'note',
  upkeep: 'other',
  facet: 'template',
  summary: 'Two templates differ in at most two settings.',
  matters: 'What is changed in one is forgotten in the other.',
  holds:
    'Two templates arrange the same, have four settings or more beside those of a base they share, differ in at most two that are not among the copy’s `own`, and neither is the other’s base. differ counts these.',
  example: `templates:
  a: { layout: { title: absent, spacing: 0, width: full } }
  b: { layout: { title: absent, spacing: 0, width: boxed } }
`,
  numbers: ['differ'],
  worst: 'smallest',
  message: ({ worst }) =>
    `"${worst.words?.['copy'] ?? ''}" differs from "${worst.words?.['source'] ?? ''}" ${worst.numbers['differ'] === 0 ? 'in nothing' : `only in ${worst.words?.['what'] ?? ''}`}`,
  advice: 'make one the base of the other, and keep only what differs',
  keys: ['templates'],
  judge(_tally, { resolved, site }, report) {
    // What there is to compare is in the templates as they were read.
    if (Object.keys(allOf(site.data.templates) ?? {}).length < 2) return

    // Only templates that arrange the same are compared.
    const byArrange = new Map<string, Template[]>()
    for (const template of resolved.templates.values()) addToList(byArrange, arrangeOf(template), template)
    for (const alike of byArrange.values()) {
      const earlier = new Likely()
      for (const copy of alike) {
        const source = earlier.sourcesOf(copy).find((other) => isCopy(copy, other))
        earlier.add(copy)
        if (!source) continue
        const differ = differences(copy, source)
        report({
          at: toPointer(['templates', copy.id]),
          pages: [],
          numbers: { differ: differ.length },
          words: { copy: copy.id, source: source.id, what: differ.join(' and ') },
          related: [{ pointer: toPointer(['templates', source.id]), because: 'the other' }],
        })
      }
    }
  },
  propose: ({ worst }, resolved) => {
    const [copy, source] = ['copy', 'source'].map((name) => resolved.templates.get(worst.words?.[name] ?? ''))
    if (!copy || !source) return []
    return [
      {
        title: `make "${source.id}" the base of "${copy.id}", and keep what differs`,
        patch: onBase(resolved, copy, source),
        // A copy that names its source is one on purpose.
        ...(copy.data.copyOf === source.id && { choice: true }),
      },
    ]
  },
})

/** Templates by what they set, so that one is compared only with those that share something rare with it. */
class Likely {
  readonly #all: Template[] = []
  readonly #bySetting = new Map<string, number[]>()
  /** Of these any setting may be meant to differ. */
  readonly #owning: number[] = []

  add(template: Template): void {
    const number = this.#all.push(template) - 1
    if (template.data.own) this.#owning.push(number)
    else for (const [path, text] of textsOf(template)) addToList(this.#bySetting, `${path} ${text}`, number)
  }

  /**
   * Those that may be nearly the same, in the order in which they came. Of two templates that differ in so many settings
   * at most, one shares at least one of any number above that of its own.
   */
  sourcesOf(copy: Template): readonly Template[] {
    if (copy.data.own) return this.#all
    const filed = [...textsOf(copy)].map(([path, text]) => this.#bySetting.get(`${path} ${text}`) ?? [])
    const rarest = filed.sort((a, b) => a.length - b.length).slice(0, COPY_DIFFERENCES + 1)
    const numbers = new Set([...this.#owning, ...rarest.flat()])
    return [...numbers].sort((a, b) => a - b).map((number) => this.#all[number] as Template)
  }
}

const compared = new WeakMap<Template, WeakMap<Template, boolean>>()

/** Whether one is nearly the other; two templates are compared once, for as long as both stay as they are. */
function isCopy(a: Template, b: Template): boolean {
  let others = compared.get(a)
  if (!others) compared.set(a, (others = new WeakMap()))
  let answer = others.get(b)
  if (answer === undefined) others.set(b, (answer = isNearly(a, b)))
  return answer
}

function isNearly(a: Template, b: Template): boolean {
  if (apartFrom(a, b) < COPY_SETTINGS || apartFrom(b, a) < COPY_SETTINGS) return false
  if (a.data.base === b.id || b.data.base === a.id) return false
  return differences(a, b, COPY_DIFFERENCES).length <= COPY_DIFFERENCES
}

/** How many settings a template has that it does not share with another by taking them from the same base. */
const apartFrom = (template: Template, other: Template): number =>
  [...template.settings.values].filter(([path, { from }]) => {
    const isShared = from !== undefined && other.settings.values.get(path)?.from === from
    return !isShared
  }).length

/** What a template arranges, as a text to compare. */
const arrangeOf = remembered((template: Template): string => JSON.stringify(template.arrange))

/** What a template sets for each property, as a text to compare. */
const textsOf = remembered(
  (template: Template): ReadonlyMap<string, string> =>
    new Map([...template.settings.values].map(([path, { value }]) => [path, JSON.stringify(value)])),
)

/**
 * Property paths that two templates set differently, or only one sets; what a copy's `own` names is meant to differ.
 * Past `most` no more are looked for.
 */
function differences(copy: Template, source: Template, most = Infinity): readonly string[] {
  const [mine, theirs] = [textsOf(copy), textsOf(source)]
  const found: string[] = []
  const look = (path: string): void => {
    if (mine.get(path) !== theirs.get(path) && !isOwn(copy.data.own, path) && !isOwn(source.data.own, path))
      found.push(path)
  }
  for (const path of mine.keys()) {
    look(path)
    if (found.length > most) return found
  }
  for (const path of theirs.keys()) if (!mine.has(path)) look(path)
  return found
}

const saidBy = (template: Template, path: string): Json => template.settings.values.get(path)?.value ?? null

/** The copy laid over its source: without the settings (and the arrange) that it would take from there anyway. */
function onBase({ site }: ResolvedSite, copy: Template, source: Template): Patch {
  const at = toPointer(['templates', copy.id])
  const layout = own(site.data.templates, copy.id)?.layout as Readonly<Record<string, Json>> | undefined
  const kept: Record<string, Json> = {}
  for (const [facet, properties] of Object.entries(layout ?? {})) {
    if (!isObject(properties)) continue
    const differs = ([property, value]: [string, Json]): boolean =>
      property === 'items' || JSON.stringify(saidBy(source, `${facet}.${property}`)) !== JSON.stringify(value)
    const own_ = Object.entries(properties).filter(differs)
    if (own_.length > 0) kept[facet] = Object.fromEntries(own_)
  }
  const isLeft = Object.keys(kept).length > 0 || layout?.['lock'] !== undefined
  if (layout?.['lock'] !== undefined) kept['lock'] = layout['lock']
  return [
    { op: 'add', path: `${at}/base`, value: source.id },
    ...(!layout
      ? []
      : isLeft
        ? [{ op: 'replace' as const, path: `${at}/layout`, value: kept }]
        : [{ op: 'remove' as const, path: `${at}/layout` }]),
    ...(copy.data.arrange && source.data.arrange ? [{ op: 'remove' as const, path: `${at}/arrange` }] : []),
  ]
}
