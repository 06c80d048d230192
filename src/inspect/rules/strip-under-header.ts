import { setInstead } from '../propose.js'
import { px } from '../words.js'
import { firstBand, stripAbove } from '../page-start.js'
import { viewRule } from '../rule.js'
import { TOLERANCE_PX } from '../thresholds.js'

/** A blank strip between the header and the band that begins the page. */
export const stripUnderHeader = viewRule({
  id: 'strip-under-header',
  severity: 'warning',
  facet: 'spacing',
  summary: 'A blank strip separates the header from a full first section with a background.',
  matters: 'The band looks as if it had slipped.',
  holds:
    'The first section is `band: full` or as wide as the window and has a background, nothing is printed above it, and the distance to the header’s lower edge (or the window’s top), less `clearance` and what `gap-left-behind` counts, is more than 0.',
  example: `surrounds: { top: { as: header, height: 60px } }
theme: { layout: { header: { use: top }, title: absent, width: full, spacing: 48px } }
pages: { visit: { path: /visit, title: Visit, body: [ { section: s, band: full, background: { color: "#123" }, padding: 40px, ink: "#fff", items: [ { heading: 1, text: words } ] } ] } }
`,
  numbers: ['strip'],
  message: ({ worst }) =>
    `${px(worst.numbers['strip'])} px of blank lie above the band "${worst.words?.['section'] ?? ''}"`,
  advice: 'remove the space above on pages that begin with a band',
  check(sight, report) {
    const band = firstBand(sight)
    const strip = band ? stripAbove(sight, band) : 0
    if (!band || strip <= TOLERANCE_PX) return
    const spaced = (sight.frame.property('spacing.before') ?? 0) > 0
    report({
      numbers: { strip },
      words: { section: band.id },
      related: [{ pointer: band.pointer, because: `the band "${band.id}"` }],
      ...(spaced ? sight.decider('spacing.before') : { at: `${band.pointer}/margin` }),
    })
  },
  propose: ({ at, pages, cases }, { site }) =>
    cases.some((c) => c.place) || at.endsWith('/margin')
      ? []
      : setInstead(site, { at, pages }, 'spacing.before', 0, 'no space before the content'),
})
