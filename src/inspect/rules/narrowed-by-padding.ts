import { fromPointer } from '../../model/json.js'
import { setAt } from '../propose.js'
import { px } from '../words.js'
import { pageRule } from '../rule.js'
import type { Sight } from '../sight.js'
import { PADDING_SHARE } from '../thresholds.js'

/** Side padding that does the work of a width. */
export const narrowedByPadding = pageRule({
  id: 'narrowed-by-padding',
  severity: 'warning',
  facet: 'width',
  summary: 'Side padding does the work of a width, and takes the same from a phone as from a desk.',
  matters: 'What looks like a calm column on a desk is a strip of single words on a phone.',
  holds:
    'At the widest viewport 2·(gutter in force + `width.padding`) > 20 % of the window, a gutter alone as well. left is what is left at a viewport (less than 0 where nothing is), equivalent the `max` that gives the same at the widest.',
  example: `theme: { layout: { width: { padding: 0 160px } } }
pages: { visit: { path: /visit, title: Visit, body: [ { section: s, items: [ { text: words } ] } ] } }
`,
  numbers: ['left', 'equivalent'],
  worst: 'smallest',
  message: ({ worst }) =>
    `${worst.words?.['by'] === 'width.gutter' ? 'the gutter' : 'side padding'} does a width’s work: at ${worst.words?.['viewport'] ?? ''} it leaves ${px(worst.numbers['left'])} px; a max of ${px(worst.numbers['equivalent'])} px does the same on the widest`,
  advice: 'set a max instead of padding',
  check({ sights }, report) {
    const widest = sights.reduce((a, b) => (b.frame.width > a.frame.width ? b : a))
    const { padding, gutter } = sidesOf(widest)
    if (2 * (gutter + padding) <= PADDING_SHARE * widest.frame.width) return
    const equivalent = (widest.measure.box('container')?.width ?? 0) - 2 * padding
    const all = sights.map((sight) => {
      const here = sidesOf(sight)
      return { left: sight.frame.width - 2 * (here.gutter + here.padding), viewport: sight.view.viewport.name }
    })
    const { left, viewport } = all.reduce((a, b) => (b.left < a.left ? b : a))
    const by = padding > 0 ? 'width.padding' : 'width.gutter'
    report({ numbers: { left, equivalent }, words: { viewport, by }, ...widest.decider(by) })
  },
  propose({ at, worst }, { site }) {
    const max = `${px(worst.numbers['equivalent'])}px`
    const path = fromPointer(at)
    const isThere = path.at(-2) === 'width'
    const less = path.at(-1) === 'gutter' ? DEFAULT_GUTTER : 0
    const title = `set width.max: ${max} and width.${path.at(-1) ?? ''}: ${less}`
    return [
      {
        title: `${title}, where it is set`,
        patch: isThere ? [...setAt(site, path, less), ...setAt(site, [...path.slice(0, -1), 'max'], max)] : [],
      },
    ]
  },
})

/** The built-in gutter (design, section 9), which keeps text off the sides of a phone. */
const DEFAULT_GUTTER = 24

/** Half of the side padding, and the gutter where it is in force: where the window leaves less than the maximum. */
export function sidesOf({ frame, view, measure }: Sight): { readonly padding: number; readonly gutter: number } {
  const container = measure.box('container')?.width ?? 0
  const four = frame.sides(view.value('width.padding') as string | number, container)
  return { padding: (four.left + four.right) / 2, gutter: gutterInForce({ frame, view }) }
}

/** The gutter in px where it bounds a boxed container, else 0. */
export function gutterInForce({ frame, view }: Pick<Sight, 'frame' | 'view'>): number {
  if (view.value('width.mode') !== 'boxed') return 0
  const gutter = frame.property('width.gutter', frame.width) ?? 0
  return frame.width - 2 * gutter < (frame.property('width.max', frame.width) ?? Infinity) ? gutter : 0
}
