import { createHash } from 'node:crypto'
import {
  accessSync,
  closeSync,
  constants,
  fchmodSync,
  fchownSync,
  fstatSync,
  fsyncSync,
  mkdirSync,
  openSync,
  readFileSync,
  realpathSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
  type Stats,
} from 'node:fs'
import { basename, dirname, join, relative, resolve, sep } from 'node:path'
import { WembraError } from '../model/wembra-error.js'

/** Thrown when files cannot be written: none of them was changed. */
export class WriteError extends WembraError {
  override readonly name = 'WriteError'
  readonly code = 'not-written'
}

/** What is known of several files that are written together. */
export interface WriteOptions {
  /** The file beside which the journal is kept: the site's own. Default: the first. */
  readonly beside?: string
  /** A file's content as it was read; one that is another by now is not written over. */
  readonly before?: (path: string) => string | undefined
}

/** A file to be written, with the place where its new content waits. */
interface Target {
  /** Where it really is: a link stays a link. */
  readonly path: string
  readonly fresh: string
  readonly content: Uint8Array
}

/** A journal of files that are written together. It is there from before the first until after the last is in place. */
interface Journal {
  readonly wembra: 1
  readonly report: 'journal'
  /** `writing`: the new contents are not all there, and are given up; `moving`: they are, and take their places. */
  readonly state: 'writing' | 'moving'
  readonly pid: number
  readonly files: readonly {
    /** From the journal's folder. */
    readonly path: string
    /** Of the content before; `null` for a file that was not there. */
    readonly before: string | null
    readonly after: string
  }[]
}

const JOURNAL = '.wembra-journal.json'
/** Another process that is alive gets so long to finish what it writes; ms. */
const PATIENCE = 60_000

/**
 * Writes a file whole or not at all: beside it first, synced and its size compared, then moved into its place. Its mode,
 * owner and links stay.
 *
 * @throws {WriteError} When it cannot be written; it is as it was then.
 */
export function writeWhole(path: string, content: string | Uint8Array): void {
  guarded([path], () => {
    const target = targetOf(path, content)
    put(target)
    try {
      move(target)
    } catch (error) {
      rmSync(target.fresh, { force: true })
      throw error
    }
  })
}

/**
 * Writes several files, all or none. Whatever ends the process on the way, `finishWriting` leaves all old or all new.
 *
 * @throws {WriteError} When one cannot be written, or was changed since it was read; all are as they were then.
 */
export function writeTogether(
  contents: ReadonlyMap<string, string | Uint8Array>,
  { beside, before }: WriteOptions = {},
): void {
  const [first] = contents.keys()
  if (first === undefined) return
  guarded([...contents.keys()], () => {
    for (const path of contents.keys()) mkdirSync(dirname(path), { recursive: true })
    const folder = realpathSync(dirname(beside ?? first))
    finishWriting(folder)
    const targets = [...contents].map(([path, content]) => targetOf(path, content))
    for (const { path } of targets) if (statsOf(path)) accessSync(path, constants.W_OK)
    const files = targets.map(({ path, content }) => ({
      path: relative(folder, path).split(sep).join('/'),
      before: hashOf(bytesOf(path)),
      after: hashOf(content) ?? '',
    }))
    const note = (state: Journal['state']): void =>
      writeJournal(folder, { wembra: 1, report: 'journal', state, pid: process.pid, files })
    note('writing')
    try {
      for (const target of targets) put(target)
      for (const path of contents.keys()) expectUnchanged(path, before?.(path))
      note('moving')
    } catch (error) {
      for (const { fresh } of targets) rmSync(fresh, { force: true })
      rmSync(join(folder, JOURNAL), { force: true })
      throw error
    }
    try {
      for (const target of targets) move(target)
      rmSync(join(folder, JOURNAL), { force: true })
    } catch (error) {
      const why = (error as Error).message
      throw new WriteError(`not all files could be moved into place: ${why}; the next command on this site finishes it`)
    }
  })
}

/**
 * Finishes what was being written in a folder when a process ended: files whose new contents are all there get them, others
 * keep what they have. Without a journal nothing is done.
 */
export function finishWriting(folder: string): void {
  const path = join(folder, JOURNAL)
  if (statsOf(freshName(path))) rmSync(freshName(path), { force: true })
  const journal = readJournal(path)
  if (!journal || isAtWork(journal, path)) return
  for (const { path: name, before, after } of journal.files) {
    const target = resolve(folder, name)
    const fresh = freshName(target)
    const is = hashOf(bytesOf(target))
    // Only what the journal's own process could have left is moved: the content it names, over the content it found.
    const isMine = hashOf(bytesOf(fresh)) === after && is === before && (before !== null || isBelow(folder, target))
    if (journal.state === 'moving' && isMine) renameSync(fresh, target)
    else rmSync(fresh, { force: true })
  }
  rmSync(path, { force: true })
}

