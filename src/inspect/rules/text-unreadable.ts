import { contrast, parseColor } from '../../css/color.js'
import { groundsOf, leastContrast, nestOf } from '../behind.js'
import { fromPointer } from '../../model/json.js'
import { setAt } from '../propose.js'
import { viewRule } from '../rule.js'
import type { Sight } from '../sight.js'
import type { MeasuredSection } from '../../measure/section.js'
import { LEAST_CONTRAST } from '../thresholds.js'

/** A section's words against its background. */
export const textUnreadable = viewRule({
  id: 'text-unreadable',
  severity: 'warning',
  facet: 'body',
  summary: 'A section’s ink has too little contrast with its background.',
  matters: 'People with low vision cannot read it; in sunlight no one can.',
  holds:
    'The contrast (WCAG 2.2) of the ink of a section that holds text with its background is less than 4.5. The background is blended from the page’s ground outwards in, as W3C Compositing and Blending Level 1 says; a picture counts with its `range`, else its `color`, and with neither nothing is said.',
  example: `pages: { visit: { path: /visit, title: Visit, body: [ { section: s, background: { color: "#25305a" }, ink: "#7f8ab5", items: [ { text: words } ] } ] } }
`,
  numbers: ['ratio', 'needed'],
  worst: 'smallest',
  message: ({ worst }) =>
    `the ink ${worst.words?.['ink'] ?? ''} of "${worst.words?.['section'] ?? ''}" has a contrast of ${(worst.numbers['ratio'] ?? 0).toFixed(2)} with what is behind it; ${LEAST_CONTRAST} is needed`,
  advice: 'choose a darker or lighter ink, or another background',
  check(sight, report) {
    for (const section of sight.measure.sections) {
      const { data, pointer, id } = section
      if (data.ink === undefined && data.background === undefined) continue
      const holdsText = sight.texts.some((printed) => printed.section === id && printed.kind !== 'use')
      if (!holdsText && !holdsPlainText(sight, section)) continue
      const ink = inkOf(sight, section)
      const ratio = leastContrast(ink, groundsOf(sight.frame, sight.measure, section))
      if (ratio === undefined || ratio >= LEAST_CONTRAST) continue
      report({
        at: data.ink === undefined ? pointer : `${pointer}/ink`,
        numbers: { ratio, needed: LEAST_CONTRAST },
        words: { section: id, ink, pointer },
      })
    }
  },
  propose: ({ worst }, { site }) => {
    const { ground } = site.data.theme
    const inks = [ground?.ink ?? '#000000', ground?.color ?? '#ffffff', '#ffffff', '#000000']
    const said = parseColor(worst.words?.['ink'] ?? '')
    const path = [...fromPointer(worst.words?.['pointer'] ?? ''), 'ink']
    return [...new Set(inks)]
      .filter((ink) => said && contrast(said, parseColor(ink) ?? said) > 1)
      .map((ink) => ({ title: `set it in ${ink}`, patch: setAt(site, path, ink) }))
  },
})

/** The ink of a section: its own, else that of the nearest section around it, else the ground's. */
function inkOf({ frame, measure, view }: Sight, section: MeasuredSection): string {
  const said = nestOf(measure, section).map(({ data }) => frame.at(data.ink))
  return said.findLast((ink) => ink !== undefined) ?? view.ground.ink
}

/** Whether sections without colors of their own inside it hold text. */
const holdsPlainText = (sight: Sight, section: MeasuredSection): boolean =>
  sight.measure.sections.some(
    (inner) =>
      inner.pointer.startsWith(`${section.pointer}/`) &&
      inner.data.ink === undefined &&
      inner.data.background === undefined &&
      sight.texts.some((printed) => printed.section === inner.id),
  )
