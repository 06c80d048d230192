// Takes in inputs of every kind that may be anything, for some minutes, from new seeds. What fails is shrunk, printed with
// its seed and kept in test/fuzz/cases, where a test takes it in from then on.
import fc from 'fast-check'
import { mkdirSync, writeFileSync } from 'node:fs'
import { parseArgs } from 'node:util'
import { CASES, SLOWEST, takeIn, TARGETS, type Target } from '../test/support/fuzz.js'

const { values } = parseArgs({
  options: {
    minutes: { type: 'string', default: '10' },
    seed: { type: 'string', default: String(Date.now() % 2 ** 31) },
    only: { type: 'string', multiple: true },
    rows: { type: 'boolean', default: false },
    help: { type: 'boolean', default: false },
  },
})
const USAGE = `npm run fuzz -- [--minutes 10] [--seed 1] [--rows] [--only ${TARGETS.map(({ name }) => name).join('|')}]`
const targets = TARGETS.filter(({ name }) => !values.only || values.only.includes(name))
const until = Date.now() + Number(values.minutes) * 60_000
if (values.help || targets.length === 0 || !Number.isFinite(until)) {
  console.log(USAGE)
  process.exit(values.help ? 0 : 2)
}

/** How many inputs of a kind are taken in a row. */
const ROW = 500

interface Tally {
  taken: number
  failed: number
  slowest: number
}
const tallies = new Map(targets.map((target): [Target, Tally] => [target, { taken: 0, failed: 0, slowest: 0 }]))

function takeRow(target: Target, seed: number): void {
  const tally = tallies.get(target) as Tally
  // What ends the process itself tells no seed: the last row that was begun does.
  if (values.rows) console.log(`${target.name}, seed ${seed}`)
  const result = fc.check(
    fc.property(target.input, (input) => {
      tally.taken += 1
      const ms = takeIn(target, input)
      tally.slowest = Math.max(tally.slowest, ms)
      if (ms > SLOWEST) throw new Error(`the answer took ${Math.round(ms)} ms`)
    }),
    { numRuns: ROW, seed },
  )
  if (!result.failed) return
  tally.failed += 1
  const [input] = result.counterexample ?? []
  const kept = input instanceof Uint8Array ? { base64: Buffer.from(input).toString('base64') } : { input }
  mkdirSync(CASES, { recursive: true })
  const file = `${CASES}/${target.name.replaceAll(' ', '-')}-${seed}.json`
  writeFileSync(file, `${JSON.stringify({ target: target.name, ...kept }, null, 2)}\n`)
  console.log(`${target.name}, seed ${seed}: ${file}`)
  console.log(
    String((result.errorInstance as Error | undefined)?.stack)
      .split('\n')
      .slice(0, 8)
      .join('\n'),
  )
}

console.log(`seed ${values.seed}, ${values.minutes} minutes`)
let seed = Number(values.seed)
while (Date.now() < until)
  for (const target of targets) {
    if (Date.now() >= until) break
    takeRow(target, seed++)
  }
for (const [{ name }, { taken, failed, slowest }] of tallies)
  console.log(
    `${name.padEnd(12)} ${String(taken).padStart(9)} taken  ${failed} failed  slowest ${Math.round(slowest)} ms`,
  )
process.exitCode = [...tallies.values()].some(({ failed }) => failed > 0) ? 1 : 0
