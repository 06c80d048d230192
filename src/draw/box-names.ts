import type { PropertyPath } from '../model/facets.js'
import type { Box } from '../measure/box.js'
import { firstContent, headerBox, takesNoRoom } from '../measure/printed.js'
import type { PageMeasure } from '../measure/page-measure.js'

const NAMED = new Set(['header', 'footer', 'title', 'byline', 'leadImage', 'sidebar', 'comments', 'insert', 'section'])

/** Whether a drawing names a box beside it. */
export const isNamed = (box: Box): boolean =>
  NAMED.has(box.of) && !box.id.startsWith('inside:') && !box.id.startsWith('row:')

/** What a fixed or overlay header lies over: from the top of the first content to the header's lower edge. */
export function coveredArea(measure: PageMeasure): Omit<Box, 'ledger'> | undefined {
  const header = headerBox(measure)
  const first = header && takesNoRoom(measure) ? firstContent(measure) : undefined
  if (!header || !first || first.box.y >= header.y + header.height) return undefined
  const y = Math.max(first.box.y, header.y)
  return { ...header, id: 'covered', y, height: header.y + header.height - y }
}

/** What a box is called, with the surround it shows. */
export function nameOf(box: Box, measure: PageMeasure): string {
  const { view } = measure
  if (box.id === 'header')
    return `header ${String(view.value('header.use') ?? '')}, ${String(view.value('header.position'))}`
  if (box.id === 'footer') return `footer ${String(view.value('footer.use') ?? '')}`
  if (box.id === 'sidebar') return `sidebar ${String(view.value('sidebar.use') ?? '(empty)')}`
  if (box.id === 'leadImage') return 'lead image'
  if (box.id.startsWith('arrange:'))
    return measure.items.some((i) => i.box?.id === box.id && i.kind === 'gap') ? 'gap' : 'item'
  const [kind, ...name] = box.id.split(':')
  return name.length > 0 ? `${kind} ${name.join(':')}` : (kind ?? '')
}

const DECIDING: Readonly<Record<string, PropertyPath>> = {
  header: 'header.position',
  footer: 'footer.use',
  title: 'title.presence',
  byline: 'byline.presence',
  leadImage: 'leadImage.presence',
  sidebar: 'sidebar.side',
  comments: 'comments.presence',
}

/** ", by theme": the layer that decided what matters most of a box. */
export function decidedBy(box: Box, measure: PageMeasure): string {
  const path = DECIDING[box.id]
  const entry = path === undefined ? undefined : measure.view.decider(path)
  return entry ? `, by ${entry.layer}` : ''
}
