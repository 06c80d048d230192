import { contentUnseen } from '../content-unseen.js'
import { setAt } from '../propose.js'
import { plural } from '../words.js'
import { pageRule } from '../rule.js'

/** A body on a page whose template lists other pages instead. */
export const contentReplaced = pageRule({
  id: 'content-replaced',
  severity: 'error',
  facet: 'template',
  summary: 'The template lists other pages instead of printing this page’s content.',
  matters: 'Nothing of what was written for the page is seen.',
  holds:
    'The template’s arrange has no content but a listing, and the page has a body. words and items count what is unseen.',
  example: `kinds: { article: {} }
templates: { t: { arrange: [ title, { listing: article } ] } }
pages: { visit: { path: /visit, title: Visit, template: t, body: [ { section: s, items: [ { text: two words } ] } ] } }
`,
  numbers: ['words', 'items'],
  message: ({ worst }) =>
    `the template lists other pages in the content’s place: ${plural(worst.numbers['words'], 'word')} in ${plural(worst.numbers['items'], 'item')} are unseen`,
  advice: 'give the template a place for content, or the page another template',
  check(sight, report) {
    const unseen = contentUnseen(sight)
    if (unseen?.replaced) report({ at: unseen.at, numbers: unseen.numbers })
  },
  propose: ({ at }, { site }) => [
    {
      title: 'print the content where the template ends',
      patch: setAt(site, [...at.split('/').slice(1), '-'], 'content'),
      choice: true,
    },
  ],
})
