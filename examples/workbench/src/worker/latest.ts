/** Questions about one matter, of which only the latest is still answered. */
export class Latest {
  #asked = new AbortController()

  /** Aborted once something else is asked. */
  get signal(): AbortSignal {
    return this.#asked.signal
  }

  /** Ends what was asked before. */
  next(): AbortSignal {
    this.leave()
    this.#asked = new AbortController()
    return this.signal
  }

  /** Nobody waits for an answer any more. */
  leave(): void {
    this.#asked.abort()
  }
}
