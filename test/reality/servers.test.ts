import { expect } from 'chai'
import { appendFileSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, watch, writeFileSync } from 'node:fs'
import type { ServerResponse } from 'node:http'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { brotliCompressSync, constants, gzipSync } from 'node:zlib'
import type { Observation } from 'wembra/reality'
import { wembraHere, type Answer } from '../support/command-line.js'
import { codeOf, html, PAGE, results, serveOn, type Handler, type Local } from '../support/servers.js'

const MB = 1024 * 1024
const BOMB = Buffer.alloc(200 * MB, ' ')
const GZIP_BOMB = gzipSync(BOMB, { level: 1 })
const BROTLI_BOMB = brotliCompressSync(BOMB, { params: { [constants.BROTLI_PARAM_QUALITY]: 0 } })
/** Sends for ever, as fast as it is read. */
function flood(response: ServerResponse, chunk: string): void {
  const more = (): void => {
    while (!response.destroyed && response.write(chunk));
    if (!response.destroyed) response.once('drain', more)
  }
  more()
}

describe('hostile and broken servers', () => {
  let folder: string
  let home: Local
  let elsewhere: Local

  const routes: Record<string, Handler> = {
    '/fine': (_, response) => html(response, PAGE),
    '/never': () => undefined,
    '/endless': (_, response) => {
      response.writeHead(200, { 'content-type': 'text/html' })
      flood(response, `<p>${'word '.repeat(1000)}</p>`)
    },
    '/drip': (_, response) => {
      response.writeHead(200, { 'content-type': 'text/html' })
      const timer = setInterval(() => response.write('<p>a</p>'), 50)
      response.on('close', () => clearInterval(timer))
    },
    '/circle': (_, response) => void response.writeHead(302, { location: '/circle-2' }).end(),
    '/circle-2': (_, response) => void response.writeHead(302, { location: '/circle' }).end(),
    '/away': (_, response) => void response.writeHead(302, { location: `${elsewhere.origin}/caught` }).end(),
    '/to-file': (_, response) => void response.writeHead(302, { location: 'file:///etc/passwd' }).end(),
    '/to-data': (_, response) => void response.writeHead(302, { location: 'data:text/html,<h1>x</h1>' }).end(),
    '/broken': (_, response) => void response.writeHead(500).end('no'),
    '/gone': (_, response) => void response.writeHead(404, { 'content-type': 'text/html' }).end(PAGE),
    '/cut': (_, response) => {
      response.writeHead(200, { 'content-type': 'text/html', 'content-length': '5000' })
      response.write('<h1>Ta')
      setTimeout(() => response.destroy(), 50)
    },
    '/large': (_, response) => html(response, `${PAGE}<p>${'x'.repeat(12 * MB)}</p>`),
    '/bomb-gzip': (_, response) =>
      void response.writeHead(200, { 'content-type': 'text/html', 'content-encoding': 'gzip' }).end(GZIP_BOMB),
    '/bomb-brotli': (_, response) =>
      void response.writeHead(200, { 'content-type': 'text/html', 'content-encoding': 'br' }).end(BROTLI_BOMB),
    '/not-html': (_, response) => void response.writeHead(200, { 'content-type': 'application/pdf' }).end('%PDF'),
    '/latin': (_, response) =>
      void response
        .writeHead(200, { 'content-type': 'text/html; charset=iso-8859-1' })
        .end(Buffer.from('<title>Caf\xe9</title><main><h1>Caf\xe9</h1></main>', 'latin1')),
    '/lying': (_, response) =>
      void response
        .writeHead(200, { 'content-type': 'text/html; charset=nonsense-8' })
        .end(Buffer.from('<meta charset="windows-1252"><main><h1>Caf\xe9</h1></main>', 'latin1')),
    '/deep': (_, response) => html(response, `<main>${'<div>'.repeat(60_000)}<h1>Deep</h1></main>`),
    '/robots.txt': (_, response) => void response.writeHead(200).end('User-agent: *\nDisallow: /private\n'),
    '/private': (_, response) => html(response, PAGE),
  }

  before(async () => {
    folder = mkdtempSync(join(tmpdir(), 'wembra-servers-'))
    elsewhere = await serveOn((_, response) => html(response, '<h1>Caught</h1>'))
    home = await serveOn((request, response) => {
      const route = routes[request.url ?? '']
      if (route) route(request, response)
      else response.writeHead(404).end()
    })
  })
  after(() => {
    rmSync(folder, { recursive: true, force: true })
    for (const server of [home, elsewhere]) server.close()
  })

  const observe = (paths: readonly string[], ...more: readonly string[]): Promise<Answer> =>
    wembraHere(
      folder,
      'observe',
      ...paths.map((path) => home.origin + path),
      '--timeout',
      '2',
      '--format',
      'ndjson',
      ...more,
    )

  /** The pages in a file of observations, by their paths. */
  const savedIn = (file: string): readonly string[] => {
    const lines = readFileSync(file, 'utf8').split('\n').filter(Boolean)
    return lines.map((line) => (JSON.parse(line) as { url: string }).url.slice(home.origin.length))
  }

  const EXPECTED: Readonly<Record<string, string>> = {
    '/fine': 'observed',
    '/never': 'too-slow',
    '/endless': 'too-large',
    '/drip': 'too-slow',
    '/circle': 'redirect-circle',
    '/away': 'other-origin',
    '/to-file': 'other-origin',
    '/to-data': 'other-origin',
    '/broken': 'http-error',
    '/gone': 'http-error',
    '/cut': 'not-reached',
    '/large': 'too-large',
    '/bomb-gzip': 'too-large',
    '/bomb-brotli': 'too-large',
    '/not-html': 'not-html',
    '/latin': 'observed',
    '/lying': 'observed',
    '/deep': 'too-large',
    '/private': 'robots',
  }

  it('are bounded and told by page, and the rest goes on', async () => {
    const before = process.memoryUsage().rss
    const answer = await observe(Object.keys(EXPECTED))
    const seen = results(answer)
    // A bomb is stopped by whichever of its bounds it meets first.
    const told = Object.keys(EXPECTED).map((path) => [
      path,
      path.startsWith('/bomb') ? codeOf(seen[path]).replace('too-slow', 'too-large') : codeOf(seen[path]),
    ])
    expect(Object.fromEntries(told)).to.deep.equal(EXPECTED)
    expect(answer.code).to.equal(0)
    expect(elsewhere.asked).to.deep.equal([])
    expect((process.memoryUsage().rss - before) / MB, 'MB more').to.be.below(600)
  })

  it('say what they send in whatever encoding', async () => {
    const seen = results(await observe(['/latin', '/lying']))
    for (const path of ['/latin', '/lying']) {
      const observation = seen[path] as Observation
      expect(
        observation.headings.map((h) => h.text),
        path,
      ).to.deep.equal(['Café'])
    }
  })

  it('may hold sitemaps that name other sites, each other, or too much', async () => {
    const sitemap = (inside: string): string =>
      `<?xml version="1.0"?><urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9">${inside}</urlset>`
    const send =
      (body: string | Buffer): Handler =>
      (_, response) =>
        void response.writeHead(200, { 'content-type': 'application/xml' }).end(body)
    routes['/a.xml'] = send(
      sitemap(
        `<url><loc>${home.origin}/fine</loc></url><url><loc>${elsewhere.origin}/x</loc></url><url><loc>file:///etc/passwd</loc></url><url><loc>not an address</loc></url>`,
      ),
    )
    routes['/ring.xml'] = send(
      `<sitemapindex><sitemap><loc>${home.origin}/ring.xml</loc></sitemap><sitemap><loc>${home.origin}/a.xml</loc></sitemap></sitemapindex>`,
    )
    routes['/lol.xml'] = send(
      '<!DOCTYPE x [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;">]><urlset><url><loc>&b;</loc></url></urlset>',
    )
    routes['/bomb.xml.gz'] = send(GZIP_BOMB)
    const seen = results(await observe(['/ring.xml']))
    expect(codeOf(seen['/fine'])).to.equal('observed')
    expect(elsewhere.asked).to.deep.equal([])
    for (const path of ['/lol.xml', '/bomb.xml.gz']) {
      const { code, err } = await observe([path])
      expect(code, path).to.equal(2)
      expect(err, path).to.match(/wembra observe: .*(document type|cannot be unpacked)/)
    }
  })

  it('does not follow a robots.txt that cannot be read, unless it is told to', async () => {
    const answer = routes['/robots.txt'] as Handler
    routes['/robots.txt'] = (_, response) => void response.writeHead(503).end()
    expect(codeOf(results(await observe(['/fine']))['/fine'])).to.equal('robots')
    expect(codeOf(results(await observe(['/fine'], '--ignore-robots'))['/fine'])).to.equal('observed')
    routes['/robots.txt'] = answer
    expect(codeOf(results(await observe(['/private'], '--ignore-robots'))['/private'])).to.equal('observed')
  })

  it('goes on where it was interrupted, and never with half a line', async () => {
    const file = join(folder, 'seen.ndjson')
    await observe(['/fine', '/broken'], '--save', file)
    const whole = readFileSync(file, 'utf8')
    expect(whole.trim().split('\n')).to.have.length(2)
    appendFileSync(file, '{"wembra":1,"report":"obser')
    expect((await observe(['/fine'], '--save', file)).err).to.contain(
      '--resume continues it, --overwrite starts it over',
    )
    home.asked.length = 0
    const { code } = await observe(['/fine', '/broken', '/latin'], '--save', file, '--resume')
    expect(code).to.equal(0)
    // What was observed is not asked for again, what failed is.
    expect(home.asked.filter((path) => path !== '/robots.txt').sort()).to.deep.equal(['/broken', '/latin'])
    expect(savedIn(file)).to.deep.equal(['/fine', '/broken', '/latin'])
  })

  it('saves pages as they are done, and in the end in the order in which they were asked for', async () => {
    const file = join(folder, 'late.ndjson')
    // The first page answers only when the second is saved.
    routes['/late'] = (_, response) => {
      const watching = watch(folder, () => {
        if (!existsSync(file) || savedIn(file)[0] !== '/fine') return
        watching.close()
        html(response, PAGE)
      })
    }
    await observe(['/late', '/fine'], '--save', file)
    expect(savedIn(file)).to.deep.equal(['/late', '/fine'])
  })

  it('looks at folders of HTML, and at nothing outside them', async () => {
    const site = join(folder, 'build')
    mkdirSync(join(site, 'visit'), { recursive: true })
    writeFileSync(join(folder, 'secret.html'), '<h1>Secret</h1>')
    writeFileSync(join(site, 'index.html'), PAGE.replace('<main>', '<header><a href="/">Q</a></header><main>'))
    writeFileSync(
      join(site, 'visit/index.html'),
      `${PAGE}<iframe src="../../secret.html"></iframe><img src="/%2e%2e/secret.html">`,
    )
    writeFileSync(join(site, 'plan b.html'), PAGE)
    const { out, code } = await wembraHere(folder, 'observe', 'build', '--format', 'ndjson')
    expect(code).to.equal(0)
    const paths = out
      .trim()
      .split('\n')
      .map((line) => new URL((JSON.parse(line) as { url: string }).url).pathname)
    expect(paths.sort()).to.deep.equal(['/', '/plan%20b', '/visit'])
    expect(existsSync(join(folder, 'secret.html'))).to.equal(true)
  })

  it('says what is wrong with what it was asked', async () => {
    const cases: readonly (readonly [readonly string[], RegExp])[] = [
      [[], /missing <address>/],
      [['ftp://quillmere.example/'], /"ftp:\/\/quillmere.example\/" is neither a file, a folder nor an address/],
      [['nowhere'], /"nowhere" is neither a file, a folder nor an address/],
      [[`${home.origin}/fine`, 'build'], /addresses or files, not both/],
      [[`${home.origin}/fine`, '--timeout', 'soon'], /--timeout expects seconds above 0, not "soon"/],
      [[`${home.origin}/fine`, '--header', 'nonsense'], /"nonsense" is not a header/],
      [[`${home.origin}/fine`, '--resume'], /--resume needs --save/],
      [[`${home.origin}/fine`, '--every-page'], /need a site file/],
      [['missing.ndjson'], /missing.ndjson:1:1: there is no such file/],
    ]
    for (const [words, message] of cases) {
      const { code, err } = await wembraHere(folder, 'observe', ...words)
      expect(code, words.join(' ')).to.equal(2)
      expect(err, words.join(' ')).to.match(message)
    }
    writeFileSync(join(folder, 'bad.ndjson'), '{"wembra":1,"report":"observation","url":5}\n')
    expect((await wembraHere(folder, 'observe', 'bad.ndjson')).err).to.match(/bad\.ndjson:1:1: wrong-type: url/)
    const closed = await wembraHere(folder, 'observe', 'http://127.0.0.1:1/', '--format', 'ndjson', '--ignore-robots')
    expect(codeOf(results(closed)['/'])).to.equal('not-reached')
  })
})
