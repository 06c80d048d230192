import { expect } from 'chai'
import { mkdirSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Site } from 'wembra'
import { processIo } from '../../dist/cli/io.js'
import { main } from '../../dist/cli/main.js'
import { COMMANDS } from '../../src/cli/commands.js'
import { wembraHere as wembra } from '../support/command-line.js'

const CLEAN =
  'wembra: 1\nsite: { name: Clean }\npurposes: { front: a }\ntheme: { layout: { header: absent, footer: absent, findable: false } }\npages: { a: { path: /, title: A, status: draft, body: [ { section: s, items: [ { text: words } ] } ] } }\nseverity: { front-unpublished: none, hidden-but-linked: none }\n'
const BAD = CLEAN.replace('header: absent', 'header: { use: top, position: fixed }').replace(
  'pages:',
  'surrounds: { top: { as: header, height: 96px, rows: [ { items: [ { text: Tarn } ] } ] } }\npages:',
)

/** A folder with a site that has an error, and others beside it. */
function folder(): string {
  const path = mkdtempSync(join(tmpdir(), 'wembra-arguments-'))
  for (const name of ['other', 'empty', 'a']) mkdirSync(join(path, name))
  writeFileSync(join(path, 'bad.site.yaml'), BAD)
  writeFileSync(join(path, 'other/clean.site.yaml'), CLEAN)
  return path
}

