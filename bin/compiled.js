import { readFileSync } from 'node:fs'
import Module, { createRequire } from 'node:module'
import { dirname } from 'node:path'
import { cachedDataVersionTag } from 'node:v8'
import { Script } from 'node:vm'
import { crc32 } from 'node:zlib'

/**
 * Runs a script in Node's older format, with what earlier processes compiled of it, which is kept beside it: a fifth of
 * a short command is compiling. The first few add to it, for each needs other parts. Nothing is taken over that is
 * damaged, or made by another V8 or with other flags. As with what Node keeps by itself, `NODE_DISABLE_COMPILE_CACHE`
 * turns it off.
 *
 * @param file - A script of ASCII characters whose name is other whenever its text is.
 * @returns What it exports; where what is compiled by now would be kept, and its bytes, if it is to be.
 */
export function loadCompiled(file) {
  const isOff = process.env.NODE_DISABLE_COMPILE_CACHE !== undefined
  const kept = `${file}.${cachedDataVersionTag()}.compiled`
  const { bytes: cachedData, round } = isOff ? NONE : readSealed(kept)
  const script = new Script(Module.wrap(readFileSync(file, 'latin1')), { filename: file, cachedData })
  const module = { exports: {} }
  script.runInThisContext()(module.exports, createRequire(file), module, file, dirname(file))
  const before = cachedData !== undefined && script.cachedDataRejected === false ? round : 0
  const compiled = () => (isOff || before >= ROUNDS ? undefined : sealed(script, before + 1))
  return { exports: module.exports, kept, compiled }
}

/** So many processes add to what is kept; writing it again takes some 60 ms. */
const ROUNDS = 4
/** V8 asks what made such bytes and how many they are, not whether one of them changed: a checksum follows them. */
const SEAL = 5
const NONE = { bytes: undefined, round: 0 }

function sealed(script, round) {
  const bytes = script.createCachedData()
  const seal = Buffer.alloc(SEAL, round)
  seal.writeUInt32BE(crc32(bytes))
  return Buffer.concat([bytes, seal])
}

function readSealed(path) {
  try {
    const all = readFileSync(path)
    const bytes = all.subarray(0, -SEAL)
    return all.readUInt32BE(bytes.length) === crc32(bytes) ? { bytes, round: all.at(-1) } : NONE
  } catch {
    return NONE // nothing was kept yet, it may not be read, or it is too short to be whole
  }
}
