import { expect } from 'chai'
import { spawnSync } from 'node:child_process'
import {
  chmodSync,
  existsSync,
  lstatSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  statSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { pathToFileURL } from 'node:url'
import { finishWriting, WriteError, writeTogether, writeWhole } from '../../src/node/write-file.js'
import { withFault } from '../support/faults.js'

const NAMES = ['main.site.yaml', 'pages/a.yaml', 'pages/b.yaml']
const OLD = NAMES.map((name) => `old ${name}\n`)
const NEW = NAMES.map((name) => `new ${name}, and longer\n`)

function folder(): string {
  const path = mkdtempSync(join(tmpdir(), 'wembra-write-'))
  mkdirSync(join(path, 'pages'))
  NAMES.forEach((name, n) => writeFileSync(join(path, name), OLD[n] ?? ''))
  return path
}
const contents = (path: string): readonly string[] => NAMES.map((name) => readFileSync(join(path, name), 'utf8'))
const listing = (path: string): readonly string[] =>
  readdirSync(path, { recursive: true, encoding: 'utf8' })
    .filter((name) => statSync(join(path, name)).isFile())
    .sort()

/** The three files of a folder as they are to be. */
const filesIn = (path: string): ReadonlyMap<string, string> =>
  new Map(NAMES.map((name, n) => [join(path, name), NEW[n] ?? '']))

/** A process is started for every so many operations only. */
const STRIDE = 6

/** Writes all three files in a process of its own, to which something happens. */
function writeIn(path: string, environment: Readonly<Record<string, string>>) {
  const script = `
    const { writeTogether } = await import(${JSON.stringify(pathToFileURL(resolve('dist/node/write-file.js')).href)})
    const files = ${JSON.stringify([...filesIn(path)])}
    try { writeTogether(new Map(files)) } catch (error) { console.error(error.code + ': ' + error.message); process.exit(2) }`
  const hook = pathToFileURL(resolve('test/support/kill-at.mjs')).href
  return spawnSync(process.execPath, ['--import', hook, '--input-type=module', '-e', script], {
    env: { ...process.env, ...environment },
    encoding: 'utf8',
  })
}

describe('files that are written together', () => {
  /** After the next start: which of the two they are. */
  function finished(path: string, how: string): 'old' | 'new' {
    finishWriting(path)
    const now = JSON.stringify(contents(path))
    expect([JSON.stringify(OLD), JSON.stringify(NEW)], how).to.include(now)
    expect(listing(path), how).to.deep.equal([...NAMES].sort())
    return now === JSON.stringify(OLD) ? 'old' : 'new'
  }

  it('are all old or all new after the next start, whatever operation the program is killed before', async () => {
    const ends = new Set<string>()
    for (let at = 1, operations = Infinity; at <= operations; at++) {
      const path = folder()
      const done = await withFault('killed', at, () => Promise.resolve(writeTogether(filesIn(path))))
      ends.add(finished(path, `killed at ${at}`))
      if (done.length < at) operations = done.length
      expect(at).to.be.below(200)
    }
    expect(ends.size).to.equal(2)
  })

  it('are so where a process of its own is really killed', () => {
    const ends = new Set<string>()
    for (let at = 1; at < 200; at += STRIDE) {
      const path = folder()
      const { signal, status } = writeIn(path, { KILL_AT: String(at) })
      ends.add(finished(path, `killed at ${at}`))
      if (signal !== null) continue
      expect(status).to.equal(0)
      expect(at).to.be.above(20)
      break
    }
    expect(ends.size).to.equal(2)
  })

  it('are all old where any operation before the last move fails, and the error says why', async () => {
    for (let at = 1; ; at++) {
      let isWritten = false
      const path = folder()
      let problem: unknown
      await withFault('failed', at, async () => {
        try {
          writeTogether(filesIn(path))
          isWritten = true
        } catch (error) {
          problem = error
        }
      })
      finishWriting(path)
      expect([JSON.stringify(OLD), JSON.stringify(NEW)], `failed at ${at}`).to.include(JSON.stringify(contents(path)))
      if (isWritten) break
      expect(problem).to.be.instanceOf(WriteError).with.property('code', 'not-written')
      expect((problem as Error).message).to.match(/the disk is full|the next command on this site finishes it/)
      expect(at).to.be.below(200)
    }
  })

  it('are all old where a write falls short', () => {
    const path = folder()
    const { status, stderr } = writeIn(path, { SHORT_WRITE: '1' })
    expect(status).to.equal(2)
    expect(stderr).to.match(/only \d+ of \d+ bytes could be written; is the disk full\?/)
    expect(contents(path)).to.deep.equal(OLD)
    expect(listing(path)).to.deep.equal([...NAMES].sort())
  })

  it('are not written over what somebody else wrote since they were read', () => {
    const path = folder()
    const files = new Map(NAMES.map((name, n) => [join(path, name), NEW[n] ?? '']))
    const before = new Map(NAMES.map((name, n) => [join(path, name), OLD[n] ?? '']))
    writeFileSync(join(path, NAMES[1] ?? ''), 'theirs\n')
    expect(() => writeTogether(files, { before: (name) => before.get(name) })).to.throw(
      WriteError,
      'was changed since it was read; nothing was written',
    )
    expect(contents(path)).to.deep.equal([OLD[0], 'theirs\n', OLD[2]])
    expect(listing(path)).to.deep.equal([...NAMES].sort())
  })

  it('keep their modes and links', () => {
    const path = folder()
    const [main = '', a = ''] = NAMES.map((name) => join(path, name))
    chmodSync(main, 0o640)
    const real = join(path, 'real.yaml')
    writeFileSync(real, 'old')
    const link = join(path, 'link.yaml')
    symlinkSync(real, link)
    writeTogether(
      new Map([
        [main, 'x'],
        [a, 'y'],
        [link, 'z'],
      ]),
    )
    expect(statSync(main).mode & 0o777).to.equal(0o640)
    expect(lstatSync(link).isSymbolicLink()).to.equal(true)
    expect(readFileSync(real, 'utf8')).to.equal('z')
  })
})

describe('a journal that somebody made up', () => {
  it('moves nothing that its writer did not know, and creates nothing outside of the folder', () => {
    const path = folder()
    const outside = mkdtempSync(join(tmpdir(), 'wembra-outside-'))
    writeFileSync(join(outside, 'victim'), 'mine')
    writeFileSync(join(outside, '.victim.wembra-new'), 'theirs')
    writeFileSync(join(outside, '.fresh.wembra-new'), 'theirs')
    const name = (file: string): string => join('..', outside.slice(outside.lastIndexOf('/') + 1), file)
    const files = [
      { path: name('victim'), before: 'guess', after: 'x' },
      { path: name('fresh'), before: null, after: 'x' },
    ]
    writeFileSync(
      join(path, '.wembra-journal.json'),
      JSON.stringify({ wembra: 1, report: 'journal', state: 'moving', pid: 1e9, files }),
    )
    finishWriting(path)
    expect(readFileSync(join(outside, 'victim'), 'utf8')).to.equal('mine')
    expect(existsSync(join(outside, 'fresh'))).to.equal(false)
    expect(contents(path)).to.deep.equal(OLD)
  })
})

describe('one file', () => {
  it('that cannot be written is named with the reason', () => {
    const path = folder()
    expect(() => writeWhole(join(path, 'nowhere/x.json'), 'x')).to.throw(WriteError, 'the folder does not exist')
    expect(() => writeWhole(join(path, 'pages'), 'x')).to.throw(WriteError)
    expect(listing(path)).to.deep.equal([...NAMES].sort())
  })
})
