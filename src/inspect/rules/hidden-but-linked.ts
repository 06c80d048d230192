import { toPointer } from '../../model/json.js'
import type { Deciding } from '../deciding.js'
import type { PageSight } from '../page-sight.js'
import { overridePages, pagesInWords } from '../propose.js'
import { siteRule } from '../rule.js'
import { allOf } from '../engine/reads.js'

/** A page that is kept from search engines and offered in a menu. */
export const hiddenButLinked = siteRule({
  id: 'hidden-but-linked',
  severity: 'note',
  facet: 'site',
  summary: 'A page that search engines should not find is the front page, or is in a menu that is printed.',
  matters: 'It is promoted and hidden at once; one of the two was forgotten.',
  holds: '`findable.web` is false, and the page is the front page or in a menu that some live page prints.',
  example: `menus: { m: [ { label: Visit, page: visit } ] }
assets: { mark: { width: 80, height: 40 } }
surrounds: { top: { as: header, rows: [ { items: [ { menu: m } ] } ] } }
theme: { layout: { header: { use: top } } }
pages: { visit: { path: /visit, title: Visit, layout: { findable: false }, share: { image: mark }, body: [ { section: s, items: [ { text: words } ] } ] } }
`,
  numbers: [],
  message: ({ worst }) => `search engines are kept out, yet it ${worst.words?.['how'] ?? 'is linked'}`,
  advice: 'let it be found, or take it out of the menu',
  marks(sight, mark) {
    for (const menu of menusOn(sight)) mark('', `menu ${menu}`)
    const decider = hiddenBy(sight)
    if (decider) mark('', HIDDEN, { decider, isFront: sight.page.facts.purposes.includes('front') })
  },
  judge(tally, { site }, report) {
    if (tally.count(HIDDEN) === 0) return
    const linked = new Map<string, string>()
    for (const [id, entries] of Object.entries(allOf(site.data.menus) ?? {}))
      if (tally.count(`menu ${id}`) > 0) for (const { page } of entries) if (page !== undefined) linked.set(page, id)
    for (const { page, detail } of tally.marks(HIDDEN)) {
      const { decider, isFront } = detail as HiddenPage
      const menu = linked.get(page)
      if (!isFront && menu === undefined) continue
      report({
        pages: [page],
        numbers: {},
        words: { how: isFront ? 'is the front page' : `is in the menu "${menu}"` },
        ...(menu !== undefined && { related: [{ pointer: toPointer(['menus', menu]), because: 'the menu' }] }),
        ...decider,
      })
    }
  },
  propose: ({ pages }, { site }) => [
    {
      title: `let search engines find ${pagesInWords(pages)}`,
      patch: overridePages(site, pages, 'findable.web', true),
      choice: true,
    },
  ],
})

const HIDDEN = 'hidden'

interface HiddenPage {
  readonly decider: Deciding
  readonly isFront: boolean
}

/** The menus that a live page prints. */
function menusOn({ isPublished, sights }: PageSight): readonly string[] {
  if (!isPublished) return []
  return [...new Set(sights.flatMap(({ items }) => items.flatMap(({ item }) => item.menu ?? [])))]
}

function hiddenBy({ sights }: PageSight) {
  const hidden = sights.find(({ view }) => view.value('findable.web') === false)
  return hidden?.decider('findable.web')
}
