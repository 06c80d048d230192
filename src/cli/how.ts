import type { Command } from 'commander'
import { findWays, type Goal, type Way, type Ways } from '../change/ways.js'
import { waysDocument } from '../draw/documents.js'
import type { Where } from '../model/site-data.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { addCommand } from './command.js'
import { ExitCode, UsageError, type Io } from './io.js'
import { formatOption, nowOption, numberOption, readClock, undoOption, whereOption } from './options.js'
import { propertyNamed } from './property.js'
import { findPage, openSite, type SiteOptions } from './site-argument.js'
import { applyPatchToFiles, type ApplyOptions } from './apply.js'
import { count, json, paragraph, someOf } from './text.js'
import { valueOf } from './value.js'
import { pagesWhere, parseSelectors } from './where.js'

interface HowOptions extends SiteOptions {
  readonly undo?: string
  readonly format: 'text' | 'json'
  readonly where?: readonly string[]
  readonly apply?: number
  readonly now?: string
}

/** `how <page> <property=value…> [site]`: how do I give this page a certain layout, and what else would change? */
export function addHow(program: Command, io: Io, done: (code: ExitCode) => void): void {
  addCommand<HowOptions>(program, io, done, {
    name: 'how',
    examples: [
      'wembra how visit header=absent',
      'wembra how visit header.use=bare-header footer.use=small-footer width.mode=full',
      'wembra how --where under=volunteers width.mode=full',
      'wembra how visit title=shown --apply 1',
    ],
    options: [
      formatOption(['text', 'json']),
      whereOption('these pages instead of one: kind=article,tag=meteors'),
      numberOption('--apply <n>', 'write the nth way to the files', 1),
      undoOption(),
      nowOption(),
    ],
    run: (words, options, site, io) => {
      const selectors = options.where
      const goals = words.filter((word) => word.includes('=')).map(readGoal)
      const ids = words.filter((word) => !word.includes('='))
      if (goals.length === 0) throw new UsageError('missing <property=value>: wembra how visit header=absent')
      if (ids.length > 1 || (ids.length === 0) === (selectors === undefined))
        throw new UsageError(
          ids.length > 1
            ? `expected one page, got ${ids.join(', ')}; for several use --where: wembra how --where kind=article title=shown`
            : 'name one page, or several with --where, not both: wembra how --where kind=article title=shown',
        )
      const resolved = openSite(site, io)
      const pages = selectors
        ? pagesWhere(resolved, selectors).map((page) => page.id)
        : ids.map((id) => findPage(resolved, id).id)
      if (pages.length === 0) throw new UsageError('no page matches --where')
      const now = readClock(options.now)
      const where = selectors && (parseSelectors(selectors) as Where)
      const found = findWays(resolved, pages, goals, { ...(now && { now }), ...(where && { where }) })
      if (options.apply !== undefined) return applyWay(resolved, found, options.apply, options, io)
      io.out(options.format === 'json' ? json(waysDocument(pages, goals, found)) : waysText(pages, found, io))
      return ExitCode.fine
    },
  })
}

function readGoal(word: string): Goal {
  const at = word.indexOf('=')
  const property = propertyNamed(word.slice(0, at))
  if (property === 'template')
    throw new UsageError('a template is a means, not a goal; name a property of a facet: header.use=bare-header')
  return { property, value: valueOf(word.slice(at + 1)) }
}

function applyWay(resolved: ResolvedSite, { ways }: Ways, n: number, options: ApplyOptions, io: Io): ExitCode {
  const way = ways[n - 1]
  if (!way)
    throw new UsageError(
      `there is no way ${n}; ${ways.length === 0 ? 'none was found' : `expected 1 to ${ways.length}`}`,
    )
  return applyPatchToFiles(resolved.site, way.patch, way.title, options, io)
}

const PAGES_NAMED = 8
const BLOCKED_NAMED = 6

function waysText(pages: readonly string[], { isMet, ways, blocked }: Ways, io: Io): string {
  const { colors: c, columns } = io
  const meant = pages.length === 1 ? `The page ${pages[0]}` : `Each of these ${pages.length} pages`
  if (isMet) return `${c.green(`${meant} already has this.`)}\n`
  const wayText = (way: Way, n: number): string =>
    [
      `${c.bold(`${n + 1}  ${way.title}`)}  ${c.dim(count(way.settings, 'setting'))}`,
      paragraph(
        way.others.length === 0
          ? c.green('no other page changes')
          : c.yellow(
              `${count(way.others.length, 'other page')} ${way.others.length === 1 ? 'changes' : 'change'}: ${someOf(way.others, PAGES_NAMED)}`,
            ),
        columns,
        3,
      ),
      ...(way.caused.length > 0 ? [paragraph(c.red(`causes ${rulesOf(way.caused)}`), columns, 3)] : []),
      ...(way.cured.length > 0 ? [paragraph(c.green(`resolves ${rulesOf(way.cured)}`), columns, 3)] : []),
    ].join('\n')
  const not = blocked
    .slice(0, BLOCKED_NAMED)
    .map(({ title, because }) => paragraph(`${c.dim('–')} ${title}: ${because}`, columns, 0))
  return (
    [
      ...ways.map(wayText),
      ...(not.length > 0 ? [`${c.bold('What does not work:')}\n${not.join('\n')}`] : []),
      ways.length === 0 ? 'No way was found.' : `${count(ways.length, 'way')}; --apply <n> writes one to the files`,
    ].join('\n\n') + '\n'
  )
}

/** The rules of findings, with how many of each; their keys are in the JSON. */
function rulesOf(keys: readonly string[]): string {
  const counts = new Map<string, number>()
  for (const key of keys) {
    const rule = key.slice(0, key.indexOf('@'))
    counts.set(rule, (counts.get(rule) ?? 0) + 1)
  }
  return [...counts].map(([rule, n]) => (n > 1 ? `${rule} (${n})` : rule)).join(', ')
}
