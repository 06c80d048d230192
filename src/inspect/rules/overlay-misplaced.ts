import { hasBackground } from '../behind.js'
import { setInstead } from '../propose.js'
import { viewRule } from '../rule.js'
import type { Sight } from '../sight.js'
import { TOLERANCE_PX } from '../thresholds.js'

/** An overlay header with nothing to lie over. */
export const overlayMisplaced = viewRule({
  id: 'overlay-misplaced',
  severity: 'warning',
  facet: 'header',
  summary: 'A header designed to lie over a band is on a page that does not begin with one.',
  matters: 'The header floats over words or over nothing, and its colors were made for a picture.',
  holds:
    'The header is overlaying (`overlay`, or `fixed` with a background that is transparent or has alpha), and no box as wide as the window with a background (first section, title band, lead-image band, after-header insert) begins above its lower edge.',
  example: `surrounds: { top: { as: header, height: 60px } }
theme: { layout: { header: { use: top, position: overlay }, spacing: 90px } }
pages: { visit: { path: /visit, title: Visit, body: [ { section: s, items: [ { text: words } ] } ] } }
`,
  numbers: [],
  message: () => 'the header is laid over a page that does not begin with a full band',
  advice: 'give these pages a header in the flow, or a band to begin with',
  check(sight, report) {
    const { header } = sight
    if (!header || !sight.isHeaderOverlaying) return
    const edge = header.y + header.height
    if (bandTops(sight).some((y) => y < edge - TOLERANCE_PX)) return
    report({ numbers: {}, ...sight.decider('header.position') })
  },
  propose: ({ at, pages }, resolved) => {
    const viewport = resolved.site.viewports[0]?.name ?? ''
    // A header that stays when the page is scrolled still does.
    const isFixed = pages.some((id) => resolved.page(id).at(viewport).value('header.position') === 'fixed')
    const position = isFixed ? 'sticky' : 'flow'
    return setInstead(resolved.site, { at, pages }, 'header.position', position, 'let the header take its room')
  },
})

/** Where boxes begin that are as wide as the window and have a background. */
function bandTops(sight: Sight): readonly number[] {
  const { measure, frame, view, firstSection } = sight
  const isWide = ({ width }: { readonly width: number }): boolean => width >= measure.viewport.width - TOLERANCE_PX
  const sections = measure.sections.filter(
    (s) => (s === firstSection || s.band.of === 'insert') && hasBackground(frame, s.data),
  )
  const title = measure.box('title')
  const image = measure.box('leadImage')
  return [
    ...sections.map((s) => s.band),
    ...(title && typeof view.value('title.background') === 'string' ? [title] : []),
    ...(image ? [image] : []),
  ]
    .filter(isWide)
    .map((box) => box.y)
}
