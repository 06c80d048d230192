import { overridePages, pagesInWords } from '../propose.js'
import { viewRule } from '../rule.js'

/** The theme's header and one that was built. */
export const headerDoubled = viewRule({
  id: 'header-doubled',
  severity: 'warning',
  facet: 'header',
  summary: 'The page shows the theme’s header and, in its body, a header or navigation that was built.',
  matters: 'Two headers take the room of one, and a visitor wonders which menu is the true one.',
  holds:
    'The header is printed, and a section of the body has the role `banner`, or the first one `navigation`. sources counts all headers.',
  example: `surrounds: { top: { as: header, height: 60px } }
theme: { layout: { header: { use: top } } }
pages: { visit: { path: /visit, title: Visit, body: [ { section: s, role: banner, items: [ { text: words } ] } ] } }
`,
  numbers: ['sources'],
  message: ({ worst }) =>
    `${worst.numbers['sources']} headers are seen: the theme’s, and ${worst.words?.['what'] ?? 'one in the body'}`,
  advice: 'take the built one away, or the theme’s header on this page',
  check(sight, report) {
    const { header, measure, frame, firstSection } = sight
    if (!header) return
    const built = measure.sections.filter((section) => {
      const role = frame.at(section.data.role)
      return (
        section.pointer.startsWith(sight.body) &&
        (role === 'banner' || (role === 'navigation' && section === firstSection))
      )
    })
    const [first] = built
    if (!first) return
    report({
      at: first.pointer,
      numbers: { sources: 1 + built.length },
      words: { what: built.map((s) => `the section "${s.id}"`).join(', ') },
      related: [{ pointer: sight.decider('header.presence').at, because: 'the theme’s header' }],
    })
  },
  propose: ({ at, pages }, { site }) => [
    {
      title: `take the theme’s header away on ${pagesInWords(pages)}`,
      patch: overridePages(site, pages, 'header.presence', 'absent'),
    },
    { title: 'take the built header away', patch: [{ op: 'remove', path: at }], choice: true },
  ],
})
