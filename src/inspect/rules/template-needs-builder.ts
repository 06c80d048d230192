import { pageRule } from '../rule.js'

/** A template meant for a builder, on a page that is not built with it. */
export const templateNeedsBuilder = pageRule({
  id: 'template-needs-builder',
  severity: 'note',
  facet: 'template',
  summary: 'The page gets a template that is meant for pages built with a certain builder, and is not built with it.',
  matters: 'Such a template leaves out what its builder usually prints, and nobody prints it here.',
  holds: 'The template that the page gets has `builder`, and the page is built with another builder or with none.',
  example: `builders: { stave: {} }
templates: { bare: { builder: stave } }
pages: { visit: { path: /visit, title: Visit, template: bare, body: [ { section: s, items: [ { text: words } ] } ] } }
`,
  numbers: [],
  message: ({ worst }) =>
    `the template "${worst.words?.['template'] ?? ''}" is meant for pages built with ${worst.words?.['builder'] ?? ''}; this page is built with ${worst.words?.['built'] ?? 'none'}`,
  advice: 'choose another template, or build the page with that builder',
  check({ page }, report) {
    const { template } = page.choice
    if (template?.builder === undefined || template.builder === page.facts.builder) return
    const winner = page.choice.winner
    if (!winner) return
    report({
      at: winner.pointer,
      numbers: {},
      words: { template: template.id, builder: template.builder, built: page.facts.builder ?? 'none' },
    })
  },
})
