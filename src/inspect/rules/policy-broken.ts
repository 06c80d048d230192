import { brokenRequirements } from '../policies.js'
import { isPropertyPath, pathOf, HEADLINE_PROPERTY, isFacet } from '../../model/facets.js'
import type { Json } from '../../model/json.js'
import { giveTo } from '../propose.js'
import { viewRule } from '../rule.js'

/** A policy that a page does not keep. */
export const policyBroken = viewRule({
  id: 'policy-broken',
  severity: 'error',
  facet: 'policy',
  summary: 'A page does not keep what a policy of the site requires of it.',
  matters: 'The site requires it of these pages.',
  holds:
    'A requirement of a policy that covers the page does not hold at a viewport: a value, a list of allowed values, or `min` and `max`. is and should are the figures, where the requirement has any.',
  example: `policies: [ { name: Every page shows its title, require: { title: shown } } ]
theme: { layout: { title: visually-hidden } }
pages: { visit: { path: /visit, title: Visit, body: [ { section: s, items: [ { text: words } ] } ] }, hours: { path: /hours, title: Hours, layout: { title: shown }, body: [ { section: s, items: [ { text: words } ] } ] } }
`,
  numbers: ['is', 'should'],
  message: ({ worst }) => `“${worst.words?.['policy'] ?? ''}”: ${worst.words?.['what'] ?? ''}`,
  advice: 'change the page, or the policy',
  check(sight, report) {
    for (const broken of brokenRequirements(sight)) report(broken)
  },
  propose: ({ at, pages }, resolved) => {
    const [, , index = '', , key = ''] = at.split('/')
    const required = resolved.site.data.policies?.[Number(index)]?.require[key] as Json | undefined
    const path = isFacet(key) ? pathOf(key, HEADLINE_PROPERTY[key]) : key
    if (!isPropertyPath(path) || required === undefined || typeof required === 'object') return []
    return giveTo(resolved, pages, path, required, (where) => `set ${path}: ${String(required)} ${where}`)
  },
})
