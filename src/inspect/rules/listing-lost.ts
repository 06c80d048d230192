import { plural } from '../words.js'
import { own, toPointer } from '../../model/json.js'
import type { PageSight } from '../page-sight.js'
import { siteRule } from '../rule.js'

/** Pages of a kind that no listing shows. */
export const listingLost = siteRule({
  id: 'listing-lost',
  severity: 'warning',
  facet: 'site',
  summary: 'No page lists the pages of a kind that should be listed.',
  matters: 'Visitors who browse the site cannot find them; only search engines can.',
  holds:
    'A kind with `listed` (default for `article`: true) has published pages, no page has the purpose of listing it, and no listing of it is printed. pages counts them.',
  example: `kinds: { article: {} }
pages: { visit: { path: /visit, title: Visit, kind: article } }
`,
  numbers: ['pages'],
  message: ({ worst }) =>
    `no page lists the kind ${worst.words?.['kind'] ?? ''}, which has ${plural(worst.numbers['pages'], 'published page')}`,
  advice: 'make a page that lists them, and set it in purposes.listing',
  marks(sight, mark) {
    if (!sight.isPublished) return
    mark(sight.page.facts.kind, 'page')
    for (const kind of listingsOn(sight)) mark(kind, 'listing')
  },
  judge(tally, survey, report, kind) {
    const { data } = survey.site
    const isListed = own(data.kinds, kind)?.listed ?? kind === 'article'
    const listing = own(data.purposes?.listing, kind)
    if (!isListed || tally.count('listing') > 0 || (listing !== undefined && survey.page(listing))) return
    const ids = tally.marks('page').map(({ page }) => page)
    if (ids.length === 0) return
    const at = own(data.kinds, kind) ? toPointer(['kinds', kind]) : toPointer(['pages', ids[0] as string, 'kind'])
    report({ at, pages: ids, numbers: { pages: ids.length }, words: { kind } })
  },
})

/** The kinds that a live page prints a listing of. */
function listingsOn({ isPublished, sights }: PageSight): readonly string[] {
  if (!isPublished) return []
  return [...new Set(sights.flatMap(({ items }) => items.flatMap(({ item }) => item.listing ?? [])))]
}
