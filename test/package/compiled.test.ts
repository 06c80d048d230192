import { expect } from 'chai'
import { spawnSync } from 'node:child_process'
import { cpSync, existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { wembraHere } from '../support/command-line.js'

/** A script in Node's older format: what it exports is worked out by hand below. */
const SCRIPT =
  "exports.sum = (...all) => all.reduce((a, b) => a + b, 0)\nexports.here = [__dirname, typeof require('fs')]\n"

/** Loads the script in a process of its own, as V8 keeps for a process what it compiled in it. */
const LOAD = `
import { loadCompiled } from ${JSON.stringify(pathToFileURL('bin/compiled.js').href)}
import { writeFileSync } from 'node:fs'
const { exports, kept, compiled } = loadCompiled(process.argv[1], process.argv[2])
const bytes = compiled()
if (bytes) writeFileSync(kept, bytes)
console.log(JSON.stringify([exports.sum(2, 3, 4), ...exports.here, kept, bytes !== undefined]))
`

describe('what is kept of a script that was compiled', () => {
  let folder: string
  let file: string
  beforeEach(() => {
    folder = mkdtempSync(join(tmpdir(), 'wembra-compiled-'))
    file = join(folder, 'script.cjs')
    writeFileSync(file, SCRIPT)
  })
  afterEach(() => rmSync(folder, { recursive: true, force: true }))

  /** What the script exports, and whether anything was kept of it. */
  const load = (
    env: NodeJS.ProcessEnv = {},
    sort = 'check',
  ): { readonly exports: unknown; readonly kept: string; isMade: boolean } => {
    const words = ['--input-type=module', '--eval', LOAD, file, sort]
    const { stdout } = spawnSync(process.execPath, words, { encoding: 'utf8', env: { ...process.env, ...env } })
    const [sum, here, fs, kept, isMade] = JSON.parse(stdout) as [number, string, string, string, boolean]
    return { exports: [sum, here, fs], kept, isMade }
  }
  const right = () => [9, folder, 'object']

  /** Whether each of two processes made it, and where it is then. */
  const loadTwice = () => {
    const all = [1, 2].map(() => load())
    return { kept: all[0]?.kept ?? '', made: all.map(({ isMade }) => isMade) }
  }

  it('is made by the first two processes of a sort, each of which adds to it, and then taken over as it is', () => {
    expect(loadTwice().made).to.deep.equal([true, true])
    expect(load()).to.deep.include({ exports: right(), isMade: false })
    expect(['fix', 'fix', 'fix', 'check'].map((sort) => load({}, sort).isMade)).to.deep.equal([
      true,
      true,
      false,
      false,
    ])
  })

  it('is added to by sixteen sorts of processes at most', () => {
    const sorts = Array.from({ length: 17 }, (_, n) => `sort ${n}`)
    expect(sorts.map((sort) => load({}, sort).isMade)).to.deep.equal([...new Array<boolean>(16).fill(true), false])
    expect(load({}, 'sort 3').isMade).to.equal(true)
  })

  for (const [what, damage] of [
    ['empty', () => Buffer.alloc(0)],
    ['cut off', (bytes: Buffer) => bytes.subarray(0, bytes.length >> 1)],
    ['something else', () => Buffer.from('not what V8 made')],
    [
      'changed in one byte',
      (bytes: Buffer) => Buffer.from(bytes.map((byte, n) => (n === bytes.length - 20 ? byte ^ 255 : byte))),
    ],
  ] as const)
    it(`is made again where it is ${what}`, () => {
      const { kept } = loadTwice()
      expect(load().isMade).to.equal(false)
      writeFileSync(kept, damage(readFileSync(kept)))
      expect(load()).to.deep.include({ exports: right(), isMade: true })
    })

  it('is neither made nor read where Node is told to keep nothing', () => {
    const { kept } = load()
    rmSync(kept)
    expect(load({ NODE_DISABLE_COMPILE_CACHE: '1' })).to.deep.include({ exports: right(), isMade: false })
    expect(existsSync(kept)).to.equal(false)
  })
})

describe('the command line as one file', () => {
  let folder: string
  before(() => {
    folder = mkdtempSync(join(tmpdir(), 'wembra-command-'))
    mkdirSync(join(folder, 'dist'))
    for (const each of ['bin', 'package.json', 'dist/command']) cpSync(each, join(folder, each), { recursive: true })
    for (const each of kept()) rmSync(join(folder, 'dist/command', each))
  })
  after(() => rmSync(folder, { recursive: true, force: true }))

  const kept = () => readdirSync(join(folder, 'dist/command')).filter((name) => !name.endsWith('.cjs'))
  const clockAt = (ms: number) => ['--import', `data:text/javascript,performance.now = () => ${ms}`]
  /** Clocks by which every run takes long enough to keep what it compiled, and none. */
  const [LATE, EARLY] = [clockAt(5000), clockAt(5)]
  const run = (words: readonly string[], node: readonly string[] = []) => {
    const args = [...node, join(folder, 'bin/wembra.js'), ...words]
    const options = { cwd: 'examples/quillmere', encoding: 'utf8', env: { ...process.env, COLUMNS: '100' } } as const
    const { status, stdout, stderr } = spawnSync(process.execPath, args, options)
    return { code: status, out: stdout, err: stderr }
  }

  it('is text of which each character is one byte', () => {
    const [script = ''] = readdirSync('dist/command').filter((name) => name.endsWith('.cjs'))
    expect(readFileSync(join('dist/command', script)).every((byte) => byte < 128)).to.equal(true)
  })

  it('keeps nothing of a short run', () => {
    expect(run(['--version'], EARLY)).to.deep.include({ code: 0, err: '' })
    expect(kept()).to.deep.equal([])
  })

  it('says what the library says, whether it was compiled in this run or in an earlier one', async () => {
    const check = ['check', '--no-fixes']
    const here = await wembraHere('examples/quillmere', ...check)
    expect(run(check, LATE)).to.deep.equal(here)
    expect(kept()).to.have.length(1)
    expect(run(check)).to.deep.equal(here)
  })

  it('adds to what it kept with other options, which need other parts of it', () => {
    const bytes = () => readFileSync(join(folder, 'dist/command', kept()[0] ?? ''))
    const [all, some] = [
      ['check', '--no-fixes'],
      ['check', '--rule', 'header-covers-content'],
    ]
    // The second run of the first sort; what a third one compiles is not kept.
    for (const words of [all, all]) run(words, LATE)
    const before = bytes()
    run([...all, '--no-fixes'], LATE)
    expect(bytes().equals(before)).to.equal(true)
    run(some, LATE)
    expect(bytes().equals(before)).to.equal(false)
  })

  it('does its work where it may keep nothing', () => {
    // A folder in its place cannot be written over, whoever runs this.
    const [place = ''] = kept().map((name) => join(folder, 'dist/command', name))
    rmSync(place)
    mkdirSync(place)
    expect(run(['show', 'visit'], LATE)).to.deep.include({ code: 0, err: '' })
    expect(readdirSync(place)).to.deep.equal([])
  })
})
