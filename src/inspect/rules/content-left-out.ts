import { contentUnseen } from '../content-unseen.js'
import { setAt } from '../propose.js'
import { plural } from '../words.js'
import { pageRule } from '../rule.js'

/** A body that the template has no place for. */
export const contentLeftOut = pageRule({
  id: 'content-left-out',
  severity: 'error',
  facet: 'template',
  summary: 'The template has no place for the content, and the page has some.',
  matters: 'Nothing of what was written for the page is seen.',
  holds:
    'The template’s arrange has neither content nor a listing, and the page has a body. words and items count what is unseen.',
  example: `templates: { t: { arrange: [ title ] } }
pages: { visit: { path: /visit, title: Visit, template: t, body: [ { section: s, items: [ { text: two words } ] } ] } }
`,
  numbers: ['words', 'items'],
  message: ({ worst }) =>
    `the template leaves the content out: ${plural(worst.numbers['words'], 'word')} in ${plural(worst.numbers['items'], 'item')} are unseen`,
  advice: 'give the template a place for content, or the page another template',
  check(sight, report) {
    const unseen = contentUnseen(sight)
    if (unseen && !unseen.replaced) report({ at: unseen.at, numbers: unseen.numbers })
  },
  propose: ({ at }, { site }) => [
    {
      title: 'print the content where the template ends',
      patch: setAt(site, [...at.split('/').slice(1), '-'], 'content'),
    },
  ],
})
