import { UnknownNameError } from '../model/unknown-name.js'
import { readSite } from '../model/read-site.js'
import type { Viewport } from '../model/site.js'
import { isFolder } from '../node/is-folder.js'
import { diskFiles, loadSite } from '../node/load-site.js'
import type { ResolvedPage } from '../resolve/page.js'
import { resolveSite, type ResolvedSite } from '../resolve/resolve-site.js'
import { COMMANDS, usageOf, type CommandName, type CommandSummary } from './commands.js'
import { UsageError, type Io } from './io.js'

export interface SiteOptions {
  readonly site?: string
}

const isSiteName = (word: string): boolean => word === '-' || /\.(ya?ml|json)$/.test(word)

/**
 * Splits what was given to a command into its own words and the site. A site ends in .yaml, .yml or .json, is `-`, or,
 * where all other arguments are there, is a folder.
 *
 * @throws {UsageError} For words left over, and for arguments that are missing.
 */
export function splitWords(
  name: CommandName,
  given: readonly string[],
  options: SiteOptions,
): { words: readonly string[]; site: string } {
  const declared: CommandSummary = COMMANDS[name]
  const { args = [] } = declared
  const required = args.filter((arg) => !arg.optional).length
  // A page may have the name of a folder: the first word of a command with arguments is never the site.
  const least = Math.max(required, args.length > 0 ? 1 : 0)
  const most = args.some((arg) => arg.many) ? Infinity : args.length
  const last = given.at(-1)
  let [words, site] = [given, options.site ?? '.']
  const takesSite = declared.site === undefined && options.site === undefined
  // The first two words of `diff`, and those of `observe`, may be files and folders themselves.
  if (takesSite && last !== undefined && (name !== 'diff' || given.length > 2)) {
    const isTold = isSiteName(last) && given.length > (name === 'unpack' ? 1 : 0)
    // Alone, a word with a slash is no id that people give: `uses` then lists all of that site.
    const isPath = name === 'uses' && (last === '.' || last.includes('/'))
    const isLeft = name !== 'observe' && (given.length > least || isPath) && isFolder(last) && !last.includes('=')
    if (isTold || isLeft) [words, site] = [given.slice(0, -1), last]
  }
  if (declared.site === 'many') return { words: options.site === undefined ? words : [options.site, ...words], site }
  const [extra] = words.slice(most)
  if (extra !== undefined)
    throw new UsageError(
      declared.site === 'none'
        ? `unexpected word "${extra}"; usage: wembra ${name} ${usageOf(declared)}`
        : `"${extra}" is neither a site file (.yaml, .yml, .json) nor a folder; usage: wembra ${name} ${usageOf(declared)}`,
    )
  const missing = args.filter((arg) => !arg.optional)[words.length]
  if (missing && words.length < required)
    throw new UsageError(`missing <${missing.name}>, ${missing.text}; usage: wembra ${name} ${usageOf(declared)}`)
  return { words, site }
}

/** Opens the site a command was given; without one, the one site file of the folder. */
export function openSite(site: string, io: Io): ResolvedSite {
  const read = site === '-' ? readSite(io.readStdin(), { file: '<stdin>', files: diskFiles }) : loadSite(site)
  io.opened?.(read)
  return resolveSite(read)
}

/** @throws {UnknownNameError} When the site has no such page. */
export function findPage(resolved: ResolvedSite, id: string): ResolvedPage {
  if (resolved.pageIds.includes(id)) return resolved.page(id)
  throw new UnknownNameError('page', id, resolved.pageIds, '`wembra table` lists them all')
}

/** All viewports, or the one that is asked for. @throws {UnknownNameError} When there is none of that name. */
export function findViewports(viewports: readonly Viewport[], name: string | undefined): readonly string[] {
  const names = viewports.map((v) => v.name)
  if (name === undefined) return names
  if (names.includes(name)) return [name]
  throw new UnknownNameError('viewport', name, names)
}