const isBelow = (folder: string, path: string): boolean => !relative(folder, path).startsWith('..')

function isAtWork({ pid }: Journal, path: string): boolean {
  if (pid === process.pid || Date.now() - (statsOf(path)?.mtimeMs ?? 0) > PATIENCE) return false
  try {
    process.kill(pid, 0)
    return true
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM'
  }
}

function readJournal(path: string): Journal | undefined {
  try {
    const found = JSON.parse(readFileSync(path, 'utf8')) as Partial<Journal>
    const isFile = (each: Partial<Journal['files'][number]>): boolean =>
      typeof each.path === 'string' &&
      typeof each.after === 'string' &&
      (each.before === null || typeof each.before === 'string')
    const isJournal = found.wembra === 1 && found.report === 'journal' && typeof found.pid === 'number'
    return isJournal && Array.isArray(found.files) && found.files.every(isFile) ? (found as Journal) : undefined
  } catch {
    return undefined
  }
}

function writeJournal(folder: string, journal: Journal): void {
  const target = targetOf(join(folder, JOURNAL), `${JSON.stringify(journal)}\n`)
  put(target)
  move(target)
}

const freshName = (path: string): string => join(dirname(path), `.${basename(path)}.wembra-new`)

function targetOf(path: string, content: string | Uint8Array): Target {
  const real = statsOf(path) ? realpathSync(path) : resolve(path)
  return { path: real, fresh: freshName(real), content: typeof content === 'string' ? Buffer.from(content) : content }
}

/** Writes the new content beside a file, down to the disk. */
function put({ path, fresh, content }: Target): void {
  rmSync(fresh, { force: true })
  const file = openSync(fresh, 'wx')
  try {
    keepRights(file, statsOf(path))
    writeFileSync(file, content)
    fsyncSync(file)
    const { size } = fstatSync(file)
    if (size !== content.length)
      throw new WriteError(`${path}: only ${size} of ${content.length} bytes could be written; is the disk full?`)
  } catch (error) {
    closeSync(file)
    rmSync(fresh, { force: true })
    throw error
  }
  closeSync(file)
}

function move({ path, fresh }: Target): void {
  renameSync(fresh, path)
  // Some file systems have no folders that can be synced.
  try {
    const folder = openSync(dirname(path), 'r')
    try {
      fsyncSync(folder)
    } finally {
      closeSync(folder)
    }
  } catch {
    return
  }
}

function keepRights(file: number, stats: Stats | undefined): void {
  if (!stats) return
  fchmodSync(file, stats.mode)
  try {
    fchownSync(file, stats.uid, stats.gid)
  } catch {
    return // Only its owner, or one who may, can give a file away; the mode was kept.
  }
}

function expectUnchanged(path: string, read: string | undefined): void {
  if (read === undefined) return
  const now = bytesOf(path)?.toString('utf8')
  if (now !== read)
    throw new WriteError(`${path} was changed since it was read; nothing was written: run the command again`)
}

const statsOf = (path: string): Stats | undefined => statSync(path, { throwIfNoEntry: false })

function bytesOf(path: string): Buffer | undefined {
  try {
    return readFileSync(path)
  } catch {
    return undefined
  }
}

const hashOf = (bytes: Uint8Array | undefined): string | null =>
  bytes === undefined ? null : createHash('sha256').update(bytes).digest('hex')

/** What the system refuses, as an error that says which file and why. */
function guarded(paths: readonly string[], write: () => void): void {
  try {
    write()
  } catch (error) {
    const { code, path = '' } = error as NodeJS.ErrnoException
    if (error instanceof WembraError || code === undefined) throw error
    // What fails is mostly the new file beside the one that was named; it is named as the user did.
    const named = paths.filter((each) => path.includes(basename(each)))
    throw new WriteError(
      `${(named.length > 0 ? named : paths).join(', ')} cannot be written: ${WHY[code] ?? code}; nothing was changed`,
    )
  }
}

const WHY: Readonly<Record<string, string>> = {
  EACCES: 'this user may not write there',
  EPERM: 'this user may not write there',
  ENOENT: 'the folder does not exist',
  ENOSPC: 'the disk is full',
  EDQUOT: 'the disk is full',
  EISDIR: 'it is a folder',
  ENOTDIR: 'a part of the path is a file',
  EROFS: 'the disk is read-only',
  EFBIG: 'it would be too large',
}
