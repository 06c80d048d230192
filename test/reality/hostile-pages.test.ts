import { expect } from 'chai'
import type { Observation } from 'wembra/reality'
import { wembraHere, type Answer } from '../support/command-line.js'
import { codeOf, html, PAGE, results, serveOn, type Local } from '../support/servers.js'

/** Pages that may ask and try what they want, and are observed all the same. */
const OBSERVED = ['/fine', '/links-away', '/asks', '/tampers', '/opens']

describe('hostile pages in a browser', () => {
  let home: Local
  let elsewhere: Local
  const pages: Record<string, string> = {}

  before(async () => {
    elsewhere = await serveOn((_, response) => html(response, '<h1>Caught</h1>'))
    home = await serveOn((request, response) => {
      const body = pages[request.url ?? '']
      if (request.url === '/never') return
      if (request.url?.startsWith('/drawn-') === true)
        return void response.writeHead(200, { 'content-type': 'image/gif' }).end(DRAWN)
      if (body === undefined) response.writeHead(404).end()
      else html(response, body)
    })
    Object.assign(pages, pagesThatReach(elsewhere.origin))
  })
  after(() => {
    for (const server of [home, elsewhere]) server.close()
  })

  /** At one viewport: what a page may do to the browser it does at each. */
  const observe = async (
    paths: readonly string[],
    timeout: string,
    at: readonly string[] = ['--viewport', 'desk'],
  ): Promise<Answer> =>
    wembraHere(
      '.',
      ...['observe', ...paths.map((path) => home.origin + path), '--browser'],
      ...at,
      ...['--concurrency', '2', '--timeout', timeout, '--format', 'ndjson'],
    )

  it('are bounded, and ask nothing of anybody else', async () => {
    const paths = Object.keys(pages).filter((path) => !['/slow-picture', '/gallery'].includes(path))
    // What must be seen has time enough on any machine, and no page beside it that takes the processor.
    const seen = results(await observe(OBSERVED, '60'))
    Object.assign(
      seen,
      results(
        await observe(
          paths.filter((path) => !OBSERVED.includes(path)),
          '1',
        ),
      ),
    )
    expect(elsewhere.asked).to.deep.equal([])
    for (const path of paths)
      expect(codeOf(seen[path]), path).to.be.oneOf(['observed', 'moved', 'too-slow', 'browser-failed'])
    for (const path of OBSERVED) expect(codeOf(seen[path]), path).to.equal('observed')
    expect((seen['/tampers'] as Observation).headings.map((h) => h.text)).to.deep.equal(['Tarn'])
    expect(codeOf(seen['/busy']), 'busy').to.be.oneOf(['too-slow', 'browser-failed'])
  })

  it('are not waited for when a picture never comes', async () => {
    const seen = results(await observe(['/slow-picture'], '60'))
    expect(codeOf(seen['/slow-picture'])).to.equal('observed')
  })

  it('get each of several hundred pictures, at every viewport', async () => {
    const { out } = await observe(['/gallery'], '60', [])
    const heights = out
      .trim()
      .split('\n')
      .map((line) => (JSON.parse(line) as Observation).size?.height)
    // 180 pictures of 10 px, one below the other, and nothing else.
    expect(heights).to.deep.equal([1800, 1800, 1800])
  })
})

/** A picture of 30 by 10 px. */
const DRAWN = Buffer.from('R0lGODlhHgAKAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7', 'base64')
const PICTURES = Array.from({ length: 180 }, (_, n) => `<img src="/drawn-${n}" style="display: block">`).join('')

const pagesThatReach = (other: string): Record<string, string> => ({
  '/fine': PAGE,
  '/links-away': `${PAGE}<link rel="preconnect" href="${other}"><link rel="prefetch" href="${other}/prefetch"><link rel="stylesheet" href="${other}/style.css"><img src="${other}/image.png"><iframe src="${other}/frame"></iframe><script src="${other}/script.js"></script><script>fetch('${other}/fetch').catch(() => 0); navigator.sendBeacon('${other}/beacon'); new WebSocket('${other.replace('http', 'ws')}/socket'); new Image().src = '${other}/pixel'; new EventSource('${other}/events')</script>`,
  '/goes-away': `${PAGE}<script>location.href = '${other}/left'</script>`,
  '/refreshes': `<meta http-equiv="refresh" content="0;url=${other}/refreshed">${PAGE}`,
  '/submits': `${PAGE}<form id=f action="${other}/submitted" method=post></form><script>f.submit()</script>`,
  '/opens': `${PAGE}<script>for (let n = 0; n < 5; n++) window.open('${other}/opened')</script>`,
  '/asks': `${PAGE}<script>alert(1); confirm(2); prompt(3); onbeforeunload = () => 'stay'</script>`,
  '/busy': `${PAGE}<script>for (;;);</script>`,
  '/busy-later': `${PAGE}<script>addEventListener('load', () => { for (;;); })</script>`,
  '/tampers': `${PAGE}<script>JSON.stringify = () => '{}'; Array.prototype.flatMap = () => []; document.querySelector = () => null; window.getComputedStyle = () => { throw 1 }</script>`,
  '/reads-file': `${PAGE}<iframe src="file:///etc/passwd"></iframe><script>fetch('file:///etc/passwd').catch(() => 0)</script>`,
  '/fetches': `${PAGE}<script>setInterval(() => { for (let n = 0; n < 8; n++) fetch('/fine?' + Math.random()).catch(() => 0) }, 10)</script>`,
  '/slow-picture': `${PAGE}<img src="/never">`,
  '/gallery': `<!doctype html><title>Tarn</title><style>body { margin: 0 }</style>${PICTURES}`,
})
