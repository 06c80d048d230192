import { leastCertain } from '../../measure/box.js'
import { overridePages, pagesInWords, setAt } from '../propose.js'
import { defineRule } from '../rule.js'
import { firstContent, headerBox, takesNoRoom } from '../../measure/first-content.js'
import { fromPointer } from '../../model/json.js'
import { TOLERANCE_PX } from '../thresholds.js'

/** A fixed or overlay header lies over the first content. */
export const headerCoversContent = defineRule({
  id: 'header-covers-content',
  severity: 'error',
  facet: 'header',
  summary: 'A fixed or overlay header lies over the first content.',
  numbers: ['covered', 'room', 'needed'],
  worst: 'largest',
  message: ({ worst }) => {
    const { covered, room, needed } = px(worst.numbers)
    return `the header covers ${covered} px of ${worst.words?.['what'] ?? 'the first content'}: it is ${needed} px tall and has ${room} px of room`
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
      ...sight.decider('header.position'),
      numbers: { covered: needed - room, room, needed },
      certainty: leastCertain(header.certainty, first.box.certainty),
      words: { what: first.what },
      related: first.box.pointer === undefined ? [] : [{ pointer: first.box.pointer, because: 'the first content' }],
    })
  },
  propose({ at, pages }, resolved) {
    const { site } = resolved
    // Room above would push down a band that is meant to lie under the header.
    const viewport = site.viewports[0]?.name ?? ''
    const opaque = pages.filter((id) => resolved.page(id).at(viewport).value('header.position') === 'fixed')
    if (opaque.length < pages.length) return []
    const path = fromPointer(at)
    const beside = path.at(-1) === 'position' ? setAt(site, [...path.slice(0, -1), 'clearance'], 'auto') : []
    return [
      { title: 'leave exactly the header’s height free: clearance auto beside the position', patch: beside },
      {
        title: `leave exactly the header’s height free on ${pagesInWords(pages)}: clearance auto`,
        patch: overridePages(site, pages, 'header.clearance', 'auto'),
      },
    ]
  },
})

const px = (numbers: Readonly<Record<string, number>>): Record<string, string> =>
  Object.fromEntries(Object.entries(numbers).map(([name, n]) => [name, String(Math.round(n * 10) / 10)]))
