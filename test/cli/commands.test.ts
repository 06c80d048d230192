import { expect } from 'chai'
import { execFileSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { wembra as wembraProcess, wembraFed, wembraHere, type Answer } from '../support/command-line.js'

const QUILLMERE = resolve('examples/quillmere')

/** The command line in this process. */
const wembra = (args: readonly string[], { cwd = QUILLMERE } = {}): Promise<Answer> => wembraHere(cwd, ...args)
const folder = (files: Readonly<Record<string, string | Buffer>>): string => {
  const path = mkdtempSync(join(tmpdir(), 'wembra-'))
  for (const [name, content] of Object.entries(files)) writeFileSync(join(path, name), content)
  return path
}
const document = async (args: readonly string[]): Promise<Record<string, unknown>> =>
  JSON.parse((await wembra([...args, '--format', 'json'])).out) as Record<string, unknown>

const SITE = 'wembra: 1\nsite: { name: Small }\ntheme: {}\npages: { a: { path: /a, title: A } }\n'

/** A site without conflicts. */
const CLEAN =
  'wembra: 1\nsite: { name: Small }\npurposes: { front: a }\ntheme: { layout: { header: absent, footer: absent, findable: false } }\npages: { a: { path: /, title: A, status: draft, body: [ { section: s, items: [ { text: words } ] } ] } }\nseverity: { front-unpublished: none, hidden-but-linked: none }\n'

describe('the command line', () => {
  it('lists its commands, and each has help with examples', async () => {
    const { out, code } = wembraProcess(QUILLMERE, '--help')
    expect(code).to.equal(0)
    for (const name of ['check', 'show', 'why', 'table', 'uses', 'draw', 'schema']) {
      expect(out).to.contain(`  ${name} `)
      expect((await wembra([name, '--help'])).out).to.match(/Examples:\n {2}\$ wembra/)
    }
  })

  it('takes the one site file of the folder that no other extends', async () => {
    expect((await wembra(['table'])).code).to.equal(0)
    expect((await wembra(['table'], { cwd: folder({}) })).err).to.match(/unreadable: this folder has no site file/)
    expect((await wembra(['table'], { cwd: folder({ 'a.site.yaml': SITE, 'b.site.yaml': SITE }) })).err).to.contain(
      'a.site.yaml, b.site.yaml',
    )
  })

  it('reads a site from standard input', async () => {
    const { code, out } = wembraFed(tmpdir(), { input: CLEAN }, 'check', '-')
    expect([code, out.trim()]).to.deep.equal([0, 'No conflicts found on 1 page.'])
  })

  it('reads pages from NDJSON as a stream, wherever a piece of the file ends', async () => {
    const lines = Array.from({ length: 9000 }, (_, n) =>
      JSON.stringify({ id: `p${n}`, path: `/p/${n}`, title: `Stjärnhimmel 🌌 ${'é'.repeat(n % 90)}` }),
    )
    const cwd = folder({ 'a.site.yaml': `${SITE}include: [ pages.ndjson ]\n`, 'pages.ndjson': lines.join('\n') })
    expect((await wembra(['why', 'p8999', 'title'], { cwd })).code).to.equal(0)
    expect((await wembra(['table', '--where', 'page=p4321', '--columns', 'title'], { cwd })).out).to.contain('p4321')
    writeFileSync(
      join(cwd, 'pages.ndjson'),
      [...lines.slice(0, 5000), '{"id":"broken"', ...lines.slice(5000)].join('\n'),
    )
    const { code, err } = await wembra(['table'], { cwd })
    expect([code, err.trim()]).to.deep.equal([
      2,
      'pages.ndjson:5001:15: bad-syntax: close brace expected before the end of the text; the file is read as JSON (RFC 8259)',
    ])
  })

  it('obeys NO_COLOR, and colors only a terminal', async () => {
    const colorful = (env: Readonly<Record<string, string>>): boolean =>
      wembraFed(tmpdir(), { input: CLEAN, env }, 'check', '-').out.includes('\u001b[')
    expect(colorful({})).to.equal(false)
    expect(colorful({ FORCE_COLOR: '1' })).to.equal(true)
  })

  for (const [what, args] of [
    ['an unknown command', ['chek']],
    ['an unknown option', ['check', '--fromat', 'json']],
    ['a format that is none', ['check', '--format', 'pdf']],
    ['a page that is not there', ['show', 'vist']],
    ['a viewport that is not there', ['show', 'visit', '--viewport', 'watch']],
    ['a property that is not there', ['why', 'visit', 'header.postion']],
    ['no page at all', ['show']],
    ['a thing that is not there', ['uses', 'primry']],
    ['a selector that is none', ['table', '--where', 'knd=x']],
    ['a column that is not there', ['table', '--columns', 'heder.use']],
    ['a PNG without a file', ['draw', 'visit', '--format', 'png']],
  ] as const)
    it(`answers ${what} with exit 2 and a way out`, async () => {
      const { code, err, out } = await wembra(args)
      expect([code, out]).to.deep.equal([2, ''])
      expect(err).to.match(/did you mean|Did you mean|Allowed choices|name |unknown|missing|usage:/)
    })

  const bad = folder({
    'key.site.yaml': `${SITE}teme: {}\n`,
    'type.site.yaml': SITE.replace('title: A', 'title: 3'),
    'empty.site.yaml': '',
    'binary.site.yaml': Buffer.from([0x89, 0x50, 0, 0xff, 0xfe]),
    'anchor.site.yaml': 'wembra: 1\nsite: &s { name: *s }\n',
    'viewport.site.yaml': SITE.replace('{}', '{ layout: { title: { watch: hidden, phone: absent } } }'),
  })
  mkdirSync(join(bad, 'folder.site.yaml'))
  for (const [file, place, code] of [
    ['key.site.yaml', '5:1', 'unknown-key'],
    ['type.site.yaml', '4:32', 'wrong-type'],
    ['missing.site.yaml', '1:1', 'unreadable'],
    ['empty.site.yaml', '1:1', 'empty'],
    ['folder.site.yaml', '1:1', 'unreadable'],
    ['binary.site.yaml', '1:1', 'unreadable'],
    ['anchor.site.yaml', '2:18', 'circle'],
    ['viewport.site.yaml', '3:29', 'unknown-'],
  ] as const)
    it(`answers ${file} with file:line:column, a code and exit 2`, async () => {
      const result = await wembra(['check', file], { cwd: bad })
      expect(result.code).to.equal(2)
      expect(result.out).to.equal('')
      expect(result.err).to.match(new RegExp(`^${file}:${place}: ${code}`))
    })
})

describe('wembra check', () => {
  it('names file:line:column first, what happens, and what to do', async () => {
    const { code, out } = await wembra(['check'])
    expect(code).to.equal(1)
    expect(out).to.match(
      /^quillmere\.site\.yaml:\d+:\d+ error header-covers-content\n {2}the header covers .*\n(.*\n)? {2}fix: /,
    )
    for (const line of out.split('\n')) expect(line.length).to.be.at.most(100)
  })

  it('prints the findings document of the contract', async () => {
    const report = await document(['check'])
    expect(Object.keys(report)).to.deep.equal(['wembra', 'report', 'site', 'counts', 'findings'])
    expect(report).to.include({ wembra: 1, report: 'findings', site: 'Quillmere Observatory' })
    const [finding] = report['findings'] as Record<string, unknown>[]
    expect(finding).to.have.all.keys(
      ...[
        'key',
        'rule',
        'severity',
        'facet',
        'pages',
        'viewports',
        'certainty',
        'message',
        'numbers',
        'cases',
        'at',
        'related',
        'fixes',
      ],
    )
  })

  it('exits 1 for what it was asked to fail on only', async () => {
    const warned = folder({ 'w.site.yaml': SITE.replace('theme: {}', 'theme: { layout: { sidebar: right } }') })
    expect((await wembra(['check'], { cwd: warned })).code).to.equal(0)
    expect((await wembra(['check', '--fail-on', 'warning'], { cwd: warned })).code).to.equal(1)
  })
})

describe('wembra show', () => {
  it('prints every facet at every viewport, and every box', async () => {
    const { out } = await wembra(['show', 'lecture-dust'])
    expect(out).to.match(/header\.position +fixed +fixed +fixed +template/)
    expect(out).to.match(/header +0,0 {2}1280×132 +0,0 {2}768×132 +0,0 {2}390×80/)
  })

  it('prints the page document of the contract', async () => {
    const report = await document(['show', 'visit', '--viewport', 'phone'])
    expect(report).to.include({ wembra: 1, report: 'page', page: 'visit' })
    const [view] = report['views'] as [{ facets: Record<string, Record<string, unknown>>; boxes: { id: string }[] }]
    expect(view).to.include({ viewport: 'phone', width: 390, height: 844 })
    expect(Object.keys(view.facets)).to.deep.equal([
      'header',
      'footer',
      'title',
      'byline',
      'leadImage',
      'sidebar',
      'width',
      'spacing',
      'comments',
      'findable',
    ])
    expect(view.facets['title']).to.deep.include({ padding: [0, 0, 0, 0], height: null })
    expect(view.boxes[0]).to.include({ id: 'page', of: 'page', x: 0, y: 0, width: 390 })
  })
})

describe('wembra why', () => {
  const copy = (): string => {
    const path = mkdtempSync(join(tmpdir(), 'wembra-'))
    execFileSync('cp', ['-r', `${QUILLMERE}/.`, path])
    return path
  }

  it('names the deciding layer with its place, and changing that line changes the answer', async () => {
    const cwd = copy()
    const { out } = await wembra(['why', 'moon-night', 'header.position'], { cwd })
    const [, file = '', line = '', column = ''] = /→ (.*?):(\d+):(\d+) +template +fixed +wins/.exec(out) ?? []
    const path = join(cwd, file)
    const lines = readFileSync(path, 'utf8').split('\n')
    const deciding = lines[Number(line) - 1] ?? ''
    expect(deciding.slice(Number(column) - 1)).to.match(/^position: fixed/)
    lines[Number(line) - 1] = deciding.replace('position: fixed', 'position: flow')
    writeFileSync(path, lines.join('\n'))
    expect((await wembra(['why', 'moon-night', 'header.position'], { cwd })).out).to.contain(
      'header.position at desk: flow',
    )
  })

  it('prints the chain document of the contract', async () => {
    const report = await document(['why', 'moon-night', 'header.position', '--viewport', 'phone'])
    expect(report).to.include({
      wembra: 1,
      report: 'chain',
      page: 'moon-night',
      property: 'header.position',
      viewport: 'phone',
      value: 'fixed',
    })
    const [winner] = report['chain'] as [Record<string, unknown>]
    expect(winner).to.have.all.keys('layer', 'value', 'outcome', 'because', 'at')
  })

  it('shows who chose the template', async () => {
    expect((await wembra(['why', 'people', 'template'])).out).to.match(
      /page +team-grid +skipped .*there is no template "team-grid"/,
    )
  })
})

describe('wembra table', () => {
  it('prints one line a page', async () => {
    const { out } = await wembra(['table'])
    expect(out).to.match(/^moon-night +event-view +main-header fixed +site-footer +shown +– +boxed 1140 +32 72$/m)
  })

  it('prints every page at every viewport as JSON, and as CSV', async () => {
    const { rows } = (await document(['table'])) as { rows: unknown[] }
    const csv = (await wembra(['table', '--format', 'csv'])).out.trim().split('\r\n')
    expect(csv).to.have.lengthOf(rows.length + 1)
    expect(csv[0]).to.match(/^page,viewport,template,header\.presence,/)
  })
})

describe('wembra table, further', () => {
  it('takes the pages that --where means, and the columns asked for', async () => {
    const args = [
      'table',
      '--where',
      'kind=article,tag=beginners',
      '--where',
      'page=visit',
      '--columns',
      'template,header.use,sidebar.width',
    ]
    const { out } = await wembra(args)
    expect(
      out
        .split('\n')
        .slice(1, 5)
        .map((line) => line.trim().split(/ +/)),
    ).to.deep.equal([
      ['leonids', 'article-view', 'night-header', '280'],
      ['star-hopping', 'article-view', 'bare-header', '280'],
      ['red-torch', 'article-view', 'bare-header', '280'],
      ['visit', 'stave-wide', 'main-header', '280'],
    ])
    expect((await wembra([...args, '--format', 'csv'])).out.split('\r\n')[0]).to.equal(
      'page,viewport,template,header.use,sidebar.width',
    )
  })
})

describe('wembra uses', () => {
  it('lists what uses a surround, where it is overridden, and what would change', async () => {
    const { out } = await wembra(['uses', 'night-header'])
    expect(out).to.match(/used by 6 pages\n {2}perseids +assign entry 3 \(kind article, tag meteors\)/)
    expect(out).to.match(/assigned but overridden\n {2}star-party-thanks .*the header is not printed/)
    expect(out).to.match(/if it changed, 6 pages would/)
  })

  it('prints a document of its own', async () => {
    expect(await document(['uses', 'menu:primary'])).to.deep.include({ wembra: 1, report: 'uses' })
  })
})

describe('wembra schema', () => {
  it('prints the JSON Schema of site files', async () => {
    expect(JSON.parse((await wembra(['schema'])).out)).to.include({
      $schema: 'https://json-schema.org/draft/2020-12/schema',
    })
  })
})

describe('wembra draw', () => {
  it('writes an SVG and a PNG, by the ending of the file', async () => {
    const cwd = folder({ 's.site.yaml': SITE })
    expect((await wembra(['draw', 'a', '-o', 'a.svg'], { cwd })).code).to.equal(0)
    expect(readFileSync(join(cwd, 'a.svg'), 'utf8')).to.match(/^<svg xmlns="http:\/\/www\.w3\.org\/2000\/svg"/)
    expect((await wembra(['draw', 'a', '--viewport', 'phone', '-o', 'a.png'], { cwd })).code).to.equal(0)
    expect(readFileSync(join(cwd, 'a.png')).subarray(1, 4).toString()).to.equal('PNG')
  })

  it('writes a page out as HTML, at one viewport', async () => {
    const cwd = folder({ 's.site.yaml': SITE })
    expect((await wembra(['draw', 'a', '--viewport', 'phone', '-o', 'a.html'], { cwd })).code).to.equal(0)
    expect(readFileSync(join(cwd, 'a.html'), 'utf8')).to.match(/^<!doctype html><html lang="en">/)
    expect((await wembra(['draw', 'a', '--format', 'html'], { cwd })).err).to.contain('add --viewport desk')
  })

  it('draws every page into a folder', async () => {
    const cwd = folder({ 's.site.yaml': SITE })
    expect((await wembra(['draw', '--all', '-o', 'out'], { cwd })).out).to.equal('1 drawing in out\n')
    expect(readFileSync(join(cwd, 'out/a.svg'), 'utf8')).to.contain('</svg>')
  })
})
