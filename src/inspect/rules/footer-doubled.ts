import { overridePages, pagesInWords } from '../propose.js'
import { viewRule } from '../rule.js'

/** The theme's footer and one that was built. */
export const footerDoubled = viewRule({
  id: 'footer-doubled',
  severity: 'warning',
  facet: 'footer',
  summary: 'The page shows the theme’s footer and, in its body, a footer that was built.',
  matters: 'A page that ends twice looks broken, and its small print may disagree with itself.',
  holds: 'The footer is printed, and a section of the body has the role `contentinfo`. sources counts all footers.',
  example: `surrounds: { foot: { as: footer, height: 60px } }
theme: { layout: { footer: { use: foot } } }
pages: { visit: { path: /visit, title: Visit, body: [ { section: s, role: contentinfo, items: [ { text: words } ] } ] } }
`,
  numbers: ['sources'],
  message: ({ worst }) =>
    `${worst.numbers['sources']} footers are seen: the theme’s, and ${worst.words?.['what'] ?? 'one in the body'}`,
  advice: 'take the built one away, or the theme’s footer on this page',
  check(sight, report) {
    if (!sight.footer) return
    const built = sight.measure.sections.filter(
      (s) => s.pointer.startsWith(sight.body) && sight.frame.at(s.data.role) === 'contentinfo',
    )
    const [first] = built
    if (!first) return
    report({
      at: first.pointer,
      numbers: { sources: 1 + built.length },
      words: { what: built.map((s) => `the section "${s.id}"`).join(', ') },
      related: [{ pointer: sight.decider('footer.presence').at, because: 'the theme’s footer' }],
    })
  },
  propose: ({ at, pages }, { site }) => [
    {
      title: `take the theme’s footer away on ${pagesInWords(pages)}`,
      patch: overridePages(site, pages, 'footer.presence', 'absent'),
    },
    { title: 'take the built footer away', patch: [{ op: 'remove', path: at }], choice: true },
  ],
})
