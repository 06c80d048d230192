import { expect } from 'chai'
import type { ChildProcess } from 'node:child_process'
import { cpSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Browser, Page } from 'playwright-core'
import { openBrowser, openPage } from '../support/browser.js'
import { wembra } from '../support/command-line.js'
import { startOpen } from '../support/opened.js'

describe('wembra open', () => {
  const folder = mkdtempSync(join(tmpdir(), 'wembra-'))
  const file = join(folder, 'fellside.site.yaml')
  const text = (): string => readFileSync(file, 'utf8')
  let child: ChildProcess
  let address: string
  let browser: Browser
  let page: Page
  let errors: string[]

  before(async () => {
    cpSync('examples/fellside', folder, { recursive: true })
    ;[child, address] = await startOpen(folder)
    browser = await openBrowser()
    ;({ page, errors } = await openPage(browser, address))
  })
  after(async () => {
    await browser.close()
    child.kill('SIGTERM')
  })

  const say = async (property: string, value: string): Promise<void> => {
    await page.locator('.chain-button').filter({ hasText: property }).click()
    await page.getByLabel('Set at').selectOption('theme')
    await page.getByLabel(`Value of ${property}`).fill(value)
    await page.getByRole('button', { name: 'Preview the change' }).click()
    await page.getByRole('button', { name: 'Apply' }).click()
    await page.getByRole('dialog').waitFor({ state: 'detached' })
  }
  const save = async (): Promise<void> => {
    await page.getByRole('button', { name: /^Save/ }).click()
    await page.getByRole('menuitem', { name: 'Save to the files' }).click()
  }

  it('shows the site, and saves what is changed there into its file, comments and all', async () => {
    const before = text()
    // Five pages are more than go into one row: all are as wide.
    await page.locator('.card').nth(4).waitFor()
    const widths = await page
      .locator('.card')
      .evaluateAll((all) => all.map((card) => card.getBoundingClientRect().width))
    expect(new Set(widths).size).to.equal(1)
    await page.goto(`${address}#/page/home`)
    await say('spacing.before', '44px')
    await save()
    await page.getByText('Saved fellside.site.yaml.').waitFor()
    expect(text()).to.equal(before.replace('spacing: 40px', 'spacing: { before: 44px, after: 40px }'))
  })

  it('keeps what was not saved over a reload', async () => {
    await say('width.max', '800px')
    await page.waitForTimeout(400)
    await page.reload()
    const row = page.getByRole('row', { name: /width\.max/ })
    await row.waitFor()
    expect(await row.getByRole('cell').first().textContent()).to.equal('800')
    expect(text()).to.not.contain('800px')
  })

  it('notices who else changes the file, and writes nothing over it', async () => {
    const theirs = text().replace('The hut on the fell', 'The stone hut')
    writeFileSync(file, theirs)
    await save()
    await page.getByText('The files were changed elsewhere in the meantime').first().waitFor()
    expect(text()).to.equal(theirs)
    // The refusal is told by its status, which the browser's console repeats.
    errors.splice(0)
    await page.getByRole('button', { name: 'Reload the files' }).click()
    await page.getByRole('heading', { level: 2, name: 'The stone hut' }).waitFor()
    expect(errors).to.deep.equal([])
  })

  it('answers to no one without the key, to no other name, and writes no other file', async () => {
    const url = new URL(address)
    const ask = (path: string, init: RequestInit = {}) => fetch(`${url.origin}${path}`, init)
    const key = url.searchParams.get('key') ?? ''
    expect((await ask('/api/site')).status).to.equal(403)
    expect((await ask('/api/site', { headers: { 'x-wembra-key': key.replace(/./g, '0') } })).status).to.equal(403)
    const headers = { 'x-wembra-key': key, 'content-type': 'application/json' }
    const { version, texts } = (await (await ask('/api/site', { headers })).json()) as {
      version: string
      texts: Record<string, string>
    }
    expect(Object.keys(texts)).to.have.members(['fellside.site.yaml', 'tokens.json'])
    const put = (body: unknown) => ask('/api/site', { method: 'PUT', headers, body: JSON.stringify(body) })
    for (const name of ['../escape.yaml', '/tmp/escape.yaml', 'README.md'])
      expect((await put({ version, texts: { [name]: 'x' } })).status, name).to.equal(403)
    expect((await put({ version: 'old', texts: {} })).status).to.equal(409)
    expect((await put({ texts: 1 })).status).to.equal(400)
    expect((await ask('/api/site', { headers: { 'x-wembra-key': 'é'.repeat(key.length) } })).status).to.equal(403)
    expect((await ask('/%')).status).to.equal(400)
    expect((await ask('/../package.json')).status).to.equal(404)
    expect((await ask('/%2e%2e/%2e%2e/package.json')).status).to.equal(404)
  })

  it('tells what is wrong before it opens', () => {
    writeFileSync(join(folder, 'bad.yaml'), 'wembra: 1\nsite: { name: B }\ntheme: { layot: {} }\npages: {}\n')
    const bad = wembra(folder, 'open', 'bad.yaml')
    expect([bad.code, bad.err]).to.deep.equal([
      2,
      'bad.yaml:3:10: unknown-key: unknown key "layot"; did you mean "layout"?\n',
    ])
    expect(wembra(folder, 'open', 'fellside.site.yaml', '--port', 'x').err).to.equal(
      'wembra open: "x" is not a port; expected 0 to 65535\n',
    )
  })
})
