/** A laid-over layer larger than this, and than a share of what is underneath, is merged with it. */
const LAYER_FLOOR = 64

/**
 * A map that gives changed copies of itself: a copy shares what it does not change, and costs the changes since the
 * last merge, however many copies came before it.
 *
 * @example
 * const map = LayeredMap.of(new Map([['a', 1]]))
 * map.with(new Map([['b', 2], ['a', undefined]])).get('b') // => 2
 */
export class LayeredMap<V> {
  readonly #base: ReadonlyMap<string, V>
  /** What differs from the base; `undefined` for what went. */
  readonly #over: ReadonlyMap<string, V | undefined>
  #keys: readonly string[] | undefined

  private constructor(
    base: ReadonlyMap<string, V>,
    over: ReadonlyMap<string, V | undefined> = new Map<string, V>(),
    keys?: readonly string[],
  ) {
    this.#base = base
    this.#over = over
    this.#keys = keys
  }

  static of<V>(entries: ReadonlyMap<string, V>): LayeredMap<V> {
    return new LayeredMap<V>(entries)
  }

  /** In order of insertion, as the keys of an object. */
  get keys(): readonly string[] {
    if (this.#keys) return this.#keys
    const { size } = this.#over
    const old = [...this.#base.keys()]
    if (size === 0) return (this.#keys = old)
    const fresh = [...this.#over].flatMap(([key, value]) => (value !== undefined && !this.#base.has(key) ? [key] : []))
    return (this.#keys = [...old.filter((key) => this.get(key) !== undefined), ...fresh])
  }

  get(key: string): V | undefined {
    return this.#over.size > 0 && this.#over.has(key) ? this.#over.get(key) : this.#base.get(key)
  }

  /**
   * A copy with some entries set, or taken out where the value is `undefined`.
   *
   * @param keys - The order of the copy's keys; default as they were, new ones last.
   */
  with(changes: ReadonlyMap<string, V | undefined>, keys?: readonly string[]): LayeredMap<V> {
    const over = new Map([...this.#over, ...changes])
    if (over.size <= Math.max(LAYER_FLOOR, Math.sqrt(this.#base.size) * 4))
      return new LayeredMap(this.#base, over, keys)
    const merged = new Map<string, V>(this.#base)
    for (const [key, value] of over)
      if (value === undefined) merged.delete(key)
      else merged.set(key, value)
    return new LayeredMap<V>(merged, undefined, keys)
  }
}
