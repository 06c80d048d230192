// Holds the boxes that are worked out against those a real Chromium lays out, page by page and width by width.
import { Presets, SingleBar } from 'cli-progress'
import { readFileSync } from 'node:fs'
import { chromium } from 'playwright-core'
import { measurePage, memoryFiles, readSite, resolveSite, writeOut, type ResolvedSite } from 'wembra'
import { randomPages } from '../test/support/random-page.js'
import { loadSite } from 'wembra/node'
import { CHROMIUM, CHROMIUM_ARGS, ensureChromium } from './chromium.js'

export const WIDTHS = [1280, 1024, 768, 390, 320]
const HEIGHT = 800
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
  resolved: ResolvedSite,
  options: { readonly pages?: readonly string[]; readonly onPage?: (done: number, all: number) => void } = {},
): Promise<{ found: Disagreement[]; boxes: number }> {
  const browser = await chromium.launch({ executablePath: CHROMIUM, args: [...CHROMIUM_ARGS] })
  const found: Disagreement[] = []
  let boxes = 0
  try {
    const context = await browser.newContext({ javaScriptEnabled: true })
    const tab = await context.newPage()
    const ids = (options.pages ?? resolved.pageIds).filter((id) => !resolved.page(id).dormant)
    for (const width of WIDTHS) {
      await tab.setViewportSize({ width, height: HEIGHT })
      for (const [done, id] of ids.entries()) {
        const measure = measurePage(resolved.page(id), { width, height: HEIGHT })
        await tab.setContent(writeOut(measure))
        await tab.evaluate(() => document.fonts.ready.then(() => undefined))
        const laidOut = await tab.evaluate(() =>
          Object.fromEntries(
            [...document.querySelectorAll<HTMLElement>('[data-box]')].map((element) => {
              const { x, y, width: w, height: h } = element.getBoundingClientRect()
              return [element.dataset['box'] ?? '', [x + scrollX, y + scrollY, w, h]]
            }),
          ),
        )
        for (const box of measure.boxes) {
          boxes += 1
          const worked = [box.x, box.y, box.width, box.height]
          const seen = laidOut[box.id] ?? null
          if (!seen || worked.some((n, i) => Math.abs(n - (seen[i] ?? NaN)) > CLAIM_PX))
            found.push({ page: id, width, box: box.id, worked, laidOut: seen })
        }
        options.onPage?.(WIDTHS.indexOf(width) * ids.length + done + 1, WIDTHS.length * ids.length)
      }
    }
  } finally {
    await browser.close()
  }
  return { found, boxes }
}

const RANDOM_PAGES = 1000
const PAGES_A_SITE = 10

/** A site of random pages; every second one has a font of its own. */
export function randomSiteAt(seed: number, pages = PAGES_A_SITE): ResolvedSite {
  const withFont = seed % 2 === 0
  const files = { 'text.ttf': new Uint8Array(readFileSync('examples/quillmere/fonts/text.ttf')) }
  const text = JSON.stringify(randomPages(seed, pages, withFont))
  return resolveSite(readSite(text, { file: 'random.site.json', files: memoryFiles(withFont ? files : {}) }))
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
  for (const [index, site] of sites.entries()) {
    const resolved = site()
    const result = await disagreements(resolved)
    found.push(
      ...result.found.map((d) => ({ ...d, page: `${index < 2 ? resolved.site.file : `seed ${index - 1}`} ${d.page}` })),
    )
    boxes += result.boxes
    pages += resolved.pageIds.length
    bar.update(pages)
  }
  bar.stop()
  const round = (list: readonly number[] | null): string =>
    list ? list.map((n) => Math.round(n * 100) / 100).join(' ') : 'not there'
  for (const d of found.slice(0, 40))
    console.log(`${d.page} at ${d.width}, ${d.box}: worked out ${round(d.worked)}, laid out ${round(d.laidOut)}`)
  console.log(
    `${boxes} boxes on ${pages} pages at ${WIDTHS.length} widths; ${found.length} off by more than ${CLAIM_PX} px`,
  )
  process.exit(found.length > 0 ? 1 : 0)
}
