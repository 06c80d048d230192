import { isInside } from '../inspect/sight.js'
import type { Finding } from '../inspect/rule.js'
import { firstContent, headerBox } from '../measure/printed.js'
import type { PageMeasure } from '../measure/page-measure.js'
import { coveredArea } from './box-names.js'

/** A part of a page to point at, in px from the page's top left. */
export interface Area {
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
  /** What it is, in a word or two, with its px where they matter. */
  readonly label: string
  /** `covered` and `empty` areas are filled, others framed. */
  readonly look: 'frame' | 'covered' | 'empty'
}

/** The box of each facet that findings speak of. */
const BOX_OF: Readonly<Record<string, string>> = {
  ...{ header: 'header', footer: 'footer', title: 'title', byline: 'byline', leadImage: 'leadImage' },
  ...{ sidebar: 'sidebar', width: 'container', spacing: 'main', comments: 'comments' },
}

const px = (n: number): string => `${Math.round(n * 10) / 10} px`

/**
 * Where on a page at a viewport a finding is to be seen: what is covered, left empty, cut off or meant; nothing where it
 * is not on this page.
 */
export function placesOf(
  measure: PageMeasure,
  finding: Pick<Finding, 'rule' | 'facet' | 'at' | 'related'>,
): readonly Area[] {
  const special = SPECIAL[finding.rule]?.(measure)
  if (special && special.length > 0) return special
  const pointers = [finding.at.pointer, ...finding.related.map(({ pointer }) => pointer)]
  for (const pointer of pointers) {
    const found = boxAt(measure, pointer)
    if (found) return [found]
  }
  const box = measure.box(BOX_OF[finding.facet] ?? '')
  return box && box.height > 0 ? [{ ...rectangle(box), label: finding.facet, look: 'frame' }] : []
}

type Rectangle = Pick<Area, 'x' | 'y' | 'width' | 'height'>
const rectangle = ({ x, y, width, height }: Rectangle): Rectangle => ({ x, y, width, height })

/** The innermost item or section that a pointer names, or something of it. */
function boxAt(measure: PageMeasure, pointer: string): Area | undefined {
  const names = (outer: string | undefined): boolean =>
    outer !== undefined && (pointer === outer || isInside(pointer, outer))
  const item = measure.items.find((each) => each.box && names(each.pointer))
  if (item?.box) return { ...rectangle(item.box), label: item.kind, look: 'frame' }
  const section = measure.sections.findLast((each) => names(each.pointer))
  if (section) return { ...rectangle(section.band), label: section.id, look: 'frame' }
  const box = measure.boxes.find((each) => each.of !== 'page' && each.pointer !== undefined && each.pointer === pointer)
  return box && { ...rectangle(box), label: box.id, look: 'frame' }
}

const SPECIAL: Readonly<Record<string, (measure: PageMeasure) => readonly Area[]>> = {
  'header-covers-content': (measure) => {
    const area = coveredArea(measure)
    return area ? [{ ...rectangle(area), label: `${px(area.height)} covered`, look: 'covered' }] : []
  },
  'clearance-wrong': (measure) => emptyAbove(measure, measure.clearance),
  'strip-under-header': (measure) => emptyAbove(measure),
  'content-at-edge': (measure) => {
    const first = firstContent(measure)
    return first ? [{ ...rectangle(first.box), label: first.what, look: 'frame' }] : []
  },
  'gap-left-behind': (measure) =>
    measure.arranged.flatMap(({ entry, index, height, y }): Area[] => {
      const box = measure.box(`arrange:${index}`)
      const isGap = typeof entry !== 'string' && entry.gap !== undefined
      return isGap && box && height > 0 ? [{ ...rectangle(box), y, label: `${px(height)} gap`, look: 'empty' }] : []
    }),
  'boxed-in': (measure) =>
    measure.sections.flatMap(({ band, data }): Area[] => {
      if (data.band !== 'full' || data.breakout || band.width >= measure.viewport.width) return []
      const [left, right] = [band.x, measure.viewport.width - band.x - band.width]
      return [
        { ...rectangle(band), x: 0, width: left, label: px(left), look: 'empty' as const },
        { ...rectangle(band), x: band.x + band.width, width: right, label: px(right), look: 'empty' as const },
      ].filter(({ width }) => width > 0)
    }),
  'space-unclaimed': (measure) => {
    const [container, column] = [measure.box('container'), measure.box('column')]
    if (!container || !column) return []
    const x = column.x + column.width
    const width = container.x + container.width - x
    return width > 0 ? [{ ...rectangle(container), x, width, label: `${px(width)} unused`, look: 'empty' }] : []
  },
  overflow: (measure) =>
    measure.items.flatMap(({ box, kind }): Area[] =>
      box && box.x + box.width > measure.viewport.width + 0.5
        ? [{ ...rectangle(box), label: kind, look: 'frame' }]
        : [],
    ),
  'sidebar-empty': (measure) => {
    const box = measure.box('sidebar')
    const height = Math.max(box?.height ?? 0, measure.box('container')?.height ?? 0)
    return box ? [{ ...rectangle(box), height, label: `${px(box.width)} empty`, look: 'empty' }] : []
  },
}

/** The blank between the header, or the window's top, and the first content. */
function emptyAbove(measure: PageMeasure, height?: number): readonly Area[] {
  const header = headerBox(measure)
  const first = measure.sections.find(({ depth }) => depth === 0)
  const y = header && measure.view.value('header.position') !== 'overlay' ? header.y + header.height : 0
  const blank = height ?? (first ? first.band.y - y : 0)
  return blank > 0.5
    ? [{ x: 0, y, width: measure.viewport.width, height: blank, label: `${px(blank)} blank`, look: 'empty' }]
    : []
}
