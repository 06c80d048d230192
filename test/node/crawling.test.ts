import { expect } from 'chai'
import { mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import { FetchError, Folder, observeAll, readSitemap, Robots, Web, type Fetched, type Source } from 'wembra/node'
import type { Observation, ObservationFailure } from 'wembra/reality'
import { PAGE, serveOn } from '../support/servers.js'

const HOME = 'https://tarn.example'
type Answer = string | Uint8Array | Partial<Fetched> | FetchError

/** A web of a few addresses, which notes what it is asked for; all else is not there. */
class FewAddresses implements Source {
  readonly asked: string[] = []
  readonly #answers: Readonly<Record<string, Answer>>
  readonly #type: string

  constructor(answers: Readonly<Record<string, Answer>>, type = 'application/xml') {
    this.#answers = answers
    this.#type = type
  }

  async get(url: string): Promise<Fetched> {
    this.asked.push(url)
    const answer = this.#answers[url] ?? { status: 404 }
    if (answer instanceof FetchError) throw answer
    const isWhole = typeof answer === 'string' || answer instanceof Uint8Array
    const said = isWhole ? {} : answer
    const body = typeof answer === 'string' ? new TextEncoder().encode(answer) : isWhole ? answer : new Uint8Array()
    return { url, status: 200, type: this.#type, headers: {}, body, ...said }
  }
}

const urlset = (...pages: string[]): string =>
  `<?xml version="1.0"?><urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9">${pages.map((page) => `<url><loc> ${page} </loc><lastmod>2026-01-01</lastmod></url>`).join('')}</urlset>`
const index = (...files: string[]): string =>
  `<sitemapindex>${files.map((file) => `<sitemap><loc>${file}</loc></sitemap>`).join('')}</sitemapindex>`

/** What a promise is rejected with: the code, and the first words. */
const refusal = (promise: Promise<unknown>): Promise<unknown> =>
  promise.then(
    () => 'nothing went wrong',
    (error: unknown) => (error instanceof FetchError ? [error.code, error.message] : error),
  )

describe('a sitemap', () => {
  const read = (answers: Readonly<Record<string, Answer>>, most = 100, at = `${HOME}/sitemap.xml`) =>
    readSitemap(new FewAddresses(answers), at, most)

  it('gives the addresses of its pages, each once, in their order', async () => {
    const text = urlset(`${HOME}/b`, `${HOME}/a`, `${HOME}/b`)
    expect(await read({ [`${HOME}/sitemap.xml`]: text })).to.deep.equal([`${HOME}/b`, `${HOME}/a`])
  })

  it('may be alone, a list of lines, or packed', async () => {
    const at = `${HOME}/sitemap.xml`
    expect(await read({ [at]: urlset(`${HOME}/a`) })).to.deep.equal([`${HOME}/a`])
    expect(await read({ [at]: `${HOME}/a\r\n\r\nno address\n${HOME}/b\n` })).to.deep.equal([`${HOME}/a`, `${HOME}/b`])
    expect(await read({ [at]: gzipSync(urlset(`${HOME}/a`)) })).to.deep.equal([`${HOME}/a`])
  })

  it('may name others, whose addresses go from their own', async () => {
    const answers = {
      [`${HOME}/sitemap.xml`]: index('/parts/one.xml', `${HOME}/parts/two.xml`),
      [`${HOME}/parts/one.xml`]: urlset('visit', '/team'),
      [`${HOME}/parts/two.xml`]: urlset(`${HOME}/c`),
    }
    expect(await read(answers)).to.deep.equal([`${HOME}/parts/visit`, `${HOME}/team`, `${HOME}/c`])
  })

  it('gives no more than was asked for, and then asks for no other', async () => {
    const source = new FewAddresses({
      [`${HOME}/sitemap.xml`]: index('/one.xml', '/two.xml'),
      [`${HOME}/one.xml`]: urlset(`${HOME}/a`, `${HOME}/b`, `${HOME}/c`),
    })
    expect(await readSitemap(source, `${HOME}/sitemap.xml`, 2)).to.deep.equal([`${HOME}/a`, `${HOME}/b`])
    expect(source.asked).to.deep.equal([`${HOME}/sitemap.xml`, `${HOME}/one.xml`])
  })

  it('ends where it names itself: it is asked for at three depths below the first', async () => {
    const source = new FewAddresses({ [`${HOME}/sitemap.xml`]: index('/sitemap.xml') })
    expect(await readSitemap(source, `${HOME}/sitemap.xml`, 10)).to.deep.equal([])
    expect(source.asked).to.have.length(4)
  })

  it('is none where a page answers, or nothing of the kind', async () => {
    expect(await read({ [`${HOME}/sitemap.xml`]: PAGE })).to.equal(undefined)
    expect(await read({ [`${HOME}/sitemap.xml`]: '<feed><entry/></feed>' })).to.equal(undefined)
    const html = new FewAddresses({ [`${HOME}/`]: '<p>Tarn</p>' }, 'text/html; charset=utf-8')
    expect(await readSitemap(html, `${HOME}/`, 10)).to.equal(undefined)
  })

  it('that does not come, is broken or is a trap is refused with its address', async () => {
    const at = `${HOME}/sitemap.xml`
    expect(await refusal(read({}))).to.deep.equal(['http-error', `the sitemap ${at}: the server answers 404`])
    expect(await refusal(read({ [at]: `<!DOCTYPE x [<!ENTITY a "b">]>${urlset('/a')}` }))).to.deep.equal([
      'not-reached',
      `the sitemap ${at} declares a document type, which may hold entities without end; take it out`,
    ])
    const cut = gzipSync(urlset(`${HOME}/a`)).subarray(0, 30)
    const [code, message] = (await refusal(read({ [at]: cut }))) as [string, string]
    expect([code, message.startsWith(`the sitemap ${at} cannot be unpacked`)]).to.deep.equal(['too-large', true])
  })
})

describe('robots.txt', () => {
  const asked = async (answers: Readonly<Record<string, Answer>>, ...paths: string[]) => {
    const source = new FewAddresses(answers, 'text/plain')
    const robots = new Robots(source)
    const told: unknown[] = []
    for (const path of paths) told.push(await refusal(robots.expectAllowed(`${HOME}${path}`)))
    return { told, asked: source.asked }
  }
  const FINE = 'nothing went wrong'
  const NO = ['robots', 'robots.txt does not let it be fetched; --ignore-robots for a site of your own']
  const AT = `${HOME}/robots.txt`

  it('says what may be fetched, and is asked for once', async () => {
    const rules = 'User-agent: *\nDisallow: /private\nAllow: /private/door\n'
    expect(await asked({ [AT]: rules }, '/visit', '/private/a', '/private/door')).to.deep.equal({
      told: [FINE, NO, FINE],
      asked: [AT],
    })
  })

  it('may have rules for this program, which then count alone', async () => {
    const rules = 'User-agent: *\nDisallow: /\n\nUser-agent: WembraObserver\nDisallow: /shop\n'
    expect((await asked({ [AT]: rules }, '/visit', '/shop')).told).to.deep.equal([FINE, NO])
  })

  // RFC 9309, 2.3.1.3 and 2.3.1.4: what is not there forbids nothing; what cannot be had for now forbids all.
  it('forbids nothing where there is none, and all where the server is in trouble', async () => {
    expect((await asked({}, '/visit')).told).to.deep.equal([FINE])
    expect((await asked({ [AT]: { status: 503 } }, '/visit')).told).to.deep.equal([NO])
    expect((await asked({ [AT]: new FetchError('too-slow', 'no') }, '/visit')).told).to.deep.equal([NO])
    expect((await asked({ [AT]: new FetchError('other-origin', 'no') }, '/visit')).told).to.deep.equal([FINE])
  })
})

describe('pages that are observed together', () => {
  const VIEWPORTS = [{ name: 'desk', width: 1280, height: 800 }]
  const observe = async (
    answers: Readonly<Record<string, Answer>>,
    urls: readonly string[],
    more: Partial<Parameters<typeof observeAll>[1]> = {},
  ) => {
    const source = new FewAddresses(answers, 'text/html')
    const found: Record<string, Observation | ObservationFailure> = {}
    await observeAll(urls, {
      ...{ source, viewports: VIEWPORTS, locators: {}, concurrency: 2, timeoutMs: 1000 },
      onResult: (results) => {
        for (const result of results) found[result.url] = result
      },
      ...more,
    })
    return { found, asked: source.asked }
  }

  it('are each asked for once; what goes wrong with one is its result, and the rest goes on', async () => {
    const answers = {
      [`${HOME}/visit`]: PAGE,
      [`${HOME}/old`]: { url: `${HOME}/new`, body: new TextEncoder().encode(PAGE) },
      [`${HOME}/slash`]: { url: `${HOME}/slash/`, body: new TextEncoder().encode(PAGE) },
      [`${HOME}/map`]: { type: 'application/pdf' },
      [`${HOME}/slow`]: new FetchError('too-slow', 'it took too long'),
    }
    const urls = ['visit', 'old', 'slash', 'map', 'slow', 'none', 'visit'].map((path) => `${HOME}/${path}`)
    const { found, asked } = await observe(answers, urls)
    const told = Object.values(found).map((each) => [
      new URL(each.url).pathname.slice(1),
      each.report === 'observation' ? (each.title ?? '') : each.code,
    ])
    expect(Object.fromEntries(told)).to.deep.equal({
      ...{ visit: 'Tarn', slash: 'Tarn' },
      ...{ old: 'moved', map: 'not-html', slow: 'too-slow', none: 'http-error' },
    })
    expect([...asked].sort()).to.deep.equal(urls.slice(0, 6).sort())
  })

  it('are not asked for where they were observed before, or may not be', async () => {
    const source = new FewAddresses({ [`${HOME}/robots.txt`]: 'User-agent: *\nDisallow: /b\n' }, 'text/plain')
    const robots = new Robots(source)
    const urls = ['a', 'b', 'c'].map((path) => `${HOME}/${path}`)
    const pages = Object.fromEntries(urls.map((url) => [url, PAGE]))
    const { found, asked } = await observe(pages, urls, { robots, isDone: (url) => url.endsWith('/c') })
    expect(asked).to.deep.equal([`${HOME}/a`])
    expect(Object.keys(found).sort()).to.deep.equal(urls.slice(0, 2))
    expect(found[`${HOME}/b`]).to.include({ report: 'observation-failure', code: 'robots', viewport: null })
  })
})

describe('a folder that is read as if it were served', () => {
  let root: string
  before(() => {
    root = mkdtempSync(join(tmpdir(), 'wembra-folder-'))
    mkdirSync(join(root, 'site/team'), { recursive: true })
    writeFileSync(join(root, 'secret.html'), 'not for anybody')
    writeFileSync(join(root, 'site/index.html'), PAGE)
    writeFileSync(join(root, 'site/team/index.html'), '<h1>Team</h1>')
    writeFileSync(join(root, 'site/style.css'), 'a { color: red }')
    symlinkSync(join(root, 'secret.html'), join(root, 'site/linked.html'))
    symlinkSync('index.html', join(root, 'site/start.html'))
  })
  after(() => rmSync(root, { recursive: true, force: true }))

  const get = async (path: string, maxBytes = 1000) => {
    const { status, type, body } = await new Folder(join(root, 'site'), HOME, maxBytes).get(`${HOME}${path}`)
    return [status, type.split(';')[0], new TextDecoder().decode(body)]
  }

  it('answers with its files by their kind, and with the index of a folder', async () => {
    expect(await get('/')).to.deep.equal([200, 'text/html', PAGE])
    expect(await get('/team/')).to.deep.equal([200, 'text/html', '<h1>Team</h1>'])
    expect(await get('/start')).to.deep.equal([200, 'text/html', PAGE])
    expect(await get('/style.css?v=2')).to.deep.equal([200, 'text/css', 'a { color: red }'])
  })

  it('has nothing outside, nothing that is not there, and nothing too large', async () => {
    const OUT = ['/../secret.html', '/%2e%2e/secret.html', '/..%2fsecret.html', '/linked.html', '/linked']
    for (const path of ['/none.html', ...OUT])
      expect(String(await get(path).catch(() => 'refused')), path).not.to.contain('not for anybody')
    expect((await refusal(get('/', 10))) as unknown[]).to.include('too-large')
    const elsewhere = new Folder(join(root, 'site'), HOME, 1000).get('https://fell.example/')
    expect((await refusal(elsewhere)) as unknown[]).to.include('other-origin')
  })
})

describe('the web', () => {
  it('is asked for pages, redirects followed, as far as the origins that were named', async () => {
    const other = await serveOn((_, response) => void response.end('elsewhere'))
    const home = await serveOn((request, response) => {
      if (request.url === '/old') response.writeHead(301, { location: 'new?a=1' }).end()
      else if (request.url === '/away') response.writeHead(302, { location: `${other.origin}/` }).end()
      else
        response
          .writeHead(200, { 'content-type': 'text/plain', 'x-seen': String(request.headers['x-secret'] ?? 'none') })
          .end('words')
    })
    try {
      const limits = { timeoutMs: 5000, maxBytes: 5 }
      const web = new Web(new Set([home.origin]), limits, { 'x-secret': 'mine' })
      const { url, status, type, body, headers } = await web.get(`${home.origin}/old#part`)
      expect([url, status, type, new TextDecoder().decode(body), headers['x-seen']]).to.deep.equal([
        ...[`${home.origin}/new?a=1`, 200, 'text/plain', 'words', 'mine'],
      ])
      expect(await refusal(web.get(`${home.origin}/away`))).to.deep.equal([
        'other-origin',
        `it leads to ${other.origin}, and only ${home.origin} was asked for`,
      ])
      expect(await refusal(web.get('file:///etc/hosts'))).to.include('other-origin')
      expect(await refusal(web.get('no address'))).to.deep.equal(['not-reached', '"no address" is not an address'])
      expect(other.asked).to.deep.equal([])
      const tight = new Web(undefined, { ...limits, maxBytes: 4 })
      expect(await refusal(tight.get(`${home.origin}/new`))).to.include('too-large')
      // Headers may hold a secret: they go where it was said, also where requests may go anywhere.
      const anywhere = new Web(undefined, limits, { 'x-secret': 'mine' }, new Set([other.origin]))
      expect((await anywhere.get(`${home.origin}/new`)).headers['x-seen']).to.equal('none')
      home.close()
      expect(await refusal(web.get(`${home.origin}/new`))).to.include('not-reached')
    } finally {
      home.close()
      other.close()
    }
  })
})
