import { viewRule } from '../rule.js'
import { leftBehind } from '../left-behind.js'

/** A gap of the template that separated something now absent. */
export const gapLeftBehind = viewRule({
  id: 'gap-left-behind',
  severity: 'warning',
  facet: 'spacing',
  summary: 'A gap of the template separates nothing: what was beside it is gone.',
  matters: 'There is an empty hole where something used to be.',
  holds:
    'A gap of the template’s arrange has a named neighbor side that prints nothing (between two gaps the smaller counts); or it is the first, with nothing printed above it, before a first section with a background.',
  example: `templates: { t: { arrange: [ title, { gap: 64px }, content ], layout: { title: absent } } }
pages: { visit: { path: /visit, title: Visit, template: t, body: [ { section: s, items: [ { text: words } ] } ] } }
`,
  numbers: ['px'],
  message: ({ worst }) =>
    `${Math.round(worst.numbers['px'] ?? 0)} px of gap are left ${worst.words?.['where'] ?? 'behind'}`,
  advice: 'remove the gap from the template’s arrange, or give pages without it a template of their own',
  check(sight, report) {
    const pointer = sight.page.choice.template?.arrangePointer
    if (pointer === undefined) return
    for (const { slot, where } of leftBehind(sight))
      report({ at: `${pointer}/${slot.index}`, numbers: { px: slot.height }, words: { where } })
  },
  propose: ({ at }) => [{ title: 'remove the gap from the template', patch: [{ op: 'remove', path: at }] }],
})
