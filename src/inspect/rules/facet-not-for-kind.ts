import { own } from '../../model/json.js'
import { FACET_NAMES } from '../../model/facets.js'
import { pageRule } from '../rule.js'
import { removeAt } from '../propose.js'

/** A setting of a facet that pages of the kind do not have. */
export const facetNotForKind = pageRule({
  id: 'facet-not-for-kind',
  severity: 'note',
  facet: 'override',
  summary: 'A page sets a facet that cannot be set for pages of its kind.',
  matters: 'Nothing comes of it, and whoever finds it wonders.',
  holds: 'The page’s layout has a facet that is not among its kind’s `facets`.',
  example: `kinds: { product: { facets: [ title ] } }
pages: { visit: { path: /visit, title: Visit, kind: product, layout: { spacing: 0 }, body: [ { section: s, items: [ { text: words } ] } ] } }
`,
  numbers: [],
  message: ({ worst }) =>
    `${worst.words?.['facet'] ?? ''} cannot be set for pages of kind ${worst.words?.['kind'] ?? ''}`,
  advice: 'remove it, or add the facet to the kind',
  check(sight, report) {
    const { kind } = sight.page.facts
    const { layout } = sight.page.data
    const facets = layout && own(sight.resolved.site.data.kinds, kind)?.facets
    if (!facets) return
    for (const facet of FACET_NAMES)
      if (layout[facet] !== undefined && !facets.includes(facet))
        report({ at: sight.pointer('layout', facet), numbers: {}, words: { facet, kind } })
  },
  propose: ({ at }, { site }) => [{ title: 'remove it; no page changes', patch: removeAt(site, at) }],
})
