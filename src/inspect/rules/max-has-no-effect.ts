import { parseLength } from '../../css/length.js'
import type { ByViewport } from '../../model/site-data.js'
import { px } from '../words.js'
import { viewRule } from '../rule.js'
import type { Frame } from '../../measure/frame.js'

/** A section's maximum that its container is narrower than. */
export const maxHasNoEffect = viewRule({
  id: 'max-has-no-effect',
  severity: 'note',
  facet: 'width',
  summary: 'A section’s maximum width is at least as wide as its container can ever be.',
  matters: 'Whoever changes it wonders why nothing happens.',
  holds:
    'The container is boxed, a section without `breakout` has a `maxWidth` that is no less than the container’s `max`, and both are in fixed units. limit is the container’s.',
  example: `pages: { visit: { path: /visit, title: Visit, body: [ { section: s, maxWidth: 1400px, items: [ { text: words } ] } ] } }
`,
  numbers: ['max', 'limit'],
  message: ({ worst }) =>
    `a maximum of ${px(worst.numbers['max'])} px has no effect in a container of at most ${px(worst.numbers['limit'])} px`,
  advice: 'remove it, or make it smaller than the container',
  check(sight, report) {
    const { view, frame, measure } = sight
    if (view.value('width.mode') !== 'boxed') return
    const limit = fixedPx(frame, view.value('width.max') as string | number | null)
    if (limit === undefined) return
    for (const { data, pointer, band } of measure.sections) {
      if (band.of !== 'section' || data.breakout) continue
      const max = fixedPx(frame, frame.at(data.maxWidth as ByViewport<string | number> | undefined))
      if (max !== undefined && max >= limit) report({ at: `${pointer}/maxWidth`, numbers: { max, limit } })
    }
  },
  propose: ({ at }) => [{ title: 'remove the maximum', patch: [{ op: 'remove', path: at }] }],
})

/** A length in px where it is the same in every window; `undefined` for all else. */
function fixedPx(frame: Frame, said: string | number | null | undefined): number | undefined {
  const length = said === null || said === undefined ? null : parseLength(said)
  if (!length || length.usesPercent) return undefined
  const at = (size: number): number => length.px({ width: size, height: size, rem: frame.typography.base })
  return at(100) === at(1000) ? at(100) : undefined
}
