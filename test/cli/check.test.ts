import { expect } from 'chai'
import { spawn, spawnSync } from 'node:child_process'
import { once } from 'node:events'
import { mkdirSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { wembraHere as wembra } from '../support/command-line.js'

const NOTE = `wembra: 1
site: { name: Tarn }
surrounds: { top: { as: header, height: 96px, rows: [ { items: [ { text: "Tarn: 100% wool" } ] } ] } }
theme: { layout: { header: { use: top, position: fixed }, footer: absent, sidebar: absent } }
purposes: { front: a }
pages: { a: { path: /, title: A, share: { image: m }, body: [ { section: s, items: [ { text: words } ] } ] } }
assets: { m: { width: 80, height: 40 } }
`
const CLEAN = NOTE.replace('position: fixed', 'position: fixed, clearance: auto')

describe('wembra check', () => {
  const path = mkdtempSync(join(tmpdir(), 'wembra-check-'))
  mkdirSync(join(path, 'second'))
  writeFileSync(join(path, 'bad.site.yaml'), NOTE)
  writeFileSync(join(path, 'second/clean.site.yaml'), CLEAN.replace('Tarn', 'Fell'))
  writeFileSync(join(path, 'broken.yaml'), 'wembra: [')

  it('checks several sites, and ends with the worst of them', async () => {
    const { code, out } = await wembra(path, 'check', 'bad.site.yaml', 'second')
    expect(code).to.equal(1)
    expect(out).to.match(/^Tarn\n\nbad.site.yaml:4:\d+ error header-covers-content/)
    expect(out).to.match(/\nFell\n\nNo conflicts found on 1 page.\n$/)
    expect((await wembra(path, 'check', 'second', 'bad.site.yaml')).code).to.equal(1)
    expect((await wembra(path, 'check', 'second', 'second')).code).to.equal(0)
  })

  it('reports on the others when one cannot be read', async () => {
    const { code, out, err } = await wembra(path, 'check', 'broken.yaml', 'bad.site.yaml')
    expect(code).to.equal(2)
    expect(err).to.match(/^broken.yaml:1:\d+: bad-syntax/)
    expect(out).to.contain('header-covers-content')
  })

  it('puts several sites into one document where the format has room for them', async () => {
    const json = JSON.parse((await wembra(path, 'check', 'bad.site.yaml', 'second', '--format', 'json')).out) as {
      report: string
      checks: { site: string; counts: { error: number } }[]
    }
    expect([json.report, json.checks.map((each) => [each.site, each.counts.error])]).to.deep.equal([
      'checks',
      [
        ['Tarn', 1],
        ['Fell', 0],
      ],
    ])
    const sarif = JSON.parse((await wembra(path, 'check', 'bad.site.yaml', 'second', '--format', 'sarif')).out) as {
      runs: { results: unknown[] }[]
    }
    expect(sarif.runs[0]?.results).to.have.length(2)
    const { out } = await wembra(path, 'check', 'bad.site.yaml', 'second', '--format', 'markdown')
    expect(out.match(/^## Wembra: .*$/gm)).to.deep.equal(['## Wembra: Tarn', '## Wembra: Fell'])
    expect((await wembra(path, 'check', 'bad.site.yaml', 'second', '--format', 'junit')).err).to.contain(
      'takes one site',
    )
  })

  it('prints annotations, their texts escaped as workflow commands want them', async () => {
    const { out } = await wembra(path, 'check', 'bad.site.yaml', '--format', 'github')
    expect(out).to.match(
      /^::error file=bad.site.yaml,line=4,col=\d+,title=header-covers-content::the header covers 48 px.*\(a\)\n::warning file=bad.site.yaml,line=4,col=1,title=content-at-edge::/,
    )
    writeFileSync(join(path, 'odd, name.site.yaml'), NOTE.replace('title: A', 'title: "50% off"'))
    const odd = await wembra(path, 'check', 'odd, name.site.yaml', '--format', 'github')
    expect(odd.out).to.contain('file=odd%2C name.site.yaml').and.not.contain('50% off')
  })

  it('fails from a number of warnings on', async () => {
    const warning = join(path, 'warning.yaml')
    writeFileSync(warning, CLEAN.replace('clearance: auto', 'clearance: 120px'))
    const codes: (number | null)[] = []
    for (const more of [
      [],
      ['--max-warnings', '1'],
      ['--max-warnings', '0'],
      ['--fail-on', 'warning'],
      ['--fail-on', 'error'],
    ])
      codes.push((await wembra(path, 'check', 'warning.yaml', '--rule', 'clearance-wrong', ...more)).code)
    expect(codes).to.deep.equal([0, 0, 1, 1, 0])
  })

  it('says nothing with --quiet, and means the same', async () => {
    expect(await wembra(path, 'check', 'bad.site.yaml', '--quiet')).to.deep.equal({ code: 1, out: '', err: '' })
    expect((await wembra(path, 'check', 'broken.yaml', '-q')).err).to.contain('bad-syntax')
    await wembra(path, 'check', 'bad.site.yaml', '-q', '--format', 'json', '-o', 'report.json')
    expect(JSON.parse(readFileSync(join(path, 'report.json'), 'utf8'))).to.have.property('report', 'findings')
  })

  it('takes an earlier report, and tells a file that is none', async () => {
    writeFileSync(join(path, 'odd.json'), '{"wembra":1,"findings":[{"key":3}]}')
    expect((await wembra(path, 'check', 'bad.site.yaml', '--since', 'report.json')).out).to.equal(
      'No new conflicts on 1 page.\n',
    )
    for (const [file, reason] of [
      ['odd.json', 'expected a report of wembra check'],
      ['bad.site.yaml', 'unreadable'],
      ['gone.json', 'unreadable'],
    ] as const)
      expect((await wembra(path, 'check', 'bad.site.yaml', '--since', file)).err).to.contain(reason)
  })

  it('names what was filtered when it finds nothing', async () => {
    expect((await wembra(path, 'check', 'second')).out).to.equal('No conflicts found on 1 page.\n')
    expect((await wembra(path, 'check', 'bad.site.yaml', '--rule', 'nav-lost')).out).to.equal(
      'No conflicts found with these filters.\n',
    )
  })

  it('prints without color where that is asked, whatever the environment', async () => {
    process.env['FORCE_COLOR'] = '1'
    try {
      expect((await wembra(path, 'check', 'bad.site.yaml')).out).to.contain('\u001b[')
      expect((await wembra(path, 'check', 'bad.site.yaml', '--no-color')).out).not.to.contain('\u001b[')
    } finally {
      delete process.env['FORCE_COLOR']
    }
  })
})

describe('a progress bar', () => {
  it('changes nothing about the terminal that an interrupt would leave behind', () => {
    const pages = Object.fromEntries(
      Array.from({ length: 600 }, (_, n) => [
        `p${n}`,
        { path: `/p${n}`, title: 'P', body: [{ section: `s${n}`, items: [{ text: 'words' }] }] },
      ]),
    )
    const path = mkdtempSync(join(tmpdir(), 'wembra-bar-'))
    writeFileSync(
      join(path, 'large.site.json'),
      JSON.stringify({ wembra: 1, site: { name: 'Large' }, theme: {}, pages }),
    )
    // A terminal of its own, as `script` makes one.
    const command = `${process.execPath} ${resolve('bin/wembra.js')} check --no-fixes --rule nav-lost`
    const { stdout } = spawnSync('script', ['-qec', command, '/dev/null'], { cwd: path, encoding: 'utf8' })
    expect(stdout).to.match(/of 600 pages/)
    // Neither the wrapping of lines nor the cursor is switched off.
    expect(stdout).not.to.contain('\u001b[?7l').and.not.to.contain('\u001b[?25l')
  })
})

describe('wembra check --watch', () => {
  it('checks again whenever a file of the site changes, until it is ended', async () => {
    const path = mkdtempSync(join(tmpdir(), 'wembra-watch-'))
    const file = join(path, 'tarn.site.yaml')
    writeFileSync(file, NOTE)
    const child = spawn(process.execPath, [resolve('bin/wembra.js'), 'check', '--watch'], { cwd: path })
    let said = ''
    let heard = (): void => undefined
    for (const stream of [child.stdout, child.stderr])
      stream.on('data', (chunk: Buffer) => {
        said += chunk.toString()
        heard()
      })
    const until = (text: RegExp): Promise<void> =>
      new Promise((done) => {
        heard = () => void (text.test(said) && done())
        heard()
      })
    try {
      await until(/header-covers-content[^]*watching for changes/)
      said = ''
      writeFileSync(file, CLEAN)
      await until(/tarn.site.yaml changed[^]*No conflicts found on 1 page.[^]*watching for changes/)
      said = ''
      // After each check it is told what could not be read for it.
      writeFileSync(file, CLEAN.replace('theme:', 'typography: { file: none.ttf }\ntheme:'))
      await until(/unreadable: cannot read "none.ttf"[^]*watching for changes/)
      said = ''
      writeFileSync(file, 'wembra: [')
      await until(/bad-syntax[^]*watching for changes/)
    } finally {
      child.kill('SIGTERM')
    }
    const [code] = (await once(child, 'exit')) as [number]
    expect(code).to.equal(2)
  })

  it('needs files', async () => {
    expect((await wembra('.', 'check', '--watch', '-')).err).to.contain('--watch needs files')
  })
})
