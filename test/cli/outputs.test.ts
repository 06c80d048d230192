import { expect } from 'chai'
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { wembraHere as wembra } from '../support/command-line.js'

/** Small enough that every number below is worked out by hand: a header of 96 px, spacing of 40 px, a hero of 300 px. */
const SITE = `wembra: 1
site: { name: Tarn }
viewports: { desk: { width: 1000, height: 800 }, phone: { width: 400, height: 800 } }
surrounds:
  top: { as: header, height: 96px }
  end: { as: footer, height: 50px }
theme: { layout: { header: { use: top }, footer: { use: end }, title: absent, spacing: 40px, width: { max: 600px, gutter: 20px } } }
templates: { wide: { layout: { width: full } } }
pages:
  visit: { path: /visit, title: Visit, body: [ { section: hero, height: 300px, items: [ { text: Come } ] } ] }
  hours: { path: /hours, title: Hours, template: wide, layout: { footer: absent } }
`
/** Where a key begins on its line. */
const columnOf = (text: string): number =>
  (SITE.split('\n').find((line) => line.includes(text)) ?? '').indexOf(text) + 1
const folder = (): string => {
  const path = mkdtempSync(join(tmpdir(), 'wembra-outputs-'))
  writeFileSync(join(path, 'tarn.site.yaml'), SITE)
  return path
}
const lines = async (...words: string[]): Promise<string[]> =>
  (await wembra(folder(), ...words)).out.split('\n').map((line) => line.trim().replace(/ {2,}/g, ' | '))

