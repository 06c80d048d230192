import { fromPointer, valueAt, type Json } from '../../model/json.js'
import { takesNoRoom } from '../../measure/printed.js'
import { giveTo, setAt } from '../propose.js'
import { placedTexts, topEdge, type PlacedText } from '../page-start.js'
import { viewRule } from '../rule.js'
import type { Sight } from '../sight.js'
import { TOLERANCE_PX } from '../thresholds.js'

/** The sides of a window, as numbers: in the order of CSS. */
const SIDES = ['top', 'right', 'bottom', 'left'] as const

/** Words with nothing between them and the edge. */
export const contentAtEdge = viewRule({
  id: 'content-at-edge',
  severity: 'warning',
  facet: 'spacing',
  summary: 'Text touches the edge of the window, or the header above it.',
  matters: 'Words at the very edge are hard to read, and look like a fault.',
  holds:
    'A text is 0 px from the window’s top or sides, or from the header above it. room is that distance, side the edge: 0 the top, 1 the right, 3 the left.',
  example: `theme: { layout: { width: full, title: absent } }
pages: { visit: { path: /visit, title: Visit, body: [ { section: s, items: [ { heading: 1, text: words } ] } ] } }
`,
  numbers: ['room', 'side'],
  worst: 'smallest',
  message: ({ worst }) => `${worst.words?.['what'] ?? 'text'} touches the ${worst.words?.['edge'] ?? 'edge'}`,
  advice: 'pad the section, or give the page its space back',
  check(sight, report) {
    const { width } = sight.measure.viewport
    const texts = placedTexts(sight)
    const said = new Set<string>()
    for (const text of texts) {
      const side =
        text.left <= TOLERANCE_PX && text.left >= -TOLERANCE_PX
          ? 'left'
          : Math.abs(width - text.right) <= TOLERANCE_PX
            ? 'right'
            : undefined
      if (!side) continue
      const at = holderOf(sight, text)
      if (said.has(at)) continue
      said.add(at)
      report({
        at,
        numbers: { room: 0, side: SIDES.indexOf(side) },
        words: { what: text.what, edge: `${side} edge of the window` },
      })
    }
    const first = touchesTop(sight, texts)
    if (first)
      report({
        numbers: { room: 0, side: SIDES.indexOf('top') },
        words: { what: first.what, edge: sight.header ? 'header' : 'top of the window' },
        ...sight.decider('spacing.before'),
      })
  },
  propose({ at, pages }, resolved) {
    const { site } = resolved
    const path = fromPointer(at)
    const isSection = path.includes('body') || path[0] === 'inserts'
    if (!isSection) {
      const title = (where: string): string => `set the space before the content to what theme and kind set, ${where}`
      const proposals = giveTo(resolved, pages, 'spacing.before', 'revert', title)
      // A page, template or entry that sets no space does so on purpose.
      const isMeant = ['pages', 'templates', 'assign'].includes(path[0] ?? '')
      return isMeant ? proposals.map((each) => ({ ...each, choice: true })) : proposals
    }
    const padding = valueAt(site.data as unknown as Json, `${at}/padding`)
    if (padding !== undefined) return []
    return [{ title: 'pad its sides by 24 px', patch: setAt(site, [...path, 'padding'], '0 24px') }]
  },
})

/** What could hold a text off the sides: its section, else what sets how wide the page is. */
function holderOf(sight: Sight, { pointer }: PlacedText): string {
  const around = sight.measure.sections.filter((s) => pointer?.startsWith(`${s.pointer}/`))
  return around.at(-1)?.pointer ?? sight.decider('width.mode').at
}

/** The text that begins where the header, or nothing, ends. Under an overlaying header that is a matter of covering. */
function touchesTop(sight: Sight, texts: readonly PlacedText[]): PlacedText | undefined {
  if (sight.header && takesNoRoom(sight.measure) && sight.isHeaderOverlaying) return undefined
  const edge = topEdge(sight)
  return texts.find(({ top }) => Math.abs(top - edge) <= TOLERANCE_PX)
}
