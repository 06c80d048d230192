import type { Box } from '../measure/box.js'
import type { PageMeasure } from '../measure/page-measure.js'
import { coveredArea, decidedBy, isNamed, nameOf } from './box-names.js'
import { placeCallouts } from './callouts.js'

/** Most lines of a drawing; a longer page is drawn flatter, so that it still fits. */
const MOST_ROWS = 64
/** A terminal's cell is about twice as tall as it is wide. */
const CELL_ASPECT = 2
const LABEL_COLUMNS = 44
const LETTERS = 'abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ'
const COVERED = '▒'

interface Cells {
  readonly left: number
  readonly right: number
  readonly top: number
  readonly bottom: number
}

/**
 * Draws a page at one viewport in characters: each box an outline with a letter at its corner, named beside the drawing
 * with its px and who decided it; what a fixed or overlay header lies over is shaded.
 *
 * @param columns - Of the terminal; the drawing takes what the names leave.
 * @example
 * drawTerminal(measurePage(resolved.page('visit'), 'phone'), 80).includes('header') // => true
 */
export function drawTerminal(measure: PageMeasure, columns = 100): string {
  const { viewport } = measure
  const across = Math.max(20, columns - LABEL_COLUMNS - 3)
  const pageHeight = Math.max(measure.box('page')?.height ?? 0, viewport.height)
  const px = viewport.width / across
  const down = Math.min(MOST_ROWS, Math.max(8, Math.round(pageHeight / (px * CELL_ASPECT))))
  const cellsOf = ({ x, y, width, height }: Omit<Box, 'ledger'>): Cells => {
    const column = (n: number): number => Math.min(across - 1, Math.max(0, Math.round(n / px)))
    const row = (n: number): number => Math.min(down - 1, Math.max(0, Math.round((n * down) / pageHeight)))
    const [left, top] = [column(x), row(y)]
    return { left, top, right: Math.max(left, column(x + width) - 1), bottom: Math.max(top, row(y + height) - 1) }
  }
  const grid = Array.from({ length: down }, () => Array.from({ length: across }, () => ' '))
  const covered = coveredArea(measure)
  const named = measure.boxes.filter((box) => (isNamed(box) || box.id.startsWith('arrange:')) && box.height > 0)
  for (const box of named) outline(grid, cellsOf(box))
  if (covered) shade(grid, cellsOf(covered))
  const number = (n: number): string => String(Math.round(n * 10) / 10)
  const labels = named.map((box, index) => {
    const letter = LETTERS[index % LETTERS.length] as string
    const cells = cellsOf(box)
    mark(grid, cells, letter)
    const size = `${number(box.width)} × ${number(box.height)} at y ${number(box.y)}${decidedBy(box, measure)}`
    return { y: cells.top, lines: [`${letter} ${nameOf(box, measure)}`, `  ${size}`] }
  })
  if (covered)
    labels.push({
      y: cellsOf(covered).top,
      lines: [`${COVERED} covered: ${number(covered.height)} px under the header`],
    })
  const beside: string[] = []
  for (const { top, lines } of placeCallouts(labels, 1, 0)) lines.forEach((line, n) => (beside[top + n] = line))
  const rows = Math.max(down, beside.length)
  const drawn = Array.from({ length: rows }, (_, row) => {
    const edge = row < down ? '│' : ' '
    const picture = row < down ? (grid[row] as string[]).join('') : ' '.repeat(across)
    return `${edge}${picture}${edge} ${beside[row] ?? ''}`.trimEnd()
  })
  return `${viewport.name}, ${viewport.width} × ${viewport.height}\n${drawn.join('\n')}`
}

type Grid = string[][]

const put = (grid: Grid, row: number, column: number, sign: string): void => {
  const line = grid[row]
  if (line && column >= 0 && column < line.length) line[column] = sign
}

function outline(grid: Grid, { left, right, top, bottom }: Cells): void {
  for (let row = top; row <= bottom; row++)
    for (let column = left; column <= right; column++) {
      const [isTop, isBottom] = [row === top, row === bottom]
      const [isLeft, isRight] = [column === left, column === right]
      const corner = isTop ? (isLeft ? '┌' : '┐') : isLeft ? '└' : '┘'
      const flat = top === bottom
      const sign =
        (isTop || isBottom) && (isLeft || isRight) && !flat
          ? corner
          : isTop || isBottom
            ? '─'
            : isLeft || isRight
              ? '│'
              : ' '
      put(grid, row, column, sign)
    }
}

function shade(grid: Grid, { left, right, top, bottom }: Cells): void {
  for (let row = top; row <= bottom; row++)
    for (let column = left + 1; column < right; column++) put(grid, row, column, COVERED)
}

/** Writes a box's letter on its upper edge, right of those that are there already. */
function mark(grid: Grid, { left, right, top }: Cells, letter: string): void {
  let column = left + 1
  while (column < right && /[a-zA-Z]/.test(grid[top]?.[column] ?? '')) column += 1
  put(grid, top, column, letter)
}
