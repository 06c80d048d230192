import { removeAt } from '../propose.js'
import { pageRule } from '../rule.js'

/** A template that was chosen and could not be used. */
export const templatePassedOver = pageRule({
  id: 'template-passed-over',
  severity: 'warning',
  facet: 'template',
  summary: 'A template chosen for the page cannot be used, and another is used instead.',
  matters: 'The page does not look as whoever chose the template thinks it does.',
  holds:
    'A candidate stronger than the one that is used is missing, disabled, of an extension that is off, or not for the page’s kind.',
  example: `pages: { visit: { path: /visit, title: Visit, template: gone, body: [ { section: s, items: [ { text: words } ] } ] } }
`,
  numbers: [],
  message: ({ worst }) => `${worst.words?.['because'] ?? ''}; ${worst.words?.['instead'] ?? ''} is used`,
  advice: 'choose a template that is there and meant for this kind',
  check({ page }, report) {
    const instead = page.choice.template?.id
    for (const entry of page.choice.chain) {
      if (entry.outcome === 'wins') break
      const isBarred = entry.outcome === 'skipped' && (entry.layer === 'builder' || entry.layer === 'built')
      if (
        entry.outcome !== 'skipped' ||
        (isBarred && !entry.because.includes('the template "') && !entry.because.includes('no template "'))
      )
        continue
      report({
        at: entry.pointer,
        numbers: {},
        words: { because: entry.because, instead: instead === undefined ? 'no template' : `"${instead}"` },
      })
    }
  },
  propose: ({ at }, { site }) =>
    at.startsWith('/assign/')
      ? []
      : [{ title: 'remove the choice; the page stays as it is', patch: removeAt(site, at), choice: true }],
})
