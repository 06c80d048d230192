import { existsSync, readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import type { Browser, BrowserContext, CDPSession, Page, Route } from 'playwright-core'
import type { Viewport } from '../model/site.js'
import type { ObserveOptions } from '../observe/index.js'
import { readObservation, type Observation } from '../reality/observation.js'
import { expectPage, withHeaders } from './markup.js'
import { FetchError, type Fetched, type Source } from './source.js'

const BROWSERS = ['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome']
const SCRIPT = fileURLToPath(new URL('../../dist/observe/script.js', import.meta.url))

/** Nothing is fetched by the browser itself: what it may have comes through its `Source`, all else meets a closed door. */
const ARGUMENTS = [
  ...['--no-sandbox', '--disable-gpu', '--disable-background-networking', '--disable-component-update'],
  ...['--disable-sync', '--font-render-hinting=none', '--proxy-server=http://127.0.0.1:9', '--proxy-bypass-list=<-loopback>'],
  ...['--force-webrtc-ip-handling-policy=disable_non_proxied_udp', '--mute-audio', '--js-flags=--max-old-space-size=512'],
]
/** A page may go on loading pictures for ever; so long is waited for them once its markup is there. */
const SETTLE_MS = 5000
const FONTS_MS = 2000
const MOST_REQUESTS = 500

/** Opens pages in a real browser and observes them there. */
export class BrowserEye {
  readonly #browser: Browser
  readonly #script: string

  private constructor(browser: Browser) {
    this.#browser = browser
    this.#script = readFileSync(SCRIPT, 'utf8')
  }

  /** @throws {FetchError} When there is no browser, or no program to drive it. */
  static async open(path = process.env['CHROMIUM'] ?? BROWSERS.find((each) => existsSync(each))): Promise<BrowserEye> {
    if (path === undefined)
      throw new FetchError('browser-failed', `there is no Chromium at ${BROWSERS.join(', ')}; install it, or name one with CHROMIUM=/path`)
    const { chromium } = await import('playwright-core').catch(() => {
      throw new FetchError('browser-failed', '--browser needs the package playwright-core: npm install playwright-core')
    })
    try {
      return new BrowserEye(await chromium.launch({ executablePath: path, args: ARGUMENTS }))
    } catch (error) {
      throw new FetchError('browser-failed', `${path} does not start: ${(error as Error).message.split('\n')[0]}`)
    }
  }

  close(): Promise<void> {
    return this.#browser.close()
  }

  /**
   * Observes a page at each viewport, loaded anew for each.
   *
   * @throws {FetchError} When it does not come or does not come to rest in time.
   */
  async observe(
    source: Source,
    document: Fetched,
    viewports: readonly Viewport[],
    options: Pick<ObserveOptions, 'locators'>,
    timeoutMs: number,
  ): Promise<readonly Observation[]> {
    expectPage(document)
    const context = await this.#browser.newContext({ serviceWorkers: 'block', acceptDownloads: false, reducedMotion: 'reduce' })
    try {
      const all = this.#atEach(context, source, document, viewports, options, timeoutMs)
      return await within(all, timeoutMs * viewports.length, 'it did not come to rest')
    } finally {
      await within(context.close(), SETTLE_MS, 'the browser does not let go of it').catch(() => undefined)
    }
  }

  async #atEach(
    context: BrowserContext,
    source: Source,
    document: Fetched,
    viewports: readonly Viewport[],
    options: Pick<ObserveOptions, 'locators'>,
    timeoutMs: number,
  ): Promise<readonly Observation[]> {
    const page = await context.newPage()
    context.on('page', (other) => void (other === page || other.close().catch(() => undefined)))
    page.on('dialog', (dialog) => void dialog.dismiss().catch(() => undefined))
    await context.route('**/*', serve(source, document, page))
    const session = await context.newCDPSession(page)
    const found: Observation[] = []
    for (const viewport of viewports) {
      await page.setViewportSize({ width: viewport.width, height: viewport.height })
      await page.goto(document.url, { waitUntil: 'domcontentloaded', timeout: timeoutMs }).catch((error: Error) => {
        throw new FetchError('browser-failed', `the browser cannot open it: ${error.message.split('\n')[0]}`)
      })
      await page.waitForLoadState('load', { timeout: Math.min(SETTLE_MS, timeoutMs) }).catch(() => undefined)
      found.push(withHeaders(await this.#look(session, viewport, options, timeoutMs), document))
    }
    return found
  }

  /** Runs the observer in a world of its own, where the page's scripts have changed nothing. */
  async #look(session: CDPSession, viewport: Viewport, options: Pick<ObserveOptions, 'locators'>, timeoutMs: number): Promise<Observation> {
    const { frameTree } = await session.send('Page.getFrameTree')
    const { executionContextId: contextId } = await session.send('Page.createIsolatedWorld', { frameId: frameTree.frame.id })
    const asked = JSON.stringify({ ...options, viewport: viewport.name })
    const settled = `Promise.race([document.fonts.ready.then(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))), new Promise((done) => setTimeout(done, ${FONTS_MS}))])`
    const { result, exceptionDetails } = await session.send('Runtime.evaluate', {
      expression: `${this.#script}\n${settled}.then(() => JSON.stringify(wembraObserve(${asked})))`,
      ...{ contextId, awaitPromise: true, returnByValue: true, timeout: timeoutMs },
    })
    if (exceptionDetails || typeof result.value !== 'string')
      throw new FetchError('browser-failed', `the observer failed in it: ${exceptionDetails?.exception?.description ?? exceptionDetails?.text ?? 'no answer'}`)
    const observation = readObservation(result.value, 'the browser')
    if (observation.report !== 'observation') throw new FetchError('browser-failed', 'the observer gave no observation')
    // A page may change its address by script; what counts is where it was found.
    return observation
  }
}

/** Answers a page's requests from a source: its document as it was fetched, what else it needs by GET alone. */
function serve(source: Source, document: Fetched, page: Page): (route: Route) => Promise<void> {
  let requests = 0
  return async (route) => {
    const request = route.request()
    try {
      requests += 1
      const isDocument = request.isNavigationRequest() && request.frame() === page.mainFrame()
      if (isDocument && request.url() === document.url) return await route.fulfill(answer(document))
      // A page that sends itself elsewhere is not the page that was asked for.
      if (isDocument || request.method() !== 'GET' || requests > MOST_REQUESTS) return await route.abort('blockedbyclient')
      await route.fulfill(answer(await source.get(request.url())))
    } catch {
      await route.abort('failed').catch(() => undefined)
    }
  }
}

const answer = ({ status, type, body, headers }: Fetched) => ({
  status,
  headers: {
    ...(type !== '' && { 'content-type': type }),
    ...(headers['content-security-policy'] !== undefined && { 'content-security-policy': headers['content-security-policy'] }),
    ...(headers['access-control-allow-origin'] !== undefined && { 'access-control-allow-origin': headers['access-control-allow-origin'] }),
  },
  body: Buffer.from(body),
})

async function within<T>(work: Promise<T>, ms: number, what: string): Promise<T> {
  let timer: NodeJS.Timeout | undefined
  const late = new Promise<never>((_, fail) => {
    timer = setTimeout(() => fail(new FetchError('too-slow', `${what} within ${ms / 1000} s; --timeout allows more`)), ms)
  })
  try {
    return await Promise.race([work, late])
  } finally {
    clearTimeout(timer)
    work.catch(() => undefined)
  }
}
