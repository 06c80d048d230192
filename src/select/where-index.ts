import type { PageFacts } from './page-facts.js'
import { listOf, type CompiledSelector, type CompiledWhere } from './selector.js'

/** An entry that matches a page, with the selector that made it match. */
export interface Matched<T> {
  readonly entry: T
  readonly selector: CompiledSelector
}

/** Something with the pages that it means. */
export interface IndexedEntry<T> {
  readonly entry: T
  readonly where: CompiledWhere
}

/** Selectors by the literal segments that their paths begin with. */
interface PathNode {
  readonly filed: number[]
  readonly below: Map<string, PathNode>
}

type Key = 'page' | 'under' | 'purpose' | 'tag' | 'template' | 'builder' | 'kind'

const emptyNode = (): PathNode => ({ filed: [], below: new Map() })

/**
 * Finds the entries that match a page without asking every entry: each selector is filed under its most telling key,
 * and a page looks only where its own facts point.
 */
export class WhereIndex<T> {
  readonly #entries: readonly IndexedEntry<T>[]
  readonly #byKey: { [K in Key]?: Map<string, number[]> } = {}
  readonly #paths = emptyNode()
  readonly #anywhere: number[] = []
  /** The last question that each entry was a candidate of, so that none is asked twice. */
  readonly #asked: Uint32Array
  #question = 0

  constructor(entries: readonly IndexedEntry<T>[]) {
    this.#entries = entries
    this.#asked = new Uint32Array(entries.length)
    entries.forEach(({ where }, index) => {
      for (const selector of where.selectors) this.#file(selector, index)
    })
  }

  #file({ source, patterns }: CompiledSelector, index: number): void {
    const named = (key: Key): boolean => source[key] !== undefined
    const early = (['page', 'under', 'purpose', 'tag'] as const).find(named)
    if (early) this.#fileUnder(early, listOf(source[early]), index)
    else if (patterns.length > 0 && patterns.every((p) => p.prefix.length > 0))
      for (const { prefix } of patterns) this.#filePath(prefix, index)
    else {
      const late = (['template', 'builder', 'kind'] as const).find(named)
      if (late) this.#fileUnder(late, listOf(source[late]), index)
      else this.#anywhere.push(index)
    }
  }

  #fileUnder(key: Key, values: readonly string[], index: number): void {
    const ofKey = (this.#byKey[key] ??= new Map<string, number[]>())
    for (const value of values) {
      const filed = ofKey.get(value)
      if (filed) filed.push(index)
      else ofKey.set(value, [index])
    }
  }

  #filePath(prefix: readonly string[], index: number): void {
    let node = this.#paths
    for (const segment of prefix) {
      let next = node.below.get(segment)
      if (!next) {
        next = emptyNode()
        node.below.set(segment, next)
      }
      node = next
    }
    node.filed.push(index)
  }

  /** Entries that match; in no order. */
  match(facts: PageFacts, template?: string | null): readonly Matched<T>[] {
    if (this.#entries.length === 0) return NOTHING
    this.#question = (this.#question + 1) >>> 0
    let found = this.#ask(this.#anywhere, facts, template, undefined)
    const look = this.#byKey
    if (look.page) found = this.#ask(look.page.get(facts.id), facts, template, found)
    if (look.kind) found = this.#ask(look.kind.get(facts.kind), facts, template, found)
    if (look.builder && facts.builder !== undefined)
      found = this.#ask(look.builder.get(facts.builder), facts, template, found)
    if (look.template && template != null) found = this.#ask(look.template.get(template), facts, template, found)
    if (look.tag) for (const tag of facts.tags) found = this.#ask(look.tag.get(tag), facts, template, found)
    if (look.under) for (const page of facts.ancestors) found = this.#ask(look.under.get(page), facts, template, found)
    if (look.purpose)
      for (const purpose of facts.purposes) {
        found = this.#ask(look.purpose.get(purpose), facts, template, found)
        const colon = purpose.indexOf(':')
        if (colon > 0) found = this.#ask(look.purpose.get(purpose.slice(0, colon)), facts, template, found)
      }
    let node: PathNode | undefined = this.#paths.below.size > 0 ? this.#paths : undefined
    for (let n = 0; node && n < facts.segments.length; n++) {
      node = node.below.get(facts.segments[n] as string)
      if (node) found = this.#ask(node.filed, facts, template, found)
    }
    return found ?? NOTHING
  }

  /** Asks some entries, and adds those that match; a list is made only once there is something to hold. */
  #ask(
    indices: readonly number[] | undefined,
    facts: PageFacts,
    template: string | null | undefined,
    found: Matched<T>[] | undefined,
  ): Matched<T>[] | undefined {
    if (!indices) return found
    let list = found
    for (const index of indices) {
      if (this.#asked[index] === this.#question) continue
      this.#asked[index] = this.#question
      const { entry, where } = this.#entries[index] as IndexedEntry<T>
      const selector = where.match(facts, template)
      if (!selector) continue
      if (list) list.push({ entry, selector })
      else list = [{ entry, selector }]
    }
    return list
  }
}

const NOTHING: readonly never[] = []
