import { closeSync, openSync, readdirSync, readFileSync, readSync, statSync } from 'node:fs'
import { dirname, isAbsolute, join, relative, resolve } from 'node:path'
import { globSync } from 'tinyglobby'
import { parse } from 'yaml'
import type { Files } from '../model/files.js'
import { SiteError, type ProblemCode } from '../model/problem.js'
import { readSite } from '../model/read-site.js'
import type { Site } from '../model/site.js'
import { readFont } from './fonts.js'
import { finishWriting } from './write-file.js'
import { isFolder } from './is-folder.js'
import { decodePixels } from './pixels.js'
import { whyUnreadable } from './why-unreadable.js'

/** Files past this size are not site files; reading them would only exhaust the memory. */
const LARGEST_TEXT = 512 * 1024 * 1024
const CHUNK = 1 << 20

/** The disk, as the core asks for it; paths stay relative to the working folder, as messages name them. */
export const diskFiles: Files = {
  read: (path) => diskBytes(path)?.toString('utf8'),
  bytes: (path) => diskBytes(path),
  whyNot: (path) => {
    try {
      return refusal(path) ?? void readFileSync(path)
    } catch (error) {
      return whyUnreadable(error)
    }
  },
  font: (path) => readFont(diskBytes(path)),
  pixels: (path) => {
    const bytes = diskBytes(path)
    return bytes && decodePixels(bytes)
  },
  lines: (path) => {
    try {
      return statSync(path).isFile() ? linesOf(path) : undefined
    } catch {
      return undefined
    }
  },
  list: (pattern) => {
    try {
      return globSync(pattern.replaceAll('\\', '/'), { expandDirectories: false }).sort()
    } catch {
      return [] // What is no pattern to the library that reads them means no file.
    }
  },
  resolve: (from, path) => (isAbsolute(path) ? path : join(dirname(from), path)),
}

/** Why a file that is there is not read: devices and pipes may never end. */
function refusal(path: string): string | undefined {
  const found = statSync(path)
  if (found.isDirectory()) return 'it is a folder'
  if (!found.isFile()) return 'it is no regular file'
  return found.size > LARGEST_TEXT ? 'it is larger than 512 MiB' : undefined
}

function diskBytes(path: string): Buffer | undefined {
  try {
    return refusal(path) === undefined ? readFileSync(path) : undefined
  } catch {
    return undefined
  }
}

/** A file's lines, read piece by piece. */
function* linesOf(path: string): Iterable<string> {
  const file = openSync(path, 'r')
  const decoder = new TextDecoder()
  const buffer = Buffer.alloc(CHUNK)
  try {
    let rest = ''
    for (let read = readSync(file, buffer); read > 0; read = readSync(file, buffer)) {
      const lines = (rest + decoder.decode(buffer.subarray(0, read), { stream: true })).split('\n')
      rest = lines.pop() ?? ''
      yield* lines
    }
    if (rest !== '') yield rest
  } finally {
    closeSync(file)
  }
}

/**
 * Reads a site from disk, with all it extends and includes.
 *
 * @param path - A site file, or a folder with one.
 * @throws {SiteError} Every problem found, each with code and place.
 */
export function loadSite(path: string): Site {
  const file = shortPath(isFolder(path) ? findSite(path) : path)
  finishWriting(dirname(file))
  return readSite(readTextOrFail(file), { file, files: diskFiles })
}

const shortPath = (path: string): string => {
  const short = relative('', resolve(path))
  return short.startsWith('..') ? resolve(path) : short
}

const failure = (code: ProblemCode, file: string, message: string): SiteError =>
  new SiteError([{ code, message, file, line: 1, column: 1 }])

function readTextOrFail(file: string): string {
  try {
    const found = statSync(file)
    if (found.size > LARGEST_TEXT)
      throw failure('too-large', file, 'this is larger than 512 MiB; split it with include')
    if (found.isCharacterDevice())
      throw failure('unreadable', file, 'it is a device, which may never end; name a site file')
    return readFileSync(file, 'utf8')
  } catch (error) {
    if (error instanceof SiteError) throw error
    throw failure('unreadable', file, `${whyUnreadable(error)}; name a site file, or start one with \`wembra new\``)
  }
}

const SITE_FILE = /\.site\.(ya?ml|json)$/

/**
 * The one site file of a folder that no other there extends.
 *
 * @throws {SiteError} When there is none, or more than one.
 */
export function findSite(folder: string): string {
  const files = readdirSync(folder)
    .filter((name) => SITE_FILE.test(name))
    .sort()
  // Who extends whom is read from the files, which is not needed of one alone.
  const extended = new Set(files.length > 1 ? files.flatMap((name) => namedUnderneath(join(folder, name))) : [])
  const left = files.filter((name) => !extended.has(resolve(folder, name)))
  const [only] = left
  if (only !== undefined && left.length === 1) return join(folder, only)
  const reason =
    left.length === 0
      ? 'this folder has no site file (*.site.yaml, *.site.json); name one, or start one with `wembra new`'
      : `this folder has several site files: ${left.join(', ')}; name the one you mean`
  throw failure('unreadable', folder, reason)
}

/** The files that a site file extends or includes; one that cannot be parsed names none. */
function namedUnderneath(file: string): string[] {
  try {
    const text = diskFiles.read(file) ?? ''
    const value: unknown = parse(naming(text) ?? text)
    const { extends: under = [], include = [] } = (value ?? {}) as { extends?: unknown; include?: unknown }
    const names = [under, include].flat().filter((name): name is string => typeof name === 'string')
    return names.map((name) => resolve(dirname(file), name))
  } catch {
    return []
  }
}

/**
 * The part of a site file that names others, where it can be told without reading it all: its keys begin their lines,
 * and what is under them is indented or a list.
 */
function naming(text: string): string | undefined {
  // Flow from edge to edge, keys in quotes, several documents: then the whole text says.
  if (/^(?:[{}[\]"'&*?%]|---)/m.test(text)) return undefined
  return [...text.matchAll(/^(?:extends|include)[ \t]*:.*(?:\r?\n(?:[ \t#-].*)?)*/gm)].map(([part]) => part).join('\n')
}
