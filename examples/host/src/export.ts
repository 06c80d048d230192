import { stringify } from 'csv-stringify/sync'
import { create } from 'xmlbuilder2'
import type { Entry, Store, Value } from './store.js'

/** The tables of an export. */
export const TABLES = [
  'entries',
  'layouts',
  'rules',
  'regions',
  'types',
  'tools',
  'plugins',
  'menus',
  'media',
  'strips',
  'settings',
] as const
export type TableName = (typeof TABLES)[number]
type Row = Readonly<Record<string, unknown>>

function rowsOf(store: Store): Readonly<Record<TableName, readonly Row[]>> {
  const withId = (things: Readonly<Record<string, object>>): readonly Row[] =>
    Object.entries(things).map(([id, thing]) => ({ id, ...thing }))
  const asValue = (things: Readonly<Record<string, unknown>>): readonly Row[] =>
    Object.entries(things).map(([id, value]) => ({ id, value }))
  return {
    entries: [...store.entries.values()].map((entry: Entry, n) => ({ ...entry, visits: 1000 - n })),
    layouts: withId(store.layouts),
    rules: store.rules.map((rule) => ({ ...rule })),
    regions: asValue(store.regions),
    types: withId(store.types),
    tools: withId(store.tools),
    plugins: withId(store.plugins),
    menus: asValue(store.menus),
    media: asValue(store.media),
    strips: store.strips.map((strip) => ({ ...strip })),
    settings: Object.entries({
      ...{ name: store.name, address: store.address, options: store.options, ground: store.ground, roles: store.roles },
      ...{ policies: store.policies, allowed: store.allowed, css: store.css },
    }).map(([key, value]) => ({ key, value })),
  }
}

/** Everything as JSON, nested as it is kept. */
export const exportJson = (store: Store): object => ({ host: 'Tarnlight', version: 3, ...rowsOf(store) })

/** One table as CSV: lists of words by `|`, what is nested as JSON in its cell. */
export function exportCsv(store: Store, table: TableName): string {
  const rows = rowsOf(store)[table]
  const columns = [...new Set(rows.flatMap((row) => Object.keys(row)))]
  return stringify(
    rows.map((row) => columns.map((column) => cellOf(row[column]))),
    { header: true, columns, bom: true },
  )
}

/** Everything as XML: an element a row, an element a field. */
export function exportXml(store: Store): string {
  const root = create().ele('site', { host: 'Tarnlight', version: '3' })
  for (const [table, rows] of Object.entries(rowsOf(store)))
    for (const row of rows) {
      const element = root.ele(table)
      for (const [name, value] of Object.entries(row)) if (value !== undefined) element.ele(name).txt(cellOf(value))
    }
  return root.end({ headless: true })
}

function cellOf(value: unknown): string {
  if (value === undefined || value === null) return ''
  if (Array.isArray(value) && value.every((each) => typeof each === 'string')) return value.join('|')
  return typeof value === 'object' ? JSON.stringify(value) : String(value as Value)
}
