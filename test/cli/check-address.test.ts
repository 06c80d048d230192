import { expect } from 'chai'
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { seenFindings, type Observation } from 'wembra/reality'
import { complaints, wembraHere } from '../support/command-line.js'
import { startHost, type Host } from '../support/host.js'
import { RECORDED, recorded, recordedLines } from '../support/recorded.js'

interface Found {
  readonly rule: string
  readonly pages: readonly string[]
  readonly certainty: string
  readonly numbers: Readonly<Record<string, number>>
  readonly at: { readonly file: string; readonly selector?: string }
}

describe('check of real pages', () => {
  let folder: string
  let host: Host
  before(async () => {
    folder = mkdtempSync(join(tmpdir(), 'wembra-address-'))
    host = await startHost()
  })
  after(async () => {
    await host.close()
    rmSync(folder, { recursive: true, force: true })
  })

  it('needs no site file, and names address and selector', async () => {
    const address = `${host.address}/whats-on/moon-night`
    const { code, out, err } = await wembraHere(folder, 'check', address, '--browser', '--format', 'json')
    expect(complaints(err)).to.equal('')
    expect(code).to.equal(1)
    const { findings } = JSON.parse(out) as { findings: readonly Found[] }
    const covers = findings.find(({ rule }) => rule === 'header-covers-content')
    expect(covers?.at.file).to.equal(address)
    // The first thing under the header there is the strip that the site puts above its events.
    expect(covers?.at.selector).to.equal('#ticket-strip > div > p')
    expect(covers?.certainty).to.equal('measured')
    expect(covers?.pages).to.deep.equal([address])
    expect(existsSync(join(folder, 'wembra.site.yaml'))).to.equal(false)
  })

  it('shows each place on the page’s own picture, and asks nobody for anything', async () => {
    const address = `${host.address}/whats-on/moon-night`
    const { code } = await wembraHere(folder, 'check', address, '--browser', '--format', 'html', '-o', 'found.html')
    expect(code).to.equal(1)
    const html = readFileSync(join(folder, 'found.html'), 'utf8')
    expect(html).to.match(/content="default-src &#x27;none&#x27;; style-src &#x27;unsafe-inline&#x27;; img-src data:"/)
    expect(html).to.match(/<image href="data:image\/jpeg;base64,[^"]{2000}/)
    expect(html).to.match(/<rect [^>]*class="mark"/)
  })

  it('takes observations that were saved, with the filters of all checks', async () => {
    writeFileSync(join(folder, 'seen.ndjson'), `${recordedLines(RECORDED).join('\n')}\n`)
    const rulesOf = async (...more: readonly string[]): Promise<readonly string[]> => {
      const { out } = await wembraHere(folder, 'check', 'seen.ndjson', '--format', 'json', ...more)
      return [...new Set((JSON.parse(out) as { findings: readonly Found[] }).findings.map(({ rule }) => rule))].sort()
    }
    const all = await rulesOf()
    expect(all).to.include.members(['header-covers-content', 'header-unreadable', 'headings-out-of-order'])
    expect(await rulesOf('--rule', 'header-unreadable')).to.deep.equal(['header-unreadable'])
    expect(await rulesOf('--severity', 'error')).to.deep.equal(['header-covers-content'])
    expect(await rulesOf('--page', '/journal/perseids', '--rule', 'header-unreadable')).to.have.length(1)
    expect(await rulesOf('--page', '/visit', '--rule', 'header-unreadable')).to.deep.equal([])
  })

  it('prints lines that begin with where it is', async () => {
    const { out } = await wembraHere(folder, 'check', 'seen.ndjson', '--severity', 'error', '--no-color')
    expect(out).to.match(/^http:\/\/\S+ \S.*error header-covers-content$/m)
    expect(out).to.match(/\d+ errors?, 0 warnings, 0 notes on \d+ of 57 pages/)
  })

  for (const [what, words, problem] of [
    ['a browser', ['http://127.0.0.1:9/visit'], 'add --browser'],
    ['a site file for --since', ['seen.ndjson', '--since', 'before.json'], '--where and --since need a site file'],
    ['a page that comes', ['http://127.0.0.1:9/visit', '--browser'], 'none of the pages could be observed'],
    ['files for --watch', ['seen.ndjson', '--watch'], '--watch needs files'],
  ] as const)
    it(`says that it needs ${what}`, async () => {
      const { code, err } = await wembraHere(folder, 'check', ...words)
      expect(code).to.equal(2)
      expect(err).to.contain(problem)
    })
})

