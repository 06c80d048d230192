import { expect } from 'chai'
import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import type { Browser, Page } from 'playwright-core'
import { serveWorkbench } from '../../scripts/workbench.js'
import { openBrowser, openPage } from '../support/browser.js'

const AXE = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8')

describe('the workbench', function () {
  this.timeout(60_000)
  let browser: Browser
  let served: Awaited<ReturnType<typeof serveWorkbench>>
  let page: Page
  let errors: string[]

  before(async () => {
    served = await serveWorkbench()
    browser = await openBrowser()
    ;({ page, errors } = await openPage(browser, served.address))
  })
  afterEach(() => expect(errors).to.deep.equal([]))
  after(async () => {
    await browser.close()
    await served.close()
  })

  const heading = (): Promise<string | null> => page.locator('main h2').textContent()

  it('lists the pages by kind, with how much is in conflict on each', async () => {
    const list = page.getByRole('navigation', { name: 'Pages' })
    expect(await list.getByRole('link').count()).to.be.at.least(50)
    expect(await list.getByRole('link', { name: /Lecture: what dust is for/ }).textContent()).to.match(/8$/)
  })

  it('finds pages by their words', async () => {
    await page.getByRole('searchbox', { name: 'Find a page' }).fill('star hop')
    const links = page.getByRole('region', { name: 'Sky journal' }).getByRole('link')
    expect(await links.allTextContents()).to.deep.equal(['Star hopping5'])
    await page.getByRole('searchbox').fill('nothing like it')
    expect(await page.getByText('No page has these words. Try fewer.').isVisible()).to.equal(true)
    await page.getByRole('searchbox').fill('')
  })

  it('shows a page’s facets, and opens the chain of one', async () => {
    await page.getByRole('link', { name: /Moon night/ }).click()
    expect(await heading()).to.equal('Moon night')
    const row = page.getByRole('row', { name: /header\.position/ })
    expect(await row.getByRole('cell').allTextContents()).to.deep.equal(['fixed', 'fixed', 'fixed', 'template'])
    await row.getByRole('button').click()
    const chain = page.locator('.chain li')
    expect(await chain.allTextContents()).to.deep.equal([
      'winsfixedtemplate event-viewquillmere.site.yaml:133:17',
      'outrankedstickytheme optionsquillmere.site.yaml:107:33',
      'outrankedflowthe default when nobody says otherwise',
    ])
  })

  it('draws the page at every viewport with its measures, or at one', async () => {
    const drawing = page.getByRole('region', { name: 'Drawing' })
    const picture = drawing.getByRole('img')
    expect(await picture.getAttribute('aria-label')).to.equal('Wireframe of the page moon-night at desk, tablet, phone')
    expect(await picture.textContent()).to.contain('1280 × 132 at y 0, by template')
    await drawing.getByText('phone', { exact: true }).click()
    expect(await picture.getAttribute('aria-label')).to.equal('Wireframe of the page moon-night at phone')
  })

  it('lists the findings, and each leads to its pages', async () => {
    await page.getByRole('link', { name: /Everything in conflict/ }).click()
    expect(await heading()).to.equal('Everything in conflict')
    const finding = page.getByRole('listitem').filter({ hasText: 'header-covers-content' })
    await finding.getByRole('link', { name: 'planet-walk' }).click()
    expect(await heading()).to.equal('Planet walk')
    expect(await page.getByRole('region', { name: 'In conflict on this page' }).textContent()).to.contain('covered')
  })

  it('opens at the page that its address names, and says when there is none', async () => {
    await page.goto(`${served.address}#/page/rota`)
    expect(await heading()).to.equal('Rota')
    await page.goto(`${served.address}#/page/nowhere`)
    expect(await page.getByText('The site has no page “nowhere”.').isVisible()).to.equal(true)
  })

  it('is worked by keyboard, with the focus seen', async () => {
    await page.goto(`${served.address}#/page/rota`)
    const button = page.getByRole('button', { name: /footer\.use/ })
    await button.focus()
    await page.keyboard.press('Enter')
    expect(await button.getAttribute('aria-expanded')).to.equal('true')
    expect(await button.evaluate((element) => getComputedStyle(element).outlineStyle)).to.equal('solid')
  })

  for (const address of ['#/findings', '#/page/lecture-dust'])
    it(`has no accessibility violation that axe finds at ${address}`, async () => {
      await page.goto(served.address + address)
      await page.locator('main h2').waitFor()
      for (const button of await page.getByRole('button', { name: /(clearance|byline\.presence)$/ }).all())
        await button.click()
      // The page's own policy allows no script of ours, so axe is run by the browser's debugger, not by the page.
      const violations = await page.evaluate(
        `${AXE}; axe.run().then((r) => r.violations.map((v) => v.id + ': ' + v.nodes.map((n) => n.target.join(' ')).slice(0, 3).join(' | ')))`,
      )
      expect(violations).to.deep.equal([])
    })
})
