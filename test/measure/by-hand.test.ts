import { fontMeasurer } from 'wembra/fonts'
import { expect } from 'chai'
import { readdirSync, readFileSync } from 'node:fs'
import type { Page } from 'playwright-core'
import { measurePage, memoryFiles, readSite, resolveSite } from 'wembra'
import { useBrowser } from '../support/browser.js'

const FOLDER = 'test/measure/by-hand/'
const FONT = readFileSync('examples/quillmere/fonts/text.ttf')
const WIDTHS = [1280, 1024, 768, 390, 320]
const HEIGHT = 800
const CLAIM_PX = 0.5

describe('a second witness: pages written by hand, as themes and builders write them', () => {
  const browser = useBrowser()
  let tab: Page

  before(async () => {
    tab = await browser().newPage()
  })

  const names = readdirSync(FOLDER).flatMap((file) => (file.endsWith('.html') ? [file.replace('.html', '')] : []))
  it('there are ten of them', () => expect(names).to.have.lengthOf(10))

  for (const name of names)
    it(`${name}: every box agrees at ${WIDTHS.length} widths`, async () => {
      const text = readFileSync(`${FOLDER}${name}.site.yaml`, 'utf8')
      const site = resolveSite(
        readSite(text, {
          file: 'hand.site.yaml',
          files: memoryFiles({ 'text.ttf': new Uint8Array(FONT) }, fontMeasurer),
        }),
      )
      const html = readFileSync(`${FOLDER}${name}.html`, 'utf8')
      await tab.setContent(html.replace('FONT', `data:font/ttf;base64,${FONT.toString('base64')}`))
      await tab.addStyleTag({ content: 'html { scrollbar-width: none } body { margin: 0 }' })
      await tab.evaluate(() => document.fonts.ready.then(() => undefined))
      for (const width of WIDTHS) {
        await tab.setViewportSize({ width, height: HEIGHT })
        const seen = await tab.evaluate(() =>
          [...document.querySelectorAll<HTMLElement>('[data-box]')].map((element) => {
            const { x, y, width: w, height: h } = element.getBoundingClientRect()
            const isLaidOut = element.getClientRects().length > 0
            return [element.dataset['box'] ?? '', isLaidOut ? [x, y, w, h] : undefined] as const
          }),
        )
        const measure = measurePage(site.page('visit'), { width, height: HEIGHT })
        expect(seen.length).to.be.greaterThan(4)
        for (const [id, numbers] of seen) {
          const box = measure.box(id)
          if (!numbers) expect(box, id).to.equal(undefined)
          const worked = box ? [box.x, box.y, box.width, box.height] : []
          numbers?.forEach((n, i) =>
            expect(
              worked[i],
              `${id} at ${width}: ${JSON.stringify(worked)}, laid out ${JSON.stringify(numbers)}`,
            ).to.be.closeTo(n, CLAIM_PX),
          )
        }
      }
    })
})
