#!/usr/bin/env node
import { spawn } from 'node:child_process'
import { readdirSync, readFileSync, statSync } from 'node:fs'
import module, { createRequire } from 'node:module'
import { constants, totalmem } from 'node:os'

const MEGABYTE = 1024 * 1024
/** A site file of more bytes has so many pages that what is found out about them outgrows the usual heap. */
const LARGE_SITE = 32 * MEGABYTE
/** Share of the machine's memory that such a site may take. */
const SHARE = 0.75

/** The files that a command may read as its site. */
function siteFiles(args) {
  const named = args.filter((arg) => /\.(ya?ml|json)$/.test(arg))
  return named.length > 0 ? named : readdirSync('.').filter((name) => /\.(site\.(ya?ml|json)|ndjson)$/.test(name))
}

const sizeOf = (path) => statSync(path, { throwIfNoEntry: false })?.size ?? 0

/** Runs the command line in a process with a larger heap, which ends when this one is told to, and this one as it does. */
function runWithLargeHeap() {
  const heap = `--max-old-space-size=${Math.floor((totalmem() * SHARE) / MEGABYTE)}`
  const child = spawn(process.execPath, [...process.execArgv, heap, ...process.argv.slice(1)], {
    stdio: 'inherit',
    env: { ...process.env, WEMBRA_HEAP: heap },
  })
  for (const signal of ['SIGTERM', 'SIGHUP']) process.on(signal, () => child.kill(signal))
  // A terminal sends it to both; the child decides what comes of it.
  process.on('SIGINT', () => {})
  child.on('exit', (status, signal) => {
    process.exitCode = status ?? 128 + constants.signals[signal]
  })
}

/** Runs the command line in this process. */
async function run(args) {
  // A reader that goes away, such as `head`, is no error.
  process.stdout.on('error', (error) => {
    if (error.code !== 'EPIPE') throw error
  })
  // From Node 22 on what was compiled is kept in Node's own cache, outside the package.
  module.enableCompileCache?.()
  const { main, processIo } = createRequire(import.meta.url)('../dist/command/wembra.cjs')
  // 1 is for findings: what nobody expected is 2, with its stack for whoever repairs it.
  process.exitCode = await main(
    args,
    processIo(() => readFileSync(0, 'utf8')),
  ).catch((error) => {
    process.stderr.write(
      `wembra: this is a bug of wembra, please report it with what you ran\n${error?.stack ?? error}\n`,
    )
    return 2
  })
}

const args = process.argv.slice(2)
const isLarge = () => siteFiles(args).some((file) => sizeOf(file) > LARGE_SITE)
if (process.env.WEMBRA_HEAP === undefined && isLarge()) runWithLargeHeap()
else await run(args)
