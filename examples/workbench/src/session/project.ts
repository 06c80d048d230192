import { fontMeasurer } from 'wembra/fonts'
import { memoryFiles, readSite, resolveSite, SiteError, type Problem, type ResolvedSite } from 'wembra'

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

export type Read = { readonly resolved: ResolvedSite } | { readonly problems: readonly Problem[] }

/** Reads a project with some of its texts changed. */
export function readProject(project: Pick<Project, 'file' | 'binary'>, texts: Texts): Read {
  const files = memoryFiles({ ...texts, ...project.binary }, fontMeasurer)
  try {
    return { resolved: resolveSite(readSite(texts[project.file] ?? '', { file: project.file, files })) }
  } catch (error) {
    if (error instanceof SiteError) return { problems: error.problems }
    throw error
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
