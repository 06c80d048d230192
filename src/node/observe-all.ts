import PQueue from 'p-queue'
import type { Viewport } from '../model/site.js'
import type { Locators } from '../observe/parts.js'
import { ObservationError, type Observation, type ObservationFailure } from '../reality/observation.js'
import type { PageLoader } from './browse.js'
import { expectPage, observeMarkup } from './markup.js'
import type { Robots } from './robots.js'
import { FetchError, Remembered, type Source } from './source.js'

/** How pages are observed. */
export interface ObserveAllOptions {
  readonly source: Source
  /** Opens pages; without one only their markup is looked at. */
  readonly loader?: PageLoader | undefined
  readonly viewports: readonly Viewport[]
  readonly locators: Locators
  readonly robots?: Robots | undefined
  readonly concurrency: number
  readonly timeoutMs: number
  /** Whether a page was observed already. */
  readonly isDone?: (url: string) => boolean
  /** Called with what one page gave: an observation for each viewport, or a failure. */
  readonly onResult: (results: readonly (Observation | ObservationFailure)[]) => void
}

/** Observes pages one beside the other; what goes wrong with one is reported as its result, and the rest goes on. */
export async function observeAll(urls: readonly string[], options: ObserveAllOptions): Promise<void> {
  const queue = new PQueue({ concurrency: options.concurrency })
  const shared = new Remembered(options.source, MOST_REMEMBERED)
  const left = [...new Set(urls)].filter((url) => !options.isDone?.(url))
  await queue.addAll(
    left.map((url) => async () => {
      const at = new Date().toISOString()
      const results = await observeOne(url, options, shared).catch((error: unknown) => [failureOf(url, error)])
      options.onResult(results.map((result) => ({ ...result, at })))
    }),
  )
}

const MOST_REMEMBERED = 64 * 1024 * 1024

async function observeOne(url: string, options: ObserveAllOptions, shared: Source): Promise<readonly Observation[]> {
  const { source, loader, viewports, locators, robots, timeoutMs } = options
  await robots?.expectAllowed(url)
  const fetched = await source.get(url)
  if (!isSamePage(fetched.url, url)) throw new FetchError('moved', `it leads on to ${fetched.url}`, fetched.status)
  expectPage(fetched)
  const document = { ...fetched, url }
  return loader
    ? loader.observe(shared, document, viewports, { locators }, timeoutMs)
    : [observeMarkup(document, { locators })]
}

/** A slash at the end, or a name instead of the bare host, makes no other page. */
function isSamePage(a: string, b: string): boolean {
  const path = (url: string): string => new URL(url).pathname.replace(/(.)\/+$/, '$1')
  return path(a) === path(b)
}

function failureOf(url: string, error: unknown): ObservationFailure {
  const known = error instanceof FetchError
  const isOurs = error instanceof ObservationError
  if (!known && !isOurs) {
    // What a browser or parser reports about a hostile page is that page's trouble.
    const { message } = error as Error
    return {
      wembra: 1,
      report: 'observation-failure',
      url,
      viewport: null,
      code: 'browser-failed',
      message: message.split('\n')[0] ?? '',
    }
  }
  return {
    ...({ wembra: 1, report: 'observation-failure', url, viewport: null } as const),
    code: known ? error.code : 'browser-failed',
    message: error.message,
    ...(known && error.status !== undefined && { status: error.status }),
  }
}
