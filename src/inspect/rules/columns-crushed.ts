import { fromPointer } from '../../model/json.js'
import type { Item } from '../../model/site-data.js'
import { countWords } from '../links.js'
import { setAt } from '../propose.js'
import { px } from '../words.js'
import { viewRule } from '../rule.js'
import { LEAST_PART_REM, LEAST_WORDY_PART_REM, MANY_WORDS, TOLERANCE_PX } from '../thresholds.js'

/** Columns side by side that are too narrow to read. */
export const columnsCrushed = viewRule({
  id: 'columns-crushed',
  severity: 'warning',
  facet: 'width',
  summary: 'Columns are side by side where they should be stacked.',
  matters: 'One word a line.',
  holds:
    'Columns with text are side by side, and one is narrower than 8rem, or than 15rem where it holds 20 words or more. narrowest is its width, needed what it should have.',
  example: `pages: { visit: { path: /visit, title: Visit, body: [ { section: s, columns: [ { items: [ { text: one } ] }, { items: [ { text: two } ] }, { items: [ { text: three } ] } ] } ] } }
`,
  numbers: ['narrowest', 'needed'],
  worst: 'smallest',
  message: ({ worst }) =>
    `the narrowest column is ${px(worst.numbers['narrowest'])} px wide; ${px(worst.numbers['needed'])} px can be read`,
  advice: 'set stackAt, so that columns are stacked on narrow windows',
  check(sight, report) {
    const rem = sight.frame.typography.base
    for (const { columns, pointer } of sight.measure.sections) {
      if (columns.length === 0) continue
      const crushed = columns
        .filter(({ items }) => holdsText(items))
        .map(({ width, items }) => ({
          width,
          needed: rem * (countWords(items) >= MANY_WORDS ? LEAST_WORDY_PART_REM : LEAST_PART_REM),
        }))
        .filter(({ width, needed }) => width < needed - TOLERANCE_PX)
      const worst = crushed.reduce<(typeof crushed)[number] | undefined>(
        (a, b) => (a && a.width <= b.width ? a : b),
        undefined,
      )
      if (worst)
        report({
          at: pointer,
          numbers: { narrowest: worst.width, needed: worst.needed },
          words: { window: String(sight.measure.viewport.width) },
        })
    }
  },
  propose({ at, cases }, { site }) {
    const widest = cases.reduce((most, c) => Math.max(most, Number(c.words?.['window'] ?? 0)), 0)
    return [
      {
        title: `let the columns go under one another at ${widest} px and below`,
        patch: setAt(site, [...fromPointer(at), 'stackAt'], `${widest}px`),
      },
    ]
  },
})

const holdsText = (items: readonly Item[]): boolean =>
  items.some(
    (item) =>
      item.text !== undefined ||
      item.button !== undefined ||
      holdsText(item.items ?? []) ||
      (item.columns ?? []).some((column) => holdsText(column.items ?? [])),
  )
