import { ValueError } from '../model/unknown-name.js'
import { s } from 'hastscript'
import { toHtml } from 'hast-util-to-html'
import type { Element } from 'hast'
import type { Box } from '../measure/box.js'
import { takesNoRoom } from '../measure/printed.js'
import type { PageMeasure } from '../measure/page-measure.js'
import type { ResolvedPage } from '../resolve/page.js'
import { placeCallouts, type Callout } from './callouts.js'
import { coveredArea, decidedBy, isNamed, nameOf } from './box-names.js'
import { ALARM, FAINT, FILLS, INK, PAPER, RULE } from './colors.js'
import { asXml } from './xml.js'

/** How a wireframe is drawn. */
export interface WireframeOptions {
  /** Width of the whole drawing in px; default 1280. */
  readonly width?: number
  /** Name of the font; the drawing brings none with it. */
  readonly font?: string
  /** Goes before ids within the drawing, so that several can be in one document. */
  readonly idPrefix?: string
  /** Whether the page's title and template are above; default true. */
  readonly heading?: boolean
  /** Whether each box is named beside the drawing; default true. */
  readonly labels?: boolean
  /** Numbered signs at the corner of boxes, by box id. */
  readonly marks?: readonly Mark[]
}

/** A numbered sign on a drawing, which its number ties to a list beside it. */
export interface Mark {
  readonly box: string
  readonly number: number
}

const MARGIN = 28
const GAP = 24
const HEAD = 76
const LABELS = 166
const LINE = 14
const SMALL = 11
const LEADER = 12
const DEFAULT_WIDTH = 1280
const FONT = 'Source Sans 3, Segoe UI, Helvetica, Arial, sans-serif'

/**
 * Draws a page at one or several viewports as SVG: boxes in true proportion, the same scale for all, each named beside
 * the drawing with its px and who decided it; what a fixed or overlay header lies over is hatched.
 */
export function drawWireframe(measures: readonly PageMeasure[], options: WireframeOptions = {}): string {
  return asXml(toHtml(wireframeTree(measures, options), { space: 'svg' }))
}

/** The drawing as a tree of SVG elements (hast), for those who put it into a document of their own. */
export function wireframeTree(measures: readonly PageMeasure[], options: WireframeOptions = {}): Element {
  const { width = DEFAULT_WIDTH, font = FONT, heading = true, idPrefix = '', labels = true, marks = [] } = options
  const room = labels ? LABELS + LEADER : 0
  const hatch = `${idPrefix}hatch`
  const top = (heading ? HEAD : 12) + MARGIN
  const [first] = measures
  if (!first) throw new ValueError('there is nothing to draw: expected one measured page or more')
  const free = width - 2 * MARGIN - measures.length * room - (measures.length - 1) * GAP
  const all = measures.reduce((sum, m) => sum + m.viewport.width, 0)
  const scale = Math.max(0.05, free / all)

  let x = MARGIN
  const views = measures.map((measure) => {
    const drawn = drawView(measure, x, top, scale, { hatch, labels, marks })
    x += measure.viewport.width * scale + room + GAP
    return drawn
  })
  const height = Math.max(...views.map((view) => view.bottom)) + MARGIN
  const { page } = first.view
  return s(
    'svg',
    {
      xmlns: 'http://www.w3.org/2000/svg',
      ...{ width, height, viewBox: `0 0 ${width} ${height}`, role: 'img', fontFamily: font },
      ariaLabel: `Wireframe of the page ${page.id} at ${measures.map((m) => m.viewport.name).join(', ')}`,
    },
    [
      s('defs', [
        s(
          'pattern',
          { id: hatch, width: 7, height: 7, patternUnits: 'userSpaceOnUse', patternTransform: 'rotate(45)' },
          [
            s('rect', { width: 7, height: 7, fill: ALARM, fillOpacity: 0.12 }),
            s('line', { x1: 0, y1: 0, x2: 0, y2: 7, stroke: ALARM, strokeWidth: 2.4 }),
          ],
        ),
      ]),
      s('rect', { width, height, fill: PAPER }),
      ...(heading ? headingOf(page) : []),
      ...views.map((view) => view.element),
    ],
  )
}

