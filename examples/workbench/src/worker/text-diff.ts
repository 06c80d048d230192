import { formatPatch, structuredPatch } from 'diff'
import { sameLines } from 'wembra/language'
import type { Texts } from '../session/project.ts'

/** Lines around a change that are shown with it. */
const CONTEXT = 2

/** The lines that would change, file by file, as a unified diff. */
export const textDiff = (before: Texts, after: ReadonlyMap<string, string>): string =>
  [...after].map(([file, text]) => fileDiff(file, before[file] ?? '', text)).join('\n')

/** Only the part between the first and the last line that differ is compared: a change is small, a file may be large. */
function fileDiff(file: string, before: string, after: string): string {
  const [a, b] = [before.split('\n'), after.split('\n')]
  const { first, last } = sameLines(a, b)
  const start = Math.max(0, first - CONTEXT)
  const slice = (lines: readonly string[]): string =>
    lines.slice(start, lines.length - Math.max(0, last - CONTEXT)).join('\n')
  const patch = structuredPatch(file, file, slice(a), slice(b), undefined, undefined, { context: CONTEXT })
  for (const hunk of patch.hunks) {
    hunk.oldStart += start
    hunk.newStart += start
  }
  return formatPatch(patch)
    .replace(/^(Index:.*|=+)\n/gm, '')
    .split('\n')
    .slice(0, MOST_LINES)
    .map((line) => (line.length > MOST_LETTERS ? `${line.slice(0, MOST_LETTERS)}…` : line))
    .join('\n')
}

/** More than a person reads before a change is applied: a file may be one long line. */
const [MOST_LINES, MOST_LETTERS] = [400, 400]
