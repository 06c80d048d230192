import { firstContent, takesNoRoom } from '../../measure/printed.js'
import { setInstead } from '../propose.js'
import { px } from '../words.js'
import { viewRule } from '../rule.js'
import type { Sight } from '../sight.js'
import { TOLERANCE_PX } from '../thresholds.js'

/** A clearance that was typed, and is not what the header needs. */
export const clearanceWrong = viewRule({
  id: 'clearance-wrong',
  severity: 'warning',
  facet: 'header',
  summary: 'The space kept free for the header was typed by hand and is too much, too little, or for no header at all.',
  matters: 'Too much leaves a blank strip above every page; a header that changes makes the number wrong unnoticed.',
  holds:
    '`header.clearance` is a length other than 0 and not what is needed: the header’s height where it is printed, `fixed` and opaque, else 0; not where `header-covers-content` holds. off is the difference of clearance and needed.',
  example: `surrounds: { top: { as: header, height: 96px } }
theme: { layout: { header: { use: top, position: fixed, clearance: 136px } } }
pages: { visit: { path: /visit, title: Visit, body: [ { section: s, items: [ { text: words } ] } ] } }
`,
  numbers: ['off', 'clearance', 'needed'],
  message: ({ worst, cases }) => {
    const { off, clearance = 0, needed = 0 } = worst.numbers
    const needs = [...new Set(cases.map((c) => c.numbers['needed'] ?? 0))].sort((a, b) => a - b)
    const why =
      needs.length > 1
        ? `between ${px(needs[0])} and ${px(needs.at(-1))} px are needed, depending on page and width`
        : needed === 0
          ? 'no header needs room here'
          : `the header needs ${px(needed)} px`
    const upTo = needs.length > 1 ? 'up to ' : ''
    return `the clearance of ${px(clearance)} px is ${upTo}${px(off)} px too ${clearance > needed ? 'much' : 'little'}: ${why}`
  },
  advice: 'set clearance: auto, which is the height of a fixed or overlay header and 0 without one',
  check(sight, report) {
    const said = sight.view.value('header.clearance')
    const { clearance } = sight.measure
    if (said === 'auto' || clearance <= TOLERANCE_PX) return
    const needed = neededClearance(sight)
    if (Math.abs(clearance - needed) <= TOLERANCE_PX || coversContent(sight)) return
    report({
      numbers: { off: Math.abs(clearance - needed), clearance, needed },
      ...(sight.header && { certainty: sight.header.certainty }),
      ...sight.decider('header.clearance'),
    })
  },
  propose: ({ at, pages, cases }, { site }) =>
    cases.some((c) => c.place)
      ? []
      : [
          ...setInstead(
            site,
            { at, pages },
            'header.clearance',
            'auto',
            'keep exactly the header’s height free: clearance auto',
          ),
          ...setInstead(site, { at, pages }, 'header.clearance', 0, 'no clearance'),
        ],
})

/** The exact clearance in px: the height of a fixed header that shows nothing through, else 0. */
export function neededClearance(sight: Sight): number {
  const isOpaque = sight.headerPosition === 'fixed' && !sight.isHeaderOverlaying
  return sight.header && isOpaque ? sight.header.height : 0
}

/** Whether a fixed or overlay header lies over the first content. */
export function coversContent({ header, measure }: Sight): boolean {
  const first = header && takesNoRoom(measure) ? firstContent(measure) : undefined
  return header !== undefined && first !== undefined && header.height - (first.box.y - header.y) > TOLERANCE_PX
}
