import { toPointer } from '../../model/json.js'
import { pageRule } from '../rule.js'
import { removeAt } from '../propose.js'

/** Two templates chosen for one page, in two places. */
export const templateChoiceDisagrees = pageRule({
  id: 'template-choice-disagrees',
  severity: 'note',
  facet: 'template',
  summary: 'The page names one template and its builder stored another.',
  matters: 'It is unclear which of the two is intended, and opening the page in the builder may change it.',
  holds: 'The page’s `template` and `built.template` differ.',
  example: `builders: { stave: {} }
templates: { a: {}, b: {} }
pages:
  visit: { path: /visit, title: Visit, template: a, built: { with: stave, template: b }, body: [ { section: s, items: [ { text: words } ] } ] }
  hours: { path: /hours, title: Hours, template: b, body: [ { section: s, items: [ { text: words } ] } ] }
`,
  numbers: [],
  message: ({ worst }) =>
    `the page sets "${worst.words?.['page'] ?? ''}", the builder stored "${worst.words?.['built'] ?? ''}"`,
  advice: 'set it in one place',
  check(sight, report) {
    const { template, built } = sight.page.data
    if (template === undefined || built?.template === undefined || template === built.template) return
    report({
      at: sight.pointer('built', 'template'),
      numbers: {},
      words: { page: template, built: built.template },
      related: [{ pointer: sight.pointer('template'), because: 'the page’s own choice' }],
    })
  },
  propose: ({ at, pages }, resolved) => {
    const [page = ''] = pages
    const own = toPointer(['pages', page, 'template'])
    const loser = resolved.page(page).choice.winner?.pointer === at ? own : at
    return [{ title: 'remove the choice that is ignored', patch: removeAt(resolved.site, loser), choice: true }]
  },
})
