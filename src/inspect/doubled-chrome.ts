import type { MeasuredSection } from '../measure/section.js'
import { giveTo } from './propose.js'
import type { ViewRule } from './rule.js'
import type { Sight } from './sight.js'

type Shared = Pick<ViewRule, 'severity' | 'facet' | 'numbers' | 'message' | 'advice' | 'check' | 'propose'>

/** What the rules about a header and a footer seen twice have in common. */
export const doubledChrome = (
  facet: 'header' | 'footer',
  isBuilt: (role: unknown, section: MeasuredSection, sight: Sight) => boolean,
): Shared => ({
  severity: 'warning',
  facet,
  numbers: ['sources'],
  message: ({ worst }) =>
    `${worst.numbers['sources']} ${facet}s are seen: the theme’s, and ${worst.words?.['what'] ?? 'one in the body'}`,
  advice: `remove the built one, or the theme’s ${facet} on this page`,
  check(sight, report) {
    if (!sight[facet]) return
    const built = sight.measure.sections.filter(
      (section) => section.pointer.startsWith(sight.body) && isBuilt(sight.frame.at(section.data.role), section, sight),
    )
    const [first] = built
    if (!first) return
    report({
      at: first.pointer,
      numbers: { sources: 1 + built.length },
      words: { what: built.map((section) => `the section "${section.id}"`).join(', ') },
      related: [{ pointer: sight.decider(`${facet}.presence`).at, because: `the theme’s ${facet}` }],
    })
  },
  propose: ({ at, pages }, resolved) => [
    ...giveTo(resolved, pages, `${facet}.presence`, 'absent', (where) => `set ${facet}: absent ${where}`),
    { title: `remove the ${facet} that is built into the body`, patch: [{ op: 'remove', path: at }], choice: true },
  ],
})
