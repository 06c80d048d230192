import { fromPointer, valueAt, type Json } from '../../model/json.js'
import { atViewports, setAt, withoutSides } from '../propose.js'
import { px } from '../words.js'
import { viewRule } from '../rule.js'
import { hasBackground } from '../behind.js'
import { TOLERANCE_PX } from '../thresholds.js'
import { gutterInForce } from './narrowed-by-padding.js'

/** The page's gutter and a section's own. */
export const guttersDoubled = viewRule({
  id: 'gutters-doubled',
  severity: 'note',
  facet: 'width',
  summary: 'A section without a background adds side padding to the gutter that the page has already.',
  matters: 'Sections begin at different edges, and phones lose width twice.',
  holds:
    'The container is boxed with its gutter in force, and a section of the body without background and `maxWidth` has side padding. edge = gutter + the larger side padding.',
  example: `pages: { visit: { path: /visit, title: Visit, body: [ { section: s, padding: 0 24px, items: [ { text: words } ] } ] } }
`,
  numbers: ['edge'],
  message: ({ worst }) => `the page’s gutter and the section’s padding add up to ${px(worst.numbers['edge'])} px`,
  advice: 'leave side padding to the page, or give the page a full width',
  check(sight, report) {
    const gutter = gutterInForce(sight)
    if (gutter <= TOLERANCE_PX) return
    for (const { data, pointer, padding, depth, band } of sight.measure.sections) {
      const side = Math.max(padding.left, padding.right)
      if (band.of !== 'section' || depth > 0 || side <= TOLERANCE_PX || data.breakout) continue
      if (hasBackground(sight.frame, data) || sight.frame.at(data.maxWidth) !== undefined) continue
      report({ at: `${pointer}/padding`, numbers: { edge: gutter + side } })
    }
  },
  propose({ at, cases }, { site }) {
    const before = valueAt(site.data as unknown as Json, at)
    const viewports = [...new Set(cases.map((c) => c.viewport))]
    const value = atViewports(site, before, viewports, withoutSides)
    return [{ title: 'no side padding on this section', patch: setAt(site, fromPointer(at), value) }]
  },
})
