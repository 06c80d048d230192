import type { PropertyPath } from '../../model/facets.js'
import { ownSettings } from '../own-settings.js'
import { removeAt } from '../propose.js'
import { pageRule } from '../rule.js'

/** An override that a stronger layer outranks. */
export const overrideOutranked = pageRule({
  id: 'override-outranked',
  severity: 'warning',
  facet: 'override',
  summary: 'A page’s own setting has no effect: a stronger layer overrides it.',
  matters: 'What was asked for this page does not happen.',
  holds:
    'The setting wins at no viewport where it has a value, because the site’s `precedence` puts another layer above it.',
  example: `precedence: [ baseline, theme, kind, page, template, assign, builder ]
templates: { t: { layout: { title: shown } } }
pages: { visit: { path: /visit, title: Visit, template: t, layout: { title: visually-hidden }, body: [ { section: s, items: [ { text: words } ] } ] } }
`,
  numbers: [],
  message: ({ worst }) =>
    `${worst.words?.['path'] ?? 'it'} has no effect: ${worst.words?.['winner'] ?? 'a stronger layer'} decides`,
  advice: 'set it at the layer that wins, or remove it',
  check(sight, report) {
    for (const { path, pointer, views } of ownSettings(sight)) {
      const isOutranked =
        views.length > 0 && views.every(({ entry }) => entry.outcome === 'overridden' || entry.outcome === 'same')
      const winner = views[0]?.sight.view.chain(path as PropertyPath).find((entry) => entry.outcome === 'wins')
      if (isOutranked) report({ at: pointer, numbers: {}, words: { path, winner: winner?.because ?? '' } })
    }
  },
  propose: ({ at }, { site }) => [{ title: 'remove it; no page changes', patch: removeAt(site, at), choice: true }],
})
