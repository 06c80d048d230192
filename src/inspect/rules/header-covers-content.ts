import { leastCertain } from '../../measure/box.js'
import { atViewports, overridePages, paddedAtTop, pagesInWords, removeAll, setAt } from '../propose.js'
import { viewRule, type Group, type Proposal } from '../rule.js'
import { px } from '../words.js'
import { firstContent, headerBox, takesNoRoom } from '../../measure/printed.js'
import { fromPointer, toPointer, valueAt, type Json } from '../../model/json.js'
import type { Site } from '../../model/site.js'
import { TOLERANCE_PX } from '../thresholds.js'

/** A fixed or overlay header lies over the first content. */
export const headerCoversContent = viewRule({
  id: 'header-covers-content',
  severity: 'error',
  facet: 'header',
  summary: 'A fixed or overlay header lies over the first content.',
  matters: 'A visitor cannot read what lies under the header, and the first words of a page are what they came for.',
  holds:
    'The header is printed, `fixed` or `overlay`, and its height is more than the y of the first content. covered = needed − room; room is that y, needed the header’s height. Under a header that lets things show through, pictures, embeds and the lead image do not count as content.',
  example: `surrounds: { top: { as: header, height: 100px } }
theme: { layout: { header: { use: top, position: fixed }, spacing: 30px } }
pages: { visit: { path: /visit, title: Visit, body: [ { section: s, items: [ { text: words } ] } ] } }
`,
  numbers: ['covered', 'room', 'needed'],
  message: ({ worst }) => {
    const { covered, room, needed } = worst.numbers
    return `the header covers ${px(covered)} px of ${worst.words?.['what'] ?? 'the first content'}: it is ${px(needed)} px tall and has ${px(room)} px of room`
  },
  advice: 'give the header its room with clearance: auto, let it flow, or pad the first section by the px needed',
  check(sight, report) {
    const { measure } = sight
    const header = headerBox(measure)
    const first = header && takesNoRoom(measure) ? firstContent(measure) : undefined
    if (!header || !first) return
    const room = first.box.y - header.y
    const needed = header.height
    if (needed - room <= TOLERANCE_PX) return
    report({
      numbers: { covered: needed - room, room, needed },
      certainty: leastCertain(header.certainty, first.box.certainty),
      words: { what: first.what },
      related: first.box.pointer === undefined ? [] : [{ pointer: first.box.pointer, because: 'the first content' }],
      ...sight.decider('header.position'),
    })
  },
  propose(group, resolved) {
    const { at, pages } = group
    const { site } = resolved
    // Room above would push down a band that is meant to lie under the header.
    const viewport = site.viewports[0]?.name ?? ''
    const opaque = pages.filter((id) => resolved.page(id).at(viewport).value('header.position') === 'fixed')
    if (opaque.length < pages.length) return paddedUnder(group, site)
    const path = fromPointer(at)
    const typed = pages.map((page) => toPointer(['pages', page, 'layout', 'header', 'clearance']))
    const beside =
      path.at(-1) === 'position'
        ? [...removeAll(site, typed), ...setAt(site, [...path.slice(0, -1), 'clearance'], 'auto')]
        : []
    return [
      {
        title: 'set header.clearance: auto beside the position, which leaves exactly the header’s height free',
        patch: beside,
      },
      {
        title: `set header.clearance: auto on ${pagesInWords(pages)}, which leaves exactly the header’s height free`,
        patch: overridePages(site, pages, 'header.clearance', 'auto'),
      },
    ]
  },
})

/** The sections under an overlaying header, with as much more padding at the top as is covered. */
function paddedUnder({ cases }: Group, site: Site): readonly Proposal[] {
  const covered = new Map<string, Map<string, number>>()
  for (const { related = [], viewport, numbers } of cases) {
    const [, section] = /^(\/pages\/[^/]+\/body\/\d+)\//.exec(related[0]?.pointer ?? '') ?? []
    if (section === undefined) return []
    const known = covered.get(section) ?? new Map<string, number>()
    covered.set(section, known.set(viewport, numbers['covered'] ?? 0))
  }
  const most = Math.max(...[...covered.values()].flatMap((each) => [...each.values()]))
  const patch = [...covered].flatMap(([section, px]) => {
    const at = `${section}/padding`
    const before = valueAt(site.data as unknown as Json, at)
    const value = atViewports(site, before, [...px.keys()], (old, viewport) => paddedAtTop(old, px.get(viewport) ?? 0))
    return setAt(site, fromPointer(at), value)
  })
  return [{ title: `pad the section under the header by ${round(most)} px more at the top`, patch }]
}

const round = (n: number): number => Math.round(n * 1000) / 1000
