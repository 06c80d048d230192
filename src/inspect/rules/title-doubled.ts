import { overridePages, pagesInWords } from '../propose.js'
import { defineRule } from '../rule.js'

/** More than one visible title on a page. */
export const titleDoubled = defineRule({
  id: 'title-doubled',
  severity: 'warning',
  facet: 'title',
  summary: 'A page shows more than one title.',
  numbers: ['titles'],
  worst: 'largest',
  message: ({ worst }) => `${worst.numbers['titles']} titles are seen: ${worst.words?.['sources'] ?? ''}`,
  advice: 'keep the one that was designed, and take the other away',
  check(sight, report) {
    const titles = sight.seenTitles
    const [first, second] = titles
    if (!first || !second) return
    report({
      at: first.pointer,
      numbers: { titles: titles.length },
      words: { sources: titles.map((t) => t.what).join(', ') },
      related: titles.slice(1).map((t) => ({ pointer: t.pointer, because: t.what })),
    })
  },
  propose({ pages, cases }, { site }) {
    if (!cases.every((c) => c.words?.['sources']?.startsWith("the theme's title"))) return []
    const where = pagesInWords(pages)
    return [
      {
        title: `take the theme’s title away on ${where}; the builder’s heading carries the headline`,
        patch: overridePages(site, pages, 'title.presence', 'absent'),
      },
      {
        title: `hide the theme’s title visually on ${where}; it is still read aloud`,
        patch: overridePages(site, pages, 'title.presence', 'visually-hidden'),
      },
    ]
  },
})
