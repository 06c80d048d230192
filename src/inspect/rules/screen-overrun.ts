import { fromPointer, valueAt, type Json } from '../../model/json.js'
import { atViewports, setAt } from '../propose.js'
import { px } from '../words.js'
import { viewRule, type Proposal } from '../rule.js'
import { TOLERANCE_PX } from '../thresholds.js'

/** A section as tall as the screen that ends below it, or a height that its content does not fit. */
export const screenOverrun = viewRule({
  id: 'screen-overrun',
  severity: 'warning',
  facet: 'spacing',
  summary:
    'A full-screen section ends below the screen, because chrome is above it; or a fixed height is too small for its content.',
  matters: 'What was composed for one screen is cut off at its foot, or words run out of their band.',
  holds:
    'The first section’s `height` or `minHeight` is the viewport’s height and it ends below the screen: overrun is by how much. Or a section’s `height` is less than its padding and content: spill is by how much.',
  example: `surrounds: { top: { as: header, height: 60px } }
theme: { layout: { header: { use: top }, title: absent, width: full, spacing: 0 } }
pages: { visit: { path: /visit, title: Visit, body: [ { section: s, height: 100vh, padding: 24px, items: [ { heading: 1, text: words } ] } ] } }
`,
  numbers: ['overrun', 'spill'],
  message: ({ worst }) => {
    const { overrun, spill } = worst.numbers
    return overrun === undefined
      ? `the content of "${worst.words?.['section'] ?? ''}" is ${px(spill)} px taller than its fixed height`
      : `"${worst.words?.['section'] ?? ''}" is as tall as the screen and ends ${px(overrun)} px below it`
  },
  advice: 'subtract what is above from the height: calc(100vh - 60px); or set minHeight, which grows with its content',
  check(sight, report) {
    const { measure, frame, firstSection } = sight
    const screen = measure.viewport.height
    for (const section of measure.sections) {
      const { data, band, pointer, spill, id } = section
      if (spill > TOLERANCE_PX)
        report({
          at: `${pointer}/height`,
          numbers: { spill },
          certainty: section.inside.certainty,
          words: { section: id },
        })
      if (section !== firstSection) continue
      const key = data.height === undefined ? 'minHeight' : 'height'
      const said = frame.px(data[key])
      const overrun = band.y + band.height - screen
      const isScreen = said !== undefined && Math.abs(said - screen) <= TOLERANCE_PX
      if (isScreen && overrun > TOLERANCE_PX && band.height <= screen + TOLERANCE_PX)
        report({
          at: `${pointer}/${key}`,
          numbers: { overrun },
          certainty: band.certainty,
          words: { section: id, above: px(band.y) },
        })
    }
  },
  propose({ at, cases }, { site }): readonly Proposal[] {
    const path = fromPointer(at)
    const said = valueAt(site.data as unknown as Json, at)
    if (cases.every((c) => c.numbers['spill'] !== undefined)) {
      const patch = [
        { op: 'remove' as const, path: at },
        ...setAt(site, [...path.slice(0, -1), 'minHeight'], said ?? 0),
      ]
      return [{ title: 'set minHeight, which grows with its content', patch }]
    }
    const above = new Map(
      cases.flatMap((c) => (c.words?.['above'] === undefined ? [] : [[c.viewport, c.words['above']] as const])),
    )
    let value: Json | undefined = said
    for (const px of new Set(above.values()))
      value = atViewports(
        site,
        value,
        [...above].filter(([, a]) => a === px).map(([name]) => name),
        `calc(100vh - ${px}px)`,
      )
    return [{ title: 'subtract what is above from the height', patch: setAt(site, path, value ?? 0) }]
  },
})
