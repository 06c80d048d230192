import type { ChangeGroup } from '../change/diff.js'
import { isObject, type Json } from '../model/json.js'

const px = (n: number): string => `${Math.round(Math.abs(n) * 10) / 10} px`

function said(value: Json): string {
  if (value === null) return 'nothing'
  if (typeof value === 'number') return String(Math.round(value * 10) / 10)
  if (Array.isArray(value)) return (value as readonly Json[]).map(said).join(' ')
  if (isObject(value))
    return Object.entries(value)
      .map(([key, each]) => `${key} ${said(each)}`)
      .join(', ')
  return String(value)
}

/** "14 pages change alike". */
export const groupHeadline = ({ pages }: ChangeGroup): string =>
  pages.length === 1 ? `1 page: ${pages[0] ?? ''}` : `${pages.length} pages change alike`

/** What changes on the pages of a group, a line each. */
export function changeInWords(group: ChangeGroup): readonly string[] {
  const viewports = new Set(group.facets.flatMap((change) => change.viewports))
  const where = (at: readonly string[]): string => (at.length === viewports.size ? '' : ` at ${at.join(', ')}`)
  const facets = group.facets.map(
    ({ property, before, after, viewports: at }) => `${property} ${said(before)} → ${said(after)}${where(at)}`,
  )
  const rules = [
    ...(group.cured.length > 0 ? [`gone: ${group.cured.join(', ')}`] : []),
    ...(group.caused.length > 0 ? [`new: ${group.caused.join(', ')}`] : []),
  ]
  const moved = contentMoves(group)
  const boxes = new Set(group.boxes.map(({ box }) => box))
  const isBodyOnly = facets.length + moved.length === 0 && boxes.size > 0
  return [...facets, ...moved, ...(isBodyOnly ? [`boxes change: ${[...boxes].slice(0, 8).join(', ')}`] : []), ...rules]
}

/** "content begins 96 px higher at desk", viewports with the same move together. */
function contentMoves({ contentMoves: moves }: ChangeGroup): readonly string[] {
  const byMove = new Map<number, string[]>()
  for (const [viewport, move] of Object.entries(moves)) byMove.set(move, [...(byMove.get(move) ?? []), viewport])
  return [...byMove].map(
    ([move, at]) => `content begins ${px(move)} ${move < 0 ? 'higher' : 'lower'} at ${at.join(', ')}`,
  )
}
