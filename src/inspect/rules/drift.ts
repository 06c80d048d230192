import { realityRule } from '../rule.js'

/** Real pages that differ from the site file. */
export const drift = realityRule({
  id: 'drift',
  severity: 'warning',
  facet: 'site',
  summary: 'An observation of the real page disagrees with the computed value.',
  matters:
    'Everything computed from the site file is computed for a site that no longer exists: what it calls fine may be broken, and the reverse.',
  holds:
    'A number that was observed differs by more than 1 px from the computed one, a word at all. Numbers that were only estimated are listed apart. Each number is of one thing alone, so that one change does not show in everything below it; all that a single change of the site file would explain is one finding.',
  example: `surrounds: { top: { as: header, height: 96px } }
theme: { layout: { header: { use: top } } }
pages:
  visit: { path: /visit, title: Visit }
# and the real header of /visit is 120 px tall
`,
  numbers: ['expected', 'seen'],
  message: () => 'the real page differs from what was worked out',
  advice: 'update the site file, or correct the real site',
})
