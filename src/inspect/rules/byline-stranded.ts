import { giveTo, overridePages, pagesInWords } from '../propose.js'
import { viewRule } from '../rule.js'

/** A byline of nothing. */
export const bylineStranded = viewRule({
  id: 'byline-stranded',
  severity: 'note',
  facet: 'title',
  summary: 'The byline is shown, the title it belongs to is not.',
  matters: 'A date and a name are alone above the page.',
  holds: 'The byline is shown and the title is not.',
  example: `theme: { layout: { title: hidden, byline: shown } }
pages: { visit: { path: /visit, title: Visit, body: [ { section: s, items: [ { heading: 1, text: words } ] } ] } }
`,
  numbers: [],
  message: () => 'the byline is shown without the title that it belongs to',
  advice: 'hide the byline as well, or show the title',
  check(sight, report) {
    if (sight.measure.box('byline') && !sight.isShown('title'))
      report({ numbers: {}, ...sight.decider('title.presence') })
  },
  propose: ({ pages }, resolved) => [
    ...giveTo(resolved, pages, 'byline.presence', 'absent', (where) => `hide the byline ${where}`),
    {
      title: `show the title on ${pagesInWords(pages)}`,
      patch: overridePages(resolved.site, pages, 'title.presence', 'shown'),
      choice: true,
    },
  ],
})