function headingOf(page: ResolvedPage): Element[] {
  const { template } = page.choice
  return [
    text(MARGIN, MARGIN + 6, page.data.title, { fontSize: 20, fontWeight: 700 }),
    text(MARGIN, MARGIN + 26, `${page.facts.path}, template ${template?.id ?? 'none'}: ${page.choice.because}`, {
      fontSize: 12.5,
      fill: FAINT,
    }),
  ]
}

type Attributes = Record<string, string | number | undefined>

const round = (n: number): number => Math.round(n * 100) / 100
const text = (x: number, y: number, words: string, attributes: Attributes = {}): Element =>
  s('text', { x: round(x), y: round(y), fill: INK, fontSize: SMALL, ...attributes }, words)

function drawView(
  measure: PageMeasure,
  left: number,
  top: number,
  scale: number,
  { hatch, labels: isLabelled, marks }: { hatch: string; labels: boolean; marks: readonly Mark[] },
): { element: Element; bottom: number } {
  const { viewport } = measure
  const page = measure.box('page')
  const width = viewport.width * scale
  const height = Math.max(page?.height ?? 0, viewport.height) * scale
  const at = (box: Omit<Box, 'ledger'>) => ({
    x: round(left + box.x * scale),
    y: round(top + box.y * scale),
    width: round(box.width * scale),
    height: round(box.height * scale),
  })
  const shapes = measure.boxes.flatMap((box) => drawBox(box, at(box), measure))
  const covered = coveredArea(measure)
  const hatched = covered ? [s('rect', { ...at(covered), fill: `url(#${hatch})`, stroke: ALARM, strokeWidth: 1 })] : []
  const placed = isLabelled ? placeCallouts(calloutsOf(measure, covered, scale), LINE, 7) : []
  const labelX = left + width + LEADER
  const labels = placed.flatMap((callout) => {
    const y = top + callout.top
    const color = callout.alarm ? ALARM : INK
    return [
      s('path', {
        d: `M${round(left + width)} ${round(top + callout.y)} h3 L${round(labelX - 5)} ${round(y + 7)} h3`,
        ...{ stroke: callout.alarm ? ALARM : RULE, strokeWidth: 1, fill: 'none' },
      }),
      ...callout.lines.map((line, n) =>
        text(labelX, y + 10 + n * LINE, line, { fill: n === 0 ? color : FAINT, fontWeight: n === 0 ? 600 : 400 }),
      ),
    ]
  })
  const last = placed.at(-1)
  const fold = top + viewport.height * scale
  const element = s('g', [
    text(left, top - 12, `${viewport.name}, ${viewport.width} × ${viewport.height}`, { fontSize: 13, fontWeight: 600 }),
    s('rect', { x: round(left), y: top, width: round(width), height: round(height), fill: '#fff', stroke: RULE }),
    ...shapes,
    ...hatched,
    s('line', {
      ...{ x1: round(left), x2: round(left + width), y1: round(fold), y2: round(fold) },
      ...{ stroke: FAINT, strokeWidth: 1, strokeDasharray: '5 4' },
    }),
    ...labels,
    ...drawMarks(marks, measure, at),
  ])
  return { element, bottom: Math.max(top + height, last ? top + last.top + last.height : 0) }
}

/** Signs of one box are beside each other, from its top right corner leftwards. */
function drawMarks(
  marks: readonly Mark[],
  measure: PageMeasure,
  at: (box: Box) => Record<'x' | 'y' | 'width' | 'height', number>,
): Element[] {
  const taken = new Map<string, number>()
  return marks.flatMap(({ box: id, number }) => {
    const box = measure.box(id)
    if (!box) return []
    const n = taken.get(id) ?? 0
    taken.set(id, n + 1)
    const { x, y, width } = at(box)
    const center = { cx: round(x + width - 12 - n * 22), cy: round(y + 11) }
    return [
      s('circle', { ...center, r: 9, fill: ALARM, stroke: '#fff', strokeWidth: 1.5 }),
      text(center.cx, center.cy + 4, String(number), { fill: '#fff', fontWeight: 700, textAnchor: 'middle' }),
    ]
  })
}

