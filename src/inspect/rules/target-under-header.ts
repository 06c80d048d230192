import { anchorsOf } from '../links.js'
import { px } from '../words.js'
import { viewRule } from '../rule.js'
import type { MeasuredSection } from '../../measure/section.js'
import type { Sight } from '../sight.js'
import { TOLERANCE_PX } from '../thresholds.js'

/** Jump links whose targets end under the header. */
export const targetUnderHeader = viewRule({
  id: 'target-under-header',
  severity: 'warning',
  facet: 'header',
  summary:
    'A link within the page leads to a place that ends up under the header, which stays when the page is scrolled.',
  matters: 'The visitor lands past the heading they asked for, and thinks the link is wrong.',
  holds:
    'The header is `sticky` or `fixed`, and a link `#id` of the page leads to a section whose top padding is less than the height of the header that stays (its rows with `stays`, else all of it). needed is that height, the scroll margin that would do; hidden what of the target is covered.',
  example: `surrounds: { top: { as: header, height: 60px } }
theme: { layout: { header: { use: top, position: sticky } } }
pages: { visit: { path: /visit, title: Visit, body: [ { section: s, items: [ { button: Tickets, url: "#tickets" } ] }, { section: tickets, items: [ { text: words } ] } ] } }
`,
  numbers: ['needed', 'hidden'],
  message: ({ worst, cases }) => {
    const targets = [...new Set(cases.flatMap((c) => c.words?.['target'] ?? []))]
    return `${targets.map((t) => `#${t}`).join(', ')} ${targets.length === 1 ? 'ends' : 'end'} under the header: up to ${px(worst.numbers['hidden'])} px are hidden, ${px(worst.numbers['needed'])} px of scroll margin are needed`
  },
  advice: 'give the targets a scroll margin: `wembra css` writes it',
  check(sight, report) {
    for (const { section, needed, hidden } of hiddenTargets(sight))
      report({
        numbers: { needed, hidden },
        words: { target: section.id },
        related: [{ pointer: section.pointer, because: `the target "${section.id}"` }],
        ...sight.decider('header.position'),
      })
  },
})

export interface HiddenTarget {
  readonly section: MeasuredSection
  /** Px of scroll margin that show it whole. */
  readonly needed: number
  readonly hidden: number
}

/** The sections that links of the page lead to, and that end under a header which stays. */
export function hiddenTargets(sight: Sight): readonly HiddenTarget[] {
  if (!sight.header || !['sticky', 'fixed'].includes(sight.headerPosition)) return []
  const needed = stayingHeight(sight)
  const anchors = new Set<string>()
  for (const { item } of sight.items) for (const anchor of anchorsOf(sight, item)) anchors.add(anchor)
  return sight.measure.sections
    .filter(({ id, padding }) => anchors.has(id) && needed - padding.top > TOLERANCE_PX)
    .map((section) => ({ section, needed, hidden: needed - section.padding.top }))
}

/** Height of what of the header stays when the page is scrolled. */
export function stayingHeight({ header, measure }: Sight): number {
  const staying = measure.header.rows.filter((row) => row.stays)
  return staying.length > 0 ? staying.reduce((sum, row) => sum + row.height, 0) : (header?.height ?? 0)
}
