import { fromPointer, valueAt, type Json } from '../../model/json.js'
import { setAt } from '../propose.js'
import { px } from '../words.js'
import { viewRule } from '../rule.js'
import { isInside } from '../sight.js'
import { TOLERANCE_PX } from '../thresholds.js'

/** Something wider than the window. */
export const overflow = viewRule({
  id: 'overflow',
  severity: 'error',
  facet: 'width',
  summary: 'Something printed begins left of the window or ends right of it.',
  matters: 'The page slides sideways under the finger, or a part of it cannot be reached at all.',
  holds:
    'A printed box or item, a header’s or footer’s logo included, begins left of 0 or ends right of the window’s width. over is by how many px.',
  example: `assets: { plate: { width: 900, height: 600 } }
pages: { visit: { path: /visit, title: Visit, body: [ { section: s, items: [ { image: plate, width: 600px } ] } ] } }
`,
  numbers: ['over'],
  message: ({ worst }) =>
    `${worst.words?.['what'] ?? 'something'} is ${px(worst.numbers['over'])} px wider than the window`,
  advice: 'let it shrink with the window: min(600px, 100%)',
  check(sight, report) {
    const { measure, frame } = sight
    const { width } = measure.viewport
    const outer: { pointer: string; over: number }[] = []
    const note = (at: string, over: number, what: string): void => {
      // What is in a thing that sticks out sticks out with it.
      const isKnown = outer.some((o) => at === o.pointer || (isInside(at, o.pointer) && over <= o.over + TOLERANCE_PX))
      if (isKnown) return
      outer.push({ pointer: at, over })
      report({ at, numbers: { over }, words: { what } })
    }
    for (const box of measure.boxes) {
      const over = Math.max(-box.x, box.x + box.width - width)
      if (over <= TOLERANCE_PX || box.height <= 0 || box.pointer === undefined) continue
      note(box.pointer, over, box.of === 'item' ? 'an item' : `"${box.id}"`)
    }
    for (const { item, pointer, box } of measure.items) {
      if (box || item.logo === undefined) continue
      const size = frame.assetSize(item.logo)
      const height = frame.px(item.height) ?? size?.height ?? 0
      const drawn = frame.px(item.width, width) ?? (size ? (size.width * height) / size.height : 0)
      if (drawn - width > TOLERANCE_PX) note(pointer, drawn - width, 'the logo')
    }
  },
  propose({ at }, { site }) {
    const width = valueAt(site.data as unknown as Json, `${at}/width`)
    if (typeof width !== 'string' && typeof width !== 'number') return []
    const value = `min(${typeof width === 'number' ? `${width}px` : width}, 100%)`
    const patch = setAt(site, [...fromPointer(at), 'width'], value)
    // A width of the window is meant to reach both its edges.
    return [{ title: 'let it shrink with the window', patch, ...(/vw/.test(String(width)) && { choice: true }) }]
  },
})
