// What `check` costs on 10,000 pages, beside JSON.parse of the same site and beside opening pages of it in Chromium.
import { chromium } from 'playwright-core'
import { inspect, measurePage, readSite, resolveSite, writeOut } from 'wembra'
import { CHROMIUM, CHROMIUM_ARGS, ensureChromium } from '../scripts/chromium.js'
import { makeSite } from './make-site.js'

const pages = Number(process.argv[2] ?? 10_000)
const OPENED = 10

const timed = async (work: () => unknown): Promise<number> => {
  const start = performance.now()
  await work()
  return performance.now() - start
}

ensureChromium()
const json = makeSite(pages)
const parse = await timed(() => JSON.parse(json) as unknown)
const site = readSite(json, { file: 'bench.site.json' })
const resolved = resolveSite(site)
const check = await timed(() => inspect(resolved, { fixes: false }))
const again = await timed(() => inspect(resolved, { fixes: false }))

const browser = await chromium.launch({ executablePath: CHROMIUM, args: [...CHROMIUM_ARGS] })
const tab = await browser.newPage()
const open = await timed(async () => {
  for (const id of resolved.pageIds.slice(0, OPENED))
    for (const { name, width, height } of site.viewports) {
      await tab.setViewportSize({ width, height })
      await tab.setContent(writeOut(measurePage(resolved.page(id), name)))
      await tab.screenshot()
    }
})
await browser.close()
const s = (ms: number): string => (ms / 1000).toFixed(2)
console.log(
  `${pages} pages at 3 viewports: JSON.parse ${s(parse)} s, check ${s(check)} s (${(check / parse).toFixed(0)}x), once more ${s(again)} s, ` +
    `opening ${OPENED} pages at 3 widths in Chromium ${s(open)} s: all pages would take ${s((open * pages) / OPENED)} s, ${((open * pages) / OPENED / check).toFixed(0)}x a check`,
)