describe('observe --explain', () => {
  it('tells of each part why it was taken for that, and what speaks against it', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'wembra-explain-'))
    const [line = ''] = recordedLines(RECORDED).filter((each) => /"url":"[^"]*\/visit",.*"name":"desk"/.test(each))
    writeFileSync(join(folder, 'seen.ndjson'), `${line}\n`)
    const { code, out } = await wembraHere(folder, 'observe', 'seen.ndjson', '--explain', '--no-color')
    expect(code).to.equal(0)
    expect(out).to.match(/^http\S+\/visit desk\n {2}header {5}header#top/)
    expect(out).to.match(/1280 × 133 px at 0, 0; \d+ links/)
    const { out: json } = await wembraHere(folder, 'observe', 'seen.ndjson', '--explain', '--format', 'json')
    const document = JSON.parse(json) as { report: string; views: readonly { parts: readonly { part: string }[] }[] }
    expect(document.report).to.equal('parts')
    expect(document.views[0]?.parts.map(({ part }) => part)).to.include.members(['header', 'footer', 'container'])
    rmSync(folder, { recursive: true, force: true })
  })
})

describe('what is wrong on real pages', () => {
  const page = (path: string, more: Partial<Observation>): Observation => ({
    ...{ wembra: 1, report: 'observation', url: `https://tarn.example${path}`, title: 'Tarn', types: [], classes: [] },
    viewport: { name: 'desk', width: 1280, height: 800 },
    ...{ parts: {}, landmarks: [], headings: [], outline: [], comments: false },
    exits: { header: [], footer: [], sidebar: [], body: [] },
    ...more,
  })
  const heading = (level: number, text: string, place: Observation['headings'][number]['place'] = 'body') => ({
    ...{
      level,
      text,
      presence: 'shown' as const,
      place,
      selector: `h${level}`,
      box: { x: 0, y: 0, width: 9, height: 9 },
    },
  })
  const titled = (text: string): Partial<Observation> => ({
    parts: { title: { presence: 'shown', by: 'guess', selector: 'h1', text } },
  })
  const told = (...seen: readonly Observation[]): readonly string[] =>
    seenFindings(seen).map(({ rule, pages, message }) => `${rule} on ${pages.length}: ${message}`)

  it('is one more heading 1, and a level left out, but no heading around the text', () => {
    const headings = [heading(3, 'Menu', 'sidebar'), heading(1, 'Visit'), heading(3, 'By bus'), heading(1, 'More')]
    expect(told(page('/', {}), page('/visit', { headings, ...titled('Visit') }))).to.deep.equal([
      'headings-out-of-order on 1: “By bus” is of level 3, below a heading of level 1',
      'headings-out-of-order on 1: “More” is one more heading 1',
    ])
  })

  it('is the same heading on many pages once', () => {
    const headings = [heading(1, 'Visit'), heading(4, 'Notes')]
    const seen = ['/a', '/b', '/c'].map((path) => page(path, { headings, ...titled('Visit') }))
    expect(told(...seen)).to.deep.equal([
      'headings-out-of-order on 3: “Notes” is of level 4, below a heading of level 1',
    ])
  })

  it('is a title that is not there, except on the front page, and one that is there twice', () => {
    const twice = { headings: [heading(1, 'Visit'), heading(2, 'Visit')], ...titled('Visit') }
    expect(told(page('/', {}), page('/lost', {}), page('/visit', twice))).to.deep.equal([
      'title-missing on 1: no title and no heading 1 is seen',
      'title-doubled on 1: the title is seen 2 times: “Visit” once more',
    ])
  })

  it('is told of the worst place, with all others as cases', () => {
    const fault = (covered: number) => ({
      faults: [
        {
          rule: 'header-covers-content' as const,
          ...{ selector: 'h1', what: 'Nights', box: { x: 0, y: 10, width: 90, height: 40 } },
          numbers: { covered, room: 10, needed: 10 + covered },
        },
      ],
      ...titled('Nights'),
    })
    const [finding, ...others] = seenFindings([page('/', fault(20)), page('/b', fault(44)), page('/c', fault(12))])
    expect(others).to.deep.equal([])
    expect(finding?.numbers).to.deep.equal({ covered: 44, room: 10, needed: 54 })
    expect(finding?.cases.map(({ numbers }) => numbers['covered'])).to.deep.equal([20, 44, 12])
    expect(finding?.message).to.equal('the header covers 44 px of “Nights” before anything is scrolled')
  })

  it('is nothing of pages of which only the markup was read', () => {
    expect(told(page('/lost', { viewport: null }))).to.deep.equal([])
    expect(recorded(RECORDED).length).to.equal(171)
  })
})
