import type { Deciding } from '../deciding.js'
import { fromPointer } from '../../model/json.js'
import type { PageSight } from '../page-sight.js'
import { setAt } from '../propose.js'
import { px } from '../words.js'
import { siteRule } from '../rule.js'
import { NEARLY_SAME, TOLERANCE_PX } from '../thresholds.js'

/** Two content widths that were meant to be one. */
export const widthsNearlySame = siteRule({
  id: 'widths-nearly-same',
  severity: 'note',
  facet: 'width',
  summary: 'Two content widths in use on the site differ by less than 5 %.',
  matters: 'Everything shifts a little from page to page, for no visible reason.',
  holds:
    'At the widest viewport two widths that hold content (boxed containers, capped columns, the insides of bands with text and a `maxWidth`) differ, by less than 5 % of the wider. The rarer one is reported. apart is the difference in px.',
  example: `templates: { narrow: { layout: { width: { max: 1140px } } } }
pages: { visit: { path: /visit, title: Visit }, hours: { path: /hours, title: Hours }, b: { path: /b, title: B, template: narrow } }
`,
  numbers: ['apart', 'width', 'other'],
  worst: 'smallest',
  message: ({ worst }) => {
    const { apart, width, other } = worst.numbers
    return `a content width of ${px(width)} px, where ${px(other)} px is usual: ${px(apart)} px apart`
  },
  advice: 'use one of the two',
  marks(sight, mark) {
    for (const { width, decider } of widthsOf(sight)) mark('', String(Math.round(width * 100) / 100), decider)
  },
  judge(tally, _survey, report) {
    const usualFirst = tally
      .values()
      .map((value) => ({ value, width: Number(value), pages: tally.count(value) }))
      .sort((a, b) => b.pages - a.pages || b.width - a.width)
    usualFirst.forEach(({ value, width }, index) => {
      const near = usualFirst.slice(0, index).find((usual) => isNear(width, usual.width))
      if (!near) return
      const numbers = { apart: Math.abs(width - near.width), width, other: near.width }
      for (const { page, detail } of tally.marks(value)) report({ pages: [page], numbers, ...(detail as Deciding) })
    })
  },
  propose({ at, worst }, { site }) {
    if (!/\/(max|columnMax|maxWidth)$/.test(at)) return []
    const other = `${px(worst.numbers['other'])}px`
    return [
      {
        title: `set ${fromPointer(at).at(-1) ?? 'max'}: ${other}, as on most pages`,
        patch: setAt(site, fromPointer(at), other),
        choice: true,
      },
    ]
  },
})

const isNear = (a: number, b: number): boolean => {
  const apart = Math.abs(a - b)
  return apart > TOLERANCE_PX && apart < NEARLY_SAME * Math.max(a, b)
}

interface UsedWidth {
  readonly width: number
  readonly decider: Deciding
}

/** The widths that hold a page's content at the widest viewport: container, capped column, insides of bands with text. */
function widthsOf({ sights }: PageSight): readonly UsedWidth[] {
  const widest = sights.reduce((a, b) => (b.measure.viewport.width > a.measure.viewport.width ? b : a))
  const { measure, view } = widest
  const container = measure.box('container')
  const found: UsedWidth[] = []
  if (container && view.value('width.mode') === 'boxed')
    found.push({ width: container.width, decider: widest.decider('width.max') })
  const column = measure.box('column')
  if (column && view.value('width.columnMax') !== null && view.value('width.columnMax') !== 'none')
    found.push({ width: column.width, decider: widest.decider('width.columnMax') })
  for (const { id, data, inside, pointer } of measure.sections) {
    const holdsText = widest.items.some((printed) => printed.section === id && widest.isText(printed))
    if (data.maxWidth !== undefined && holdsText)
      found.push({ width: inside.width, decider: { at: `${pointer}/maxWidth` } })
  }
  return found.filter((each, n) => found.findIndex(({ width }) => Math.abs(width - each.width) <= TOLERANCE_PX) === n)
}
