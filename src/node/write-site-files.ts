import type { Site } from '../model/site.js'
import { writeTogether } from './write-file.js'

/**
 * Writes files of a site, all or none, and none that somebody else changed since the site was read.
 *
 * @throws {WriteError} When one cannot be written, or is another by now.
 */
export function writeSiteFiles(site: Site, contents: ReadonlyMap<string, string | Uint8Array>): void {
  const read = new Map(site.sources.map(({ file, text }) => [file, text]))
  // A large file's text is not kept; what it was edited from was read a moment ago.
  writeTogether(contents, { beside: site.file, before: (path) => read.get(path) || undefined })
}