describe('words of a command', () => {
  const path = folder()

  for (const [words, message] of [
    [['check', 'nowhere'], /^nowhere:1:1: unreadable: there is no such file; name a site file/],
    [['check', 'empty'], /^empty:1:1: unreadable: this folder has no site file/],
    [
      ['fix', 'nowhere'],
      /"nowhere" is neither a site file \(.yaml, .yml, .json\) nor a folder; usage: wembra fix \[site\]/,
    ],
    [['table', 'nowhere', 'bad.site.yaml'], /"nowhere" is neither a site file/],
    [['groups', 'x', 'y'], /"x" is neither a site file/],
    [['css', 'x'], /"x" is neither a site file/],
    [['snapshot', 'x'], /"x" is neither a site file/],
    [['show'], /missing <page>, id of a page; usage: wembra show <page> \[site\]/],
    [['show', 'a', 'b'], /"b" is neither a site file/],
    [['why', 'a'], /missing <property>, .*usage: wembra why <page> <property> \[site\]/],
    [['why', 'a', 'title', 'more'], /"more" is neither a site file/],
    [['uses', 'top', 'more'], /"more" is neither a site file/],
    [['diff', 'template:a', 'surround:b'], /compare two templates or two surrounds/],
    [['pack'], /missing <template>/],
    [['unpack'], /missing <pack>/],
    [['observe'], /missing <address>/],
    [['draft'], /missing <address>/],
    [['import', 'm.yaml'], /missing <export>/],
    [['rules', 'nav-lost', 'more'], /unexpected word "more"; usage: wembra rules \[rule\]/],
    [['schema', 'sit'], /unknown schema "sit"; there are: site, pack, mapping, observation/],
    [['diff', '--set', 'theme.layout.title=absent', 'bad.site.yaml', 'more'], /unexpected word "more"/],
    [['how', 'a'], /missing <property=value>/],
    [['how', 'a', 'b', 'title=absent'], /expected one page, got a, b; for several use --where/],
    [['how', 'title=absent'], /name one page, or several with --where/],
    [['draw'], /missing <page>; name one, or draw --all/],
    [['draw', 'a', '--all', '-o', 'out'], /--all draws every page; is "a" the site\?/],
  ] as const)
    it(`${words.join(' ')} is an error that names the way out`, async () => {
      const { code, err, out } = await wembra(path, ...words)
      expect([code, out]).to.deep.equal([2, ''])
      expect(err).to.match(message)
    })

  it('are a folder with a site where there is one', async () => {
    expect((await wembra(path, 'check', 'other')).out).to.equal('No conflicts found on 1 page.\n')
    expect((await wembra(path, 'table', 'other')).out).to.match(/^page .*\na /)
    expect((await wembra(path, 'why', 'a', 'title', 'other')).out).to.match(/^a {2}title.presence at/)
    // The page, not the folder of that name.
    expect((await wembra(path, 'show', 'a')).out).to.match(/^A {2}\/ {2}page/)
  })

  it('never change another site than the one that is named', async () => {
    const before = readFileSync(join(path, 'bad.site.yaml'), 'utf8')
    const { code } = await wembra(path, 'fix', 'other')
    expect(code).to.equal(0)
    expect(readFileSync(join(path, 'bad.site.yaml'), 'utf8')).to.equal(before)
    expect((await wembra(path, 'fix', 'othr')).code).to.equal(2)
    expect(readFileSync(join(path, 'bad.site.yaml'), 'utf8')).to.equal(before)
  })

  it('after an option are words, not its values', async () => {
    const site = 'bad.site.yaml'
    expect((await wembra(path, 'check', '--rule', 'header-covers-content', site)).out).to.contain('1 error')
    expect((await wembra(path, 'check', '--page', 'a', site)).out).to.contain('header-covers-content')
    expect((await wembra(path, 'table', '--where', 'kind=page', site)).out).to.contain('1 page at')
    expect((await wembra(path, 'diff', '--set', 'theme.layout.title=absent', site)).out).to.contain(
      'title.presence shown → absent',
    )
    expect((await wembra(path, 'how', '--where', 'page=a', 'title=absent', site)).out).to.contain('1 setting')
  })

  it('of one option are several with commas, or by repeating it', async () => {
    const rules = async (...words: string[]): Promise<string[]> => {
      const { out } = await wembra(path, 'check', 'bad.site.yaml', '--format', 'json', '--no-fixes', ...words)
      return (JSON.parse(out) as { findings: { rule: string }[] }).findings.map((finding) => finding.rule).sort()
    }
    const both = await rules('--rule', 'header-covers-content, nav-lost')
    expect(both).to.deep.equal(await rules('--rule', 'nav-lost', '--rule', 'header-covers-content'))
    expect(both).to.include('header-covers-content')
    expect((await wembra(path, 'check', '--rule', 'nav-lost,typo')).err).to.contain('unknown rule "typo"')
    expect((await wembra(path, 'check', '--page', 'a,bee')).err).to.contain('unknown page "bee"')
    const columns = await wembra(path, 'table', '--columns', 'template,width.max', '--columns', 'title')
    expect(columns.out).to.match(/^page +template +width.max +title.presence/)
  })
})

describe('values on the command line', () => {
  const path = folder()
  const why = async (...words: string[]): Promise<string> => (await wembra(path, ...words)).out

  it('are what they look like', async () => {
    expect(await why('diff', '--set', 'theme.layout.header.ink=#ffffff')).to.contain('header.ink nothing → #ffffff')
    expect(await why('diff', '--set', 'theme.layout.findable=true')).to.contain('findable.site false → true')
    expect(await why('how', 'a', 'header.ink=#fedcba')).to.contain('set it on the page a')
    expect(await why('diff', '--set', 'theme.layout.spacing={ phone: 0, else: 40px }')).to.contain('at phone')
  })

  for (const [words, message] of [
    [
      ['how', 'a', 'header.position=fxied'],
      /header.position cannot have this value: "fxied" is not one of: .*did you mean "fixed"\?/,
    ],
    [['how', 'a', 'header.use=tpo'], /unknown surround "tpo"; did you mean "top"\?/],
    [['how', 'a', 'width.max=wide'], /"wide" is not a CSS length/],
    [['how', 'a', 'header.posn=fixed'], /unknown property "header.posn"; did you mean "header.position"\?/],
    [['how', 'a', 'headr=absent'], /unknown property "headr"; did you mean/],
    [['diff', '--set', 'theme.layout.spacing'], /has no value; write path=value/],
    [['diff', '--set', 'theme.layout.spacing=[1'], /cannot read the value "\[1" as YAML/],
    [['check', '--max', 'many'], /Expected a whole number/],
    [['check', '--max', '-1'], /Expected a whole number/],
    [['check', '--now', 'soon'], /"soon" is not a date; write it like 2026-11-24/],
    [['fix', '--choose', '0', '--rule', 'nav-lost'], /Expected a whole number from 1/],
    [['fix', '--choose', '1'], /--choose needs --rule/],
    [['draw', 'a', '--viewport', 'phne'], /unknown viewport "phne"; did you mean "phone"\?/],
    [['show', 'a', '--ledger', 'heder'], /unknown box "heder"; did you mean "header"\?/],
    [['table', '--where', 'knd=page'], /did you mean "kind="\?/],
    [['open', '--port', '99999'], /"99999" is not a port; expected 0 to 65535/],
  ] as const)
    it(`${words.join(' ')} is an error that says what was meant`, async () => {
      const { code, err } = await wembra(path, ...words)
      expect(code).to.equal(2)
      expect(err).to.match(message)
    })
})

