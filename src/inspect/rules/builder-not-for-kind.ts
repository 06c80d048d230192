import { own, toPointer } from '../../model/json.js'
import { removeAt } from '../propose.js'
import { pageRule } from '../rule.js'

/** A page built with a builder that is not for its kind. */
export const builderNotForKind = pageRule({
  id: 'builder-not-for-kind',
  severity: 'warning',
  facet: 'assignment',
  summary: 'The page was built with a builder that is not switched on for its kind.',
  matters: 'The builder’s layout and template do not reach the page, and it cannot be opened in the builder.',
  holds: '`built.with` names a builder whose `kinds` lack the page’s.',
  example: `kinds: { article: {} }
builders: { stave: { kinds: [ page ] } }
pages: { visit: { path: /visit, title: Visit, kind: article, built: { with: stave }, body: [ { section: s, items: [ { text: words } ] } ] } }
`,
  numbers: [],
  message: ({ worst }) =>
    `the builder "${worst.words?.['builder'] ?? ''}" is not for pages of kind ${worst.words?.['kind'] ?? ''}`,
  advice: 'switch the builder on for this kind, or make the page one of another',
  check(sight, report) {
    const { builder, kind } = sight.page.facts
    const kinds = builder === undefined ? undefined : own(sight.resolved.site.data.builders, builder)?.kinds
    if (builder === undefined || !kinds || kinds.includes(kind)) return
    report({ at: sight.pointer('built', 'with'), numbers: {}, words: { builder, kind } })
  },
  propose: ({ at, worst }, { site }) => [
    {
      title: `switch the builder on for kind ${worst.words?.['kind'] ?? ''}`,
      patch: [
        {
          op: 'add',
          path: toPointer(['builders', worst.words?.['builder'] ?? '', 'kinds', '-']),
          value: worst.words?.['kind'] ?? '',
        },
      ],
      choice: true,
    },
    { title: 'remove the note that it was built', patch: removeAt(site, at.replace(/\/with$/, '')), choice: true },
  ],
})
