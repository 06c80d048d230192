import { expect } from 'chai'
import { spawnSync } from 'node:child_process'
import { mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { parseDocument } from 'yaml'
import { wembra as wembraProcess, wembraHere as wembra } from '../support/command-line.js'

const folder = (): string => mkdtempSync(join(tmpdir(), 'wembra-new-'))

describe('wembra new', () => {
  it('writes a site that has no conflicts, with a schema for editors, and says what next', async () => {
    const path = folder()
    const { code, out } = await wembra(path, 'new', 'tarn', '--name', 'Tarn Museum', '--url', 'https://tarn.example')
    expect(code).to.equal(0)
    expect(out).to.match(/^wrote tarn\/tarn-museum.site.yaml and tarn\/site.schema.json\n/)
    expect(out).to.contain('wembra check tarn/tarn-museum.site.yaml').and.contain('wembra show visit')
    const text = readFileSync(join(path, 'tarn/tarn-museum.site.yaml'), 'utf8')
    expect(text).to.match(/^# yaml-language-server: \$schema=.\/site.schema.json\nwembra: 1\n/)
    expect(text).to.contain('url: https://tarn.example')
    expect(text.match(/^# /gm)?.length).to.be.above(4)
    const checked = await wembra(path, 'check', 'tarn', '--severity', 'warning')
    expect(checked.out).to.equal('No conflicts found with these filters.\n')
    for (const next of ['show visit tarn', 'table tarn', 'why home header.use tarn', 'groups tarn'])
      expect((await wembra(path, ...next.split(' '))).code, next).to.equal(0)
  })

  it('asks nothing where no one can answer, and takes the folder’s name', async () => {
    const path = folder()
    expect(wembraProcess(path, 'new', 'fell').code).to.equal(0)
    expect(readdirSync(join(path, 'fell')).sort()).to.deep.equal(['fell.site.yaml', 'site.schema.json'])
    await wembra(path, 'new', '--yes', '--no-schema')
    expect(readdirSync(path)).to.include('my-site.site.yaml').and.not.include('site.schema.json')
  })

  for (const name of ['Émile’s "Glass" & Co: #1', '12', 'true', '天文台', '- a\n- b'])
    it(`takes the name ${JSON.stringify(name)} as it is`, async () => {
      const path = folder()
      expect((await wembra(path, 'new', '--name', name, '-y')).code).to.equal(0)
      const [file = ''] = readdirSync(path).filter((each) => each.endsWith('.site.yaml'))
      expect(file).to.match(/^[a-z0-9-]+\.site\.yaml$/)
      const site = parseDocument(readFileSync(join(path, file), 'utf8')).toJS() as { site: { name: string } }
      expect(site.site.name).to.equal(name)
    })

  it('never writes over a site that is there', async () => {
    const path = folder()
    writeFileSync(join(path, 'tarn.site.yaml'), 'mine')
    const { code, err } = await wembra(path, 'new', '--name', 'Tarn', '-y')
    expect([code, err]).to.deep.equal([
      2,
      'wembra new: tarn.site.yaml exists; give the site another --name, or edit that file\n',
    ])
    expect(readFileSync(join(path, 'tarn.site.yaml'), 'utf8')).to.equal('mine')
    expect((await wembra(path, 'new', '--url', 'tarn', '-y')).err).to.contain('"tarn" is not an address')
  })

  it('reports the files as JSON', async () => {
    const { out } = await wembra(folder(), 'new', '--name', 'Tarn', '--format', 'json')
    expect(JSON.parse(out)).to.deep.equal({ wembra: 1, report: 'new', files: ['tarn.site.yaml', 'site.schema.json'] })
  })
})

describe('wembra completion', () => {
  const offered = (cwd: string, ...words: string[]): string[] =>
    wembraProcess(cwd, 'complete', '--', ...words)
      .out.split('\n')
      .filter((line) => line !== '' && !line.startsWith(':'))
      .map((line) => line.split('\t')[0] ?? '')

  for (const shell of ['bash', 'zsh', 'fish', 'powershell'])
    it(`prints a script for ${shell}`, () => {
      const { code, out } = wembraProcess('.', 'completion', shell)
      expect([code, out.includes('wembra')]).to.deep.equal([0, true])
    })

  it('offers commands, options, their choices, rules, and the pages of the site in the folder', () => {
    expect(offered('examples/quillmere', 'ch')).to.deep.equal(['check'])
    expect(offered('examples/quillmere', 'check', '--se')).to.deep.equal(['--severity'])
    expect(offered('examples/quillmere', 'check', '--severity', '')).to.deep.equal(['error', 'warning', 'note'])
    expect(offered('examples/quillmere', 'check', '--rule', 'nav')).to.deep.equal(['nav-lost'])
    expect(offered('examples/quillmere', 'show', 'vis')).to.deep.equal(['visit'])
    expect(offered(folder(), 'show', 'vis')).to.deep.equal([])
  })

  it('loads nothing that serves or fetches pages, which would keep who waits for a word', () => {
    const tell = "process.on('exit', () => process._rawDebug(JSON.stringify(process.moduleLoadList)))"
    const { stderr } = spawnSync(
      process.execPath,
      ['--import', `data:text/javascript,${tell}`, resolve('bin/wembra.js'), 'complete', '--', 'ch'],
      { encoding: 'utf8' },
    )
    const loaded = (JSON.parse(stderr) as string[]).map((name) => name.replace(/^\S+ /, ''))
    expect(loaded).to.include('fs')
    expect(loaded.filter((name) => /^(https?|http2|worker_threads)$|undici/.test(name))).to.deep.equal([])
  })
})
