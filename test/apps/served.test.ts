import { expect } from 'chai'
import type { ChildProcess } from 'node:child_process'
import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Page } from 'playwright-core'
import { gone, openPage, there, useBrowser } from '../support/browser.js'
import { wembra } from '../support/command-line.js'
import { startOpen } from '../support/opened.js'
import { untilKept } from '../support/workbench.js'

describe('wembra open', () => {
  const folder = mkdtempSync(join(tmpdir(), 'wembra-'))
  const file = join(folder, 'fellside.site.yaml')
  const text = (): string => readFileSync(file, 'utf8')
  let original: string
  let child: ChildProcess
  let address: string
  const browser = useBrowser()

  before(async () => {
    cpSync('examples/fellside', folder, { recursive: true })
    original = text()
    ;[child, address] = await startOpen(folder)
  })
  after(async () => {
    child.kill('SIGTERM')
    rmSync(folder, { recursive: true })
  })

  describe('in a browser', () => {
    let page: Page
    let errors: string[]

    beforeEach(async () => {
      writeFileSync(file, original)
      ;({ page, errors } = await openPage(browser(), `${address}#/page/home`))
      await there(page.locator('.chain-button').first())
    })
    afterEach(async () => {
      // What a page keeps goes with its context.
      await page.context().close()
      expect(errors).to.deep.equal([])
    })

    const say = async (property: string, value: string): Promise<void> => {
      await page.locator('.chain-button').filter({ hasText: property }).click()
      await page.getByLabel('Set at').selectOption('theme')
      await page.getByLabel(`Value of ${property}`).fill(value)
      await page.getByRole('button', { name: 'Preview the change' }).click()
      await page.getByRole('button', { name: 'Apply' }).click()
      await gone(page.getByRole('dialog'))
    }
    const save = async (): Promise<void> => {
      await page.getByRole('button', { name: /^Save/ }).click()
      await page.getByRole('menuitem', { name: 'Save to the files' }).click()
    }

    it('shows all pages in cards that are as wide, more of them than go into one row', async () => {
      await page.goto(`${address}#/pages`)
      await there(page.locator('.card').nth(4))
      // A bar for scrolling may come with the last of them.
      await page.waitForFunction(() => {
        const widths = [...document.querySelectorAll('.card')].map((card) => card.getBoundingClientRect().width)
        return widths.length === 5 && new Set(widths).size === 1
      })
    })

    it('saves what is changed there into its file, comments and all', async () => {
      await say('spacing.before', '44px')
      await save()
      await there(page.getByText('Saved fellside.site.yaml.'))
      expect(text()).to.equal(original.replace('spacing: 40px', 'spacing: { before: 44px, after: 40px }'))
    })

    it('keeps what was not saved over a reload', async () => {
      await say('width.max', '800px')
      await untilKept(page, '800px')
      await page.reload()
      const row = page.getByRole('row', { name: /width\.max/ })
      await there(row)
      expect(await row.getByRole('cell').first().textContent()).to.equal('800')
      expect(text()).to.not.contain('800px')
    })

    it('notices who else changes the file, and writes nothing over it', async () => {
      await say('width.max', '800px')
      const theirs = original.replace('The hut on the fell', 'The stone hut')
      writeFileSync(file, theirs)
      await save()
      await there(page.getByText('The files were changed elsewhere in the meantime').first())
      expect(text()).to.equal(theirs)
      // The refusal is told by its status, which the browser's console repeats.
      errors.splice(0)
      await page.getByRole('button', { name: 'Reload the files' }).click()
      await there(page.getByRole('heading', { level: 2, name: 'The stone hut' }))
    })
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
