import { readFileSync } from 'node:fs'
import Module, { createRequire } from 'node:module'
import { dirname } from 'node:path'
import { cachedDataVersionTag } from 'node:v8'
import { Script } from 'node:vm'
import { crc32 } from 'node:zlib'

/**
 * Runs a script in Node's older format, with what earlier processes compiled of it, which is kept beside it: a fifth of
 * a short command is compiling. The first few with each task add to it, for each task needs other parts. Nothing is taken
 * over that is damaged, or made by another V8 or with other flags. As with what Node keeps by itself,
 * `NODE_DISABLE_COMPILE_CACHE` turns it off.
 *
 * @param file - A script of ASCII characters whose name is other whenever its text is.
 * @param task - What the process is to do, in a word or two.
 * @returns What it exports; where what is compiled by now would be kept, and its bytes, if it is to be.
 */
export function loadCompiled(file, task) {
  const isOff = process.env.NODE_DISABLE_COMPILE_CACHE !== undefined
  const kept = `${file}.${cachedDataVersionTag()}.compiled`
  const { bytes: cachedData, rounds } = isOff ? NONE : readSealed(kept)
  const script = new Script(Module.wrap(readFileSync(file, 'latin1')), { filename: file, cachedData })
  const module = { exports: {} }
  script.runInThisContext()(module.exports, createRequire(file), module, file, dirname(file))
  const before = cachedData !== undefined && script.cachedDataRejected === false ? rounds : {}
  const mine = Object.hasOwn(before, task) ? before[task] : 0
  const isEnough = mine >= ROUNDS || (mine === 0 && Object.keys(before).length >= MOST_TASKS)
  const compiled = () => (isOff || isEnough ? undefined : sealed(script, { ...before, [task]: mine + 1 }))
  return { exports: module.exports, kept, compiled }
}

/** So many processes with each task add to what is kept, and with so many tasks; writing it again takes some 60 ms. */
const ROUNDS = 2
const MOST_TASKS = 16
/** V8 asks what made such bytes and how many they are, not whether one of them changed: who added to them, how long that is and a checksum follow. */
const [LENGTH, SUM] = [2, 4]
const NONE = { bytes: undefined, rounds: {} }

function sealed(script, rounds) {
  const bytes = script.createCachedData()
  const said = Buffer.from(JSON.stringify(rounds))
  const seal = Buffer.alloc(LENGTH + SUM)
  seal.writeUInt16BE(said.length)
  seal.writeUInt32BE(crc32(said, crc32(bytes)), LENGTH)
  return Buffer.concat([bytes, said, seal])
}

function readSealed(path) {
  try {
    const all = readFileSync(path)
    const end = all.length - LENGTH - SUM
    const start = end - all.readUInt16BE(end)
    const [bytes, said] = [all.subarray(0, start), all.subarray(start, end)]
    const isWhole = all.readUInt32BE(end + LENGTH) === crc32(said, crc32(bytes))
    return isWhole ? { bytes, rounds: JSON.parse(said.toString()) } : NONE
  } catch {
    return NONE // nothing was kept yet, it may not be read, or it is too short to be whole
  }
}
