import { Option, type Command } from 'commander'
import { parse } from 'yaml'
import { waysTo, type Goal, type Way, type Ways } from '../change/ways.js'
import { waysDocument } from '../draw/documents.js'
import type { Json } from '../model/json.js'
import type { Where } from '../model/site-data.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { addCommand, choice } from './command.js'
import { ExitCode, UsageError, type Io } from './io.js'
import { readClock } from './options.js'
import { propertyNamed } from './property.js'
import { findPage, openSite, splitSite, type SiteOptions } from './site-argument.js'
import { takePatch, undoOption, type TakeOptions } from './take.js'
import { count, json, paragraph, someOf } from './text.js'
import { isSelector, pagesWhere, parseSelectors } from './where.js'

interface WaysCliOptions extends SiteOptions {
  readonly undo?: string
  readonly format: 'text' | 'json'
  readonly where?: readonly string[]
  readonly take?: string
  readonly now?: string
}

/** `ways <page> <goal…> [site]`: how do I get this page to look so, and what else would change? */
export function addWays(program: Command, io: Io, done: (code: ExitCode) => void): void {
  addCommand<WaysCliOptions>(program, io, done, {
    name: 'ways',
    examples: [
      'wembra ways visit header=absent',
      'wembra ways visit header.use=bare-header footer.use=small-footer width.mode=full',
      'wembra ways --where under=volunteers width.mode=full',
      'wembra ways visit title=shown --take 1',
    ],
    options: [
      choice('--format <format>', 'how to print', ['text', 'json'], 'text'),
      new Option('--where <selector...>', 'these pages instead of one: kind=article,tag=meteors'),
      new Option('--take <n>', 'write the nth way into the files'),
      undoOption(),
      new Option('--now <date>', 'the day that years and countdowns are held against; default today'),
    ],
    run: (given, options) => {
      // The list after --where goes on until the next option; what is no selector in it is a goal or the site.
      const selectors = options.where?.filter(isSelector)
      const { words, site } = splitSite([...given, ...(options.where ?? []).filter((w) => !isSelector(w))], options)
      const goals = words.filter((word) => word.includes('=')).map(readGoal)
      const ids = words.filter((word) => !word.includes('='))
      if (goals.length === 0) throw new UsageError('say what the page should get: wembra ways visit header=absent')
      if (ids.length > 1 || (ids.length === 0) === (selectors === undefined))
        throw new UsageError('name one page, or several with --where: wembra ways --where kind=article title=shown')
      const resolved = openSite(site, io)
      const pages = selectors
        ? pagesWhere(resolved, selectors).map((page) => page.id)
        : ids.map((id) => findPage(resolved, id).id)
      if (pages.length === 0) throw new UsageError('no page is meant by this --where')
      const now = readClock(options.now)
      const where = selectors && (parseSelectors(selectors) as Where)
      const found = waysTo(resolved, pages, goals, { ...(now && { now }), ...(where && { where }) })
      if (options.take !== undefined) return take(resolved, found, options.take, options, io)
      io.out(options.format === 'json' ? json(waysDocument(pages, goals, found)) : waysText(pages, found, io))
      return ExitCode.fine
    },
  })
}

function readGoal(word: string): Goal {
  const at = word.indexOf('=')
  const property = propertyNamed(word.slice(0, at))
  if (property === 'template') throw new UsageError('a template is a way, not a goal; say what the page should get')
  return { property, value: parse(word.slice(at + 1)) as Json }
}

function take(resolved: ResolvedSite, { ways }: Ways, text: string, options: TakeOptions, io: Io): ExitCode {
  const way = ways[Number(text) - 1]
  if (!way)
    throw new UsageError(
      `there is no way ${text}; ${ways.length === 0 ? 'none was found' : `there are 1 to ${ways.length}`}`,
    )
  return takePatch(resolved.site, way.patch, way.title, options, io)
}

const PAGES_NAMED = 8
const BLOCKED_NAMED = 6

function waysText(pages: readonly string[], { isMet, ways, blocked }: Ways, io: Io): string {
  const { colours: c, columns } = io
  const meant = pages.length === 1 ? `The page ${pages[0]}` : `Each of these ${pages.length} pages`
  if (isMet) return `${c.green(`${meant} has it already.`)}\n`
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
      ...(way.caused.length > 0 ? [paragraph(c.red(`brings ${rulesOf(way.caused)}`), columns, 3)] : []),
      ...(way.cured.length > 0 ? [paragraph(c.green(`ends ${rulesOf(way.cured)}`), columns, 3)] : []),
    ].join('\n')
  const not = blocked
    .slice(0, BLOCKED_NAMED)
    .map(({ title, because }) => paragraph(`${c.dim('–')} ${title}: ${because}`, columns, 0))
  return (
    [
      ...ways.map(wayText),
      ...(not.length > 0 ? [`${c.bold('What would not do:')}\n${not.join('\n')}`] : []),
      ways.length === 0 ? 'No way was found.' : `${count(ways.length, 'way')}; --take <n> writes one into the files`,
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
