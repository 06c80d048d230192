import { fromPointer, own, toPointer } from '../../model/json.js'
import { setAt } from '../propose.js'
import { px } from '../words.js'
import { viewRule } from '../rule.js'
import { HEADER_SHARE } from '../thresholds.js'

/** A header that takes much of the screen. */
export const headerTall = viewRule({
  id: 'header-tall',
  severity: 'note',
  facet: 'header',
  summary: 'The header takes more than a quarter of the screen’s height.',
  matters: 'What the visitor came for begins further down.',
  holds: 'The header is printed and higher than 25 % of the viewport. share is that share, height the header’s in px.',
  example: `menus: { m: [ { label: Visit, page: visit } ] }
surrounds: { top: { as: header, rows: [ { id: news, padding: 80px, items: [ { text: Open tonight } ] }, { items: [ { menu: m, height: 40px } ] } ] } }
theme: { layout: { header: { use: top } } }
pages: { visit: { path: /visit, title: Visit, body: [ { section: s, items: [ { text: words } ] } ] } }
`,
  numbers: ['share', 'height'],
  message: ({ worst }) =>
    `the header is ${px(worst.numbers['height'])} px tall: ${Math.round((worst.numbers['share'] ?? 0) * 100)} % of the screen`,
  advice: 'hide rows at this viewport, or make them lower',
  check({ header, measure }, report) {
    const share = (header?.height ?? 0) / measure.viewport.height
    if (!header || share <= HEADER_SHARE) return
    const { id } = measure.header
    report({
      at: id === undefined ? '/theme' : toPointer(['surrounds', id]),
      numbers: { share, height: header.height },
      certainty: header.certainty,
    })
  },
  propose: ({ at, cases }, { site }) => {
    const viewports = [...new Set(cases.map((c) => c.viewport))]
    const surround = own(site.data.surrounds, fromPointer(at)[1] ?? '')
    return (surround?.rows ?? []).map((row, n) => ({
      title: `hide the row ${row.id ?? n + 1} at ${viewports.join(', ')}`,
      patch: setAt(site, [...fromPointer(at), 'rows', String(n), 'hide'], [...(row.hide ?? []), ...viewports]),
      choice: true,
    }))
  },
})
