// What `wembra check` costs as people run it, fixes included, on sites of several sizes: as ratios of one run.
import { spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { makeSite } from './make-site.js'

const WEMBRA = fileURLToPath(new URL('../bin/wembra.js', import.meta.url))
const DEMO = fileURLToPath(new URL('../examples/quillmere', import.meta.url))
const sizes = process.argv.slice(2).map(Number)
const folder = mkdtempSync(join(tmpdir(), 'wembra-bench-'))

interface Run {
  readonly seconds: number
}

/** One process, with its time. */
function run(args: readonly string[], cwd = folder): Run {
  const started = performance.now()
  const { status, stderr } = spawnSync(process.execPath, args, {
    encoding: 'utf8',
    stdio: ['ignore', 'ignore', 'pipe'],
    cwd,
  })
  if (status === null || status > 1) throw new Error(`it failed (${status}): ${stderr}`)
  return { seconds: (performance.now() - started) / 1000 }
}

/** The middle of three runs. */
function typical(args: readonly string[], cwd?: string): Run {
  const runs = [0, 1, 2].map(() => run(args, cwd)).sort((a, b) => a.seconds - b.seconds)
  return runs[1] as Run
}

const s = (seconds: number): string => seconds.toFixed(2)
const times = (a: Run, b: Run): string => `${(a.seconds / b.seconds).toFixed(1)}x`

const start = typical(['-e', '0'])
console.log(`node -e 0: ${s(start.seconds)} s`)
for (const args of [['--version'], ['--help']]) {
  const each = typical([WEMBRA, ...args])
  console.log(`wembra ${args.join(' ')}: ${s(each.seconds)} s, ${times(each, start)}`)
}
const demo = typical([WEMBRA, 'check', '--no-fixes'], DEMO)
for (const args of [
  ['check', '--no-fixes'],
  ['check'],
  ['fix', '--dry-run'],
  ['why', 'visit', 'header'],
  ['show', 'visit'],
]) {
  const each = typical([WEMBRA, ...args], DEMO)
  console.log(`demo site, wembra ${args.join(' ')}: ${s(each.seconds)} s, ${times(each, demo)} check --no-fixes`)
}
for (const pages of sizes.length > 0 ? sizes : [500, 5000, 10_000, 100_000]) {
  const file = `bench-${pages}.site.json`
  writeFileSync(join(folder, file), makeSite(pages))
  const parsing = `const text = require('node:fs').readFileSync(${JSON.stringify(join(folder, file))}, 'utf8')
const started = performance.now(); JSON.parse(text); console.log(performance.now() - started)`
  const parse = Number(spawnSync(process.execPath, ['-e', parsing], { encoding: 'utf8' }).stdout) / 1000
  const without = run([WEMBRA, 'check', file, '--no-fixes'])
  const fixes = run([WEMBRA, 'check', file])
  console.log(
    `${pages} pages: JSON.parse ${s(parse)} s; check --no-fixes ${s(without.seconds)} s (${(without.seconds / parse).toFixed(0)}x, ` +
      `${((without.seconds / pages) * 1000).toFixed(2)} ms a page); check ${s(fixes.seconds)} s (${times(fixes, without)})`,
  )
}
rmSync(folder, { recursive: true })
