import { expect } from 'chai'
import type { Page } from 'playwright-core'
import { serveApp } from '../../scripts/workbench.js'
import { openPage, there, useBrowser, violations } from '../support/browser.js'

describe('an editor that asks the library', () => {
  const browser = useBrowser()
  let served: Awaited<ReturnType<typeof serveApp>>
  let page: Page
  let errors: string[]

  before(async () => {
    served = await serveApp('embed')
    ;({ page, errors } = await openPage(browser(), served.address))
  })
  afterEach(() => expect(errors).to.deep.equal([]))
  after(async () => {
    await served.close()
  })

  const rules = (): Promise<readonly (string | null)[]> =>
    page.locator('#findings li').evaluateAll((items) => items.map((item) => item.getAttribute('data-rule')))

  it('tells what decides the chrome, and the conflicts, at once', async () => {
    expect(await page.locator('#chrome').textContent()).to.equal(
      'Header shown, fixed (theme options), 88 px; the content is 960 px wide.',
    )
    expect(await rules()).to.include('header-covers-content')
    // The header of 88 px begins 48 px above the theme's title: 40 px of it are covered.
    await there(page.frameLocator('iframe').getByText('40 px covered'))
  })

  it('follows every keystroke', async () => {
    const title = page.getByLabel('the theme prints the page')
    await title.uncheck()
    expect(await rules()).to.not.include('title-doubled')
    await page.getByLabel('Space above').fill('140')
    expect(await rules()).to.not.include('header-covers-content')
    await page.getByLabel('use the landing template').check()
    expect(await page.locator('#chrome').textContent()).to.contain('flow (template landing)')
    const shown = page.frameLocator('iframe')
    await there(shown.getByText('Bring a warm coat.'))
    await page.getByLabel('Text').pressSequentially(' By those who sweep it.')
    await there(shown.getByText('By those who sweep it.'))
  })

  it('writes what is typed as text, whatever it is', async () => {
    await page.getByLabel('Hero', { exact: true }).fill('<img src=x onerror="window.hit=1">')
    expect(await page.evaluate(() => 'hit' in window)).to.equal(false)
  })

  for (const colorScheme of ['light', 'dark'] as const)
    it(`has no accessibility violation that axe finds, in ${colorScheme} colors`, async () => {
      await page.emulateMedia({ colorScheme })
      await page.reload()
      expect(await violations(page)).to.deep.equal([])
    })
})
