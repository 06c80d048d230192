import { expect } from 'chai'
import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { wembraHere as wembra } from '../support/command-line.js'

const SITE = `wembra: 1
site: { name: Small } # a small one
purposes: { front: a }
surrounds:
  top: { as: header, height: 100px }
  foot: { as: footer, height: 40px }
theme:
  layout:
    header: { use: top, position: fixed } # keep the menu in sight
    footer: { use: foot }
    findable: false
pages:
  a: { path: /, title: A, body: [ { section: s, items: [ { text: words } ] } ] }
  b: { path: /b, title: B, body: [ { section: s, items: [ { text: words } ] } ] }
`
const FIXED = SITE.replace('position: fixed }', 'position: fixed, clearance: auto }')

function folder(): string {
  const path = mkdtempSync(join(tmpdir(), 'wembra-'))
  writeFileSync(join(path, 'a.site.yaml'), SITE)
  return path
}

const textIn = (path: string): string => readFileSync(join(path, 'a.site.yaml'), 'utf8')

describe('wembra fix', () => {
  it('shows what it would write, writes it, and leaves nothing to fix', async () => {
    const path = folder()
    const dry = await wembra(path, 'fix', '--dry-run')
    expect(dry.out).to.contain('+    header: { use: top, position: fixed, clearance: auto } # keep the menu in sight')
    expect(textIn(path)).to.equal(SITE)
    expect((await wembra(path, 'fix')).out).to.contain('1 fix written')
    expect(textIn(path)).to.equal(FIXED)
    expect((await wembra(path, 'fix')).out).to.contain('0 fixes written')
  })

  it('lists what is left: choices by number, and which further pages would change', async () => {
    const path = mkdtempSync(join(tmpdir(), 'wembra-left-'))
    // The template's gap is left over where the title is gone: on a, not on b. The menu of c has no entries.
    writeFileSync(
      join(path, 'a.site.yaml'),
      `wembra: 1
site: { name: Small }
purposes: { front: a }
menus: { m: [] }
templates: { t: { arrange: [ title, { gap: 40px }, content ] } }
theme: { template: t, layout: { findable: false } }
pages:
  a: { path: /, title: A, layout: { title: absent }, body: [ { section: s, items: [ { heading: 1, text: A } ] } ] }
  b: { path: /b, title: B, body: [ { section: s, items: [ { text: words } ] } ] }
  c: { path: /c, title: C, body: [ { section: s, items: [ { menu: m }, { text: words } ] } ] }
`,
    )
    const { out } = await wembra(path, 'fix', '--dry-run')
    const left = out.slice(out.indexOf('Left for you to decide:'))
    expect(left).to.match(
      /gap-left-behind\n.*\n {4}with --other-pages: remove the gap .*\(2 other pages would change\)/,
    )
    expect(left).to.match(/item-prints-nothing\n.*\n {4}1 /)
    // No line is longer than the terminal is wide.
    expect(Math.max(...left.split('\n').map((line) => line.length))).to.be.at.most(100)
  })

  it('writes into its own file, or with --base into the one it extends, and lists the other sites that do', async () => {
    const path = mkdtempSync(join(tmpdir(), 'wembra-base-'))
    const [, pages = ''] = SITE.split(/^(?=pages:)/m)
    const base = SITE.replace(pages, 'pages: {}\n').replace('purposes: { front: a }\n', '')
    const site = `wembra: 1\nextends: [ base.yaml ]\nsite: { name: Small }\npurposes: { front: a }\ntheme: {}\n${pages}`
    for (const [file, text] of Object.entries({ 'base.yaml': base, 'a.site.yaml': site, 'b.site.yaml': site }))
      writeFileSync(join(path, file), text)
    const own = await wembra(path, 'fix', 'a.site.yaml', '--dry-run')
    expect(own.out).to.contain('+theme: { layout: { header: { clearance: auto } } }').and.not.contain('base.yaml\n')
    // The other site has the same two pages, and the fix that they need.
    const all = await wembra(path, 'fix', 'a.site.yaml', '--base')
    expect(all.out).to.match(
      /Other sites of these files:\n {2}\S*b\.site\.yaml extends \S*base\.yaml: 2 pages change; 0 new, 1 finding gone/,
    )
    expect(readFileSync(join(path, 'base.yaml'), 'utf8')).to.equal(
      base.replace('position: fixed }', 'position: fixed, clearance: auto }'),
    )
    expect(textIn(path)).to.equal(site)
  })

  it('says what does not fit together', async () => {
    const path = folder()
    expect((await wembra(path, 'fix', '--rule', 'header-covers-contnt')).err).to.match(
      /unknown rule "header-covers-contnt"; did you mean "header-covers-content"\?/,
    )
    expect((await wembra(path, 'fix', '--choose', '1')).err).to.match(/--choose needs --rule/)
    expect((await wembra(path, 'fix', '--now', 'yesterday')).err).to.match(/"yesterday" is not a date/)
  })
})

