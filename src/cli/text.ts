import Table from 'cli-table3'
import stringWidth from 'string-width'
import { wrapAnsi } from 'fast-wrap-ansi'
import type { Json } from '../model/json.js'
import { isObject } from '../model/json.js'
import { placeOf } from '../draw/findings/place.js'
import type { SourcePlace } from '../model/problem.js'

/** Text in lines of at most some columns, each indented. */
export function paragraph(text: string, columns: number, indent = 2): string {
  const wrapped = wrapAnsi(text, Math.max(20, columns - indent), { hard: false })
  return wrapped.replace(/^/gm, ' '.repeat(indent))
}

const BARE = Object.fromEntries(
  ['top', 'top-mid', 'top-left', 'top-right', 'bottom', 'bottom-mid', 'bottom-left', 'bottom-right']
    .concat(['left', 'left-mid', 'mid', 'mid-mid', 'right', 'right-mid'])
    .map((part) => [part, '']),
)

/** A table without lines, two spaces between columns. */
export function columnsOf(rows: readonly (readonly string[])[], head?: readonly string[]): string {
  const all = head ? [head, ...rows] : rows
  const widths: number[] = []
  for (const row of all) for (const [n, cell] of row.entries()) widths[n] = Math.max(widths[n] ?? 0, widest(cell))
  const parts: string[] = []
  for (let from = 0; from < all.length; from += AT_ONCE) {
    const table = new Table({
      chars: { ...BARE, middle: '  ' },
      style: { 'padding-left': 0, 'padding-right': 0, head: [], border: [] },
      colWidths: widths,
    })
    for (const row of all.slice(from, from + AT_ONCE)) table.push([...row])
    parts.push(table.toString())
  }
  return parts
    .join('\n')
    .split('\n')
    .map((line) => line.trimEnd())
    .join('\n')
}

const widest = (cell: string): number => Math.max(...cell.split('\n').map((line) => stringWidth(line)))

/** The table library compares each row with those before it: so many are laid out together. */
const AT_ONCE = 20

/** A value as people read it. */
export function plain(value: Json | undefined): string {
  if (value === null || value === undefined) return '–'
  if (value === true) return 'yes'
  if (value === false) return 'no'
  if (typeof value === 'number') return String(Math.round(value * 10) / 10)
  if (Array.isArray(value)) {
    const [top, right, bottom, left] = value.map((v) => plain(v as Json))
    return top === bottom && right === left
      ? top === right
        ? `${top}`
        : `${top} ${right}`
      : value.map((v) => plain(v as Json)).join(' ')
  }
  if (isObject(value))
    return Object.entries(value)
      .map(([key, each]) => `${key} ${plain(each)}`)
      .join(', ')
  return String(value)
}

export const placeText = (at: SourcePlace | null): string => (at ? placeOf(at) : '(built in)')

export { countOf as count, someOf } from '../draw/count.js'
export const json = (document: unknown): string => `${JSON.stringify(document, null, 2)}\n`
