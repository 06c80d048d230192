import { addToList } from '../model/lists.js'
import { isMeant, listOf, type CompiledWhere } from '../select/selector.js'
import type { PageCore } from './page.js'
import type { Layout } from './layout.js'

/** Pages by what they have, so that a change finds those it reaches without asking each. */
export class PageIndex {
  readonly #cores: ReadonlyMap<string, PageCore>
  readonly #named: (core: PageCore) => readonly string[]
  readonly #byLayout = new Map<Layout, string[]>()
  #naming: Map<string, string[]> | undefined
  readonly #by: Readonly<Record<Key, Map<string, string[]>>> = {
    kind: new Map(),
    builder: new Map(),
    template: new Map(),
    parent: new Map(),
    tag: new Map(),
    purpose: new Map(),
  }

  /** @param named - The templates that anything names for a page, whether it gets them or not. */
  constructor(cores: ReadonlyMap<string, PageCore>, named: (core: PageCore) => readonly string[]) {
    this.#cores = cores
    this.#named = named
    for (const [id, { facts, data, layout, template }] of cores) {
      addToList(this.#byLayout, layout, id)
      addToList(this.#by.kind, facts.kind, id)
      if (facts.builder !== undefined) addToList(this.#by.builder, facts.builder, id)
      if (template) addToList(this.#by.template, template.id, id)
      if (data.parent !== undefined) addToList(this.#by.parent, data.parent, id)
      for (const tag of facts.tags) addToList(this.#by.tag, tag, id)
      for (const purpose of facts.purposes) addToList(this.#by.purpose, purpose, id)
    }
  }

  get layouts(): Iterable<readonly [Layout, readonly string[]]> {
    return this.#byLayout
  }

  of(key: Key, value: string): readonly string[] {
    return this.#by[key].get(value) ?? []
  }

  /** Pages for which anything names a template. */
  naming(template: string): readonly string[] {
    if (!this.#naming) {
      this.#naming = new Map()
      for (const [id, core] of this.#cores)
        for (const name of new Set(this.#named(core))) addToList(this.#naming, name, id)
    }
    return this.#naming.get(template) ?? []
  }

  /** The pages below some by `parent`, at any depth. */
  descendants(ids: Iterable<string>): ReadonlySet<string> {
    const found = new Set<string>()
    const open = [...ids]
    for (let next = open.pop(); next !== undefined; next = open.pop())
      for (const child of this.of('parent', next))
        if (!found.has(child)) {
          found.add(child)
          open.push(child)
        }
    return found
  }

  /** The pages that a `where` means, those that its `except` shuts out included. */
  matching(where: CompiledWhere): readonly string[] {
    const candidates = new Set(where.selectors.flatMap(({ source }) => this.#candidates(source)))
    return [...candidates].filter((id) => {
      const core = this.#cores.get(id)
      return core && isMeant(where, core.facts, core.template?.id ?? null)
    })
  }

  /** Pages among which are all that a selector means: those of its most telling key. */
  #candidates(selector: CompiledWhere['selectors'][number]['source']): readonly string[] {
    const { page, under, tag, template, builder, kind, purpose } = selector
    if (page !== undefined) return listOf(page).filter((id) => this.#cores.has(id))
    if (under !== undefined) return [...this.descendants(listOf(under))]
    if (tag !== undefined) return listOf(tag).flatMap((value) => this.of('tag', value))
    if (template !== undefined) return listOf(template).flatMap((value) => this.of('template', value))
    if (builder !== undefined) return listOf(builder).flatMap((value) => this.of('builder', value))
    if (purpose !== undefined) return [...this.#by.purpose.values()].flat()
    if (kind !== undefined) return listOf(kind).flatMap((value) => this.of('kind', value))
    return [...this.#cores.keys()]
  }
}

type Key = 'kind' | 'builder' | 'template' | 'parent' | 'tag' | 'purpose'
