import { viewRule } from '../rule.js'

/** Custom CSS moves or hides a part of the page in a way that is not followed. */
export const styleNotUnderstood = viewRule({
  id: 'style-not-understood',
  severity: 'note',
  facet: 'site',
  summary: 'A style sheet moves or hides a part of the page in a way that is not followed.',
  matters: 'What is worked out of these pages may not be what a visitor sees.',
  holds: 'A style sheet sets a property on a locator that moves or hides it and has no counterpart among the settings.',
  example: `styles: [ { css: "#top { transform: translateY(4px) }" } ]
`,
  numbers: ['declarations'],
  message: ({ worst }) =>
    `what style does to the ${worst.words?.['part'] ?? 'page'} is not followed: ${worst.words?.['css'] ?? ''}`,
  advice: 'check these pages in a browser, or use settings instead',
  check(sight, report) {
    for (const { part, declaration: d } of sight.view.style.notUnderstood) {
      const { line, column } = d.place
      report({
        // A sheet has many declarations: each is a place of its own.
        at: `${d.pointer}#${line}:${column}`,
        place: { ...d.place, pointer: d.pointer },
        numbers: { declarations: 1 },
        words: { part, css: `${d.selector} { ${d.property}: ${d.value} }` },
      })
    }
  },
  propose: () => [],
})
