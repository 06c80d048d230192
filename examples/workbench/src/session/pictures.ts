/** Pictures that are kept: more than a screen shows, fewer than a large site has. */
const MOST_KEPT = 600

/** Pictures of pages by what they show, each made once; the oldest go first. */
export class Pictures {
  readonly #kept = new Map<string, Promise<string>>()

  /** The address of a picture; `make` draws it as SVG where it is not kept. */
  get(key: string, make: () => Promise<string>): Promise<string> {
    const known = this.#kept.get(key)
    if (known) {
      // What was asked for last stays longest.
      this.#kept.delete(key)
      this.#kept.set(key, known)
      return known
    }
    const made = make().then((svg) => URL.createObjectURL(new Blob([svg], { type: 'image/svg+xml' })))
    this.#kept.set(key, made)
    made.catch(() => this.#kept.delete(key))
    if (this.#kept.size > MOST_KEPT) {
      const [oldest] = this.#kept.keys()
      if (oldest !== undefined) this.#drop(oldest)
    }
    return made
  }

  clear(): void {
    for (const key of [...this.#kept.keys()]) this.#drop(key)
  }

  #drop(key: string): void {
    void this.#kept
      .get(key)
      ?.then((address) => URL.revokeObjectURL(address))
      .catch(() => undefined)
    this.#kept.delete(key)
  }
}
