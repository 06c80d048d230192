// Loaded before a program: ends it before the nth operation that writes, or lets its writes fall short.
import fs from 'node:fs'
import { syncBuiltinESMExports } from 'node:module'
import process from 'node:process'

const { KILL_AT, SHORT_WRITE } = process.env
const WRITING = ['writeFileSync', 'fsyncSync', 'fchmodSync', 'renameSync', 'rmSync', 'mkdirSync']
let done = 0

function before() {
  done += 1
  if (done !== Number(KILL_AT)) return
  process.kill(process.pid, 'SIGKILL')
  for (;;); // The signal takes a moment.
}

for (const name of WRITING) {
  const real = fs[name]
  fs[name] = (...args) => {
    before()
    const isShort = name === 'writeFileSync' && SHORT_WRITE !== undefined && typeof args[0] === 'number'
    return isShort ? real(args[0], args[1].subarray(0, args[1].length >> 1)) : real(...args)
  }
}
const open = fs.openSync
fs.openSync = (path, flags, ...rest) => {
  if (flags !== undefined && flags !== 'r') before()
  return open(path, flags, ...rest)
}
syncBuiltinESMExports()
