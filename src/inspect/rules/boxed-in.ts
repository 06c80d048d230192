import { viewRule } from '../rule.js'
import { pagesInWords, setAt } from '../propose.js'
import { fromPointer } from '../../model/json.js'
import { hasBackground } from '../behind.js'
import { TOLERANCE_PX } from '../thresholds.js'

/** A band that is meant to reach both edges of the window does not. */
export const boxedIn = viewRule({
  id: 'boxed-in',
  severity: 'warning',
  facet: 'width',
  summary: 'A band that should reach both edges of the window is inside a narrower box.',
  matters: 'A band that was meant to run from edge to edge ends in the middle of the page, like a mistake.',
  holds:
    'A section is `band: full`, has a background and no `breakout`, and its band is narrower than the window. short is the larger of the distances to the two edges.',
  example: `pages: { visit: { path: /visit, title: Visit, body: [ { section: s, band: full, background: { color: "#123" }, height: 80px } ] } }
`,
  numbers: ['short'],
  message: ({ worst, cases }) => {
    const sections = new Set(cases.flatMap((c) => c.words?.['section'] ?? []))
    const which = sections.size === 1 ? `the full band "${[...sections][0]}"` : `${sections.size} full bands`
    return `${which} ${sections.size === 1 ? 'ends' : 'end'} up to ${Math.round((worst.numbers['short'] ?? 0) * 10) / 10} px short of the window’s edge`
  },
  advice: 'let the band break out, or give the page a full width',
  check(sight, report) {
    const { width } = sight.view.viewport
    for (const { data, band, pointer, id } of sight.measure.sections) {
      if (sight.frame.at(data.band) !== 'full' || data.breakout || !hasBackground(sight.frame, data)) continue
      const short = Math.max(band.x, width - band.x - band.width)
      if (short <= TOLERANCE_PX) continue
      report({
        numbers: { short },
        certainty: 'computed',
        words: { section: id },
        related: [{ pointer, because: `the band "${id}"` }],
        ...sight.decider('width.mode'),
      })
    }
  },
  propose({ cases, pages }, { site }) {
    const pointers = new Set(cases.flatMap((c) => (c.related ?? []).map((r) => r.pointer)))
    const patch = [...pointers].flatMap((pointer) => setAt(site, [...fromPointer(pointer), 'breakout'], true))
    return [{ title: `let the bands on ${pagesInWords(pages)} break out of their box`, patch }]
  },
})
