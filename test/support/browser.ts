import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { setTimeout } from 'node:timers/promises'
import { chromium, type Browser, type Locator, type Page } from 'playwright-core'
import { CHROMIUM, CHROMIUM_ARGS } from '../../scripts/chromium.js'

/** What a test runs in a page it runs a few times: compiling it as far as it goes would cost more than it saves. */
const RUN_FEW_TIMES = '--js-flags=--no-turbofan --single-threaded-gc'

/** The Chromium that runs, if one does: it is started once in a process, for all its suites. */
let running: Promise<Browser> | undefined

async function start(): Promise<Browser> {
  const isGone = (): void => void (running = undefined)
  const launched = chromium.launch({ executablePath: CHROMIUM, args: [...CHROMIUM_ARGS, RUN_FEW_TIMES] })
  launched.then((browser) => browser.once('disconnected', isGone), isGone)
  return launched
}

/** Declares the hooks that give a suite a Chromium with nothing stored. What it opened there is closed after it. */
export function useBrowser(): () => Browser {
  let browser: Browser
  before(async () => void (browser = await (running ??= start())))
  after(async () => {
    // Other suites follow in a process that runs its share of all; one that runs a file alone ends with its browser.
    if (process.env['MOCHA_WORKER_ID'] === undefined) return browser.close()
    for (const context of browser.contexts()) await context.close()
  })
  return () => browser
}

/** How long something is waited for, in ms: on a busy machine much is slow, and only what never comes is an error. */
export const PATIENCE = 120_000

/**
 * Asks again and again until it is so: after a frame first, then less often, for each question takes time of what is
 * waited for. Of a locator that waits by itself the pauses are half a second long.
 *
 * @throws Once it was waited for too long.
 */
export async function until(isDone: () => Promise<boolean>, what: string): Promise<void> {
  const end = Date.now() + PATIENCE
  for (let pause = FRAME; !(await isDone()); pause = Math.min(pause * 1.3, LONGEST_PAUSE)) {
    if (Date.now() > end) throw new Error(`waited ${PATIENCE} ms for ${what}`)
    await setTimeout(pause)
  }
}
const [FRAME, LONGEST_PAUSE] = [16, 80]

const untilSo = (locator: Locator, isDone: () => Promise<boolean>): Promise<void> =>
  until(() => {
    if (locator.page().isClosed()) throw new Error(`the page was closed, and not ${String(locator)}`)
    return isDone()
  }, String(locator))

/** Waits until something can be seen. */
export const there = (locator: Locator): Promise<void> => untilSo(locator, () => locator.isVisible())

/** Waits until nothing of the kind is in the page any more. */
export const gone = (locator: Locator): Promise<void> => untilSo(locator, async () => (await locator.count()) === 0)

/** A page that fails the test on any error the app logs. */
export async function openPage(browser: Browser, address: string): Promise<{ page: Page; errors: string[] }> {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, reducedMotion: 'reduce' })
  page.setDefaultTimeout(PATIENCE)
  const errors: string[] = []
  page.on('pageerror', (error) => errors.push(String(error)))
  page.on('console', (message) => {
    if (message.type() === 'error') errors.push(message.text())
  })
  await page.goto(address)
  return { page, errors }
}

const AXE = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8')

/**
 * What axe finds against a page, by all of its rules, some, or all but some. The page's own policy allows no script of
 * ours, so axe is run by the browser's debugger, not by the page; previews in frames are sites' pages, not the app's, and
 * would not answer it.
 */
export async function violations(
  page: Page,
  { only, but = [] }: { readonly only?: readonly string[]; readonly but?: readonly string[] } = {},
): Promise<readonly string[]> {
  if (!(await page.evaluate('"axe" in window'))) await page.evaluate(AXE)
  const rules = Object.fromEntries(but.map((rule) => [rule, { enabled: false }]))
  const options = JSON.stringify({
    iframes: false,
    resultTypes: ['violations'],
    selectors: false,
    rules,
    ...(only && { runOnly: only }),
  })
  return page.evaluate(
    `axe.run(${options}).then((r) => r.violations.map((v) => v.id + ': ' + v.nodes.map((n) => n.html).slice(0, 3).join(' | ')))`,
  )
}
