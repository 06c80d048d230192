import { sidebarItems } from '../../measure/surround.js'
import { fromPointer } from '../../model/json.js'
import { overridePages, pagesInWords, setAt } from '../propose.js'
import { viewRule } from '../rule.js'
import type { Sight } from '../sight.js'
import { itemPrints } from '../../measure/printed.js'

/** A sidebar has its place on the page and nothing in it. */
export const sidebarEmpty = viewRule({
  id: 'sidebar-empty',
  severity: 'warning',
  facet: 'sidebar',
  summary: 'A sidebar takes its place on the page and has nothing to print.',
  matters: 'The column is narrower than it could be, beside empty space.',
  holds:
    'The sidebar’s side is not `none`, it is shown, and its surround is missing or has nothing to print. reserved is its width and gap beside the column, or its gap below it.',
  example: `surrounds: { bare: { as: sidebar } }
theme: { layout: { sidebar: { side: right, use: bare } } }
pages: { visit: { path: /visit, title: Visit, body: [ { section: s, items: [ { text: words } ] } ] } }
`,
  numbers: ['reserved'],
  message: ({ worst }) =>
    `a sidebar keeps ${Math.round(worst.numbers['reserved'] ?? 0)} px and prints nothing: ${worst.words?.['why'] ?? ''}`,
  advice: 'fill the sidebar, or set sidebar: none',
  check(sight, report) {
    const { view, measure } = sight
    const box = measure.box('sidebar')
    if (!box) return
    const use = view.value('sidebar.use')
    if (sidebarItems(sight.frame).some(({ item }) => itemPrints(sight.page, item))) return
    const gap = sight.frame.property('sidebar.gap', measure.box('container')?.width) ?? 0
    report({
      // Beside the column its width and gap are lost; under it only the gap is.
      numbers: { reserved: measure.sidebarBeside ? box.width + gap : gap },
      words: { why: use === null ? noneChosen(sight) : `the surround "${String(use)}" has nothing to print` },
      related:
        use === null ? [] : [{ pointer: sight.decider('sidebar.use').at, because: 'the surround that is empty' }],
      ...sight.decider('sidebar.side'),
    })
  },
  propose({ at, pages }, { site }) {
    const path = fromPointer(at)
    const here = path.at(-1) === 'side' ? setAt(site, path, 'none') : []
    return [
      { title: 'set sidebar: none where its side is set', patch: here, choice: true },
      {
        title: `set sidebar: none on ${pagesInWords(pages)}`,
        patch: overridePages(site, pages, 'sidebar.side', 'none'),
        choice: true,
      },
    ]
  },
})

/** Why there is no surround: one that was named does not exist, or none was named. */
function noneChosen(sight: Sight): string {
  const hole = sight.view.chain('sidebar.use').find((entry) => entry.outcome === 'skipped')
  return hole ? hole.because.slice(hole.because.indexOf('; ') + 2) : 'no surround is chosen for it'
}
