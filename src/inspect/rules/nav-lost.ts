import { exitsOf, targetsOf } from '../links.js'
import { giveTo } from '../propose.js'
import { viewRule } from '../rule.js'
import type { Sight } from '../sight.js'

/** A page with no way back into the site. */
export const navLost = viewRule({
  id: 'nav-lost',
  severity: 'warning',
  facet: 'header',
  summary: 'Nothing on the page leads back into the site: no menu, no logo, no link to the front page.',
  matters: 'A visitor who has read it can only close the window.',
  holds:
    'The page is not the front page, and it prints no menu with entries, no logo and no link to the front page. exits counts the links to other pages and sites.',
  example: `purposes: { front: home }
assets: { mark: { width: 80, height: 40 } }
surrounds: { top: { as: header, rows: [ { items: [ { logo: mark } ] } ] }, foot: { as: footer, height: 40px } }
theme: { layout: { header: { use: top }, footer: { use: foot } } }
templates: { bare: { layout: { header: absent } } }
pages:
  home: { path: /, title: Home }
  visit: { path: /visit, title: Visit, template: bare, body: [ { section: s, items: [ { text: words } ] } ] }
`,
  numbers: ['exits'],
  worst: 'smallest',
  message: ({ worst }) => `no menu, no logo and no link to the front page; ${worst.numbers['exits']} other exits`,
  advice: 'show a header with the logo alone, or put a link to the front page into the body',
  check(sight, report) {
    if (sight.page.facts.purposes.includes('front') || hasWayBack(sight)) return
    const decider = sight.header ? sight.decider('header.use') : sight.decider('header.presence')
    report({ numbers: { exits: exitsOf(sight).size }, ...decider })
  },
  propose: ({ pages }, resolved) =>
    giveTo(resolved, pages, 'header.presence', 'shown', (where) => `show the header ${where}`),
})

function hasWayBack(sight: Sight): boolean {
  const front = sight.resolved.site.data.purposes?.front
  return sight.items.some((printed) => {
    if (!sight.prints(printed)) return false
    if (printed.kind === 'menu' || printed.kind === 'logo') return true
    return targetsOf(sight, printed.item).some(
      (target) => ('page' in target && target.page === front) || ('address' in target && target.address === '/'),
    )
  })
}
