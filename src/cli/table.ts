import { Option, type Command } from 'commander'
import { stringify } from 'csv-stringify/sync'
import { tableDocument } from '../draw/documents.js'
import { facetsInPx } from '../measure/facets.js'
import { measurePage } from '../measure/page.js'
import type { ResolvedPage } from '../resolve/page.js'
import { addCommand } from './command.js'
import { ExitCode, type Io } from './io.js'
import { formatOption, listOption, viewportOption, whereOption } from './options.js'
import { findViewports, openSite, type SiteOptions } from './site-argument.js'
import { pathNamed } from './property.js'
import { columnsOf, count, json, plain } from './text.js'
import { pagesWhere } from './where.js'
import { PAGE_COLUMNS, pageColumn, type PageColumn } from '../inspect/about-page.js'
import { FACET_NAMES, PROPERTY_PATHS, type PropertyPath } from '../model/facets.js'
import { UnknownNameError } from '../model/unknown-name.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { isObject, own, type Json } from '../model/json.js'

interface TableOptions extends SiteOptions {
  readonly format: 'text' | 'csv' | 'json'
  readonly viewport?: string
  readonly where?: readonly string[]
  readonly columns?: readonly string[]
  readonly by?: 'layer'
}

/** `table [site]`: all pages by facet. */
export function addTable(program: Command, io: Io, done: (code: ExitCode) => void): void {
  addCommand<TableOptions>(program, io, done, {
    name: 'table',
    examples: [
      'wembra table',
      'wembra table --where kind=article,tag=meteors --where under=visit',
      'wembra table --columns template,header.position,width.max --viewport phone',
      'wembra table --columns path,kind,header,exits,words',
      'wembra table --columns header.position,title --by layer',
      'wembra table --format csv > pages.csv',
    ],
    options: [
      formatOption(['text', 'csv', 'json']),
      viewportOption('only at this viewport; default: the first in text, all in CSV and JSON'),
      whereOption(),
      listOption('--columns <column>', `only these: facets, properties, or ${PAGE_COLUMNS.join(', ')}`),
      new Option('--by <what>', 'add to each property who decides it').choices(['layer']),
    ],
    run: (_words, options, site, io) => {
      const resolved = openSite(site, io)
      const viewports = findViewports(resolved.site.viewports, options.viewport)
      const pages = pagesWhere(resolved, options.where)
      const columns = options.columns?.map(columnNamed) ?? (options.by ? FACET_NAMES.map(columnNamed) : undefined)
      io.out(FORMATS[options.format]({ resolved, pages, viewports, columns, byLayer: options.by !== undefined }, io))
      return ExitCode.fine
    },
  })
}

/** A property, or a fact of a page that is none. */
type Column = PropertyPath | PageColumn

const isPageColumn = (column: string): column is PageColumn => (PAGE_COLUMNS as readonly string[]).includes(column)

/** @throws {UnknownNameError} With the columns that are no properties, and the facets. */
function columnNamed(asked: string): Column {
  if (isPageColumn(asked)) return asked
  const path = pathNamed(asked)
  if (path !== undefined) return path
  const known = [...PAGE_COLUMNS, ...FACET_NAMES, ...PROPERTY_PATHS]
  const hint = `use a facet (${FACET_NAMES.join(', ')}), facet.property, or ${PAGE_COLUMNS.join(', ')}`
  throw new UnknownNameError('column', asked, known, hint)
}

interface Asked {
  readonly resolved: ResolvedSite
  readonly byLayer: boolean
  readonly pages: readonly ResolvedPage[]
  readonly viewports: readonly string[]
  readonly columns: readonly Column[] | undefined
}

const FORMATS: Readonly<Record<TableOptions['format'], (asked: Asked, io: Io) => string>> = {
  json: ({ resolved, pages, viewports, columns = [], byLayer }) => {
    const facts = columns.filter(isPageColumn)
    const paths = columns.filter((column): column is PropertyPath => !isPageColumn(column))
    return json(
      tableDocument(resolved, pages, viewports, {
        ...(facts.length > 0 && { columns: facts }),
        ...(byLayer && { layersOf: paths }),
      }),
    )
  },
  csv: tableCsv,
  text: tableText,
}

const HEAD = ['page', 'template', 'header', 'footer', 'title', 'sidebar', 'width', 'spacing']

function tableText({ resolved, pages, viewports, columns, byLayer }: Asked, io: Io): string {
  const [viewport = ''] = viewports
  const c = io.colors
  const head = columns ? ['page', ...columns] : HEAD
  const rows = pages.map((page) => {
    if (!columns) return tableRow(page, viewport)
    if (page.dormant) return [page.id, 'dormant', ...columns.slice(1).map(() => '')]
    const facets = facetsInPx(measurePage(page, viewport))
    const cells = columns.map((column) => {
      const text = inWords(cellOf(resolved, page, viewport, facets, column))
      const layer = byLayer && !isPageColumn(column) ? layerOf(page, viewport, column) : undefined
      return layer === undefined ? text : `${text} ${c.dim(`(${layer})`)}`
    })
    return [page.id, ...cells]
  })
  const table =
    rows.length > 0
      ? columnsOf(
          rows,
          head.map((text) => c.dim(text)),
        )
      : 'No page matches.'
  return `${table}\n${c.dim(`${count(pages.length, 'page')} at ${viewport}; lengths in px`)}\n`
}

const inWords = (value: Json): string =>
  Array.isArray(value) && value.every((each) => typeof each === 'string') ? value.join(', ') : plain(value)

const layerOf = (page: ResolvedPage, viewport: string, path: PropertyPath): string =>
  page.at(viewport).decider(path)?.layer ?? 'baseline'

function cellOf(
  resolved: ResolvedSite,
  page: ResolvedPage,
  viewport: string,
  facets: ReturnType<typeof facetsInPx>,
  column: Column,
): Json {
  if (isPageColumn(column)) return pageColumn(resolved, page, viewport, column) as Json
  const [facet = '', property = '', item] = column.split('.')
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
function tableCsv({ resolved, pages, viewports, columns, byLayer }: Asked): string {
  const awake = pages.filter((page) => !page.dormant)
  const all: readonly Column[] = columns ?? ['template', ...PROPERTY_PATHS]
  const hasLayer = (column: Column): column is PropertyPath => byLayer && !isPageColumn(column)
  const head = all.flatMap((column) => (hasLayer(column) ? [column, `${column} layer`] : [column]))
  const lines = awake.flatMap((page) =>
    viewports.map((viewport) => {
      const facets = facetsInPx(measurePage(page, viewport))
      const cells = all.flatMap((column) => [
        cell(cellOf(resolved, page, viewport, facets, column)),
        ...(hasLayer(column) ? [layerOf(page, viewport, column)] : []),
      ])
      return [cell(page.id), viewport, ...cells]
    }),
  )
  return stringify([['page', 'viewport', ...head], ...lines], { record_delimiter: 'windows' })
}

/** A text that a spreadsheet would take for a formula is marked as text. */
const cell = (value: unknown): string => {
  if (value === null || value === undefined) return ''
  if (typeof value === 'object') return JSON.stringify(value)
  return typeof value === 'string' && /^[=+\-@\t\r]/.test(value) ? `'${value}` : String(value)
}
