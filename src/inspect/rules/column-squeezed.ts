import type { PropertyPath } from '../../model/facets.js'
import { fromPointer, valueAt, type Json } from '../../model/json.js'
import { atViewports, overridePages, pagesInWords, setAt, withoutSides } from '../propose.js'
import { px } from '../words.js'
import { viewRule } from '../rule.js'
import type { Sight } from '../sight.js'
import { LEAST_COLUMN_REM, TOLERANCE_PX } from '../thresholds.js'

/** Text in a column too narrow to read. */
export const columnSqueezed = viewRule({
  id: 'column-squeezed',
  severity: 'warning',
  facet: 'sidebar',
  summary: 'The column, or a section’s inside with text, is narrower than 17rem.',
  matters: 'Three or four words a line, and a page three times as long as it should be.',
  holds:
    'The column is narrower than 17rem, or, where it is not, the inside of a section that holds text is. column is that width in px.',
  example: `theme: { layout: { width: { padding: { phone: 0 80px, else: 0 } } } }
pages: { visit: { path: /visit, title: Visit, body: [ { section: s, items: [ { text: words } ] } ] } }
`,
  numbers: ['column'],
  worst: 'smallest',
  message: ({ worst }) => `${worst.words?.['what'] ?? 'the column'} is only ${px(worst.numbers['column'])} px wide`,
  advice: 'reduce the padding at this viewport, or stack the columns',
  check(sight, report) {
    const least = LEAST_COLUMN_REM * sight.frame.typography.base
    const column = sight.measure.box('column')
    if (column && column.width < least - TOLERANCE_PX) {
      const property = narrowing(sight)
      report({ numbers: { column: column.width }, words: { what: 'the column', property }, ...sight.decider(property) })
      return
    }
    for (const { id, inside, pointer, data } of sight.measure.sections) {
      const holdsText = sight.texts.some((printed) => printed.section === id)
      if (!holdsText || data.columns || inside.width >= least - TOLERANCE_PX) continue
      report({ at: pointer, numbers: { column: inside.width }, words: { what: `the inside of "${id}"`, property: '' } })
    }
  },
  propose({ at, pages, cases, worst }, { site }) {
    const property = worst.words?.['property'] ?? ''
    const viewports = [...new Set(cases.map((c) => c.viewport))]
    if (property === 'width.padding') {
      const before = valueAt(site.data as unknown as Json, at)
      const isThere = at.endsWith('/width/padding')
      const value = atViewports(site, isThere ? before : undefined, viewports, 0)
      const title = `no side padding at ${viewports.join(', ')}`
      return [
        { title: `${title}, where it is set`, patch: isThere ? setAt(site, fromPointer(at), value) : [] },
        {
          title: `${title} on ${pagesInWords(pages)}`,
          patch: overridePages(site, pages, property, atViewports(site, undefined, viewports, 0)),
        },
      ]
    }
    if (property === '' && at.startsWith('/pages/')) return squeezedSection(at, viewports, site)
    return []
  },
})

function squeezedSection(at: string, viewports: readonly string[], site: Parameters<typeof setAt>[0]) {
  const before = valueAt(site.data as unknown as Json, `${at}/padding`)
  if (before === undefined) return []
  const value = atViewports(site, before, viewports, withoutSides)
  return [
    { title: `no side padding at ${viewports.join(', ')}`, patch: setAt(site, fromPointer(`${at}/padding`), value) },
  ]
}

/** The property that takes most of the column's width. */
function narrowing({ measure, frame, view }: Sight): PropertyPath {
  const container = measure.box('container')?.width ?? 0
  const padding = frame.sides(view.value('width.padding') as string | number, container)
  const taken: readonly (readonly [PropertyPath, number])[] = [
    ['width.padding', padding.left + padding.right],
    ['sidebar.stackAt', measure.sidebarBeside ? container - (measure.box('column')?.width ?? 0) : 0],
    ['width.columnMax', frame.property('width.columnMax', container) === undefined ? 0 : container],
    ['width.max', frame.property('width.max', frame.width) === container ? frame.width - container : 0],
    ['width.gutter', frame.width - container],
  ]
  return taken.reduce((a, b) => (b[1] > a[1] ? b : a))[0]
}
