import { brokenRequirements } from '../policies.js'
import { viewRule } from '../rule.js'

/** A promise of the site's owner that a page does not keep. */
export const policyBroken = viewRule({
  id: 'policy-broken',
  severity: 'error',
  facet: 'policy',
  summary: 'A page does not keep what a policy of the site requires of it.',
  matters: 'It was promised.',
  holds:
    'A requirement of a policy that means the page does not hold at a viewport: a value, a list of values of which one will do, or `min` and `max`. is and should are the figures where there are any.',
  example: `policies: [ { name: No sidebar anywhere, require: { sidebar: none } } ]
theme: { layout: { sidebar: right } }
pages: { visit: { path: /visit, title: Visit, body: [ { section: s, items: [ { text: words } ] } ] } }
`,
  numbers: ['is', 'should'],
  message: ({ worst }) => `“${worst.words?.['policy'] ?? ''}”: ${worst.words?.['what'] ?? ''}`,
  advice: 'change the page, or the policy',
  check(sight, report) {
    for (const broken of brokenRequirements(sight)) report(broken)
  },
})
