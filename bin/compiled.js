import { readFileSync } from 'node:fs'
import Module, { createRequire } from 'node:module'
import { dirname } from 'node:path'
import { cachedDataVersionTag } from 'node:v8'
import { Script } from 'node:vm'

/**
 * Runs a script in Node's older format, with what an earlier process compiled of it, which is kept beside it: a fifth of
 * a short command is compiling. Nothing is taken over that V8 finds damaged, or made by another version of it.
 *
 * @param file - A script of ASCII characters whose name is other whenever its text is.
 * @returns What it exports, and the file and bytes to keep for the next process; no bytes where they are there already.
 */
export function loadCompiled(file) {
  const kept = `${file}.${cachedDataVersionTag()}.compiled`
  const cachedData = bytesOf(kept)
  const script = new Script(Module.wrap(readFileSync(file, 'latin1')), { filename: file, cachedData })
  const module = { exports: {} }
  script.runInThisContext()(module.exports, createRequire(file), module, file, dirname(file))
  const isKept = cachedData !== undefined && script.cachedDataRejected === false
  return { exports: module.exports, kept, compiled: () => (isKept ? undefined : script.createCachedData()) }
}

function bytesOf(path) {
  try {
    return readFileSync(path)
  } catch {
    return undefined // nothing was kept yet, or it may not be read
  }
}
