import { overridePages, pagesInWords, setInstead } from '../propose.js'
import { px } from '../words.js'
import { viewRule } from '../rule.js'
import { COMMENTS_SHARE } from '../thresholds.js'

/** Comments of another width than what they are about. */
export const commentsOutside = viewRule({
  id: 'comments-outside',
  severity: 'note',
  facet: 'site',
  summary: 'The comments are of another width than the content above them.',
  matters: 'The page changes its edge where the talk begins.',
  holds:
    'The widths of the comments and of the last section’s inside differ by more than 10 % of the column. difference is by how many px.',
  example: `theme: { layout: { comments: { presence: shown, maxWidth: 560px } } }
pages: { visit: { path: /visit, title: Visit, body: [ { section: s, items: [ { text: words } ] } ] } }
`,
  numbers: ['difference'],
  message: ({ worst }) => `the comments and the content above differ by ${px(worst.numbers['difference'])} px in width`,
  advice: 'give the comments the content’s width',
  check(sight, report) {
    const comments = sight.measure.box('comments')
    const column = sight.measure.box('column')
    const last = sight.measure.sections.findLast((s) => s.depth === 0 && s.pointer.startsWith(`${sight.body}/`))
    if (!comments || !column || !last) return
    const difference = Math.abs(comments.width - last.inside.width)
    if (difference <= COMMENTS_SHARE * column.width) return
    report({
      numbers: { difference },
      words: { width: `${px(last.inside.width)}px` },
      ...sight.decider('comments.maxWidth'),
    })
  },
  propose: ({ at, pages, worst }, { site }) => [
    ...setInstead(site, { at, pages }, 'comments.maxWidth', 'none', 'let the comments be as wide as the column'),
    {
      title: `let the comments be ${worst.words?.['width'] ?? ''} wide on ${pagesInWords(pages)}`,
      patch: overridePages(site, pages, 'comments.maxWidth', worst.words?.['width'] ?? 'none'),
    },
  ],
})