describe('what commands print', () => {
  it('show: facets at each viewport with what decides them, then boxes in px', async () => {
    const out = await lines('show', 'visit')
    expect(out[0]).to.equal('Visit | /visit | page')
    expect(out).to.include.members([
      'header.use | top | top | theme',
      'width.max | 600 | 600 | theme',
      'spacing.before | 40 | 40 | theme',
      'header | 0,0 | 1000×96 | 0,0 | 400×96',
      'container | 200,136 | 600×300 | 20,136 | 360×300',
      'section:hero | 200,136 | 600×300 | 20,136 | 360×300',
      'footer | 0,476 | 1000×50 | 0,476 | 400×50',
    ])
  })

  it('table: columns begin at the same place in every row, however many there are', async () => {
    const path = folder()
    const pages = Array.from(
      { length: 90 },
      (_, n) => `  p${n === 70 ? '70-with-a-long-name' : n}: { path: /p${n}, title: P }\n`,
    )
    writeFileSync(join(path, 'tarn.site.yaml'), SITE + pages.join(''))
    const [head = '', ...rows] = (await wembra(path, 'table')).out.split('\n').slice(0, 93)
    const column = head.indexOf('header')
    expect(column).to.be.greaterThan('p70-with-a-long-name'.length)
    expect(rows.map((row) => row.slice(column - 1, column + 4))).to.deep.equal(rows.map(() => ' top '))
  })

  it('show --ledger: every step to the x, width and y of a box, and their sums', async () => {
    const out = await lines('show', 'visit', '--ledger', 'section:hero', '--viewport', 'desk')
    expect(out).to.deep.equal([
      'section:hero at desk, in px',
      '',
      'x | width',
      '0 | 1000 | the window at desk',
      `+20 | −40 | width.gutter on both sides | tarn.site.yaml:7:${columnOf('gutter: 20px')}`,
      `+180 | −360 | width.max, centered | tarn.site.yaml:7:${columnOf('max: 600px')}`,
      '200 | 600 | x and width of section:hero',
      '',
      'y',
      '96 | the header | tarn.site.yaml:5:3',
      `40 | spacing.before | tarn.site.yaml:7:${columnOf('spacing: 40px')}`,
      '136 | y of section:hero',
      '',
    ])
    const header = await lines('show', 'visit', '--ledger', 'header', '--viewport', 'phone')
    expect(header.slice(-4)).to.deep.equal([
      'height',
      '96 | the height that is declared for the header | tarn.site.yaml:5:3',
      '96 | height of header',
      '',
    ])
  })

  it('show: titles, exits by place, words, and what a visitor gets', async () => {
    const out = await lines('show', 'visit')
    expect(out).to.include.members([
      `the theme’s title | no | no | no | tarn.site.yaml:7:${columnOf('title: absent')}`,
      'Programs read the headline from nothing.',
      'absent | no | no | lost',
      'body | 0',
      '1 word in the body; a visitor who is not signed in gets this page',
    ])
  })

  it('uses: all templates and surrounds with their pages', async () => {
    const out = await lines('uses')
    expect(out[0]).to.equal('1 TEMPLATE')
    expect(out).to.include.members([
      'width | width.mode full',
      'pages | 1 page: hours',
      'end | footer | tarn.site.yaml:6:3',
    ])
    expect(out.slice(-4)).to.deep.equal([
      'kind | template | builder | pages',
      'page | none | none | 1',
      'page | wide | none | 1',
      '',
    ])
    expect((await wembra(folder(), 'uses', '--format', 'markdown')).out).to.contain('| wide | prints: title, byline, ')
    const html = (await wembra(folder(), 'uses', '--format', 'html')).out
    expect(html).to.contain('<h3>wide</h3>').and.contain('Content-Security-Policy')
    expect((await wembra(folder(), 'uses', 'wide', '--format', 'html')).err).to.contain('leave out "wide"')
  })

  it('table: columns that are no properties, and who decides', async () => {
    expect((await lines('table', '--columns', 'path,kind,template,exits,header'))[1]).to.equal(
      'visit | /visit | page | – | 0 | shown',
    )
    expect((await lines('table', '--columns', 'footer,width.mode', '--by', 'layer'))[2]).to.equal(
      'hours | absent (page) | full (template)',
    )
    const { out } = await wembra(
      folder(),
      'table',
      '--format',
      'csv',
      '--columns',
      'footer',
      '--by',
      'layer',
      '--viewport',
      'desk',
    )
    expect(out).to.equal(
      'page,viewport,footer.presence,footer.presence layer\r\nvisit,desk,shown,baseline\r\nhours,desk,absent,page\r\n',
    )
    const { err } = await wembra(folder(), 'table', '--columns', 'qqq')
    expect(err).to.match(
      /^wembra table: unknown column "qqq"; use a facet \(header, footer, .*\), facet.property, or template, path, /,
    )
    expect(err.length).to.be.lessThan(320)
  })

  it('diff: two surrounds side by side', async () => {
    expect(await lines('diff', 'surround:top', 'surround:end')).to.deep.equal([
      'top | end',
      'as | header | footer',
      'height | 96px | 50px',
      '',
      '2 differences; 0 settings, slots and items are the same.',
      '',
    ])
    expect((await wembra(folder(), 'diff', 'surround:top', 'surround:ned')).err).to.contain('did you mean "end"?')
  })

  it('check --by step: the steps of the work, and what is undecided', async () => {
    const out = await lines('check', '--by', 'step', '--severity', 'warning')
    expect(out.filter((line) => /^\d\. /.test(line))).to.deep.equal(['1. Theme | 3 findings', '2. Site | 2 findings'])
    expect(out).to.include(
      'undecided: no page has the purpose front; no page has the purpose search; no page has the purpose',
    )
  })

  it('why: the chain, strongest first, each with its place', async () => {
    expect(await lines('why', 'hours', 'footer')).to.deep.equal([
      'hours | footer.presence at desk: absent',
      '',
      `→ tarn.site.yaml:11:${columnOf('footer: absent')} | page | absent | wins | this page's own setting`,
      '(built in) | baseline | shown | overridden | built-in default',
      '',
    ])
    expect((await lines('why', 'hours', 'template'))[0]).to.equal('hours | template at desk: wide')
    expect(await lines('why', 'visit', 'header.ink')).to.include('No layer sets this property.')
  })

  it('table: one row a page', async () => {
    const out = await lines('table')
    expect(out[0]).to.equal('page | template | header | footer | title | sidebar | width | spacing')
    expect(out[1]).to.equal('visit | – | top | end | absent | – | boxed 600 | 40 40')
    expect(out[2]).to.equal('hours | wide | top | absent | absent | – | full 1000 | 40 40')
    expect(out[3]).to.equal('2 pages at desk; lengths in px')
  })

  it('table --format csv: one row a page and viewport, as RFC 4180 has it', async () => {
    const { out } = await wembra(folder(), 'table', '--format', 'csv', '--columns', 'template,width.max')
    expect(out).to.equal(
      'page,viewport,template,width.max\r\nvisit,desk,,600\r\nvisit,phone,,600\r\nhours,desk,wide,600\r\nhours,phone,wide,600\r\n',
    )
  })

  it('uses: the pages of a footer, and those that would change with it', async () => {
    const out = await lines('uses', 'end')
    expect(out[0]).to.match(/^surround end \| tarn.site.yaml:6:3/)
    expect(out).to.include('used by 1 page').and.include('if it changed, 1 page would')
    expect(out.join('\n')).to.match(/assigned but overridden\nhours/)
    expect((await lines('uses', 'wide')).join('\n')).to.contain('used by 1 page\nhours')
  })

  it('diff: pages, facets and px, and what stays', async () => {
    const out = await lines('diff', '--set', 'theme.layout.spacing=60px')
    expect(out.join('\n')).to.contain('spacing.before 40 → 60')
    expect(out.join('\n')).to.contain('content begins 20 px lower at desk, phone')
    expect(out.at(-2)).to.match(/^2 pages changed, 0 as before; findings: /)
    expect(await lines('diff', '--set', 'site.name=Fell')).to.deep.equal(['Nothing changes on 2 pages.', ''])
  })

  it('how: what is so already, and what no page can have', async () => {
    expect(await lines('how', 'visit', 'footer.use=end')).to.deep.equal(['The page visit already has this.', ''])
    const out = await lines('how', 'visit', 'footer=absent')
    expect(out.slice(0, 2)).to.deep.equal(['1 | set it on the page visit | 1 setting', 'no other page changes'])
  })

  it('groups: pages of one layout', async () => {
    const out = await lines('groups')
    expect(out[0]).to.match(/^1 \| 1 page \| template none; differs from group 2 in /)
    expect(out.at(-2)).to.match(/^2 groups; 1 template in use/)
  })

  it('css: nothing where nothing is needed, exact offsets where a header is fixed', async () => {
    const path = folder()
    expect((await wembra(path, 'css')).out).not.to.contain('padding-top')
    await wembra(path, 'diff', '--set', 'theme.layout.header.position=fixed', '--apply')
    expect((await wembra(path, 'css')).out).to.match(/body\.page-visit[^{]*\{\n {2}padding-top: 96px;/)
  })

  it('fix --dry-run: the edit as a diff, and the file as it was', async () => {
    const path = folder()
    await wembra(path, 'diff', '--set', 'theme.layout.header.position=fixed', '--apply')
    const before = readFileSync(join(path, 'tarn.site.yaml'), 'utf8')
    const { out } = await wembra(path, 'fix', '--dry-run', '--rule', 'header-covers-content')
    expect(out)
      .to.match(/^\+.*clearance: auto/m)
      .and.to.match(/1 fix would be written/)
    expect(readFileSync(join(path, 'tarn.site.yaml'), 'utf8')).to.equal(before)
  })

  it('snapshot: what every page gets, which compares equal to itself', async () => {
    const path = folder()
    expect((await wembra(path, 'snapshot', '-o', 'before.json')).out).to.equal('2 pages in before.json\n')
    expect((await wembra(path, 'diff', 'before.json', 'tarn.site.yaml')).out).to.equal('Nothing changes on 2 pages.\n')
  })

  it('rules and schema: lists, and one by its name', async () => {
    expect((await wembra('.', 'rules')).out).to.match(/^header-covers-content +error +A fixed or overlay header/)
    expect((await wembra('.', 'rules', 'nav-lost')).out).to.match(/^# nav-lost\n/)
    for (const what of ['site', 'pack', 'mapping', 'observation'])
      expect(JSON.parse((await wembra('.', 'schema', what)).out), what).to.have.property('$schema')
  })
})
