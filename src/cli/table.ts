import { Option, type Command } from 'commander'
import { stringify } from 'csv-stringify/sync'
import { tableDocument } from '../draw/documents.js'
import { facetsInPx } from '../measure/facets.js'
import { measurePage } from '../measure/page.js'
import type { ResolvedPage } from '../resolve/page.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { addCommand, choice } from './command.js'
import { ExitCode, UsageError, type Io } from './io.js'
import { findViewports, openSite, splitSite, type SiteOptions } from './site-argument.js'
import { columnsOf, json, plain } from './text.js'

interface TableOptions extends SiteOptions {
  readonly format: 'text' | 'csv' | 'json'
  readonly viewport?: string
}

/** `table [site]`: all pages by facet. */
export function addTable(program: Command, io: Io, done: (code: ExitCode) => void): void {
  addCommand<TableOptions>(program, io, done, {
    name: 'table',
    words: '[site]',
    summary: 'list all pages by facet',
    examples: ['wembra table', 'wembra table --viewport phone', 'wembra table --format csv > pages.csv'],
    options: [
      choice('--format <format>', 'how to print', ['text', 'csv', 'json'], 'text'),
      new Option('--viewport <name>', 'at this viewport; default the first in text, all in CSV and JSON'),
    ],
    run: (given, options) => {
      const { words, site } = splitSite(given, options)
      if (words.length > 0)
        throw new UsageError(`"${words.join(' ')}" is no site file; a site ends in .yaml, .yml or .json`)
      const resolved = openSite(site, io)
      const viewports = findViewports(resolved, options.viewport)
      io.out(FORMATS[options.format](resolved, viewports, io))
      return ExitCode.fine
    },
  })
}

const FORMATS: Readonly<Record<TableOptions['format'], (r: ResolvedSite, v: readonly string[], io: Io) => string>> = {
  json: (resolved, viewports) => json(tableDocument(resolved.pages(), viewports)),
  csv: tableCsv,
  text: tableText,
}

const HEAD = ['page', 'template', 'header', 'footer', 'title', 'sidebar', 'width', 'spacing']

function tableText(resolved: ResolvedSite, viewports: readonly string[], io: Io): string {
  const [viewport = ''] = viewports
  const rows = [...resolved.pages()].map((page) => tableRow(page, viewport))
  const c = io.colours
  return `${columnsOf(
    rows,
    HEAD.map((text) => c.dim(text)),
  )}\n${c.dim(`at ${viewport}; widths and spacing in px`)}\n`
}

/** A page's six facets, each in a word or two. */
function tableRow(page: ResolvedPage, viewport: string): string[] {
  if (page.dormant) return [page.id, 'dormant', '', '', '', '', '', '']
  const measure = measurePage(page, viewport)
  const { view } = measure
  const bar = (facet: 'header' | 'footer'): string => {
    const presence = view.presence(`${facet}.presence`)
    return presence === 'shown' ? String(view.value(`${facet}.use`) ?? 'empty') : presence
  }
  const position = view.value('header.position')
  const header =
    bar('header') + (position === 'flow' || view.presence('header.presence') !== 'shown' ? '' : ` ${String(position)}`)
  const sidebar = measure.box('sidebar')
  const sidebarText = sidebar
    ? `${String(view.value('sidebar.side'))} ${String(view.value('sidebar.use') ?? 'empty')}`
    : '–'
  const column = measure.box('column')
  const { spacing } = facetsInPx(measure)
  return [
    page.id,
    page.choice.template?.id ?? '–',
    header,
    bar('footer'),
    view.presence('title.presence') + (view.value('title.place') === 'band' ? ' band' : ''),
    sidebarText,
    `${String(view.value('width.mode'))} ${Math.round(column?.width ?? 0)}`,
    [spacing?.['before'], spacing?.['after']].map(plain).join(' '),
  ]
}

/** One row a page and viewport, one column a property; quoted as RFC 4180 says. */
function tableCsv(resolved: ResolvedSite, viewports: readonly string[]): string {
  const { rows } = tableDocument(resolved.pages(), viewports)
  const columns = Object.entries(rows[0]?.facets ?? {}).flatMap(([facet, p]) =>
    Object.keys(p).map((name) => [facet, name] as const),
  )
  const head = ['page', 'viewport', 'template', ...columns.map(([facet, name]) => `${facet}.${name}`)]
  const lines = rows.map((row) => [
    ...[row.page, row.viewport, row.template.id ?? ''],
    ...columns.map(([facet, name]) => cell(row.facets[facet]?.[name])),
  ])
  return stringify([head, ...lines], { record_delimiter: 'windows' })
}

const cell = (value: unknown): string =>
  value === null || value === undefined ? '' : typeof value === 'object' ? JSON.stringify(value) : String(value)
