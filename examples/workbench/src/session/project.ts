import { fontMeasurer } from 'wembra/fonts'
import { memoryFiles, type Files } from 'wembra'

/** Where a site came from, which is where it is saved to. */
export type Origin = 'demo' | 'files' | 'handles' | 'server'

/** A site's files as they were opened. */
export interface Project {
  readonly origin: Origin
  /** The site file; the others are what it names. */
  readonly file: string
  readonly texts: Texts
  readonly binary: Readonly<Record<string, Uint8Array>>
  /** Whether the real pages can be looked at beside it. */
  readonly live?: boolean
  /** The files themselves, where the browser lets a page write into them. */
  readonly handles?: Readonly<Record<string, FileSystemFileHandle>>
}

export type Texts = Readonly<Record<string, string>>

/** The files of a project whose texts change: what is read of them is what they say now. */
export class ProjectFiles {
  texts: Texts
  readonly files: Files

  constructor({ binary }: Pick<Project, 'binary'>, texts: Texts) {
    this.texts = texts
    const files = memoryFiles({ ...texts, ...binary }, fontMeasurer)
    const read = (path: string): string | undefined => this.texts[path] ?? files.read(path)
    this.files = { ...files, read, lines: (path) => read(path)?.split('\n') }
  }
}

const SITE_FILE = /\.site\.(ya?ml|json)$/

/** The site file among some files: the one that no other extends or includes. */
export function findSiteFile(texts: Texts): string | undefined {
  const names = Object.keys(texts)
  const sites = names.filter((name) => SITE_FILE.test(name))
  const named = (name: string): boolean =>
    names.some((other) => other !== name && texts[other]?.includes(name.slice(name.lastIndexOf('/') + 1)))
  return sites.find((name) => !named(name)) ?? sites[0] ?? names.find((name) => /\.(ya?ml|json)$/.test(name))
}