describe('a site that a command opens', () => {
  /** The numbers of pages that the terminal is called with. */
  const opened = async (...words: readonly string[]): Promise<readonly number[]> => {
    const pages: number[] = []
    const quiet = {
      out: () => undefined,
      err: () => undefined,
      opened: ({ pageIds }: Site) => void pages.push(pageIds.length),
    }
    await main(words, { ...processIo(() => CLEAN), ...quiet })
    return pages
  }
  const path = folder()
  const clean = join(path, 'other/clean.site.yaml')

  it('is announced with how many pages it has, however it was named', async () => {
    expect(await opened('show', 'a', clean)).to.deep.equal([1])
    expect(await opened('check', join(path, 'other'))).to.deep.equal([1])
    expect(await opened('check', '-')).to.deep.equal([1])
    expect(await opened('table', 'examples/quillmere')).to.deep.equal([57])
  })

  it('is each that is checked; none where there is none to open', async () => {
    expect(await opened('check', clean, join(path, 'bad.site.yaml'))).to.deep.equal([1, 1])
    expect(await opened('check', join(path, 'empty'))).to.deep.equal([])
    expect(await opened('--version')).to.deep.equal([])
  })
})

describe('help', () => {
  it('lists every command in the order of the work, each with a sentence', async () => {
    const { out } = await wembra('.', '--help')
    const groups = ['Start', 'Look', 'Try a change', 'Fix and reuse', 'Compare with real pages', 'Look up']
    const places = groups.map((group) => out.indexOf(`\n${group}\n`))
    expect(places).to.deep.equal([...places].sort((a, b) => a - b))
    expect(Math.min(...places)).to.be.above(0)
    for (const [name, { summary }] of Object.entries(COMMANDS)) {
      expect(out).to.match(new RegExp(`^ {2}${name} {2,}\\S`, 'm'))
      expect(summary, name).to.match(/^[A-Z].*[^.]$/)
    }
  })

  for (const name of Object.keys(COMMANDS).filter((each) => each !== 'completion'))
    it(`of ${name} has its arguments, its options and examples`, async () => {
      const { out, code } = await wembra('.', name, '--help')
      expect(code).to.equal(0)
      expect(out).to.match(new RegExp(`^Usage: wembra ${name} `))
      expect(out).to.match(/Examples:\n {2}\$ wembra /)
      expect(out).to.contain('--quiet')
      expect(await wembra('.', 'help', name)).to.deep.include({ out, code: 0 })
    })

  it('of an unknown command says which was probably meant', async () => {
    const { code, err } = await wembra('.', 'chek')
    expect(code).to.equal(2)
    expect(err).to.match(/Did you mean check\?/)
  })
})
