import { expect } from 'chai'
import { readFileSync } from 'node:fs'
import type { Browser, BrowserContext, Download, Locator, Page } from 'playwright-core'
import { serveWorkbench } from '../../scripts/workbench.js'
import { gone, PATIENCE, there, until, useBrowser } from './browser.js'

/** Waits until what an app keeps of its open site has some words in its texts: it is written a moment after a change. */
export async function untilKept(page: Page, words: string): Promise<void> {
  const isKept = (words: string): Promise<boolean> =>
    new Promise((done) => {
      const opening = indexedDB.open('keyval-store')
      opening.onerror = () => done(false)
      opening.onsuccess = () => {
        const got = opening.result.transaction('keyval').objectStore('keyval').get('wembra-session')
        got.onerror = () => done(false)
        got.onsuccess = () => {
          opening.result.close()
          const { texts = {} } = (got.result ?? {}) as { texts?: Record<string, string> }
          done(Object.values(texts).some((text) => text.includes(words)))
        }
      }
    })
  await until(() => page.evaluate(isKept, words), `"${words}" in what is kept`)
}

/** What the workbench shows nothing on, and so is there at once. */
const NOWHERE = '#/page/-'

/** The built workbench in a browser, with nothing stored and the demo site opened anew for each test. */
export class WorkbenchPage {
  #context!: BrowserContext
  #served!: Awaited<ReturnType<typeof serveWorkbench>>
  #page!: Page
  /** What the app logged; a test that expects it empties it. */
  errors: string[] = []
  /** Addresses that were asked for. */
  requests: string[] = []

  get page(): Page {
    return this.#page
  }

  get address(): string {
    return this.#served.address
  }

  async start(browser: Browser): Promise<void> {
    this.#served = await serveWorkbench()
    this.#context = await browser.newContext({ acceptDownloads: true, reducedMotion: 'reduce' })
  }

  async openPage(): Promise<void> {
    this.#page = await this.#context.newPage()
    await this.#look()
    this.#page.setDefaultTimeout(PATIENCE)
    this.errors = []
    this.requests = []
    this.#page.on('pageerror', (error) => this.errors.push(String(error)))
    this.#page.on('console', (message) => {
      // What looks into the sandboxed preview from outside is refused a script of its own: that is the sandbox.
      const isSandbox = message.text().startsWith("Blocked script execution in 'about:srcdoc'")
      if (message.type() === 'error' && !isSandbox) this.errors.push(message.text())
    })
    this.#page.on('request', (request) => this.requests.push(request.url()))
  }

  /** A wide window, in light colors. */
  async #look(): Promise<void> {
    await this.#page.setViewportSize({ width: 1280, height: 800 })
    await this.#page.emulateMedia({ colorScheme: 'light' })
  }

  /** Opens the demo site anew in the page as it was left, as a person does: without what was changed in it or planned. */
  async openAnew(): Promise<void> {
    const page = this.#page
    if (await this.dialog().isVisible()) {
      await page.keyboard.press('Escape')
      await gone(this.dialog())
    }
    const back = page.getByRole('button', { name: 'Back to the open site' })
    if (await back.isVisible()) await back.click()
    await page.mouse.move(0, 0)
    await page.goto(this.address + NOWHERE)
    await there(page.getByText('The site has no page “-”.'))
    const old = await page.locator('main').elementHandle()
    await page.getByRole('button', { name: 'Open', exact: true }).click()
    await page.getByRole('menuitem', { name: 'The demo site' }).click()
    await until(() => page.evaluate((main) => main?.isConnected === false, old), 'the demo site')
    await there(page.getByText('The site has no page “-”.'))
    await this.#look()
    // What went wrong on the way is an error of the test.
    this.requests = []
  }

  async closePage(): Promise<void> {
    await this.#page.goto('about:blank')
    const session = await this.#context.newCDPSession(this.#page)
    await session.send('Storage.clearDataForOrigin', { origin: new URL(this.address).origin, storageTypes: 'all' })
    await this.#page.close()
    expect(this.errors).to.deep.equal([])
  }

  async stop(): Promise<void> {
    await this.#served.close()
  }

  /** Goes to a screen, and waits for its heading. */
  async go(route: string): Promise<void> {
    await this.#page.goto(this.address + route)
    await there(this.#page.locator('main h2'))
  }

  /** Waits until a screen is there after something was chosen that leads to it. */
  arrived = (heading: string): Promise<void> =>
    there(this.#page.getByRole('heading', { level: 2, name: heading, exact: true }))
  dialog = (): Locator => this.#page.getByRole('dialog')
  preview = () => this.#page.frameLocator('.preview:not(.as-it-would-be *) iframe')
  /** The page as it would be with what is being written in a form. */
  trial = () => this.#page.frameLocator('.as-it-would-be iframe')
  shown = (text: string): Promise<void> =>
    there(this.#page.getByRole('status', { name: 'Pages shown' }).getByText(text, { exact: true }))
  /** The row of a setting in the table of all settings. */
  setting = (path: string): Locator =>
    this.#page
      .getByRole('region', { name: 'Facets', exact: true })
      .getByRole('row', { name: new RegExp(path.replace('.', '\\.')) })
  /** Sets a property at a layer, up to the dialog that shows what it changes. */
  async planSetting(path: string, value: string, layer?: string): Promise<void> {
    await this.#page.locator('.chain-button').filter({ hasText: path }).click()
    if (layer !== undefined) await this.#page.getByLabel('Set at').selectOption(layer)
    await this.#page.getByLabel(`Value of ${path}`).fill(value)
    await this.#page.getByRole('button', { name: 'Preview the change' }).click()
  }

  /** Waits until what is expected holds. @throws What it threw last. */
  async until(expected: () => Promise<unknown>): Promise<void> {
    let last: unknown
    const isDone = (): Promise<boolean> =>
      expected().then(
        () => true,
        (error: unknown) => {
          last = error
          return false
        },
      )
    await until(isDone, 'what was expected').catch((error: unknown) => {
      throw last ?? error
    })
  }

  async saving(act: () => Promise<void>): Promise<{ name: string; text: string; bytes: Buffer }> {
    const [download] = await Promise.all([this.#page.waitForEvent('download'), act()])
    const bytes = readFileSync(await (download as Download).path())
    return { name: download.suggestedFilename(), text: bytes.toString(), bytes }
  }

  /** Opens files as a person does who picks them. */
  async pick(files: readonly string[]): Promise<void> {
    await this.#page.getByRole('button', { name: 'Open', exact: true }).click()
    const [chooser] = await Promise.all([
      this.#page.waitForEvent('filechooser'),
      this.#page.getByRole('menuitem', { name: 'Files from this computer…' }).click(),
    ])
    await chooser.setFiles([...files])
  }
}

/**
 * Declares the hooks that give each test of a suite the demo site as nobody changed it: in the page of the test before,
 * where that passed, since loading all again takes ten times as long.
 */
export function useWorkbench(): WorkbenchPage {
  const browser = useBrowser()
  const workbench = new WorkbenchPage()
  let isOpen = false
  before(() => workbench.start(browser()))
  beforeEach(async () => {
    await (isOpen ? workbench.openAnew() : workbench.openPage())
    isOpen = true
  })
  afterEach(async function () {
    // What a test left that failed may be anything.
    if (this.currentTest?.state === 'passed') return expect(workbench.errors).to.deep.equal([])
    isOpen = false
    await workbench.closePage()
  })
  after(() => workbench.stop())
  return workbench
}
