import { execFileSync } from 'node:child_process'
import { posix } from 'node:path'
import { matchesGlob } from './glob.js'
import { readFont } from './fonts.js'
import type { Files } from '../model/files.js'
import { SiteError } from '../model/problem.js'
import { readSite } from '../model/read-site.js'
import type { Site } from '../model/site.js'

/** The largest file that is taken from a revision, in bytes. */
const LARGEST = 64 * 1024 * 1024

function git(...args: readonly string[]): Buffer {
  return execFileSync('git', args, { maxBuffer: LARGEST, stdio: ['ignore', 'pipe', 'pipe'] })
}

/** Whether a word names a file at a git revision: `HEAD~1:site.yaml`. */
export const isRevision = (word: string): boolean =>
  /^[^:]{1,200}:[^:]+\.(ya?ml|json)$/.test(word) && !/^[a-z]:[\\/]/i.test(word)

/**
 * Reads a site as it was at a git revision, with all it extends and includes at that revision.
 *
 * @param word - `REVISION:path`, the path from the top of the working tree, or with `./` from this folder.
 * @throws {SiteError} When there is no such revision or file, or the site cannot be read.
 */
export function loadRevision(word: string): Site {
  const colon = word.indexOf(':')
  const [revision, given] = [word.slice(0, colon), word.slice(colon + 1)]
  const fail = (message: string): never => {
    throw new SiteError([{ code: 'unreadable', file: word, line: 1, column: 1, message }])
  }
  let prefix = ''
  try {
    git('rev-parse', '--verify', '--quiet', '--end-of-options', `${revision}^{commit}`)
    prefix = given.startsWith('./') ? git('rev-parse', '--show-prefix').toString().trim() : ''
  } catch {
    fail(`there is no revision "${revision}" here; git log lists them`)
  }
  const file = posix.normalize(posix.join(prefix, given))
  const bytes = (path: string): Uint8Array | undefined => {
    try {
      return git('cat-file', 'blob', `${revision}:${path}`)
    } catch {
      return undefined
    }
  }
  const read = (path: string): string | undefined => {
    const found = bytes(path)
    return found && new TextDecoder().decode(found)
  }
  const files: Files = {
    read,
    bytes,
    font: (path) => readFont(bytes(path)),
    lines: (path) => read(path)?.split('\n'),
    list: (pattern) =>
      git('ls-tree', '-r', '--name-only', '--full-tree', revision)
        .toString()
        .split('\n')
        .filter(matchesGlob(pattern))
        .sort(),
    resolve: (from, path) => (posix.isAbsolute(path) ? path : posix.join(posix.dirname(from), path)),
  }
  const text = read(file) ?? fail(`there is no file "${file}" at ${revision}`)
  return readSite(text, { file, files })
}
