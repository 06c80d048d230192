// Loaded before a program: ends it before the nth operation that writes, or lets a write fall short, or fails it.
import fs from 'node:fs'
import { syncBuiltinESMExports } from 'node:module'
import process from 'node:process'

const { KILL_AT, FAIL_AT, SHORT_WRITE } = process.env
const WRITING = ['writeFileSync', 'fsyncSync', 'fchmodSync', 'renameSync', 'rmSync', 'mkdirSync']
let done = 0

function before(name) {
  done += 1
  if (done === Number(KILL_AT)) {
    process.kill(process.pid, 'SIGKILL')
    for (;;); // The signal takes a moment.
  }
  if (done === Number(FAIL_AT))
    throw Object.assign(new Error(`ENOSPC: no space left on device, ${name}`), { code: 'ENOSPC' })
}

for (const name of WRITING) {
  const real = fs[name]
  fs[name] = (...args) => {
    before(name)
    const isShort = name === 'writeFileSync' && SHORT_WRITE !== undefined && typeof args[0] === 'number'
    return isShort ? real(args[0], args[1].subarray(0, args[1].length >> 1)) : real(...args)
  }
}
const open = fs.openSync
fs.openSync = (path, flags, ...rest) => {
  if (flags !== undefined && flags !== 'r') before('openSync')
  return open(path, flags, ...rest)
}
syncBuiltinESMExports()
