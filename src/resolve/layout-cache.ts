import type { Layout } from './layout.js'

/**
 * Layouts by all that they depend on, as a trie: looking one up compares what is there already, and builds no key.
 * Keys are distinguished by identity for objects, by value for all else.
 */
export class LayoutCache {
  #layout: Layout | undefined
  #next: Map<unknown, LayoutCache> | undefined

  find(keys: readonly unknown[]): Layout | undefined {
    let here: LayoutCache | undefined = this as LayoutCache
    for (const key of keys) {
      here = here.#next?.get(key)
      if (!here) return undefined
    }
    return here.#layout
  }

  keep(keys: readonly unknown[], layout: Layout): void {
    let here = this as LayoutCache
    for (const key of keys) {
      here.#next ??= new Map()
      let next = here.#next.get(key)
      if (!next) here.#next.set(key, (next = new LayoutCache()))
      here = next
    }
    here.#layout = layout
  }
}
