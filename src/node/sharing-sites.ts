import { dirname, join, resolve } from 'node:path'
import { globSync } from 'tinyglobby'
import { diffWhole, type SiteDiff } from '../change/diff.js'
import { readSite } from '../model/read-site.js'
import { SiteError } from '../model/problem.js'
import type { Site } from '../model/site.js'
import { resolveSite } from '../resolve/resolve-site.js'
import { diskFiles, loadSite } from './load-site.js'

/** Another site that uses a file, and how it changes with that file. */
export interface SharingSite {
  readonly file: string
  /** The changed files that it uses. */
  readonly shares: readonly string[]
  /** `undefined` if it cannot be read with the change. */
  readonly diff: SiteDiff | undefined
}

/**
 * Finds other sites that use the changed files, in the folders of the site and of these files.
 *
 * @param texts - The files that change, with their texts after the change.
 */
export function sharingSites(site: Site, texts: ReadonlyMap<string, string>, now: Date): readonly SharingSite[] {
  const folders = new Set([site.file, ...texts.keys()].map((file) => dirname(resolve(file))))
  const files = new Set(
    [...folders].flatMap((cwd) =>
      globSync('**/*.site.{yaml,yml,json}', { cwd, ignore: ['**/node_modules/**'] }).map((file) => join(cwd, file)),
    ),
  )
  for (const file of [site.file, ...texts.keys()]) files.delete(resolve(file))
  const after = new Map([...texts].map(([file, text]) => [resolve(file), text]))
  return [...files].sort().flatMap((file): SharingSite[] => {
    const before = readable(() => loadSite(file))
    const shares = before?.sources.filter((source) => after.has(resolve(source.file))).map((source) => source.file)
    if (!before || !shares || shares.length === 0) return []
    const read = (path: string): string | undefined => after.get(resolve(path)) ?? diskFiles.read(path)
    const changed = readable(() =>
      readSite(read(before.file) ?? '', { file: before.file, files: { ...diskFiles, read } }),
    )
    const diff = changed && diffWhole(resolveSite(before), resolveSite(changed), { now })
    return [{ file: before.file, shares, diff }]
  })
}

/** Reads a site; `undefined` if it is not valid, with or without the change. */
function readable(read: () => Site): Site | undefined {
  try {
    return read()
  } catch (error) {
    if (error instanceof SiteError) return undefined
    throw error
  }
}
