import type { SiteDiff } from '../change/diff.js'
import type { FindingChange } from '../change/finding-changes.js'
import type { BoxChange, ChangeGroup } from '../change/page-changes.js'
import type { PageState, Rectangle } from '../change/snapshot.js'
import { isObject, type Json } from '../model/json.js'
import { countOf, someOf } from './count.js'

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

/** "14 pages change in the same way". */
export const groupHeadline = ({ pages }: ChangeGroup): string =>
  pages.length === 1 ? `1 page: ${pages[0] ?? ''}` : `${countOf(pages.length, 'page')} change in the same way`

/** How much changes, in one sentence. */
export function diffSummary(diff: SiteDiff): string {
  const changed = diff.groups.reduce((sum, group) => sum + group.pages.length, 0)
  const { cured, caused, worse, better } = diff
  const findings = `${caused.length} new, ${cured.length} gone, ${worse.length} worse, ${better.length} better`
  return `${countOf(changed, 'page')} changed, ${diff.unchanged} as before; findings: ${findings}`
}

/** Pages that come, go, or are found by others; what surrounds print. A line each. */
export function siteChangesInWords(diff: SiteDiff): readonly string[] {
  const named = (pages: readonly string[]): string => someOf(pages, PAGES_NAMED)
  return [
    ...(diff.added.length > 0 ? [`${countOf(diff.added.length, 'page')} added: ${named(diff.added)}`] : []),
    ...(diff.removed.length > 0 ? [`${countOf(diff.removed.length, 'page')} removed: ${named(diff.removed)}`] : []),
    ...diff.states.map(
      ({ pages, before, after }) =>
        `${countOf(pages.length, 'page')} ${STATES[before]} → ${STATES[after]}: ${named(pages)}`,
    ),
    ...diff.surrounds.map(({ surround, gained, lost }) => {
      const parts = [
        ...(gained.length > 0 ? [`gains ${gained.join(', ')}`] : []),
        ...(lost.length > 0 ? [`loses ${lost.join(', ')}`] : []),
      ]
      return `the surround "${surround}" ${parts.join(' and ')}`
    }),
  ]
}

const PAGES_NAMED = 12

const STATES: Readonly<Record<PageState, string>> = {
  public: 'public',
  hidden: 'hidden from site and search',
  members: 'members only',
  draft: 'draft',
  dormant: 'dormant (its extension is off)',
}

/** Findings that come, go, get worse or better, a line each: how, and which. */
export function findingChangesInWords({
  cured,
  caused,
  worse,
  better,
  pagesOf,
}: SiteDiff): readonly (readonly [FindingWord, string])[] {
  const onPages = (key: string, state: 0 | 1): string => {
    const pages = pagesOf[key]?.[state] ?? 0
    return pages === 0 ? key : `${key} on ${countOf(pages, 'page')}`
  }
  const changed = ({ key, before, after }: FindingChange): string => {
    const parts = [
      ...(before.pages.length === after.pages.length
        ? []
        : [`${before.pages.length} → ${countOf(after.pages.length, 'page')}`]),
      ...(before.worst === after.worst ? [] : [`${said(before.worst)} → ${said(after.worst)}`]),
    ]
    return `${key}${parts.length > 0 ? `: ${parts.join(', ')}` : ''}`
  }
  return [
    ...caused.map((key) => ['new', onPages(key, 1)] as const),
    ...worse.map((change) => ['worse', changed(change)] as const),
    ...better.map((change) => ['better', changed(change)] as const),
    ...cured.map((key) => ['gone', onPages(key, 0)] as const),
  ]
}

export type FindingWord = 'new' | 'worse' | 'better' | 'gone'

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
  const isBodyOnly = facets.length + moved.length === 0
  return [...facets, ...moved, ...(isBodyOnly ? boxesInWords(group.boxes) : []), ...rules]
}

const BOXES_NAMED = 8

/** "section:hero 24 px lower, 10 px taller at desk", viewports with the same change together. */
function boxesInWords(boxes: readonly BoxChange[]): readonly string[] {
  const byChange = new Map<string, string[]>()
  for (const change of boxes) {
    const words = `${change.box} ${boxInWords(change)}`
    byChange.set(words, [...(byChange.get(words) ?? []), change.viewport])
  }
  const lines = [...byChange].map(([words, at]) => `${words} at ${at.join(', ')}`)
  const more = lines.length - BOXES_NAMED
  return [...lines.slice(0, BOXES_NAMED), ...(more > 0 ? [`${countOf(more, 'more change')} of boxes`] : [])]
}

function boxInWords({ before, after }: BoxChange): string {
  if (!before || !after) {
    const [x, y, width, height] = (before ?? after) as Rectangle
    const where = `${px(width)} x ${px(height)} at ${Math.round(x)}, ${Math.round(y)}`
    return before ? `is gone (it was ${where})` : `is new, ${where}`
  }
  const [dx, dy, dw, dh] = [0, 1, 2, 3].map((n) => (after[n] as number) - (before[n] as number)) as [
    number,
    number,
    number,
    number,
  ]
  const parts = [
    ...(dy === 0 ? [] : [`${px(dy)} ${dy > 0 ? 'lower' : 'higher'}`]),
    ...(dx === 0 ? [] : [`${px(dx)} further ${dx > 0 ? 'right' : 'left'}`]),
    ...(dw === 0 ? [] : [`${px(dw)} ${dw > 0 ? 'wider' : 'narrower'}`]),
    ...(dh === 0 ? [] : [`${px(dh)} ${dh > 0 ? 'taller' : 'shorter'}`]),
  ]
  return parts.join(', ')
}

/** "content begins 96 px higher at desk", viewports with the same move together. */
function contentMoves({ contentMoves: moves }: ChangeGroup): readonly string[] {
  const byMove = new Map<number, string[]>()
  for (const [viewport, move] of Object.entries(moves)) byMove.set(move, [...(byMove.get(move) ?? []), viewport])
  return [...byMove].map(
    ([move, at]) => `content begins ${px(move)} ${move < 0 ? 'higher' : 'lower'} at ${at.join(', ')}`,
  )
}
