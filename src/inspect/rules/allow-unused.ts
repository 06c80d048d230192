import { valueAt, type Json } from '../../model/json.js'
import { allowRule } from '../rule.js'

/** A permission that nothing needs any more. */
export const allowUnused = allowRule({
  id: 'allow-unused',
  severity: 'note',
  upkeep: 'other',
  facet: 'policy',
  summary: 'An entry of `allow` permits nothing.',
  matters: 'It will hide the next mistake of its kind.',
  holds: 'No finding was let pass by it.',
  example: `allow: [ { rule: header-tall, reason: It earns its height. } ]
`,
  numbers: [],
  message: ({ worst }) => `nothing was allowed by it (${worst.words?.['rules'] ?? ''})`,
  advice: 'remove it',
  check(unused, report) {
    for (const { pointer, rules } of unused)
      report({ at: pointer, pages: [], numbers: {}, words: { rules: rules.join(', ') } })
  },
  propose: ({ at }, { site }) => {
    const list = at.slice(0, at.lastIndexOf('/'))
    const entries = valueAt(site.data as unknown as Json, list)
    const isLast = Array.isArray(entries) && entries.length === 1
    return [{ title: 'remove it', patch: [{ op: 'remove', path: isLast ? list : at }] }]
  },
})
