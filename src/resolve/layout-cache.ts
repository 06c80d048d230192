import type { Layout } from './layout.js'

/**
 * Layouts by all that they depend on, as a trie: looking one up compares what is there already, and builds no key.
 */
export class LayoutCache {
  layout: Layout | undefined
  #next: Map<unknown, LayoutCache> | undefined

  /** The part of the cache in which one more thing is given; by identity for objects, by value for all else. */
  under(key: unknown): LayoutCache {
    this.#next ??= new Map()
    let found = this.#next.get(key)
    if (!found) {
      found = new LayoutCache()
      this.#next.set(key, found)
    }
    return found
  }
}
