import type { Finding, Numbers, PlaceOnPage } from '../inspect/rule.js'
import { findRule, type RuleId } from '../inspect/rules/index.js'
import { frontPathOf } from './front-page.js'
import type { Observation, ObservedBox } from './observation.js'
import { folded, sitePath } from './seen-words.js'

/** A conflict as it is seen on real pages: `pages` are their addresses. */
export interface SeenFinding extends Finding {
  readonly boxes: readonly PlaceOnPage[]
}

/** One thing that is wrong on one page at one viewport. */
interface Sighting {
  readonly rule: RuleId
  readonly selector: string
  readonly what: string
  readonly numbers: Numbers
  readonly box: ObservedBox | undefined
}

/**
 * What a visitor finds wrong on real pages: each rule checked against what was seen, with nothing worked out in between.
 *
 * @param observations - Of pages that were laid out by a browser; of others nothing is known.
 */
export function seenFindings(observations: readonly Observation[]): readonly SeenFinding[] {
  const front = frontPathOf(observations)
  const groups = new Map<string, { sighting: Sighting; at: Observation }[]>()
  for (const seen of observations) {
    if (seen.viewport === null) continue
    const isFront = sitePath(seen.url, seen.url, undefined) === front
    for (const sighting of [...faultsIn(seen), ...headingsIn(seen), ...titlesIn(seen, isFront)]) {
      // The same heading on many pages is one, wherever it is on each.
      const isHeading = sighting.rule === 'headings-out-of-order'
      const key = `${sighting.rule} ${isHeading ? `${sighting.what} ${sighting.numbers['before']}` : sighting.selector}`
      groups.set(key, [...(groups.get(key) ?? []), { sighting, at: seen }])
    }
  }
  const found = [...groups.values()].map(findingOf)
  return found.sort((a, b) => ORDER.indexOf(a.severity) - ORDER.indexOf(b.severity) || b.pages.length - a.pages.length)
}

const ORDER = ['error', 'warning', 'note']

const faultsIn = ({ faults = [] }: Observation): readonly Sighting[] => faults

/** Headings that are more than one heading 1, or leave a level out. */
function headingsIn({ headings, parts }: Observation): readonly Sighting[] {
  const out: Sighting[] = []
  const title = folded(parts.title?.text ?? '').toLowerCase()
  let before = 0
  for (const { level, text, presence, place, selector = `h${level}`, box } of headings) {
    if (presence === 'hidden' || place !== 'body') continue
    const isTitle = folded(text).toLowerCase() === title
    const isSkip = before === 0 ? level > 2 : level > before + 1
    const isExtra = level === 1 && before > 0 && !isTitle
    if (isSkip || isExtra)
      out.push({ rule: 'headings-out-of-order', selector, what: text, numbers: { level, before }, box })
    before = level
  }
  return out
}

/** A title that is seen twice, or not at all. */
function titlesIn({ headings, parts }: Observation, isFront: boolean): readonly Sighting[] {
  const shown = headings.filter(({ presence, text }) => presence === 'shown' && folded(text) !== '')
  const title = parts.title?.presence === 'shown' ? folded(parts.title.text ?? '').toLowerCase() : ''
  const same = shown.filter(
    ({ text, place, level }) => place === 'body' && level <= 2 && folded(text).toLowerCase() === title,
  )
  const [, second] = same
  if (title !== '' && second) {
    const { selector = 'h1', text, box } = second
    return [{ rule: 'title-doubled', selector, what: text, numbers: { titles: same.length }, box }]
  }
  if (title !== '' || isFront || shown.some(({ level }) => level === 1)) return []
  const { content } = parts
  return [
    {
      rule: 'title-missing',
      selector: content?.selector ?? 'body',
      what: '',
      numbers: {},
      box: content?.box && { ...content.box, height: Math.min(content.box.height, 200) },
    },
  ]
}

function findingOf(group: readonly { sighting: Sighting; at: Observation }[]): SeenFinding {
  const [first] = group as [{ sighting: Sighting; at: Observation }]
  const rule = findRule(first.sighting.rule)
  const [measure] = rule.numbers
  const sign = rule.worst === 'smallest' ? -1 : 1
  const size = ({ numbers }: Sighting): number => sign * (numbers[measure ?? ''] ?? 0)
  const worst = group.reduce((a, b) => (size(b.sighting) > size(a.sighting) ? b : a)).sighting
  const views = group.map(({ at, sighting }) => ({ page: at.url, viewport: nameOf(at), sighting }))
  return {
    key: `${rule.id}@${first.at.url} ${first.sighting.selector}`,
    ...{ rule: rule.id, severity: rule.severity, facet: rule.facet },
    pages: [...new Set(views.map(({ page }) => page))],
    viewports: [...new Set(views.map(({ viewport }) => viewport))],
    certainty: 'measured',
    message: MESSAGES[worst.rule]?.(worst) ?? rule.summary,
    advice: rule.advice,
    numbers: worst.numbers,
    cases: views.map(({ page, viewport, sighting: { numbers } }) => ({ page, viewport, numbers })),
    at: { file: first.at.url, line: 1, column: 1, pointer: '', selector: first.sighting.selector },
    related: [],
    fixes: [],
    boxes: views.flatMap(({ page, viewport, sighting: { box } }) => (box ? [{ page, viewport, box }] : [])),
  }
}

const nameOf = ({ viewport }: Observation): string => viewport?.name ?? `w${viewport?.width}`

const quoted = ({ what }: Sighting): string => (what === '' ? 'something' : `“${what}”`)
const number = (n: number | undefined): string => String(Math.round((n ?? 0) * 100) / 100)

/** A sentence for each rule that is checked against what is seen. */
const MESSAGES: Partial<Record<RuleId, (worst: Sighting) => string>> = {
  overflow: (each) => `the page slides ${number(each.numbers['over'])} px sideways: ${quoted(each)} reaches too far`,
  'header-covers-content': (each) =>
    `the header covers ${number(each.numbers['covered'])} px of ${quoted(each)} before anything is scrolled`,
  'header-unreadable': (each) =>
    `${quoted(each)} in the header has a contrast of ${number(each.numbers['ratio'])} with what is behind it; ${number(each.numbers['needed'])} is needed`,
  'text-unreadable': (each) =>
    `${quoted(each)} has a contrast of ${number(each.numbers['ratio'])} with what is behind it; ${number(each.numbers['needed'])} is needed`,
  'content-at-edge': (each) =>
    `${quoted(each)} touches the ${each.numbers['side'] === 3 ? 'left' : 'right'} edge of the window`,
  'sidebar-empty': (each) => `a sidebar keeps ${number(each.numbers['reserved'])} px of width and shows nothing`,
  'headings-out-of-order': (each) =>
    each.numbers['level'] === 1
      ? `${quoted(each)} is one more heading 1`
      : each.numbers['before'] === 0
        ? `${quoted(each)} is the first heading, and of level ${each.numbers['level']}`
        : `${quoted(each)} is of level ${each.numbers['level']}, below a heading of level ${each.numbers['before']}`,
  'title-doubled': (each) => `the title is seen ${each.numbers['titles']} times: ${quoted(each)} once more`,
  'title-missing': () => 'no title and no heading 1 is seen',
}
