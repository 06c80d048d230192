#!/usr/bin/env node
import { spawn } from 'node:child_process'
import { readdirSync, readFileSync, statSync } from 'node:fs'
import { constants, totalmem } from 'node:os'
import { fileURLToPath } from 'node:url'
import { setFlagsFromString } from 'node:v8'
import { loadCompiled } from './compiled.js'

const MEGABYTE = 1024 * 1024
/** A site file of so many bytes has so many pages that young objects outgrow the room that V8 gives them: they are moved again and again. */
const BUSY_SITE = 4 * MEGABYTE
const ROOM_FOR_YOUNG = ['--min-semi-space-size=64', '--max-semi-space-size=64']
/** One of so many bytes has so many that what is found out about them outgrows the usual heap. */
const LARGE_SITE = 32 * MEGABYTE
/** Of the machine's memory, what such a site may take. */
const SHARE = 0.75
/**
 * How much of a function is run (in bytes of code) before V8 11 compiles it again: by itself, and with no more than so many
 * pages, where a command is over before it pays to compile much of it for speed.
 */
const USUAL = 135_168
const [SHORT, LONGER] = [
  { pages: 200, budget: 1_500_000 },
  { pages: 1000, budget: 300_000 },
]
/** Words of what goes on for long, and is asked the same again and again. */
const LASTING = ['lsp', 'open', '--watch']
/** Other versions are left as they are, for nothing was measured with them; so is who sets a flag for a process. */
const isOurs = (flag) => process.versions.v8.startsWith('11.') && !process.execArgv.join().includes(flag)
const isBudgetOurs = isOurs('--interrupt-budget')
/** That V8 lets go of what was compiled and not run for a while: what is kept would lack it. */
const FORGETTING = 'flush-bytecode'
/** A process of so many ms has compiled much of what the next one needs: to keep it costs a seventh of that, once or twice. */
const WORTH_KEEPING = 400
/** Nobody needs to read what a process was to do. */
const LONGEST_TASK = 80

const sizeOf = (path) => statSync(path, { throwIfNoEntry: false })?.size ?? 0

/** The files that a command may read as its site. */
function siteFiles(args) {
  const named = args.filter((arg) => /\.(ya?ml|json)$/.test(arg))
  return named.length > 0 ? named : readdirSync('.').filter((name) => /\.(site\.(ya?ml|json)|ndjson)$/.test(name))
}

/** What a process is to do, as far as it goes by that which parts of the script it needs: the command, its options, the site's format. */
function taskOf(args) {
  const command = args.find((arg) => !arg.startsWith('-')) ?? ''
  const options = args.filter((arg) => arg.startsWith('--')).map((arg) => arg.replace(/=.*/s, ''))
  const format = siteFiles(args).some((file) => file.endsWith('.json')) ? 'json' : 'yaml'
  return [command, ...[...new Set(options)].sort(), format].join(' ').slice(0, LONGEST_TASK)
}

/** What a process needs to be told about its memory before it starts. */
function memoryFlags(bytes) {
  const young = isOurs('-semi-space-size') && bytes > BUSY_SITE ? ROOM_FOR_YOUNG : []
  if (bytes <= LARGE_SITE) return young
  return [...young, `--max-old-space-size=${Math.floor((totalmem() * SHARE) / MEGABYTE)}`]
}

/** Runs the command line in a process of its own, which ends when this one is told to, and this one as it does. */
function runApart(flags) {
  const child = spawn(process.execPath, [...process.execArgv, ...flags, ...process.argv.slice(1)], {
    stdio: 'inherit',
    env: { ...process.env, WEMBRA_HEAP: flags.join(' ') },
  })
  for (const signal of ['SIGTERM', 'SIGHUP']) process.on(signal, () => child.kill(signal))
  // A terminal sends it to both; what comes of it is the other's to say.
  process.on('SIGINT', () => {})
  child.on('exit', (status, signal) => {
    process.exitCode = status ?? 128 + constants.signals[signal]
  })
}

const budgetFor = (pages) => [SHORT, LONGER].find((each) => pages <= each.pages)?.budget ?? USUAL

function setBudget(budget) {
  if (isBudgetOurs) setFlagsFromString(`--interrupt-budget=${budget}`)
}

/** Runs the command line in this process. */
async function run(args) {
  // A reader that goes away, such as `head`, is no error.
  process.stdout.on('error', (error) => {
    if (error.code !== 'EPIPE') throw error
  })
  // What is kept of the script goes by the flags: they are the same when it is loaded and when it is kept.
  const first = args.some((arg) => LASTING.includes(arg)) ? LONGER.budget : SHORT.budget
  setBudget(first)
  if (isOurs(FORGETTING)) setFlagsFromString(`--no-${FORGETTING}`)
  const folder = fileURLToPath(new URL('../dist/command/', import.meta.url))
  const script = readdirSync(folder).find((name) => name.endsWith('.cjs'))
  const { exports, kept, compiled } = loadCompiled(`${folder}${script}`, taskOf(args))
  const { main, processIo, writeWhole } = exports
  const opened = (site) => setBudget(Math.min(first, budgetFor(site.pageIds.length)))
  // 1 is for findings: what nobody expected is 2, with its stack for whoever repairs it.
  process.exitCode = await main(args, { ...processIo(() => readFileSync(0, 'utf8')), opened }).catch((error) => {
    process.stderr.write(
      `wembra: this is a bug of wembra, please report it with what you ran\n${error?.stack ?? error}\n`,
    )
    return 2
  })
  if (performance.now() < WORTH_KEEPING) return
  setBudget(first)
  const bytes = compiled()
  try {
    if (bytes) writeWhole(kept, bytes)
  } catch {
    // Where the package is installed by somebody else it may not be written to: each process then compiles for itself.
  }
}

const args = process.argv.slice(2)
const flags = process.env.WEMBRA_HEAP === undefined ? memoryFlags(Math.max(0, ...siteFiles(args).map(sizeOf))) : []
if (flags.length > 0) runApart(flags)
else await run(args)