function drawBox(box: Box, at: Record<'x' | 'y' | 'width' | 'height', number>, measure: PageMeasure): Element[] {
  if (box.height <= 0 || box.width <= 0) return []
  if (box.of === 'item') return drawItem(box, at, measure)
  if (box.id === 'column' || box.id === 'container')
    return [s('rect', { ...at, fill: 'none', stroke: RULE, strokeDasharray: box.id === 'column' ? '2 3' : undefined })]
  if (!isNamed(box)) return []
  const header = box.id === 'header'
  const opacity = header && takesNoRoom(measure) ? 0.78 : undefined
  return [
    s('rect', {
      ...at,
      dataBox: box.id,
      fill: FILLS[box.of] ?? '#eee',
      fillOpacity: opacity,
      stroke: header ? INK : FAINT,
      strokeWidth: 0.8,
    }),
  ]
}

/** An item as a sign of its kind: lines for words, a cross for a picture, an outline for the rest. */
function drawItem(box: Box, at: Record<'x' | 'y' | 'width' | 'height', number>, measure: PageMeasure): Element[] {
  const { x, y, width, height } = at
  const kind = measure.items.find((item) => item.box?.id === box.id)?.kind
  if (kind === 'gap')
    return [s('rect', { ...at, fill: 'none', stroke: FAINT, strokeWidth: 0.8, strokeDasharray: '3 3' })]
  if (kind === 'image' || kind === 'embed')
    return [
      s('rect', { ...at, fill: '#dfe3e8', stroke: FAINT, strokeWidth: 0.6 }),
      s('path', {
        d: `M${x} ${y} L${x + width} ${y + height} M${x + width} ${y} L${x} ${y + height}`,
        ...{ stroke: FAINT, strokeWidth: 0.6, fill: 'none' },
      }),
    ]
  if (kind === 'heading' || kind === 'title')
    return [s('rect', { x, y: y + height * 0.25, width: width * 0.6, height: height * 0.5, fill: '#8b93a1' })]
  if (kind === 'text') {
    const lines = Math.max(1, Math.min(40, Math.round(height / 7)))
    return Array.from({ length: lines }, (_, n) =>
      s('rect', {
        x,
        y: round(y + ((n + 0.3) * height) / lines),
        width: round(width * (n === lines - 1 ? 0.55 : 0.94)),
        height: round(Math.min(2.4, height / lines / 2.4)),
        fill: '#b7bdc7',
      }),
    )
  }
  return [s('rect', { ...at, fill: '#fff', stroke: FAINT, strokeWidth: 0.6, rx: 2 })]
}

function calloutsOf(measure: PageMeasure, covered: ReturnType<typeof coveredArea>, scale: number): Callout[] {
  const px = (n: number): string => String(Math.round(n * 10) / 10)
  const callouts: Callout[] = measure.boxes.flatMap((box): Callout[] => {
    if (!isNamed(box) && !box.id.startsWith('arrange:')) return []
    const size = `${px(box.width)} × ${px(box.height)} at y ${px(box.y)}${decidedBy(box, measure)}`
    return [{ y: box.y * scale, lines: [nameOf(box, measure), size] }]
  })
  if (covered)
    callouts.push({ y: covered.y * scale, alarm: true, lines: [`covered: ${px(covered.height)} px under the header`] })
  const container = measure.box('container')
  if (container) {
    const { mode } = measure.view.width
    const by = mode.chain.find((entry) => entry.outcome === 'wins')?.layer ?? 'baseline'
    callouts.push({
      y: container.y * scale,
      lines: [
        `container, ${mode.value}`,
        `${px(container.width)} wide, by ${by}; column ${px(measure.box('column')?.width ?? 0)}`,
      ],
    })
  }
  return callouts
}
