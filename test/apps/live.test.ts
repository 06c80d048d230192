import { expect } from 'chai'
import type { ChildProcess } from 'node:child_process'
import { cpSync, mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Page } from 'playwright-core'
import { startHost } from '../../examples/host/src/server.js'
import { openPage, there, useBrowser } from '../support/browser.js'
import { wembra } from '../support/command-line.js'
import { startOpen } from '../support/opened.js'

describe('wembra open --live', () => {
  const folder = mkdtempSync(join(tmpdir(), 'wembra-'))
  let child: ChildProcess
  let address: string
  const browser = useBrowser()
  let page: Page
  let errors: string[]
  let host: Awaited<ReturnType<typeof startHost>>

  before(async () => {
    // The host hides the title of one page behind the site file's back.
    host = await startHost({ changes: [5] })
    cpSync('examples/quillmere', folder, { recursive: true })
    ;[child, address] = await startOpen(folder, '--live', host.address)
    ;({ page, errors } = await openPage(browser(), address))
  })
  after(async () => {
    child.kill('SIGTERM')
    await host.close()
  })

  it('serves the site with all its files, the font included', async () => {
    const { origin, searchParams } = new URL(address)
    const answer = await fetch(`${origin}/api/site`, { headers: { 'x-wembra-key': searchParams.get('key') ?? '' } })
    const { binary } = (await answer.json()) as { binary: object }
    expect(Object.keys(binary)).to.deep.equal(['fonts/text.ttf'])
  })

  it('shows the real page beside the preview, marks what is different, and explains it', async () => {
    await page.goto(`${address}#/page/people`)
    await page.getByRole('switch', { name: 'Real page' }).click({ force: true })
    const picture = page.getByRole('img', { name: 'The real page people at desk' })
    await there(picture)
    expect(await picture.evaluate((image: HTMLImageElement) => image.naturalWidth)).to.equal(1280)
    const rows = page.getByRole('table', { name: 'Differences' }).getByRole('row')
    expect(await rows.count()).to.equal(2)
    const cells = await rows.nth(1).getByRole('cell').allTextContents()
    expect(cells.slice(0, 3)).to.deep.equal(['title.presence', 'shown', 'hidden'])
    expect(errors).to.deep.equal([])
  })

  it('says why a page was not seen, and is asked with the key only', async () => {
    const { origin, searchParams } = new URL(address)
    const ask = (id: string, key = searchParams.get('key') ?? '') =>
      fetch(`${origin}/api/live?page=${id}`, { headers: { 'x-wembra-key': key } })
    expect((await ask('visit', 'no')).status).to.equal(403)
    const unknown = await ask('nowhere')
    expect([unknown.status, await unknown.text()]).to.deep.equal([
      422,
      'unknown page "nowhere"; `wembra table` lists them all',
    ])
    expect(wembra(folder, 'open', '--live', 'quillmere.example').err).to.equal(
      'wembra open: "quillmere.example" is not an address; expected https://…\n',
    )
  })
})
