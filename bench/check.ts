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

/** How many s one process takes. */
function run(args: readonly string[], cwd = folder): number {
  const started = performance.now()
  const { status, stderr } = spawnSync(process.execPath, args, {
    encoding: 'utf8',
    stdio: ['ignore', 'ignore', 'pipe'],
    cwd,
  })
  if (status === null || status > 1) throw new Error(`it failed (${status}): ${stderr}`)
  return (performance.now() - started) / 1000
}

/** So often two commands are run in turns. */
const TURNS = 5

const middle = (numbers: readonly number[]): number => [...numbers].sort((a, b) => a - b)[numbers.length >> 1] as number

/**
 * The s that two commands take in turns, and how many times as long as the one the other takes: what a machine does
 * beside them changes within seconds, and so meets both alike. Each figure is the middle of its own.
 */
function inTurns(rounds: number, one: readonly string[], other: readonly string[], cwd?: string) {
  const pairs = Array.from({ length: rounds }, () => [run(one, cwd), run(other, cwd)] as const)
  return {
    one: middle(pairs.map(([a]) => a)),
    other: middle(pairs.map(([, b]) => b)),
    ratio: middle(pairs.map(([a, b]) => b / a)),
  }
}

const s = (seconds: number): string => seconds.toFixed(2)

for (const args of [['--version'], ['--help']]) {
  const { one, other, ratio } = inTurns(TURNS, ['-e', '0'], [WEMBRA, ...args])
  console.log(`wembra ${args.join(' ')}: ${s(other)} s, ${ratio.toFixed(1)}x node -e 0 (${s(one)} s)`)
}
const plain = [WEMBRA, 'check', '--no-fixes']
for (const args of [['check'], ['fix', '--dry-run'], ['why', 'visit', 'header'], ['show', 'visit']]) {
  const { one, other, ratio } = inTurns(TURNS, plain, [WEMBRA, ...args], DEMO)
  console.log(`demo site, wembra ${args.join(' ')}: ${s(other)} s, ${ratio.toFixed(2)}x check --no-fixes (${s(one)} s)`)
}
for (const pages of sizes.length > 0 ? sizes : [500, 5000, 10_000, 100_000]) {
  const file = `bench-${pages}.site.json`
  writeFileSync(join(folder, file), makeSite(pages))
  const parsing = `const text = require('node:fs').readFileSync(${JSON.stringify(join(folder, file))}, 'utf8')
const started = performance.now(); JSON.parse(text); console.log(performance.now() - started)`
  const parse = middle(
    [0, 1, 2].map(() => Number(spawnSync(process.execPath, ['-e', parsing], { encoding: 'utf8' }).stdout) / 1000),
  )
  const check = [WEMBRA, 'check', file]
  const { one, other, ratio } = inTurns(pages > 10_000 ? 1 : TURNS, [...check, '--no-fixes'], check)
  console.log(
    `${pages} pages: JSON.parse ${parse.toFixed(3)} s; check --no-fixes ${s(one)} s (${(one / parse).toFixed(0)}x, ` +
      `${((one / pages) * 1000).toFixed(2)} ms a page); check ${s(other)} s (${ratio.toFixed(2)}x)`,
  )
}
rmSync(folder, { recursive: true })
