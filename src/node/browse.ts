import { existsSync, readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import type { Browser, BrowserContext, CDPSession, Page, Route } from 'playwright-core'
import type { Viewport } from '../model/site.js'
import type { ObserveOptions } from '../observe/index.js'
import type { KnownParts } from '../observe/parts.js'
import { readObservation, type Observation, type ObservedBox } from '../reality/observation.js'
import { expectPage, withHeaders } from './markup.js'
import FEATURES from './chromium-features.json' with { type: 'json' }
import { FetchError, type Fetched, type Source } from './source.js'

const BROWSERS = ['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome']
const SCRIPT = fileURLToPath(new URL('../../dist/observe/script.js', import.meta.url))

/** Nothing is fetched by the browser itself: what it may have comes through its `Source`, all else meets a closed door. */
const ARGUMENTS = [
  ...['--disable-gpu', '--disable-background-networking', '--disable-component-update'],
  ...[
    '--disable-sync',
    '--font-render-hinting=none',
    '--proxy-server=http://127.0.0.1:9',
    '--proxy-bypass-list=<-loopback>',
  ],
  ...[
    '--force-webrtc-ip-handling-policy=disable_non_proxied_udp',
    '--mute-audio',
    '--js-flags=--max-old-space-size=512',
  ],
  // The browser's own interface is drawn in pages, at a second of the processor for each tab; the list takes the place
  // of the driver's, and repeats it.
  `--disable-features=${FEATURES.join(',')}`,
]
/** A page may go on loading pictures for ever; so long is waited for them once its markup is there. */
const SETTLE_MS = 5000
const FONTS_MS = 2000
/** A page is at rest when it is as large, and holds as much, as this long before: scripts may build it late. */
const REST_MS = 80
const RESTING = `() => new Promise((done) => {
  const sizeOf = () => [document.documentElement.scrollWidth, document.documentElement.scrollHeight, document.getElementsByTagName('*').length].join()
  const look = (before) => setTimeout(() => requestAnimationFrame(() => { const now = sizeOf(); now === before ? done() : look(now) }), ${REST_MS})
  requestAnimationFrame(() => look(sizeOf()))
})`
/** Of each load of a page. */
const MOST_REQUESTS = 500

/** Opens pages in a real browser and observes them there. */
export class PageLoader {
  /** Whether the browser keeps what a page could make of its processes from the machine. */
  readonly hasSandbox: boolean
  readonly #browser: Browser
  readonly #script: string
  /** Tabs that came through their last page unharmed. */
  readonly #idle: Tab[] = []

  private constructor(browser: Browser, hasSandbox: boolean) {
    this.#browser = browser
    this.hasSandbox = hasSandbox
    this.#script = readFileSync(SCRIPT, 'utf8')
  }

  /**
   * Starts a browser, with its sandbox where the machine and the user allow one.
   *
   * @throws {FetchError} When there is no browser, or no program to drive it.
   */
  static async open(path = process.env['CHROMIUM'] ?? BROWSERS.find((each) => existsSync(each))): Promise<PageLoader> {
    if (path === undefined)
      throw new FetchError(
        'browser-failed',
        `there is no Chromium at ${BROWSERS.join(', ')}; install it, or name one with CHROMIUM=/path`,
      )
    const { chromium } = await import('playwright-core').catch(() => {
      throw new FetchError('browser-failed', '--browser needs the package playwright-core: npm install playwright-core')
    })
    const launch = async (chromiumSandbox: boolean): Promise<PageLoader> =>
      new PageLoader(await chromium.launch({ executablePath: path, args: ARGUMENTS, chromiumSandbox }), chromiumSandbox)
    // For the root user there is none.
    const sandboxed = process.getuid?.() === 0 ? undefined : await launch(true).catch(() => undefined)
    try {
      return sandboxed ?? (await launch(false))
    } catch (error) {
      throw new FetchError('browser-failed', `${path} does not start: ${(error as Error).message.split('\n')[0]}`)
    }
  }

  /** Ends the browser. */
  close(): Promise<void> {
    return this.#browser.close()
  }

  /**
   * A picture of a part of a page, as it is before anything is scrolled: a data address.
   *
   * @throws {FetchError} When the page does not come or does not come to rest in time.
   */
  async picture(
    source: Source,
    url: string,
    viewport: Viewport,
    view: ObservedBox,
    timeoutMs: number,
  ): Promise<string> {
    const document = { ...(await source.get(url)), url }
    expectPage(document)
    const tab = await Tab.open(this.#browser)
    try {
      const look = { source, document, viewports: [viewport], options: {}, timeoutMs, script: '' }
      return await within(tab.picture(look, viewport, view), timeoutMs * 2, 'its picture was not taken')
    } finally {
      await within(tab.close(), SETTLE_MS, 'the browser does not let go of it').catch(() => undefined)
    }
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
    const tab = this.#idle.pop() ?? (await Tab.open(this.#browser))
    try {
      const all = tab.observe({ source, document, viewports, options, timeoutMs, script: this.#script })
      const found = await within(all, timeoutMs * viewports.length, 'it did not finish loading')
      await within(tab.forget(document.url), SETTLE_MS, 'the browser does not let go of it')
      this.#idle.push(tab)
      return found
    } catch (error) {
      // What a page did to its tab is not known: the next gets another.
      await within(tab.close(), SETTLE_MS, 'the browser does not let go of it').catch(() => undefined)
      throw error
    }
  }
}

interface Look {
  readonly source: Source
  readonly document: Fetched
  readonly viewports: readonly Viewport[]
  readonly options: Pick<ObserveOptions, 'locators'>
  readonly timeoutMs: number
  readonly script: string
}

/** One tab with a profile of its own. */
class Tab {
  readonly #context: BrowserContext
  readonly #page: Page
  readonly #session: CDPSession
  #look: Look | undefined
  #requests = 0

  private constructor(context: BrowserContext, page: Page, session: CDPSession) {
    this.#context = context
    this.#page = page
    this.#session = session
  }

  static async open(browser: Browser): Promise<Tab> {
    const context = await browser.newContext({
      serviceWorkers: 'block',
      acceptDownloads: false,
      reducedMotion: 'reduce',
    })
    const page = await context.newPage()
    const tab = new Tab(context, page, await context.newCDPSession(page))
    context.on('page', (other) => void other.close().catch(() => undefined))
    page.on('dialog', (dialog) => void dialog.dismiss().catch(() => undefined))
    await context.route('**/*', (route) => tab.#serve(route))
    return tab
  }

  close(): Promise<void> {
    return this.#context.close()
  }

  /** Removes what a page kept in the browser, so that the next is seen as by somebody who comes anew. */
  async forget(url: string): Promise<void> {
    this.#look = undefined
    await this.#session.send('Storage.clearDataForOrigin', { origin: new URL(url).origin, storageTypes: 'all' })
  }

  async observe(look: Look): Promise<readonly Observation[]> {
    const { document, viewports } = look
    this.#look = look
    const found: Observation[] = []
    let known: KnownParts = {}
    for (const viewport of viewports) {
      await this.#load(look, viewport)
      const seen = withHeaders(await this.#observeHere(look, viewport, known), document)
      const { sidebar } = seen.parts
      // What is beside the text at one width is the same thing where it lies beneath.
      if (sidebar?.path !== undefined && sidebar.presence === 'shown') known = { ...known, sidebar: sidebar.path }
      found.push(seen)
    }
    return found
  }

  async picture(look: Look, viewport: Viewport, view: ObservedBox): Promise<string> {
    this.#look = look
    await this.#load(look, viewport)
    const clip = { ...view, x: Math.max(0, view.x), y: Math.max(0, view.y) }
    const bytes = await this.#page.screenshot({ type: 'jpeg', quality: 70, fullPage: true, clip })
    return `data:image/jpeg;base64,${bytes.toString('base64')}`
  }

  /** Opens the page in a window of that size, and waits for what it needs, but not for ever. */
  async #load({ document, timeoutMs }: Look, { width, height }: Viewport): Promise<void> {
    this.#requests = 0
    await this.#page.setViewportSize({ width, height })
    await this.#page.goto(document.url, { waitUntil: 'domcontentloaded', timeout: timeoutMs }).catch((error: Error) => {
      throw new FetchError('browser-failed', `the browser cannot open it: ${error.message.split('\n')[0]}`)
    })
    await this.#page.waitForLoadState('load', { timeout: Math.min(SETTLE_MS, timeoutMs / 2) }).catch(() => undefined)
  }

  /** Runs the observer in a world of its own, where the page's scripts have changed nothing. */
  async #observeHere(
    { document, options, timeoutMs, script }: Look,
    viewport: Viewport,
    known: KnownParts,
  ): Promise<Observation> {
    const { frameTree } = await this.#session.send('Page.getFrameTree')
    const { executionContextId: contextId } = await this.#session.send('Page.createIsolatedWorld', {
      frameId: frameTree.frame.id,
    })
    const asked = JSON.stringify({ ...options, known, viewport: viewport.name })
    const settled = `Promise.race([document.fonts.ready.then(${RESTING}), new Promise((done) => setTimeout(done, ${FONTS_MS}))])`
    const { result, exceptionDetails } = await this.#session.send('Runtime.evaluate', {
      expression: `${script}\n${settled}.then(() => JSON.stringify(wembraObserve(${asked})))`,
      ...{ contextId, awaitPromise: true, returnByValue: true, timeout: timeoutMs },
    })
    if (exceptionDetails || typeof result.value !== 'string')
      throw new FetchError(
        'browser-failed',
        `the observer failed in it: ${exceptionDetails?.exception?.description ?? exceptionDetails?.text ?? 'no answer'}`,
      )
    const observation = readObservation(result.value, 'the browser')
    if (observation.report !== 'observation') throw new FetchError('browser-failed', 'the observer gave no observation')
    // A script may rewrite the address it was found at, but what is somewhere else is another page.
    if (!URL.canParse(observation.url) || new URL(observation.url).origin !== new URL(document.url).origin)
      throw new FetchError('moved', 'a script or refresh of it leads on to another site')
    return { ...observation, url: document.url }
  }

  /** Answers the page's requests from its source: the document as it was fetched, what else it needs by GET alone. */
  async #serve(route: Route): Promise<void> {
    const request = route.request()
    const look = this.#look
    try {
      this.#requests += 1
      const isDocument = request.isNavigationRequest() && request.frame() === this.#page.mainFrame()
      if (isDocument && request.url() === look?.document.url) return await route.fulfill(answer(look.document))
      // A page that sends itself elsewhere is not the page that was asked for.
      if (!look || isDocument || request.method() !== 'GET' || this.#requests > MOST_REQUESTS)
        return await route.abort('blockedbyclient')
      await route.fulfill(answer(await look.source.get(request.url())))
    } catch {
      await route.abort('failed').catch(() => undefined)
    }
  }
}

const answer = ({ status, type, body, headers }: Fetched) => ({
  status,
  headers: {
    ...(type !== '' && { 'content-type': type }),
    ...(headers['content-security-policy'] !== undefined && {
      'content-security-policy': headers['content-security-policy'],
    }),
    ...(headers['access-control-allow-origin'] !== undefined && {
      'access-control-allow-origin': headers['access-control-allow-origin'],
    }),
  },
  body: Buffer.from(body),
})

async function within<T>(work: Promise<T>, ms: number, what: string): Promise<T> {
  let timer: NodeJS.Timeout | undefined
  const late = new Promise<never>((_, fail) => {
    timer = setTimeout(
      () => fail(new FetchError('too-slow', `${what} within ${ms / 1000} s; --timeout allows more`)),
      ms,
    )
  })
  try {
    return await Promise.race([work, late])
  } finally {
    clearTimeout(timer)
    work.catch(() => undefined)
  }
}
