import { WembraError } from '../model/wembra-error.js'
import { existsSync, readFileSync, realpathSync, statSync } from 'node:fs'
import { extname, join, resolve, sep } from 'node:path'
import { getMimeType } from 'hono/utils/mime'

/** Something that was asked for, with where it was found in the end. */
export interface Fetched {
  readonly url: string
  readonly status: number
  readonly type: string
  readonly body: Uint8Array
  readonly headers: Readonly<Record<string, string>>
}

/** Where pages and what they need come from: the web, or a folder. */
export interface Source {
  /** @throws {FetchError} When it does not come, or not within its bounds. */
  readonly get: (url: string) => Promise<Fetched>
}

/** Why a page could not be fetched; stable. */
export type FetchErrorCode =
  | 'not-reached'
  | 'too-slow'
  | 'too-large'
  | 'redirect-circle'
  | 'other-origin'
  | 'http-error'
  | 'not-html'
  | 'moved'
  | 'robots'
  | 'browser-failed'

/** Thrown where something could not be had; it is reported by page, and the rest goes on. */
export class FetchError extends WembraError {
  override readonly name = 'FetchError'
  readonly code: FetchErrorCode
  readonly status: number | undefined

  constructor(code: FetchErrorCode, message: string, status?: number) {
    super(message)
    this.code = code
    this.status = status
  }
}

/** Bounds of one fetch. */
export interface Limits {
  /** For one thing that is asked for, its redirects and its whole body included. */
  readonly timeoutMs: number
  /** Of a body, after it was decompressed. */
  readonly maxBytes: number
}

/** The user agent; robots.txt may have rules for it. */
export const AGENT = 'WembraObserver'
const MOST_REDIRECTS = 5

/** The web, as far as some origins reach: no request ever goes to another, redirects included. */
export class Web implements Source {
  readonly #origins: ReadonlySet<string> | undefined
  readonly #limits: Limits
  readonly #headers: Readonly<Record<string, string>>
  readonly #headerOrigins: ReadonlySet<string> | undefined

  /**
   * @param origins - Where requests may go; `undefined`: anywhere by http or https.
   * @param headers - Sent to `headerOrigins` alone, for they may hold a secret.
   */
  constructor(
    origins: ReadonlySet<string> | undefined,
    limits: Limits,
    headers: Readonly<Record<string, string>> = {},
    headerOrigins = origins,
  ) {
    this.#origins = origins
    this.#limits = limits
    this.#headers = headers
    this.#headerOrigins = headerOrigins
  }

  async get(url: string): Promise<Fetched> {
    const signal = AbortSignal.timeout(this.#limits.timeoutMs)
    const seen = new Set<string>()
    for (let at = this.#allowed(url); ;) {
      if (seen.has(at) || seen.size > MOST_REDIRECTS)
        throw new FetchError('redirect-circle', `its redirects do not end: ${[...seen].slice(0, 3).join(' → ')} → …`)
      seen.add(at)
      const response = await this.#ask(at, signal)
      const next = response.status >= 300 && response.status < 400 ? response.headers.get('location') : null
      if (next !== null) {
        await response.body?.cancel().catch(() => undefined)
        at = this.#allowed(next, at)
        continue
      }
      return {
        url: at,
        status: response.status,
        type: response.headers.get('content-type') ?? '',
        body: await this.#read(response),
        headers: Object.fromEntries(response.headers),
      }
    }
  }

  #allowed(address: string, base?: string): string {
    let url: URL
    try {
      url = new URL(address, base)
    } catch {
      throw new FetchError('not-reached', `"${address}" is not an address`)
    }
    url.hash = ''
    if (url.protocol !== 'http:' && url.protocol !== 'https:')
      throw new FetchError('other-origin', `it leads to ${url.protocol} ${address}, which is not a web page`)
    if (this.#origins && !this.#origins.has(url.origin))
      throw new FetchError(
        'other-origin',
        `it leads to ${url.origin}, and only ${[...this.#origins].join(', ')} was asked for`,
      )
    return url.href
  }

  async #ask(url: string, signal: AbortSignal, again = true): Promise<Response> {
    const own = this.#headerOrigins?.has(new URL(url).origin) ? this.#headers : {}
    try {
      return await fetch(url, {
        ...{ redirect: 'manual', signal },
        headers: { 'user-agent': AGENT, accept: '*/*', ...own },
      })
    } catch (error) {
      // A connection that was kept open may have been closed at the other end just now: once more, with a new one.
      if (again && !signal.aborted) return this.#ask(url, signal, false)
      throw this.#failed(error)
    }
  }

