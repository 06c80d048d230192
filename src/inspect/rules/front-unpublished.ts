import { setAt } from '../propose.js'
import { pageRule } from '../rule.js'

/** A front page that no visitor can see. */
export const frontUnpublished = pageRule({
  id: 'front-unpublished',
  severity: 'error',
  facet: 'site',
  summary: 'The front page is a draft.',
  matters: 'Who types the site’s address finds nothing.',
  holds: 'The page that `purposes.front` names has the status `draft`.',
  example: `purposes: { front: visit }
assets: { mark: { width: 80, height: 40 } }
pages: { visit: { path: /, title: Visit, status: draft, share: { image: mark }, body: [ { section: s, items: [ { text: words } ] } ] } }
`,
  numbers: [],
  message: () => 'the front page is a draft',
  advice: 'publish it, or name another',
  check(sight, report) {
    if (sight.page.facts.purposes.includes('front') && !sight.isPublished)
      report({ at: sight.pointer('status'), numbers: {} })
  },
  propose: ({ pages }, { site }) => [
    {
      title: 'publish it',
      patch: pages.flatMap((page) => setAt(site, ['pages', page, 'status'], 'published')),
      choice: true,
    },
  ],
})
