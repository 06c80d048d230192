import { readFileSync } from 'node:fs'
import Module, { createRequire } from 'node:module'
import { dirname } from 'node:path'
import { cachedDataVersionTag } from 'node:v8'
import { Script } from 'node:vm'
import { crc32 } from 'node:zlib'

/**
 * Runs a script in Node's older format, with what an earlier process compiled of it, which is kept beside it: a fifth of
 * a short command is compiling. Nothing is taken over that is damaged, or made by another V8 or with other flags. As
 * with what Node keeps by itself, `NODE_DISABLE_COMPILE_CACHE` turns it off.
 *
 * @param file - A script of ASCII characters whose name is other whenever its text is.
 * @returns What it exports; where what is compiled by now would be kept, and its bytes, if it is to be.
 */
export function loadCompiled(file) {
  const isOff = process.env.NODE_DISABLE_COMPILE_CACHE !== undefined
  const kept = `${file}.${cachedDataVersionTag()}.compiled`
  const cachedData = isOff ? undefined : readSealed(kept)
  const script = new Script(Module.wrap(readFileSync(file, 'latin1')), { filename: file, cachedData })
  const module = { exports: {} }
  script.runInThisContext()(module.exports, createRequire(file), module, file, dirname(file))
  const isKept = cachedData !== undefined && script.cachedDataRejected === false
  return { exports: module.exports, kept, compiled: () => (isOff || isKept ? undefined : sealed(script)) }
}

/** V8 asks what made such bytes and how many they are, not whether one of them changed: a checksum follows them. */
const SEAL = 4

function sealed(script) {
  const bytes = script.createCachedData()
  const seal = Buffer.alloc(SEAL)
  seal.writeUInt32BE(crc32(bytes))
  return Buffer.concat([bytes, seal])
}

function readSealed(path) {
  try {
    const all = readFileSync(path)
    const bytes = all.subarray(0, -SEAL)
    return all.readUInt32BE(bytes.length) === crc32(bytes) ? bytes : undefined
  } catch {
    return undefined // nothing was kept yet, it may not be read, or it is too short to be whole
  }
}
