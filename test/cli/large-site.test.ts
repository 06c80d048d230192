import { expect } from 'chai'
import { spawnSync } from 'node:child_process'
import { once } from 'node:events'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir, totalmem } from 'node:os'
import { join, resolve } from 'node:path'
import { startOpen } from '../support/opened.js'

const SITE = JSON.stringify({
  wembra: 1,
  site: { name: 'Tarn' },
  surrounds: { top: { as: 'header', height: '60px' } },
  theme: { layout: { header: { use: 'top', position: 'fixed', clearance: 0 } } },
  pages: { visit: { path: '/visit', title: 'Visit', body: [{ section: 's', items: [{ text: 'Come and see.' }] }] } },
})
/** White space that makes a file large, and its site no larger. */
const FILLER = ' '.repeat(33 * 1024 * 1024)
/** Three quarters of the machine's memory, in MB. */
const HEAP = `--max-old-space-size=${Math.floor((totalmem() * 0.75) / 1024 / 1024)}`
/** Prints with what flags each process ran, when it ends. */
const TELLING = "process.on('exit', () => process.stderr.write(`flags [${process.execArgv.join(' ')}]\\n`))"

describe('a site file of more than 32 megabytes', () => {
  let folder: string
  before(() => {
    folder = mkdtempSync(join(tmpdir(), 'wembra-large-'))
    writeFileSync(join(folder, 'small.site.json'), SITE)
    writeFileSync(join(folder, 'large.site.json'), SITE + FILLER)
    writeFileSync(join(folder, 'broken.site.json'), `${SITE.replace('"clearance"', '"clearence"')}${FILLER}`)
  })
  after(() => rmSync(folder, { recursive: true }))

  const run = (args: readonly string[], node: readonly string[] = []) => {
    const { status, stdout, stderr } = spawnSync(process.execPath, [...node, resolve('bin/wembra.js'), ...args], {
      cwd: folder,
      encoding: 'utf8',
      env: { ...process.env, NODE_OPTIONS: `--import "data:text/javascript,${encodeURIComponent(TELLING)}"` },
    })
    const flags = [...stderr.matchAll(/^flags \[(.*)\]$/gm)].map(([, each]) => each)
    return { code: status, out: stdout, err: stderr.replace(/^flags .*\n/gm, ''), flags }
  }

  it('is checked in a process with a larger heap, with the same output and exit code', () => {
    const small = run(['check', 'small.site.json'])
    expect(small).to.deep.include({ code: 1, err: '', flags: [''] })
    expect(small.out).to.contain('header-covers-content')
    const large = run(['check', 'large.site.json'])
    expect({ ...large, out: large.out.replaceAll('large', 'small') }).to.deep.equal({
      ...small,
      flags: [HEAP, ''],
    })
  })

  it('is an error with its place where it cannot be read', () => {
    const { code, out, err } = run(['check', 'broken.site.json'])
    expect([code, out]).to.deep.equal([2, ''])
    expect(err).to.match(
      /^broken\.site\.json:1:\d+: unknown-key: unknown key "clearence"; did you mean "clearance"\?\n$/,
    )
  })

  it('is no longer served once the process that was started is told to end', async () => {
    const [child, address] = await startOpen(folder, 'large.site.json')
    expect((await fetch(address)).status).to.equal(200)
    child.kill('SIGTERM')
    const [code] = (await once(child, 'exit')) as [number | null]
    expect(code).to.equal(0)
    const isServed = await fetch(address).then(
      () => true,
      () => false,
    )
    expect(isServed).to.equal(false)
  })
})
