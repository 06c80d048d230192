#!/usr/bin/env node
import { spawnSync } from 'node:child_process'
import { readdirSync, readFileSync, statSync } from 'node:fs'
import { totalmem } from 'node:os'
import { fileURLToPath } from 'node:url'
import { setFlagsFromString } from 'node:v8'
import { loadCompiled } from './compiled.js'

/** A site file of so many bytes has so many pages that what is found out about them outgrows the usual heap. */
const LARGE_SITE = 32 * 1024 * 1024
/** Of the machine's memory, what such a site may take. */
const SHARE = 0.75
/** Up to so many pages a command is over before it pays to compile much of it for speed. */
const FEW_PAGES = 1000
/** How much of a function is run (in bytes of code) before V8 11 compiles it again: with few pages, and by itself. */
const PATIENT = '--interrupt-budget=300000'
const USUAL = '--interrupt-budget=135168'
/** Other versions are left as they are, for nothing was measured with them; so is who sets it for a process. */
const isOurs = process.versions.v8.startsWith('11.') && !process.execArgv.join().includes('--interrupt-budget')
/** A process of so many ms has compiled most of what the next one needs. */
const WORTH_KEEPING = 1000

const sizeOf = (path) => statSync(path, { throwIfNoEntry: false })?.size ?? 0

function isLarge(args) {
  const named = args.filter((arg) => /\.(ya?ml|json)$/.test(arg))
  const files =
    named.length > 0 ? named : readdirSync('.').filter((name) => /\.(site\.(ya?ml|json)|ndjson)$/.test(name))
  return files.some((file) => sizeOf(file) > LARGE_SITE)
}

/** Runs the command line in this process. */
async function run(args) {
  // A reader that goes away, such as `head`, is no error.
  process.stdout.on('error', (error) => {
    if (error.code !== 'EPIPE') throw error
  })
  // What is kept of the script goes by the flags: they are the same when it is loaded and when it is kept.
  if (isOurs) setFlagsFromString(PATIENT)
  const folder = fileURLToPath(new URL('../dist/command/', import.meta.url))
  const script = readdirSync(folder).find((name) => name.endsWith('.cjs'))
  const { exports, kept, compiled } = loadCompiled(`${folder}${script}`)
  const { main, processIo, writeWhole } = exports
  const opened = (pages) => {
    if (isOurs && pages > FEW_PAGES) setFlagsFromString(USUAL)
  }
  // 1 is for findings: what nobody expected is 2, with its stack for whoever repairs it.
  process.exitCode = await main(args, { ...processIo(() => readFileSync(0, 'utf8')), opened }).catch((error) => {
    process.stderr.write(
      `wembra: this is a bug of wembra, please report it with what you ran\n${error?.stack ?? error}\n`,
    )
    return 2
  })
  if (performance.now() < WORTH_KEEPING) return
  if (isOurs) setFlagsFromString(PATIENT)
  const bytes = compiled()
  try {
    if (bytes) writeWhole(kept, bytes)
  } catch {
    // Where the package is installed by somebody else it may not be written to: each process then compiles for itself.
  }
}

const args = process.argv.slice(2)
if (!process.env.WEMBRA_HEAP && isLarge(args)) {
  const megabytes = Math.floor((totalmem() * SHARE) / 1024 / 1024)
  const options = { stdio: 'inherit', env: { ...process.env, WEMBRA_HEAP: String(megabytes) } }
  const { status } = spawnSync(
    process.execPath,
    [`--max-old-space-size=${megabytes}`, ...process.argv.slice(1)],
    options,
  )
  process.exitCode = status ?? 2
} else await run(args)
