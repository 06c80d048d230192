import { readSite } from '../model/read-site.js'
import { didYouMean } from '../model/did-you-mean.js'
import type { Viewport } from '../model/site.js'
import { diskFiles, loadSite } from '../node/load-site.js'
import type { ResolvedPage } from '../resolve/page.js'
import { resolveSite, type ResolvedSite } from '../resolve/resolve-site.js'
import { UsageError, type Io } from './io.js'

/** Options that every command has. */
export interface SiteOptions {
  readonly site?: string
}

const isSiteName = (word: string): boolean => word === '-' || /\.(ya?ml|json)$/.test(word)

/** Splits a command's words into its own and the site, which ends in .yaml, .yml or .json, or is `-`. */
export function splitSite(words: readonly string[], options: SiteOptions): { words: readonly string[]; site: string } {
  const last = words.at(-1)
  if (options.site !== undefined) return { words, site: options.site }
  if (last !== undefined && isSiteName(last)) return { words: words.slice(0, -1), site: last }
  return { words, site: '.' }
}

/** Opens the site a command was given; without one, the one site file of the folder. */
export function openSite(site: string, io: Io): ResolvedSite {
  if (site === '-') return resolveSite(readSite(io.readStdin(), { file: '<stdin>', files: diskFiles }))
  return resolveSite(loadSite(site))
}

/** @throws {UsageError} When the site has no such page. */
export function findPage(resolved: ResolvedSite, id: string): ResolvedPage {
  if (resolved.pageIds.includes(id)) return resolved.page(id)
  const meant = didYouMean(id, resolved.pageIds)
  throw new UsageError(
    `there is no page "${id}"${meant ? `; did you mean "${meant}"?` : '; `wembra table` lists them all'}`,
  )
}

/** All viewports, or the one that is asked for. @throws {UsageError} When there is none of that name. */
export function findViewports(viewports: readonly Viewport[], name: string | undefined): readonly string[] {
  const names = viewports.map((v) => v.name)
  if (name === undefined) return names
  if (names.includes(name)) return [name]
  const meant = didYouMean(name, names)
  throw new UsageError(
    `there is no viewport "${name}"; ${meant ? `did you mean "${meant}"?` : `there are: ${names.join(', ')}`}`,
  )
}
