import { pageRule } from '../rule.js'
import { setAt } from '../propose.js'

/** A live page with nothing on it. */
export const emptyPageLive = pageRule({
  id: 'empty-page-live',
  severity: 'warning',
  facet: 'body',
  summary: 'The page is published and has nothing on it.',
  matters: 'A visitor follows a link to an empty page.',
  holds:
    'The page is published, nothing in its body prints, its template prints the content, no listing is printed, and it is neither a listing nor the search page.',
  example: `pages: { visit: { path: /visit, title: Visit } }
`,
  numbers: [],
  message: () => 'the page is published and has nothing on it',
  advice: 'write it, or make it a draft',
  check(sight, report) {
    const { page } = sight
    const isListing = page.facts.purposes.some((p) => p.startsWith('listing') || p === 'search')
    if (!sight.isPublished || isListing || !sight.sights[0]?.arrange.includes('content')) return
    const hasSomething = sight.some((each) =>
      each.items.some((printed) => (printed.place === 'body' || printed.kind === 'listing') && each.prints(printed)),
    )
    if (!hasSomething)
      report({ at: page.data.body === undefined ? sight.pointer() : sight.pointer('body'), numbers: {} })
  },
  propose: ({ pages }, { site }) => [
    {
      title: 'make it a draft',
      patch: pages.flatMap((page) => setAt(site, ['pages', page, 'status'], 'draft')),
      choice: true,
    },
  ],
})
