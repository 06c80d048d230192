import { expect } from 'chai'
import type { Page } from 'playwright-core'
import { inspect, measurePage, resolveSite, type ResolvedSite } from 'wembra'
import { renderHtml } from 'wembra/report'
import { loadSite } from 'wembra/node'
import { useBrowser } from '../support/browser.js'
import { NOW } from '../support/site.js'

const CLAIM_PX = 0.5

describe('numbers of findings, measured on the page in Chromium', () => {
  const site = resolveSite(loadSite('examples/quillmere'))
  const findings = inspect(site, { now: NOW, fixes: false })
  const browser = useBrowser()
  let tab: Page

  before(async () => {
    tab = await browser().newPage()
  })

  async function open(resolved: ResolvedSite, page: string, viewport: string): Promise<void> {
    const { width, height } = resolved.site.viewports.find((v) => v.name === viewport) as {
      width: number
      height: number
    }
    await tab.setViewportSize({ width, height })
    await tab.setContent(renderHtml(measurePage(resolved.page(page), viewport)))
    await tab.evaluate(() => document.fonts.ready.then(() => undefined))
  }
  const edges = (box: string) =>
    tab.locator(`[data-box="${box}"]`).evaluate((element) => {
      const { left, right, top, bottom } = element.getBoundingClientRect()
      return { left, right, top: top + scrollY, bottom: bottom + scrollY }
    })

  it('the px that a fixed header covers', async () => {
    for (const page of ['planet-walk', 'lecture-dust'] as const)
      for (const viewport of ['desk', 'phone']) {
        const cases = findings.filter((f) => f.rule === 'header-covers-content').flatMap((f) => f.cases)
        const found = cases.find((c) => c.page === page && c.viewport === viewport)
        if (!found) continue
        await open(site, page, viewport)
        const first =
          (await tab.locator('[data-box^="item:ticket-strip"]').count()) > 0 ? 'item:ticket-strip/0' : 'title'
        const covered = (await edges('header')).bottom - (await edges(first)).top
        expect(found.numbers['covered'], `${page} ${viewport}`).to.be.closeTo(covered, CLAIM_PX)
      }
  })

  it('the strip above a band', async () => {
    for (const { page, viewport, numbers } of findings.find((f) => f.rule === 'strip-under-header')?.cases ?? []) {
      await open(site, page, viewport)
      const section = site.page(page).data.body?.[0]?.section ?? ''
      // What the finding on the template's gap counts is not counted again.
      const gap = measurePage(site.page(page), viewport).arranged.find(
        (s) => typeof s.entry === 'object' && s.height > 0,
      )
      const strip = (await edges(`section:${section}`)).top - (await edges('header')).bottom - (gap?.height ?? 0)
      expect(numbers['strip']).to.be.closeTo(strip, CLAIM_PX)
    }
  })

  it('how far a boxed band ends short of the window', async () => {
    for (const { page, viewport, numbers } of findings.find((f) => f.rule === 'boxed-in')?.cases ?? []) {
      await open(site, page, viewport)
      const band = site.page(page).data.body?.find((s) => s.band === 'full')?.section ?? ''
      const { left, right } = await edges(`section:${band}`)
      const width = await tab.evaluate(() => innerWidth)
      expect(numbers['short']).to.be.closeTo(Math.max(left, width - right), CLAIM_PX)
    }
  })

  it('how far a full-screen section overruns the screen', async () => {
    for (const { page, viewport, numbers } of findings.find((f) => f.rule === 'screen-overrun')?.cases ?? []) {
      await open(site, page, viewport)
      const section = site.page(page).data.body?.[0]?.section ?? ''
      const height = await tab.evaluate(() => innerHeight)
      expect(numbers['overrun']).to.be.closeTo((await edges(`section:${section}`)).bottom - height, CLAIM_PX)
    }
  })

  it('the contrast of a text, from the colors the browser paints', async () => {
    const found = findings.filter((f) => f.rule === 'text-unreadable').find((f) => f.pages.includes('support-us'))
    await open(site, 'support-us', 'desk')
    const colors = await tab.locator('[data-box="section:support-hero"]').evaluate((element) => {
      const { color, backgroundColor } = getComputedStyle(element)
      return [color, backgroundColor].map((c) => (c.match(/[\d.]+/g) ?? []).slice(0, 3).map(Number))
    })
    // WCAG 2.2, relative luminance.
    const luminance = (rgb: readonly number[]): number => {
      const [r = 0, g = 0, b = 0] = rgb.map((n) =>
        n / 255 <= 0.04045 ? n / 255 / 12.92 : ((n / 255 + 0.055) / 1.055) ** 2.4,
      )
      return 0.2126 * r + 0.7152 * g + 0.0722 * b
    }
    const [dark = 0, light = 0] = colors.map(luminance).sort((a, b) => a - b)
    expect(found?.numbers['ratio']).to.be.closeTo((light + 0.05) / (dark + 0.05), 0.01)
  })
})
