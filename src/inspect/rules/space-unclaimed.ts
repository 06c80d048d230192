import { setInstead } from '../propose.js'
import { px } from '../words.js'
import { viewRule } from '../rule.js'
import { TOLERANCE_PX } from '../thresholds.js'

/** A column that stayed narrow when its sidebar went. */
export const spaceUnclaimed = viewRule({
  id: 'space-unclaimed',
  severity: 'warning',
  facet: 'sidebar',
  summary: 'The page has no sidebar, and the column is still as narrow as if it had one.',
  matters: 'The content is at one side of an empty area.',
  holds:
    'No sidebar is printed, the window is wider than `stackAt`, and column <= container − `width.padding` − `sidebar.width` − `sidebar.gap`. unclaimed = container − `width.padding` − column.',
  example: `theme: { layout: { width: { columnMax: 760px } } }
pages: { visit: { path: /visit, title: Visit, body: [ { section: s, items: [ { text: words } ] } ] } }
`,
  numbers: ['unclaimed'],
  message: ({ worst }) => `no sidebar is beside the column, and ${px(worst.numbers['unclaimed'])} px stay empty`,
  advice: 'remove the column’s limit where there is no sidebar',
  check(sight, report) {
    const { measure, frame } = sight
    const container = measure.box('container')?.width
    const column = measure.box('column')?.width
    if (sight.sidebar || container === undefined || column === undefined) return
    if (measure.viewport.width <= (frame.property('sidebar.stackAt') ?? 0)) return
    const sides = frame.sides(sight.view.value('width.padding') as string | number, container)
    const inner = container - sides.left - sides.right
    const reserved = (frame.property('sidebar.width', container) ?? 0) + (frame.property('sidebar.gap', container) ?? 0)
    if (column > inner - reserved + TOLERANCE_PX) return
    report({ numbers: { unclaimed: inner - column }, ...sight.decider('width.columnMax') })
  },
  propose: ({ at, pages }, { site }) =>
    setInstead(site, { at, pages }, 'width.columnMax', 'none', 'set width.columnMax: none'),
})
