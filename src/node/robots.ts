import robotsParserModule from 'robots-parser'
import { AGENT, FetchError, type Source } from './source.js'

// The package's types declare a default export; what it exports is the function itself.
const robotsParser = robotsParserModule as unknown as typeof robotsParserModule.default

/** What the robots.txt of each origin lets be fetched (RFC 9309). */
export class Robots {
  readonly #source: Source
  readonly #byOrigin = new Map<string, Promise<(url: string) => boolean>>()

  constructor(source: Source) {
    this.#source = source
  }

  /** @throws {FetchError} When a page may not be fetched. */
  async expectAllowed(url: string): Promise<void> {
    const { origin } = new URL(url)
    let rules = this.#byOrigin.get(origin)
    if (!rules) this.#byOrigin.set(origin, (rules = this.#read(origin)))
    if (!(await rules)(url))
      throw new FetchError('robots', 'robots.txt does not let it be fetched; --ignore-robots for a site of your own')
  }

  async #read(origin: string): Promise<(url: string) => boolean> {
    const address = `${origin}/robots.txt`
    try {
      const { status, body } = await this.#source.get(address)
      // A server that is in trouble is left alone; one that has no such file forbids nothing (RFC 9309, 2.3.1).
      if (status >= 500) return () => false
      if (status >= 400) return () => true
      const rules = robotsParser(address, new TextDecoder().decode(body))
      return (url) => rules.isAllowed(url, AGENT) ?? true
    } catch (error) {
      if (!(error instanceof FetchError)) throw error
      return () => error.code !== 'too-slow'
    }
  }
}
