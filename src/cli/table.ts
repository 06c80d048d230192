import type { Command } from 'commander'
import { stringify } from 'csv-stringify/sync'
import { tableDocument } from '../draw/documents.js'
import { facetsInPx } from '../measure/facets.js'
import { measurePage } from '../measure/page.js'
import type { ResolvedPage } from '../resolve/page.js'
import { addCommand } from './command.js'
import { ExitCode, type Io } from './io.js'
import { formatOption, listOption, viewportOption, whereOption } from './options.js'
import { findViewports, openSite, type SiteOptions } from './site-argument.js'
import { propertyNamed } from './property.js'
import { columnsOf, count, json, plain } from './text.js'
import { pagesWhere } from './where.js'
import { PROPERTY_PATHS } from '../model/facets.js'
import { isObject, own, type Json } from '../model/json.js'

interface TableOptions extends SiteOptions {
  readonly format: 'text' | 'csv' | 'json'
  readonly viewport?: string
  readonly where?: readonly string[]
  readonly columns?: readonly string[]
}

/** `table [site]`: all pages by facet. */
export function addTable(program: Command, io: Io, done: (code: ExitCode) => void): void {
  addCommand<TableOptions>(program, io, done, {
    name: 'table',
    examples: [
      'wembra table',
      'wembra table --where kind=article,tag=meteors --where under=visit',
      'wembra table --columns template,header.position,width.max --viewport phone',
      'wembra table --format csv > pages.csv',
    ],
    options: [
      formatOption(['text', 'csv', 'json']),
      viewportOption('only at this viewport; default: the first in text, all in CSV and JSON'),
      whereOption(),
      listOption('--columns <property>', 'only these properties: template,header.position'),
    ],
    run: (_words, options, site, io) => {
      const resolved = openSite(site, io)
      const viewports = findViewports(resolved.site.viewports, options.viewport)
      const pages = pagesWhere(resolved, options.where)
      const columns = options.columns?.map(propertyNamed)
      io.out(FORMATS[options.format]({ pages, viewports, columns }, io))
      return ExitCode.fine
    },
  })
}

interface Asked {
  readonly pages: readonly ResolvedPage[]
  readonly viewports: readonly string[]
  readonly columns: readonly string[] | undefined
}

const FORMATS: Readonly<Record<TableOptions['format'], (asked: Asked, io: Io) => string>> = {
  json: ({ pages, viewports }) => json(tableDocument(pages, viewports)),
  csv: tableCsv,
  text: tableText,
}

const HEAD = ['page', 'template', 'header', 'footer', 'title', 'sidebar', 'width', 'spacing']

function tableText({ pages, viewports, columns }: Asked, io: Io): string {
  const [viewport = ''] = viewports
  const c = io.colors
  const head = columns ? ['page', ...columns] : HEAD
  const rows = pages.map((page) => (columns ? propertyRow(page, viewport, columns) : tableRow(page, viewport)))
  const table =
    rows.length > 0
      ? columnsOf(
          rows,
          head.map((text) => c.dim(text)),
        )
      : 'No page matches.'
  return `${table}\n${c.dim(`${count(pages.length, 'page')} at ${viewport}; lengths in px`)}\n`
}

function propertyRow(page: ResolvedPage, viewport: string, columns: readonly string[]): string[] {
  if (page.dormant) return [page.id, 'dormant', ...columns.slice(1).map(() => '')]
  const facets = facetsInPx(measurePage(page, viewport))
  return [page.id, ...columns.map((path) => plain(cellOf(page, facets, path)))]
}

function cellOf(page: ResolvedPage, facets: ReturnType<typeof facetsInPx>, path: string): Json {
  if (path === 'template') return page.choice.template?.id ?? null
  const [facet = '', property = '', item] = path.split('.')
  const value = facets[facet]?.[property] ?? null
  return item === undefined ? value : isObject(value) ? (own(value, item) ?? 'shown') : 'shown'
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

/** One row a page and viewport, one column a property; quoted as RFC 4180 defines. */
function tableCsv({ pages, viewports, columns }: Asked): string {
  const awake = pages.filter((page) => !page.dormant)
  const paths = columns ?? ['template', ...PROPERTY_PATHS]
  const lines = awake.flatMap((page) =>
    viewports.map((viewport) => {
      const facets = facetsInPx(measurePage(page, viewport))
      return [page.id, viewport, ...paths.map((path) => cell(cellOf(page, facets, path)))]
    }),
  )
  return stringify([['page', 'viewport', ...paths], ...lines], { record_delimiter: 'windows' })
}

const cell = (value: unknown): string =>
  value === null || value === undefined ? '' : typeof value === 'object' ? JSON.stringify(value) : String(value)
