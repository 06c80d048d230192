import { giveTo } from '../propose.js'
import { viewRule } from '../rule.js'

/** More than one visible title on a page. */
export const titleDoubled = viewRule({
  id: 'title-doubled',
  severity: 'warning',
  facet: 'title',
  summary: 'A page shows more than one title.',
  matters: 'Two titles push the content down, and who reads by ear hears the page begin twice.',
  holds:
    'Two or more of these are seen: the theme’s title; a `title` item of a header, an insert or the body; a heading 1 in the template’s arrange or in the first section; any heading with the title’s words.',
  example: `pages: { visit: { path: /visit, title: Visit, body: [ { section: s, items: [ { heading: 1, text: Come and see } ] } ] } }
`,
  numbers: ['titles'],
  message: ({ worst }) => `${worst.numbers['titles']} titles are seen: ${worst.words?.['sources'] ?? ''}`,
  advice: 'keep the designed one, and remove the other',
  check(sight, report) {
    const titles = sight.seenTitles
    const [first, second] = titles
    if (!first || !second) return
    report({
      at: first.pointer,
      numbers: { titles: titles.length },
      words: {
        sources: titles.map((t) => t.what).join(', '),
        ...(titles.some((t) => !t.theme && t.isNamed) && { isNamed: 'yes' }),
      },
      related: titles.slice(1).map((t) => ({ pointer: t.pointer, because: t.what })),
    })
  },
  propose({ pages, cases }, resolved) {
    if (!cases.every((c) => c.words?.['sources']?.startsWith("the theme's title"))) return []
    const removed = giveTo(resolved, pages, 'title.presence', 'absent', (where) => `remove the theme’s title ${where}`)
    const hidden = giveTo(
      resolved,
      pages,
      'title.presence',
      'visually-hidden',
      (where) => `hide the theme’s title visually ${where}; it is still read aloud`,
    )
    // Where the other has other words, the page would lose its name.
    const isNamed = cases.every((c) => c.words?.['isNamed'] !== undefined)
    return isNamed ? [...removed, ...hidden] : [...hidden, ...removed.map((each) => ({ ...each, choice: true }))]
  },
})
