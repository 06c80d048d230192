import { contrast, parseColor } from '../../css/color.js'
import { headerBackground } from '../../measure/printed.js'
import { toPointer } from '../../model/json.js'
import { leastContrast, pageGround, withBackground, withColor, withPicture, type Grounds } from '../behind.js'
import { giveTo } from '../propose.js'
import { viewRule } from '../rule.js'
import type { Sight } from '../sight.js'
import type { Site } from '../../model/site.js'
import type { ResolvedSite } from '../../resolve/resolve-site.js'
import { LEAST_CONTRAST } from '../thresholds.js'

/** The header's words against what lies behind them. */
export const headerUnreadable = viewRule({
  id: 'header-unreadable',
  severity: 'warning',
  facet: 'header',
  summary: 'The header’s ink has too little contrast with what lies behind it.',
  matters: 'Who cannot read the menu cannot go anywhere.',
  holds:
    'The contrast (WCAG 2.2) of the header’s ink with what is behind is less than 4.5. Behind is the header’s own background over what lies under it within its height: the page’s ground, and for a fixed or overlay header bands, sections and inserts; a picture counts with its `range`, else its `color`, and with neither nothing is said.',
  example: `menus: { m: [ { label: Visit, page: visit } ] }
surrounds: { top: { as: header, height: 60px, ink: "#fff", background: transparent, rows: [ { items: [ { menu: m } ] } ] } }
theme: { layout: { header: { use: top, position: overlay }, title: absent, width: full, spacing: 0 } }
pages: { visit: { path: /visit, title: Visit, body: [ { section: s, padding: 90px, background: { color: "#eee" }, items: [ { heading: 1, text: words } ] } ] } }
`,
  numbers: ['ratio', 'needed'],
  worst: 'smallest',
  message: ({ worst }) =>
    `the header’s ink ${worst.words?.['ink'] ?? ''} has a contrast of ${(worst.numbers['ratio'] ?? 0).toFixed(2)} with what is behind it; ${LEAST_CONTRAST} is needed`,
  advice: 'give the header an ink or a background of its own on these pages',
  check(sight, report) {
    if (!sight.header || !sight.texts.some(({ place }) => place === 'header')) return
    const { ink, at } = headerInk(sight)
    const ratios = behindHeader(sight).map((grounds) => leastContrast(ink, grounds))
    if (ratios.some((ratio) => ratio === undefined)) return
    const ratio = Math.min(...(ratios as number[]))
    if (ratio >= LEAST_CONTRAST) return
    report({ numbers: { ratio, needed: LEAST_CONTRAST }, words: { ink }, ...at })
  },
  propose: ({ pages, worst }, resolved) => [
    ...variantsOf(resolved, pages).flatMap((id) =>
      giveTo(resolved, pages, 'header.use', id, (where) => `use the header "${id}" ${where}`),
    ),
    ...inksUnlike(worst.words?.['ink'] ?? '', resolved.site).flatMap((ink) =>
      giveTo(resolved, pages, 'header.ink', ink, (where) => `set header.ink: "${ink}" ${where}`),
    ),
  ],
})

/** Headers that are copies of the one that pages have, or of which it is one: made for other grounds, with another logo. */
function variantsOf(resolved: ResolvedSite, pages: readonly string[]): readonly string[] {
  const { site } = resolved
  const { surrounds = {} } = site.data
  const viewport = site.viewports[0]?.name ?? ''
  const used = new Set(pages.map((id) => String(resolved.page(id).at(viewport).value('header.use'))))
  const [id] = used
  if (id === undefined || used.size > 1) return []
  const rootOf = (each: string): string => surrounds[each]?.copyOf ?? each
  return Object.keys(surrounds).filter(
    (each) => each !== id && surrounds[each]?.as === 'header' && rootOf(each) === rootOf(id),
  )
}

/** How many of the site's own colors are tried. */
const MOST_INKS = 3

