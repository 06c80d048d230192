import { existsSync } from 'node:fs'
import { dirname, resolve } from 'node:path'
import { SiteProject } from '../language/project.js'
import type { Files } from '../model/files.js'
import { SiteError, type Problem } from '../model/problem.js'
import { diskFiles, findSite } from '../node/load-site.js'

/** Files that a site may be written in. */
const SITE_PART = /\.(ya?ml|json|ndjson|css)$/
const SITE_FILE = /\.site\.(ya?ml|json)$/

/** The sites of the folders that are open, with the texts that an editor holds before those on the disk. */
export class Workspace {
  readonly #texts = new Map<string, string>()
  /** Every site that was read, by its file; also those that no open file is part of. */
  readonly #read = new Map<string, SiteProject>()
  readonly #open = new Set<SiteProject>()
  #roots: readonly string[] = []

  /** Folders are opened and closed. Returns the sites that are in no open folder any more: they are forgotten. */
  move(opened: readonly string[], closed: readonly string[]): readonly SiteProject[] {
    const [more, fewer] = [opened, closed].map((roots) => roots.map((root) => resolve(root))) as [string[], string[]]
    this.#roots = [...new Set([...this.#roots.filter((root) => !fewer.includes(root)), ...more])]
    const left = [...this.#read.values()].filter(
      ({ file }) => rootOf(file, fewer) !== undefined && rootOf(file, this.#roots) === undefined,
    )
    for (const project of left) {
      this.#read.delete(project.file)
      this.#open.delete(project)
    }
    return left
  }

  /** The sites that files in the editor are part of. */
  get projects(): readonly SiteProject[] {
    return [...this.#open]
  }

  /** A file's text changed in the editor, or is the disk's again. Returns the sites that it is part of. */
  change(file: string, text: string | undefined): readonly SiteProject[] {
    if (text === undefined) this.#texts.delete(file)
    else this.#texts.set(file, text)
    return this.touch([file])
  }

  /** Files changed, came or went on the disk. Returns the sites that they may be part of. */
  touch(files: readonly string[]): readonly SiteProject[] {
    const touched = new Set<SiteProject>()
    for (const project of this.#read.values()) {
      // A file may be taken in by a pattern once it is there.
      const own = files.filter((file) => project.has(file) || dirname(file).startsWith(dirname(project.file)))
      if (own.length === 0) continue
      project.change(own)
      if (this.#open.has(project)) touched.add(project)
    }
    return [...touched]
  }

  /** The site that a file is part of: one that is known, else the one in its folder or the nearest above. */
  projectOf(file: string): SiteProject | undefined {
    const known = this.projects.find((project) => project.has(file))
    if (known || !SITE_PART.test(file)) return known
    for (const site of this.#sitesAbove(file)) {
      const project = this.#read.get(site) ?? new SiteProject(site, this.#files())
      this.#read.set(site, project)
      // Reading it tells which files it is made of.
      const isRead = project.site !== undefined
      if (!project.has(file) && isRead) continue
      this.#open.add(project)
      return project
    }
    return undefined
  }

  /** Site files in the file's folder and those above it, as far as the open folders go; nearest first. */
  *#sitesAbove(file: string): Iterable<string> {
    const root = rootOf(file, this.#roots) ?? dirname(file)
    for (let folder = dirname(file); ; folder = dirname(folder)) {
      const site = siteIn(folder)
      if (site !== undefined) yield site
      if (folder === root || folder === dirname(folder)) break
    }
    if (SITE_FILE.test(file)) yield file
  }

  /** Problems of a site's files, which an error names relative to nothing. */
  problemsOf = (project: SiteProject): readonly Problem[] =>
    project.problems.map((problem) => ({ ...problem, file: resolve(problem.file) }))

  #files(): Files {
    return {
      ...diskFiles,
      read: (path) => this.#texts.get(path) ?? diskFiles.read(path),
      lines: (path) => this.#texts.get(path)?.split('\n') ?? diskFiles.lines(path),
      list: (pattern) => diskFiles.list(pattern).map((path) => resolve(path)),
    }
  }
}

/** The folder among some that a file is in. */
const rootOf = (file: string, roots: readonly string[]): string | undefined =>
  roots.find((root) => file.startsWith(`${root}/`))

/** The one site file of a folder. */
function siteIn(folder: string): string | undefined {
  if (!existsSync(folder)) return undefined
  try {
    return resolve(findSite(folder))
  } catch (error) {
    if (error instanceof SiteError) return undefined
    throw error
  }
}