describe('wembra check, chosen', () => {
  it('only rules, pages, severities, the first, and what is new since', async () => {
    const path = folder()
    const rules = async (...args: readonly string[]): Promise<string[]> =>
      (
        JSON.parse((await wembra(path, 'check', '--format', 'json', ...args)).out) as { findings: { rule: string }[] }
      ).findings.map((f) => f.rule)
    expect(await rules()).to.deep.equal(['header-covers-content', 'nav-lost', 'hidden-but-linked'])
    expect(await rules('--severity', 'warning', '--max', '1')).to.deep.equal(['header-covers-content'])
    expect(await rules('--rule', 'nav-lost')).to.deep.equal(['nav-lost'])
    // What is not shown counts all the same, also for how it ends.
    const { out } = await wembra(path, 'check', '--max', '1')
    expect(out.match(/^a\.site\.yaml:\d+:\d+ .*$/gm)).to.have.length(1)
    expect(out).to.match(/\n1 error, 1 warning, 1 note on \d of \d pages; 2 more findings not shown; --max 0 shows all/)
    const gate = ['--fail-on', 'error', '--max', '1', '--rule', 'nav-lost', '--rule', 'hidden-but-linked']
    expect((await wembra(path, 'check', ...gate)).code).to.equal(0)
    expect((await wembra(path, 'check', ...gate, '--max-warnings', '0')).code).to.equal(1)
    expect(await rules('--page', 'a', '--severity', 'warning')).to.deep.equal(['header-covers-content'])
    writeFileSync(join(path, 'before.json'), (await wembra(path, 'check', '--format', 'json')).out)
    expect(await rules('--since', 'before.json')).to.deep.equal([])
    await wembra(path, 'snapshot', '-o', 'before.snapshot.json')
    expect(await rules('--since', 'before.snapshot.json')).to.deep.equal([])
    writeFileSync(join(path, 'a.site.yaml'), SITE.replace('title: B,', 'title: B, template: gone,'))
    expect(await rules('--since', 'before.json')).to.deep.equal(['assign-dangling', 'template-passed-over'])
    expect((await wembra(path, 'check', '--since', 'a.site.yaml')).err).to.match(/a\.site\.yaml:1:1: unreadable/)
  })

  it('of a conflict that is on more pages since, names those alone, with its fixes', async () => {
    const path = folder()
    writeFileSync(join(path, 'before.json'), (await wembra(path, 'check', '--format', 'json')).out)
    writeFileSync(
      join(path, 'a.site.yaml'),
      `${SITE}  c: { path: /c, title: C, body: [ { section: s, items: [ { text: more } ] } ] }\n`,
    )
    for (const more of [[], ['--no-fixes']]) {
      const { out } = await wembra(
        path,
        'check',
        '--format',
        'json',
        '--rule',
        'header-covers-content',
        '--since',
        'before.json',
        ...more,
      )
      const [found, ...others] = (
        JSON.parse(out) as { findings: { pages: string[]; cases: { page: string }[]; fixes: unknown[] }[] }
      ).findings
      expect(others).to.deep.equal([])
      expect(found?.pages).to.deep.equal(['c'])
      expect(new Set(found?.cases.map(({ page }) => page))).to.deep.equal(new Set(['c']))
      expect(found?.fixes.length === 0).to.equal(more.length > 0)
    }
  })

  it('writes reports whole, and exits by the level asked for', async () => {
    const path = folder()
    for (const format of ['sarif', 'markdown', 'junit', 'html']) {
      expect((await wembra(path, 'check', '--format', format, '-o', `report.${format}`)).code).to.equal(1)
      expect(readFileSync(join(path, `report.${format}`), 'utf8')).to.contain('header-covers-content')
    }
    expect((await wembra(path, 'check', '--rule', 'nav-lost')).code).to.equal(0)
    expect((await wembra(path, 'check', '--rule', 'nav-lost', '--fail-on', 'warning')).code).to.equal(1)
  })
})

