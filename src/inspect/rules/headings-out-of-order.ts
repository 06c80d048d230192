import type { PrintedItem } from '../../measure/box.js'
import { viewRule, type Fact } from '../rule.js'
import type { Sight } from '../sight.js'

/** Headings whose levels do not follow each other. */
export const headingsOutOfOrder = viewRule({
  id: 'headings-out-of-order',
  severity: 'note',
  facet: 'title',
  summary: 'A heading skips a level, or there is a second heading 1.',
  matters: 'Who finds their way by headings looks for the part that seems to be missing.',
  holds:
    'Of the headings that are not `hidden`, in order of the document: a heading 1 that is not the title of the page, although the page has one; or a level more than one deeper than the heading before. The first is 1 or 2. before is 0 where none comes before.',
  example: `pages: { visit: { path: /visit, title: Visit, body: [ { section: s, items: [ { heading: 2, text: Hours }, { heading: 4, text: In summer } ] } ] } }
`,
  numbers: ['level', 'before'],
  message: ({ worst, cases }) => {
    const { level, before } = worst.numbers
    const which = [...new Set(cases.flatMap((c) => c.words?.['text'] ?? []))].map((t) => `“${t}”`)[0] ?? 'a heading'
    if (level === 1) return `${which} is one more heading 1, below the page’s title`
    return before === 0
      ? `the first heading, ${which}, is of level ${level}`
      : `${which} is of level ${level}, below a heading of level ${before}`
  },
  advice: 'choose levels for what they mean, and sizes by style',
  check(sight, report) {
    let before = 0
    for (const { level, item } of headingsOf(sight)) {
      const isSkip = before === 0 ? level > 2 : level > before + 1
      const isExtra =
        level === 1 && item !== undefined && before > 0 && !sight.seenTitles.some((t) => t.pointer === item.pointer)
      if (item && (isSkip || isExtra)) report(factOf(item, level, before))
      before = level
    }
  },
  propose: ({ at, worst }) => {
    const { level = 1, before = 0 } = worst.numbers
    const right = level === 1 ? 2 : before + 1
    return [{ title: `make it a heading ${right}`, patch: [{ op: 'replace', path: `${at}/heading`, value: right }] }]
  },
})

const factOf = ({ pointer, item }: PrintedItem, level: number, before: number): Fact => ({
  at: pointer,
  numbers: { level, before },
  words: { text: item.text ?? '' },
})

/** A heading that is not hidden; the theme's title has no item. */
interface Heading {
  readonly level: number
  readonly item: PrintedItem | undefined
}

/** Headings in order of the document; the title is where the template arranges it. */
function headingsOf(sight: Sight): readonly Heading[] {
  const { view, arrange } = sight
  const presence = view.presence('title.presence')
  const hasTitle = presence === 'shown' || presence === 'visually-hidden'
  const isBand = view.value('title.place') === 'band'
  const index = arrange.indexOf('title')
  const contentFirst = !isBand && arrange.indexOf('content') !== -1 && arrange.indexOf('content') < index
  const before = ({ place, pointer, box }: PrintedItem): boolean => {
    if (place === 'header') return true
    if (place === 'insert') return (box?.y ?? 0) < (sight.measure.box('column')?.y ?? 0) && !isBand
    if (place === 'body') return contentFirst
    return place === 'arrange' && !isBand && Number(pointer.split('/').at(-1)) < index
  }
  const [above, below]: [Heading[], Heading[]] = [[], []]
  for (const item of sight.items) {
    if (item.kind !== 'heading' && item.kind !== 'title') continue
    const level = item.kind === 'title' ? 1 : (item.item.heading ?? 1)
    ;(hasTitle && !before(item) ? below : above).push({ level, item })
  }
  if (hasTitle) above.push({ level: 1, item: undefined })
  for (const heading of below) above.push(heading)
  return above
}
