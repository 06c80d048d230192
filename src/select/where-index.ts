import type { CompiledSelector, CompiledWhere } from './selector.js'
import type { PageFacts } from './page-facts.js'

/** An entry that matches a page, with the selector that made it match. */
export interface Matched<T> {
  readonly entry: T
  readonly selector: CompiledSelector
}

const firstOf = (value: string | readonly string[] | undefined): readonly string[] | undefined =>
  value === undefined ? undefined : typeof value === 'string' ? [value] : value

/** The most telling key of a selector, under which it is filed; `*` when it has none. */
function filedUnder(selector: CompiledSelector): readonly string[] {
  const { source, patterns } = selector
  const named = (key: string, values: readonly string[]): readonly string[] => values.map((v) => `${key} ${v}`)
  for (const key of ['page', 'under', 'purpose', 'tag'] as const) {
    const values = firstOf(source[key])
    if (values) return named(key, values)
  }
  if (patterns.length > 0 && patterns.every((p) => p.prefix.length > 0))
    return named(
      'path',
      patterns.map((p) => p.prefix.join('/')),
    )
  const template = firstOf(source.template)
  if (template) return named('template', template)
  const builder = firstOf(source.builder)
  if (builder) return named('builder', builder)
  const kind = firstOf(source.kind)
  return kind ? named('kind', kind) : ['*']
}

/**
 * Finds the entries that match a page without asking every entry: each selector is filed under its most telling key,
 * and a page looks only where its own facts point.
 */
export class WhereIndex<T> {
  readonly #filed = new Map<string, Set<number>>()
  readonly #entries: readonly { readonly entry: T; readonly where: CompiledWhere }[]
  readonly #deepest: number

  constructor(entries: readonly { readonly entry: T; readonly where: CompiledWhere }[]) {
    this.#entries = entries
    let deepest = 0
    entries.forEach(({ where }, index) => {
      for (const selector of where.selectors)
        for (const key of filedUnder(selector)) {
          if (key.startsWith('path ')) deepest = Math.max(deepest, key.split('/').length)
          const file = this.#filed.get(key)
          if (file) file.add(index)
          else this.#filed.set(key, new Set([index]))
        }
    })
    this.#deepest = deepest
  }

  /** Entries that match, in the order they were given. */
  match(facts: PageFacts, template?: string | null): Matched<T>[] {
    const found: Matched<T>[] = []
    for (const index of this.#candidates(facts, template)) {
      const { entry, where } = this.#entries[index] as { entry: T; where: CompiledWhere }
      const selector = where.match(facts, template)
      if (selector) found.push({ entry, selector })
    }
    return found
  }

  #candidates(facts: PageFacts, template: string | null | undefined): readonly number[] {
    if (this.#filed.size === 0) return []
    const found = new Set<number>()
    const look = (key: string): void => this.#filed.get(key)?.forEach((index) => found.add(index))
    look('*')
    look(`page ${facts.id}`)
    look(`kind ${facts.kind}`)
    if (facts.builder !== undefined) look(`builder ${facts.builder}`)
    if (template != null) look(`template ${template}`)
    for (const tag of facts.tags) look(`tag ${tag}`)
    for (const page of facts.ancestors) look(`under ${page}`)
    for (const purpose of facts.purposes) {
      look(`purpose ${purpose}`)
      const colon = purpose.indexOf(':')
      if (colon > 0) look(`purpose ${purpose.slice(0, colon)}`)
    }
    let prefix = ''
    for (const segment of facts.segments.slice(0, this.#deepest)) {
      prefix = prefix === '' ? segment : `${prefix}/${segment}`
      look(`path ${prefix}`)
    }
    return found.size > 1 ? [...found].sort((a, b) => a - b) : [...found]
  }
}
