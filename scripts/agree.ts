// Compares the boxes that are worked out with those a real Chromium lays out, page by page and width by width.
import { fontMeasurer } from 'wembra/fonts'
import { Presets, SingleBar } from 'cli-progress'
import { readFileSync } from 'node:fs'
import { chromium, type Browser, type Page } from 'playwright-core'
import { measurePage, memoryFiles, readSite, resolveSite, type ResolvedSite } from 'wembra'
import { fontFace, renderHtml } from 'wembra/report'
import { randomPages } from '../test/support/random-page.js'
import { loadSite } from 'wembra/node'
import { CHROMIUM, CHROMIUM_ARGS, ensureChromium } from './chromium.js'

const WIDEST = 1280
export const WIDTHS = [WIDEST, 1024, 768, 390, 320]
const HEIGHT = 800
/** Tabs that are laid out in at once. */
const TABS = 2
/** Half a CSS pixel: what the geometry claims. */
const CLAIM_PX = 0.5

export interface Disagreement {
  readonly page: string
  readonly width: number
  readonly box: string
  readonly worked: readonly number[]
  readonly laidOut: readonly number[] | null
}

/** Lays every page of a site out in a browser, and tells the boxes that are off by more than half a px. */
export async function disagreements(
  browser: Browser,
  resolved: ResolvedSite,
  options: { readonly pages?: readonly string[]; readonly onPage?: (done: number, all: number) => void } = {},
): Promise<{ found: Disagreement[]; boxes: number }> {
  const found: Disagreement[] = []
  let boxes = 0
  let done = 0
  const ids = (options.pages ?? resolved.pageIds).filter((id) => !resolved.page(id).dormant)
  const left = [...WIDTHS]
  const [first] = ids
  // One font is the whole site's.
  const font = first === undefined ? '' : fontFace(measurePage(resolved.page(first), { width: WIDEST, height: HEIGHT }))
  const work = async (): Promise<void> => {
    const tab = await browser.newPage()
    await tab.setContent(`<!doctype html><html lang="en"><style data-font>${font ?? ''}</style><body></body></html>`)
    for (let width = left.shift(); width !== undefined; width = left.shift()) {
      await tab.setViewportSize({ width, height: HEIGHT })
      for (const id of ids) {
        const result = await compare(tab, resolved, id, width)
        boxes += result.boxes
        found.push(...result.found)
        done += 1
        options.onPage?.(done, WIDTHS.length * ids.length)
      }
    }
    await tab.close()
  }
  // A browser lays pages out in processes of their own, so that two go side by side.
  await Promise.all(Array.from({ length: TABS }, work))
  const order = (d: Disagreement): number => WIDTHS.indexOf(d.width)
  return { found: found.sort((a, b) => order(a) - order(b)), boxes }
}

/** Puts a page into a document that has the site's font already: reading that takes longer than all the rest. */
async function show(tab: Page, html: string): Promise<void> {
  await tab.evaluate((html) => {
    const next = new DOMParser().parseFromString(html, 'text/html')
    const font = document.querySelector('style[data-font]')
    for (const child of [...document.head.children]) if (child !== font) child.remove()
    document.head.prepend(...[...next.head.children].map((child) => document.adoptNode(child)))
    document.body.replaceWith(document.adoptNode(next.body))
    scrollTo(0, 0)
    // Laid out once, so that the font is asked for.
    document.body.getBoundingClientRect()
    return document.fonts.ready.then(() => undefined)
  }, html)
}

/** Lays one page out at one width, and tells the boxes that are off. */
async function compare(tab: Page, resolved: ResolvedSite, id: string, width: number) {
  const measure = measurePage(resolved.page(id), { width, height: HEIGHT })
  await show(tab, renderHtml(measure, { font: false }))
  const laidOut = await tab.evaluate(() =>
    Object.fromEntries(
      [...document.querySelectorAll<HTMLElement>('[data-box]')].map((element) => {
        const { x, y, width: w, height: h } = element.getBoundingClientRect()
        return [element.dataset['box'] ?? '', [x + scrollX, y + scrollY, w, h]]
      }),
    ),
  )
  const found = measure.boxes.flatMap((box): Disagreement[] => {
    const worked = [box.x, box.y, box.width, box.height]
    const seen = laidOut[box.id] ?? null
    const agrees = seen !== null && worked.every((n, i) => Math.abs(n - (seen[i] ?? NaN)) <= CLAIM_PX)
    return agrees ? [] : [{ page: id, width, box: box.id, worked, laidOut: seen }]
  })
  return { found, boxes: measure.boxes.length }
}

const RANDOM_PAGES = 1000
const PAGES_A_SITE = 10

/** A site of random pages; every second one has a font of its own. */
export function randomSiteAt(seed: number, pages = PAGES_A_SITE): ResolvedSite {
  const withFont = seed % 2 === 0
  const files = { 'text.ttf': new Uint8Array(readFileSync('examples/quillmere/fonts/text.ttf')) }
  const text = JSON.stringify(randomPages(seed, pages, withFont))
  return resolveSite(
    readSite(text, { file: 'random.site.json', files: memoryFiles(withFont ? files : {}, fontMeasurer) }),
  )
}

if (process.argv[1] === new URL(import.meta.url).pathname) {
  ensureChromium()
  const sites = [
    () => resolveSite(loadSite('examples/quillmere')),
    () => resolveSite(loadSite('examples/quillmere-clean')),
  ]
  const count = Number(process.argv[2] ?? RANDOM_PAGES)
  for (let seed = 1; seed <= count / PAGES_A_SITE; seed++) sites.push(() => randomSiteAt(seed))
  const bar = new SingleBar({ format: '{bar} {value} of {total} pages, {eta_formatted} left' }, Presets.shades_classic)
  const ids = sites.slice(0, 2).map((site) => site().pageIds.length)
  bar.start(ids.reduce((a, b) => a + b, 0) + count, 0)
  const found: Disagreement[] = []
  let boxes = 0
  let pages = 0
  const browser = await chromium.launch({ executablePath: CHROMIUM, args: [...CHROMIUM_ARGS] })
  for (const [index, site] of sites.entries()) {
    const resolved = site()
    const result = await disagreements(browser, resolved)
    found.push(
      ...result.found.map((d) => ({ ...d, page: `${index < 2 ? resolved.site.file : `seed ${index - 1}`} ${d.page}` })),
    )
    boxes += result.boxes
    pages += resolved.pageIds.length
    bar.update(pages)
  }
  bar.stop()
  await browser.close()
  const round = (list: readonly number[] | null): string =>
    list ? list.map((n) => Math.round(n * 100) / 100).join(' ') : 'not there'
  for (const d of found.slice(0, 40))
    console.log(`${d.page} at ${d.width}, ${d.box}: worked out ${round(d.worked)}, laid out ${round(d.laidOut)}`)
  console.log(
    `${boxes} boxes on ${pages} pages at ${WIDTHS.length} widths; ${found.length} off by more than ${CLAIM_PX} px`,
  )
  process.exit(found.length > 0 ? 1 : 0)
}