describe('wembra diff, how, groups, css, snapshot and rules', () => {
  it('tells what a change would change, against a revision and a snapshot too', async () => {
    const path = folder()
    const git = (...args: readonly string[]): void =>
      void execFileSync('git', ['-c', 'user.name=T', '-c', 'user.email=t@t.example', ...args], {
        cwd: path,
        stdio: 'ignore',
      })
    git('init', '-q')
    git('add', '.')
    git('commit', '-qm', 'one')
    expect((await wembra(path, 'snapshot', '-o', 'one.snapshot.json')).out).to.contain('2 pages in one.snapshot.json')
    expect((await wembra(path, 'diff', '--set', 'theme.layout.spacing=80px')).out).to.contain(
      'content begins 32 px lower at desk, tablet, phone',
    )
    expect((await wembra(path, 'diff', '--set', 'surrounds.foot.height=90px')).out).to.contain(
      '"foot" is shared: 2 pages show it',
    )
    writeFileSync(join(path, 'a.site.yaml'), FIXED)
    for (const before of ['HEAD:a.site.yaml', 'one.snapshot.json'])
      expect((await wembra(path, 'diff', before, 'a.site.yaml')).out).to.contain(
        'gone   header-covers-content@/theme/layout/header/position',
      )
    expect((await wembra(path, 'diff', 'HEAD~7:a.site.yaml', 'a.site.yaml')).err).to.match(
      /there is no revision "HEAD~7"/,
    )
    expect((await wembra(path, 'diff', '--set', 'theme.layuot.spacing=1')).err).to.match(
      /unknown key "layuot"; did you mean "layout"\?/,
    )
    writeFileSync(join(path, 'p.json'), '[ { "op": "replace", "path": "/pages/z/title", "value": 1 } ]')
    expect((await wembra(path, 'diff', '--patch', 'p.json')).err).to.match(/operation 1 of the patch/)
    expect(textIn(path)).to.equal(FIXED)
  })

  it('finds ways, and writes the one that is taken', async () => {
    const path = folder()
    expect((await wembra(path, 'how', 'b', 'footer=absent')).out).to.match(
      /^1 {2}set it on the page b {2}1 setting\n {3}no other page changes/,
    )
    expect((await wembra(path, 'how', '--where', 'page=b', 'footer=absent', '--apply', '1')).code).to.equal(0)
    expect(textIn(path)).to.equal(SITE.replace(/(b: \{ .*) \}\n$/, '$1, layout: { footer: absent } }\n'))
    expect((await wembra(path, 'how', 'b', 'footer=absent')).out).to.equal('The page b already has this.\n')
    expect((await wembra(path, 'how', 'b')).err).to.match(/missing <property=value>/)
  })

  it('prints groups, exact offsets and rules', async () => {
    const path = folder()
    expect((await wembra(path, 'groups')).out).to.match(/^ 1 {2}2 pages/)
    expect((await wembra(path, 'css')).out).to.contain('body.page-a,\nbody.page-b {\n  padding-top: 100px;\n}')
    expect((await wembra(path, 'rules')).out).to.contain('69 rules')
    expect((await wembra(path, 'rules', 'nav-lost')).out).to.match(/^# nav-lost\n/)
    for (const command of ['diff', 'how', 'groups', 'css', 'fix', 'rules', 'snapshot'])
      expect((await wembra(path, command, '--help')).out).to.match(/Examples:\n {2}\$ wembra/)
  })
})
