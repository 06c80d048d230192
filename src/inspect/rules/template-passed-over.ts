import { toPointer } from '../../model/json.js'
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
    if (!page.choice.hasSkipped) return
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
        words: {
          because: entry.because,
          instead: instead === undefined ? 'no template' : `"${instead}"`,
          template: typeof entry.value === 'string' ? entry.value : '',
        },
      })
    }
  },
  propose: ({ at, pages, worst }, resolved) => {
    const { site } = resolved
    const template = resolved.templates.get(worst.words?.['template'] ?? '')
    const kinds = new Set(pages.map((page) => resolved.page(page).facts.kind))
    // A list of its base's is that template's: it is left alone.
    const isShort = template?.data.for !== undefined && [...kinds].every((kind) => !template.data.for?.includes(kind))
    return [
      ...(isShort
        ? [
            {
              title: `allow the template "${template.id}" for kind ${[...kinds].join(', ')}`,
              patch: [...kinds].map((kind) => ({
                op: 'add' as const,
                path: `${toPointer(['templates', template.id, 'for'])}/-`,
                value: kind,
              })),
              choice: true,
            },
          ]
        : []),
      ...(at.startsWith('/assign/')
        ? []
        : [{ title: 'remove the choice; the page stays as it is', patch: removeAt(site, at), choice: true }]),
    ]
  },
})
