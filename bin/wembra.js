#!/usr/bin/env node
import { readFileSync } from 'node:fs'
import { processIo } from '../dist/command/io.js'
import { main } from '../dist/command/main.js'

// A reader that goes away, such as `head`, is no error.
process.stdout.on('error', (error) => {
  if (error.code !== 'EPIPE') throw error
})
process.exitCode = await main(
  process.argv.slice(2),
  processIo(() => readFileSync(0, 'utf8')),
)
