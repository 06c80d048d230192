import type { Files } from '../model/files.js'
import { SiteError, type Problem } from '../model/problem.js'
import { readSite } from '../model/read-site.js'
import type { Source } from '../model/source.js'
import { Lines } from './places.js'
import { resolveSite, type ResolvedSite } from '../resolve/resolve-site.js'

/** What is read again where it is; a picture or font that changed may change what was measured by it. */
const READ_AGAIN = /\.(ya?ml|json|ndjson|css)$/

const HOUR = 3_600_000

/**
 * A site whose files are being edited: what they said when they last could be read, and what is wrong with them now.
 * Its files are asked for their texts whenever it is told that they changed.
 */
export class SiteProject {
  readonly file: string
  readonly files: Files
  #resolved: ResolvedSite | undefined
  #problems: readonly Problem[] = []
  #changed = new Set<string>()
  /** What changed since it could last be read, and was looked at. */
  #unread: readonly string[] = []
  readonly #lines = new Map<string, Lines>()

  /** @param files - How texts are reached: those in an editor before those on the disk. */
  constructor(file: string, files: Files) {
    this.file = file
    this.files = files
    this.#changed.add(file)
  }

  /** The site as it was when it could last be read; `undefined` before that. */
  get site(): ResolvedSite | undefined {
    this.#update()
    return this.#resolved
  }

  /** Why it cannot be read as it is now. */
  get problems(): readonly Problem[] {
    this.#update()
    return this.#problems
  }

  /** The files it is made of; while it cannot be read, those that it was made of before. */
  get sources(): readonly Source[] {
    this.#update()
    return this.#known
  }

  get #known(): readonly Source[] {
    return this.#resolved?.site.sources ?? []
  }

  /** Whether a file is part of it: a site file, tokens or a style sheet. */
  has(file: string): boolean {
    return file === this.file || this.#known.some((source) => source.file === file) || this.styles.includes(file)
  }

  /** The style sheets it names. */
  get styles(): readonly string[] {
    const site = this.#resolved?.site
    return (site?.data.styles ?? []).flatMap(({ file }, n) =>
      file === undefined || !site ? [] : [site.files.resolve(site.origin(`/styles/${n}`).file, file)],
    )
  }

  /**
   * The clock by which its findings are told, for years and countdowns: the beginning of the hour, so that what is known
   * holds however long somebody thinks between two keys.
   */
  get now(): Date {
    return new Date(Math.floor(Date.now() / HOUR) * HOUR)
  }

  /** Tells that files changed; they are read when somebody asks. */
  change(files: Iterable<string>): void {
    for (const file of [...files, ...this.#unread]) this.#changed.add(file)
    this.#unread = []
  }

  /** A file's text with its lines; of one that is not there, no text. */
  lines(file: string): Lines {
    const text = this.files.read(file) ?? ''
    const known = this.#lines.get(file)
    if (known?.text === text) return known
    const lines = new Lines(text)
    this.#lines.set(file, lines)
    return lines
  }

  #update(): void {
    if (this.#changed.size === 0) return
    const changed = this.#changed
    try {
      const text = this.files.read(this.file) ?? ''
      const isNear = this.#resolved && [...changed].every((file) => READ_AGAIN.test(file))
      this.#resolved = isNear
        ? this.#resolved?.reread(text, changed)
        : resolveSite(readSite(text, { file: this.file, files: this.files }))
      this.#problems = []
      this.#changed = new Set()
    } catch (error) {
      if (!(error instanceof SiteError)) throw error
      this.#problems = error.problems
      // Nothing is read again until something else changes; what did until then is read with it.
      this.#unread = [...changed]
      this.#changed = new Set()
    }
  }
}
