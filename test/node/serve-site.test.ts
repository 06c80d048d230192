import { expect } from 'chai'
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { request } from 'node:http'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { ValueError } from 'wembra'
import { serveSite, type ServedSite } from 'wembra/node'

const SITE = 'wembra: 1\nsite: { name: Tarn }\ntheme: {}\ninclude: [ pages.yaml ]\nstyles: [ { file: tarn.css } ]\n'
const PAGES = 'pages: { visit: { path: /visit, title: Visit } }\n'
const CSS = 'body { color: #222 }\n'

describe('a site that is served to the workbench', () => {
  let folder: string
  let served: ServedSite
  let origin: string
  let key: string

  beforeEach(async () => {
    folder = mkdtempSync(join(tmpdir(), 'wembra-serve-'))
    mkdirSync(join(folder, 'app/assets'), { recursive: true })
    const files = {
      ...{ 'tarn.site.yaml': SITE, 'pages.yaml': PAGES, 'tarn.css': CSS, 'notes.txt': 'mine alone' },
      ...{ 'app/index.html': '<title>App</title>', 'app/assets/app.js': 'let a' },
    }
    for (const [name, text] of Object.entries(files)) writeFileSync(join(folder, name), text)
    served = await serveSite(join(folder, 'tarn.site.yaml'), join(folder, 'app'), 0, {
      live: async (page) => {
        if (page !== 'visit') throw new ValueError(`no real page for "${page}"`)
        return { address: 'https://tarn.example/visit', pictures: {}, differences: [], estimates: [] }
      },
    })
    const url = new URL(served.address)
    ;[origin, key] = [url.origin, url.searchParams.get('key') ?? '']
  })
  afterEach(async () => {
    await served.close()
    rmSync(folder, { recursive: true, force: true })
  })

  const ask = (path: string, { method = 'GET', body = undefined as unknown, with: given = key } = {}) =>
    fetch(`${origin}${path}`, {
      method,
      headers: { 'x-wembra-key': given, connection: 'close' },
      ...(body !== undefined && { body: typeof body === 'string' ? body : JSON.stringify(body) }),
    })
  const put = async (texts: Record<string, unknown>, version?: string) => {
    const told = (await (await ask('/api/version')).json()) as { version: string }
    const answer = await ask('/api/site', { method: 'PUT', body: { texts, version: version ?? told.version } })
    return [answer.status, await answer.text()] as const
  }
  const text = (name: string) => readFileSync(join(folder, name), 'utf8')

  it('comes with the text of every file that it is made of, and no other', async () => {
    const { version, ...site } = (await (await ask('/api/site')).json()) as { version: string }
    expect(site).to.deep.equal({
      ...{ file: 'tarn.site.yaml', binary: {}, live: true },
      texts: { 'tarn.site.yaml': SITE, 'pages.yaml': PAGES, 'tarn.css': CSS },
    })
    expect(version).to.match(/^[0-9a-f]{64}$/)
  })

  it('has another version once one of its files is another, and the same for the same', async () => {
    const version = async () => ((await (await ask('/api/version')).json()) as { version: string }).version
    const first = await version()
    writeFileSync(join(folder, 'notes.txt'), 'others')
    expect(await version()).to.equal(first)
    writeFileSync(join(folder, 'tarn.css'), `${CSS}p { color: red }\n`)
    expect(await version()).not.to.equal(first)
    writeFileSync(join(folder, 'tarn.css'), CSS)
    expect(await version()).to.equal(first)
  })

  it('is written back into its own files, all of them or none', async () => {
    const changed = PAGES.replace('title: Visit', 'title: Visits')
    expect((await put({ 'pages.yaml': changed }))[0]).to.equal(200)
    expect(text('pages.yaml')).to.equal(changed)
    expect(await put({ 'pages.yaml': PAGES, 'notes.txt': 'theirs' })).to.deep.equal([
      403,
      'notes.txt is not a file of this site',
    ])
    expect([text('pages.yaml'), text('notes.txt')]).to.deep.equal([changed, 'mine alone'])
    for (const name of ['../out.yaml', 'new.yaml', '/etc/out.yaml'])
      expect((await put({ [name]: 'x' }))[0]).to.equal(403)
    expect((await put({ 'tokens.json': '{}' }))[0]).to.equal(200)
    expect(text('tokens.json')).to.equal('{}')
  })

  it('is not written over what somebody else changed meanwhile, nor with anything but texts', async () => {
    expect(await put({ 'pages.yaml': 'x' }, 'of before')).to.deep.equal([409, 'the files were changed in the meantime'])
    expect((await put({ 'pages.yaml': 7 }))[0]).to.equal(400)
    expect((await ask('/api/site', { method: 'PUT', body: 'no JSON' })).status).to.equal(400)
    expect(text('pages.yaml')).to.equal(PAGES)
  })

  it('answers to its key and its own name alone', async () => {
    for (const path of ['/api/site', '/api/version', '/api/live?page=visit']) {
      expect((await ask(path, { with: '' })).status, path).to.equal(403)
      expect((await ask(path, { with: key.replace(/./, (c) => (c === '0' ? '1' : '0')) })).status, path).to.equal(403)
    }
    // As a name that somebody else's page had made to mean this machine.
    const status = await new Promise((done, fail) => {
      const { hostname, port } = new URL(origin)
      const headers = { host: `tarn.example:${port}`, 'x-wembra-key': key }
      request({ hostname, port, path: '/api/site', headers }, (response) => {
        response.resume()
        done(response.statusCode)
      })
        .on('error', fail)
        .end()
    })
    expect(status).to.equal(403)
  })

  it('is shown by the app, of which nothing but its files is there', async () => {
    const get = async (path: string) => {
      const answer = await ask(path, { with: '' })
      return [answer.status, answer.headers.get('content-type')?.split(';')[0], await answer.text()]
    }
    expect(await get('/')).to.deep.equal([200, 'text/html', '<title>App</title>'])
    expect((await get('/assets/app.js')).slice(0, 2)).to.deep.equal([200, 'text/javascript'])
    for (const path of ['/none.js', '/assets', '/..%2ftarn.site.yaml', '/%2e%2e/notes.txt'])
      expect((await get(path))[0], path).to.equal(404)
    expect((await get('/%ff'))[0]).to.equal(400)
  })

  it('looks at real pages where it was told how, and says why it cannot', async () => {
    expect(await (await ask('/api/live?page=visit')).json()).to.include({ address: 'https://tarn.example/visit' })
    const none = await ask('/api/live?page=none')
    expect([none.status, await none.text()]).to.deep.equal([422, 'no real page for "none"'])
  })

  it('comes all the same where it cannot be read: the workbench is where it is mended', async () => {
    writeFileSync(join(folder, 'pages.yaml'), 'pages: {\n')
    const broken = await ask('/api/site')
    expect(((await broken.json()) as { texts: object }).texts).to.include({ 'pages.yaml': 'pages: {\n' })
    expect((await put({ 'pages.yaml': PAGES }))[0]).to.equal(200)
  })
})