/** Colors that differ most from an ink: the site's own first, then black and white. */
function inksUnlike(ink: string, { data }: Site): readonly string[] {
  const now = parseColor(ink)
  const own = [
    ...[data.theme.ground, ...Object.values(data.templates ?? {}).map(({ ground }) => ground)].flatMap((ground) => [
      ground?.ink,
      ground?.color,
    ]),
    ...Object.values(data.surrounds ?? {}).flatMap((surround) => [surround.ink, surround.background]),
  ].flatMap((color) => (typeof color === 'string' ? [color] : []))
  const unlike = (color: string): number => {
    const other = parseColor(color)
    return now && other && other.alpha === 1 ? contrast(now, other) : 0
  }
  const sorted = (colors: readonly string[]): string[] => [...new Set(colors)].sort((a, b) => unlike(b) - unlike(a))
  const best = sorted(own).filter((color) => unlike(color) >= LEAST_CONTRAST)
  return [...new Set([...best.slice(0, MOST_INKS), ...sorted(['#ffffff', '#000000'])])]
}

/** The ink of the header's words, and what sets it. */
function headerInk(sight: Sight): { readonly ink: string; readonly at: ReturnType<Sight['decider']> } {
  const said = sight.view.value('header.ink')
  if (typeof said === 'string') return { ink: said, at: sight.decider('header.ink') }
  const { id } = sight.measure.header
  const own = id === undefined ? undefined : sight.frame.at(sight.resolved.site.data.surrounds?.[id]?.ink)
  if (own !== undefined) return { ink: own, at: { at: toPointer(['surrounds', id as string, 'ink']) } }
  return { ink: sight.view.ground.ink, at: { at: sight.decider('header.use').at } }
}

/** What lies behind the header, for each part of it that has something else behind. */
function behindHeader(sight: Sight): readonly Grounds[] {
  const { measure, header } = sight
  const background = headerBackground(measure)
  const over = (grounds: Grounds): Grounds => withColor(grounds, background)
  const ground = pageGround(measure)
  if (!header || (sight.headerPosition !== 'fixed' && sight.headerPosition !== 'overlay')) return [over(ground)]
  const painted = paintedBoxes(sight)
  const edges = (from: number, to: number, all: readonly number[]): number[] =>
    [...new Set([from, to, ...all.filter((n) => n > from && n < to)])].sort((a, b) => a - b)
  const { width } = measure.viewport
  const ys = edges(
    header.y,
    header.y + header.height,
    painted.flatMap(({ box }) => [box.y, box.y + box.height]),
  )
  const xs = edges(
    0,
    width,
    painted.flatMap(({ box }) => [box.x, box.x + box.width]),
  )
  // Between neighboring edges what lies beneath is the same all over.
  return ys.slice(1).flatMap((bottom, n) =>
    xs.slice(1).map((right, m) => {
      const y = ((ys[n] as number) + bottom) / 2
      const x = ((xs[m] as number) + right) / 2
      const under = painted.filter(
        ({ box }) => box.x < x && box.x + box.width > x && box.y < y && box.y + box.height > y,
      )
      return over(under.reduce((grounds, { paint }) => paint(grounds), ground))
    }),
  )
}

interface Painted {
  readonly box: { readonly x: number; readonly y: number; readonly width: number; readonly height: number }
  readonly paint: (grounds: Grounds) => Grounds
}

/** Everything with a background of its own, in order of painting. */
function paintedBoxes({ measure, frame, view, page }: Sight): readonly Painted[] {
  const title = measure.box('title')
  const picture = measure.box('leadImage')
  const color = view.value('title.background')
  return [
    ...(title && typeof color === 'string' ? [{ box: title, paint: (g: Grounds) => withColor(g, color) }] : []),
    ...(picture ? [{ box: picture, paint: (g: Grounds) => withPicture(frame, g, page.data.image, 'normal') }] : []),
    ...measure.sections.map(({ band, data }) => ({
      box: band,
      paint: (g: Grounds) => withBackground(frame, g, data),
    })),
    ...measure.items
      .filter(({ kind, box }) => kind === 'image' && box)
      .map(({ box, item }) => ({
        box: box as Painted['box'],
        paint: (g: Grounds) => withPicture(frame, g, item.image, 'normal'),
      })),
  ]
}
