import { pathOf } from '../../model/facets.js'
import { surroundOf } from '../../resolve/extensions.js'
import { viewRule } from '../rule.js'
import type { Sight } from '../sight.js'

/** The same sidebar, or two of them, on one page. */
export const sidebarDoubled = viewRule({
  id: 'sidebar-doubled',
  severity: 'warning',
  facet: 'sidebar',
  summary: 'The page prints a sidebar beside its content and another within it, or one surround twice.',
  matters: 'The same list is shown twice, and visitors look for the difference.',
  holds:
    'A sidebar is printed and a sidebar surround is in the body; or one surround is printed twice on the page. times counts them.',
  example: `surrounds: { rail: { as: sidebar, items: [ { text: words } ] } }
theme: { layout: { sidebar: { side: right, use: rail } } }
pages: { visit: { path: /visit, title: Visit, body: [ { section: s, items: [ { text: words }, { use: rail } ] } ] } }
`,
  numbers: ['times'],
  message: ({ worst }) =>
    `${worst.words?.['what'] ?? 'a sidebar'} is printed ${worst.numbers['times']} times on the page`,
  advice: 'remove the one in the body, or the sidebar beside it',
  check(sight, report) {
    const uses = sight.items.filter(({ kind }) => kind === 'use')
    if (uses.length === 0) return
    const inBody = uses.filter(
      ({ item, place }) => place === 'body' && surroundOf(sight.resolved.site.data, item.use)?.as === 'sidebar',
    )
    const [first] = inBody
    const beside = sight.sidebar !== undefined
    if (first && beside)
      return report({ at: first.pointer, numbers: { times: 1 + inBody.length }, words: { what: 'a sidebar' } })
    for (const [id, times] of timesPrinted(sight)) {
      const last = uses.findLast(({ item }) => item.use === id)
      if (times > 1 && last) report({ at: last.pointer, numbers: { times }, words: { what: `"${id}"` } })
    }
  },
  propose: ({ at }) => [{ title: 'remove the one in the content', patch: [{ op: 'remove', path: at }] }],
})

/** How often each surround is printed. */
function timesPrinted(sight: Sight): ReadonlyMap<string, number> {
  const { view, measure } = sight
  const ids = [
    ...(['header', 'footer', 'sidebar'] as const).flatMap((facet) =>
      measure.box(facet) ? [view.value(pathOf(facet, 'use'))] : [],
    ),
    ...sight.items.map(({ item }) => item.use),
  ].filter((id) => typeof id === 'string')
  const times = new Map<string, number>()
  for (const id of ids) times.set(id, (times.get(id) ?? 0) + 1)
  return times
}
