import { assetMargins } from '../../measure/asset-margins.js'
import { itemHeight } from '../../measure/item-height.js'
import { own, toPointer } from '../../model/json.js'
import type { MeasuredRow } from '../../measure/surround.js'
import { px } from '../words.js'
import { viewRule } from '../rule.js'
import type { Sight } from '../sight.js'
import { TOLERANCE_PX } from '../thresholds.js'

/** Empty rows in the logo's picture that make the header taller. */
export const logoMargins = viewRule({
  id: 'logo-margins',
  severity: 'note',
  facet: 'header',
  summary: 'The logo’s picture has empty rows above or below, and the header is taller for them.',
  matters: 'Whoever lays the header out chases a padding that no setting shows.',
  holds:
    'The header’s height is worked out from its rows and would be lower with the logo’s empty rows cut. blank is what these take as the logo is drawn, saved what the header would lose.',
  example: `assets: { mark: { width: 100, height: 60, margins: { top: 10, bottom: 10 } } }
surrounds: { top: { as: header, rows: [ { padding: 8px, items: [ { logo: mark, height: 60px } ] } ] } }
theme: { layout: { header: { use: top } } }
`,
  numbers: ['saved', 'blank'],
  message: ({ worst }) =>
    `${px(worst.numbers['blank'])} px of the logo are empty rows; without them the header is ${px(worst.numbers['saved'])} px lower`,
  advice: 'cut the empty rows from the picture',
  check(sight, report) {
    const { header } = sight
    if (!header || header.certainty === 'measured' || header.certainty === 'declared') return
    const found = new Map<string, { saved: number; blank: number }>()
    for (const row of sight.measure.header.rows)
      for (const { logo, saved, blank } of emptyRows(sight, row)) {
        const known = found.get(logo) ?? { saved: 0, blank: 0 }
        found.set(logo, { saved: known.saved + saved, blank: known.blank + blank })
      }
    for (const [logo, numbers] of found)
      if (numbers.saved > TOLERANCE_PX) report({ at: toPointer(['assets', logo]), numbers })
  },
})

/** What each logo of a row has of empty rows, and what the row would lose with these cut from all of them. */
function emptyRows(sight: Sight, { items }: MeasuredRow) {
  const drawn = items.map(({ item }) => {
    const height = itemHeight(sight.frame, item, Infinity).px
    return { item, height, blank: item.logo === undefined ? 0 : blankOf(sight, item.logo, height) }
  })
  const tallest = Math.max(0, ...drawn.map((d) => d.height))
  return drawn
    .filter((d) => d.item.logo !== undefined && d.blank > 0)
    .map((d) => {
      const others = drawn.filter((o) => o !== d).map((o) => o.height)
      return { logo: d.item.logo as string, blank: d.blank, saved: tallest - Math.max(d.height - d.blank, ...others) }
    })
}

/** Px of empty rows in a logo that is drawn at a height. */
function blankOf({ resolved, frame }: Sight, logo: string, height: number): number {
  const size = own(resolved.site.data.assets, logo) && frame.assetSize(logo)
  const margins = assetMargins(resolved.site, logo)
  return size && margins ? ((margins.top + margins.bottom) * height) / size.height : 0
}