  async #read(response: Response): Promise<Uint8Array> {
    const { maxBytes } = this.#limits
    const chunks: Uint8Array[] = []
    let size = 0
    try {
      for await (const chunk of response.body ?? []) {
        size += (chunk as Uint8Array).length
        if (size > maxBytes)
          throw new FetchError(
            'too-large',
            `it is larger than ${maxBytes} bytes; --max-size allows more`,
            response.status,
          )
        chunks.push(chunk as Uint8Array)
      }
    } catch (error) {
      throw error instanceof FetchError ? error : this.#failed(error)
    }
    return Buffer.concat(chunks)
  }

  #failed(error: unknown): FetchError {
    const { name, message, cause } = error as Error & { cause?: { code?: string; message?: string } }
    if (name === 'TimeoutError' || name === 'AbortError')
      return new FetchError(
        'too-slow',
        `it did not come whole within ${this.#limits.timeoutMs / 1000} s; --timeout allows more`,
      )
    return new FetchError('not-reached', `it cannot be reached: ${cause?.code ?? cause?.message ?? message}`)
  }
}

/** What pages share, such as style sheets and fonts, is fetched once, as long as it fits. */
export class Remembered implements Source {
  readonly #source: Source
  readonly #known = new Map<string, Promise<Fetched>>()
  #left: number

  constructor(source: Source, maxBytes: number) {
    this.#source = source
    this.#left = maxBytes
  }

  get(url: string): Promise<Fetched> {
    const known = this.#known.get(url)
    if (known) return known
    const asked = this.#source.get(url)
    if (this.#left <= 0) return asked
    this.#known.set(url, asked)
    asked.then(
      ({ body }) => void (this.#left -= body.length),
      () => this.#known.delete(url),
    )
    return asked
  }
}

/** A folder of files as if it were served at an origin; nothing outside it is read. */
export class Folder implements Source {
  readonly #root: string
  readonly #origin: string
  readonly #maxBytes: number

  constructor(root: string, origin: string, maxBytes: number) {
    this.#root = existsSync(root) ? realpathSync(root) : resolve(root)
    this.#origin = origin
    this.#maxBytes = maxBytes
  }

  get(url: string): Promise<Fetched> {
    return Promise.resolve().then(() => this.#read(url))
  }

  #read(url: string): Fetched {
    const { origin, pathname } = new URL(url)
    if (origin !== this.#origin) throw new FetchError('other-origin', `${origin} is not in the folder`)
    let path: string
    try {
      path = resolve(this.#root, `.${sep}${decodeURIComponent(pathname)}`)
    } catch {
      throw new FetchError('not-reached', `"${pathname}" is not a path`)
    }
    const file = [path, join(path, 'index.html'), `${path}.html`, `${path}.htm`].find((each) => isFile(each))
    // A link in the folder may lead out of it.
    if (file === undefined || !realpathSync(file).startsWith(this.#root + sep))
      throw new FetchError('http-error', `there is no file for ${pathname}`, 404)
    const { size } = statSync(file)
    if (size > this.#maxBytes)
      throw new FetchError('too-large', `it is larger than ${this.#maxBytes} bytes; --max-size allows more`)
    return { url, status: 200, type: getMimeType(file) ?? typeOf(file), body: readFileSync(file), headers: {} }
  }
}

const isFile = (path: string): boolean => existsSync(path) && statSync(path).isFile()
const typeOf = (file: string): string => (extname(file) === '' ? 'text/html' : 'application/octet-stream')
