import type { ObservedBox, SeenFault } from '../reality/observation.js'
import type { Look } from './look.js'
import type { Parts } from './parts.js'
import { isWithin, parentOf, tagOf, walk, wordsOf } from './tree.js'
import { wordsSeen, type SeenWords } from './words-seen.js'

/** Each kind of fault is reported so often on a page. */
const MOST_OF_A_KIND = 12
const LONGEST_WORDS = 60
/** Contrast of text, and of large text: WCAG 2.2, success criterion 1.4.3 (AA). */
const LEAST_CONTRAST = 4.5
const LEAST_OF_LARGE = 3
/** Large is from 24 px, or bold from 18.66 px on (18 and 14 pt, in the same criterion). */
const LARGE_PX = 24
const LARGE_BOLD_PX = 18.66
/** Words that cover less of one another are set close, and no fault. */
const COVERED_SHARE = 0.25

/** What a visitor would find wrong with a page as it is drawn: each once, with the place. */
export function faultsOf(document: Document, look: Look, parts: Parts): SeenFault[] {
  if (!look.laidOut) return []
  const words = wordsSeen(document.body, look)
  return new Faults(document, look, parts, words).all()
}

class Faults {
  readonly #document: Document
  readonly #look: Look
  readonly #parts: Parts
  readonly #words: readonly SeenWords[]
  readonly #width: number

  constructor(document: Document, look: Look, parts: Parts, words: readonly SeenWords[]) {
    this.#document = document
    this.#look = look
    this.#parts = parts
    this.#words = words
    this.#width = document.documentElement.clientWidth
  }

  all(): SeenFault[] {
    return [
      ...this.#overflow(),
      ...this.#covered(),
      ...this.#unreadable().slice(0, MOST_OF_A_KIND),
      ...this.#atEdge(),
      ...this.#emptySidebar(),
    ]
  }

  #fault(
    rule: SeenFault['rule'],
    element: Element,
    box: ObservedBox,
    numbers: SeenFault['numbers'],
    what?: string,
  ): SeenFault {
    const rounded = (px: number): number => Math.round(px * 100) / 100
    return {
      rule,
      selector: placeOf(element),
      box: { x: rounded(box.x), y: rounded(box.y), width: rounded(box.width), height: rounded(box.height) },
      what: (what ?? wordsOf(element)).slice(0, LONGEST_WORDS),
      numbers: Object.fromEntries(Object.entries(numbers).map(([name, n]) => [name, rounded(n)])),
    }
  }

  /** A page that can be scrolled sideways, and what is in the way. */
  #overflow(): SeenFault[] {
    const root = this.#document.documentElement
    const over = root.scrollWidth - this.#width
    const isCut = [root, this.#document.body].some((each) =>
      /hidden|clip/.test(this.#look.style(each)?.overflowX ?? ''),
    )
    if (over <= 1 || isCut) return []
    let culprit: { element: Element; box: ObservedBox } | undefined
    for (const element of walk(this.#document.body)) {
      const box = this.#look.box(element)
      if (!box || box.x + box.width < this.#width + over - 1 || this.#look.presence(element) !== 'shown') continue
      if (!culprit || isWithin(element, culprit.element)) culprit = { element, box }
    }
    return culprit ? [this.#fault('overflow', culprit.element, culprit.box, { over })] : []
  }

  /** Words under a header that is laid over the page: under all of one with a ground, else under its own words. */
  #covered(): SeenFault[] {
    const header = this.#parts.header?.element
    const box = header && this.#parts.header?.box ? this.#parts.header.box : header && this.#look.box(header)
    if (!header || !box || this.#look.presence(header) !== 'shown') return []
    const own = this.#words.filter(({ element }) => isWithin(element, header)).map((each) => each.box)
    const covers = this.#isSolid(header) ? [box] : own
    const all = this.#words.flatMap((each) => {
      if (isWithin(each.element, header) || !this.#isInFlow(each.element)) return []
      const most = Math.max(0, ...covers.map((cover) => overlap(cover, each.box)))
      const line = Math.min(each.box.height, parseFloat(each.style.fontSize) * 1.2)
      if (most < COVERED_SHARE * line) return []
      return [
        this.#fault(
          'header-covers-content',
          each.element,
          each.box,
          { covered: most, room: each.box.y, needed: box.y + box.height },
          each.text,
        ),
      ]
    })
    // What begins highest decides how much room is missing.
    return all.sort((a, b) => a.box.y - b.box.y).slice(0, 1)
  }

  #isSolid(element: Element): boolean {
    return [...walk(element)].some((each) => {
      const [box, outer] = [this.#look.box(each), this.#look.box(element)]
      const { background, picture } = this.#look.colors(each)
      const isAll = box && outer && box.width >= 0.9 * outer.width && box.height >= 0.5 * outer.height
      return isAll && (picture === true || (background !== undefined && (colorOf(background)?.[3] ?? 0) > 0.6))
    })
  }

  /** Whether an element scrolls with the page: what is fixed elsewhere has a place of its own. */
  #isInFlow(element: Element): boolean {
    for (let at: Element | null = element; at; at = parentOf(at))
      if (['fixed', 'sticky'].includes(this.#look.style(at)?.position ?? '')) return false
    return true
  }

  /** Words whose color is too near to that of the ground they are on, one for each pair of colors. */
  #unreadable(): SeenFault[] {
    const found = new Map<string, SeenFault>()
    const pictures = this.#pictures()
    const header = this.#parts.header?.element
    for (const each of this.#words) {
      const { element, style, box, text } = each
      if (element.closest('[disabled],[aria-disabled=true],option,svg') || !/[\p{L}\p{N}]/u.test(text)) continue
      const ground = this.#groundBehind(element, box, pictures)
      const ink = colorOf(style.color)
      if (!ground || !ink || /text/.test(style.backgroundClip ?? '')) continue
      // On a gradient words are read where it lets them: only what is nowhere readable counts.
      const ratio = Math.max(
        ...ground.colors.map((color) =>
          contrast(over([ink[0], ink[1], ink[2], ink[3] * ground.opacity], color), color),
        ),
      )
      const size = parseFloat(style.fontSize)
      const isLarge = size >= LARGE_PX || (size >= LARGE_BOLD_PX && Number(style.fontWeight) >= 700)
      const needed = isLarge ? LEAST_OF_LARGE : LEAST_CONTRAST
      if (ratio >= needed) continue
      const key = `${header && isWithin(element, header)} ${style.color} ${ground.colors.join()}`
      if (!found.has(key))
        found.set(
          key,
          this.#fault(
            header && isWithin(element, header) ? 'header-unreadable' : 'text-unreadable',
            element,
            box,
            // Never rounded up to what is needed.
            { ratio: Math.floor(ratio * 100) / 100, needed },
            text,
          ),
        )
    }
    return [...found.values()]
  }

  /** What no color can be read from: pictures, and grounds that are drawn. */
  #pictures(): { element: Element; box: ObservedBox }[] {
    const found: { element: Element; box: ObservedBox }[] = []
    for (const element of walk(this.#document.body)) {
      const style = this.#look.style(element)
      const isDrawn = PICTURES.has(tagOf(element)) || style?.backgroundImage !== 'none'
      const box =
        isDrawn || style?.position === 'absolute' || style?.position === 'fixed' ? this.#look.box(element) : undefined
      if (box && box.width > 24 && box.height > 12 && (isDrawn || 'background' in this.#look.colors(element)))
        found.push({ element, box })
    }
    return found
  }

  /** The first ground behind words that lets nothing through, with what lies over it; nothing where that is not known. */
  #groundBehind(
    element: Element,
    box: ObservedBox,
    pictures: readonly { element: Element; box: ObservedBox }[],
  ): { colors: readonly Rgba[]; opacity: number } | undefined {
    const layers: Rgba[] = []
    let opacity = 1
    let ground: Element | undefined
    let stops: readonly Rgba[] = [[255, 255, 255, 1]]
    for (let at: Element | null = element; at; at = parentOf(at)) {
      const style = this.#look.style(at)
      if (!style) break
      if (style.mixBlendMode !== 'normal' || style.filter !== 'none') return undefined
      opacity *= Number(style.opacity)
      if (style.backgroundImage !== 'none') {
        stops = stopsOf(style.backgroundImage)
        if (stops.length === 0) return undefined
        ground = at
        break
      }
      const color = colorOf(style.backgroundColor)
      if (color && color[3] === 1) {
        stops = [color]
        ground = at
        break
      }
      if (color && color[3] > 0) layers.push(color)
    }
    const isOverPicture = pictures.some(
      (each) =>
        overlap(each.box, box) > 1 &&
        !isWithin(element, each.element) &&
        !isWithin(each.element, element) &&
        (!ground || isWithin(each.element, ground)),
    )
    if (isOverPicture) return undefined
    const colors = stops.map((stop) => layers.reduceRight((under, layer) => over(layer, under), stop))
    return { colors, opacity }
  }

  /** Words at the very edge of the window, one for each side. */
  #atEdge(): SeenFault[] {
    const found = new Map<string, SeenFault>()
    for (const { element, box, text } of this.#words) {
      const header = this.#parts.header?.element
      const isApart = !this.#isInFlow(element) && !(header && isWithin(element, header))
      if (text.length < 3 || isApart || this.#isScrolled(element)) continue
      const isLeft = Math.abs(box.x) < 1
      const isRight = Math.abs(this.#width - box.x - box.width) < 1
      const side = isLeft ? 'left' : isRight ? 'right' : undefined
      if (side === undefined || found.has(side)) continue
      found.set(side, this.#fault('content-at-edge', element, box, { room: 0, side: side === 'left' ? 3 : 1 }, text))
    }
    return [...found.values()]
  }

  /** Whether an element is in something that is scrolled by itself. */
  #isScrolled(element: Element): boolean {
    for (let at: Element | null = element; at && at !== this.#document.body; at = parentOf(at))
      if (/auto|scroll|hidden|clip/.test(this.#look.style(at)?.overflowX ?? '')) return true
    return false
  }

  #emptySidebar(): SeenFault[] {
    const sidebar = this.#parts.sidebar?.element
    const box = sidebar && this.#look.box(sidebar)
    if (!sidebar || !box || this.#look.presence(sidebar) !== 'shown' || box.width < 80) return []
    const hasWords = this.#words.some(({ element }) => isWithin(element, sidebar))
    const isEmpty = !hasWords && sidebar.querySelector('img,svg,iframe,video,input') === null
    return isEmpty ? [this.#fault('sidebar-empty', sidebar, box, { reserved: box.width })] : []
  }
}

const PICTURES = new Set(['img', 'video', 'canvas', 'svg', 'picture', 'iframe', 'object'])

/** How far one box reaches into another from above or below, where they are over one another. */
const overlap = (a: ObservedBox, b: ObservedBox): number => {
  const across = Math.min(a.x + a.width, b.x + b.width) - Math.max(a.x, b.x)
  return across > 1 ? Math.min(a.y + a.height, b.y + b.height) - Math.max(a.y, b.y) : 0
}

type Rgba = readonly [number, number, number, number]

/** A computed color, as browsers write those of sRGB; nothing for others. */
function colorOf(text: string): Rgba | undefined {
  const found = /^rgba?\(([\d.]+),\s*([\d.]+),\s*([\d.]+)(?:,\s*([\d.]+))?\)$/.exec(text)
  return found ? [Number(found[1]), Number(found[2]), Number(found[3]), Number(found[4] ?? 1)] : undefined
}

/** The colors of a gradient that lets nothing through; none of a picture. */
function stopsOf(image: string): readonly Rgba[] {
  if (/url\(|,\s*(linear|radial|conic)/.test(image)) return []
  const stops = (image.match(/rgba?\([^)]*\)/g) ?? []).flatMap((text) =>
    [colorOf(text)].filter((color) => color !== undefined),
  )
  return stops.every(([, , , alpha]) => alpha === 1) ? stops : []
}

/** One color over another that lets nothing through. */
const over = ([r, g, b, a]: Rgba, [r2, g2, b2]: Rgba): Rgba => [
  r * a + r2 * (1 - a),
  g * a + g2 * (1 - a),
  b * a + b2 * (1 - a),
  1,
]

/** Relative luminance and contrast: WCAG 2.2. */
function contrast(a: Rgba, b: Rgba): number {
  const light = ([r, g, b_]: Rgba): number => {
    const [x = 0, y = 0, z = 0] = [r, g, b_].map((channel) => {
      const c = channel / 255
      return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4
    })
    return 0.2126 * x + 0.7152 * y + 0.0722 * z
  }
  const [high, low] = [Math.max(light(a), light(b)), Math.min(light(a), light(b))]
  return (high + 0.05) / (low + 0.05)
}

/** A selector that means an element alone, from the nearest id on. */
export function placeOf(element: Element): string {
  const steps: string[] = []
  for (let at: Element | null = element; at; at = at.parentElement) {
    if (at.id !== '' && /^[\w-]+$/.test(at.id) && !/^\d/.test(at.id)) {
      steps.unshift(`#${at.id}`)
      break
    }
    const tag = tagOf(at)
    const same = [...(at.parentElement?.children ?? [])].filter((each) => tagOf(each) === tag)
    steps.unshift(same.length > 1 ? `${tag}:nth-of-type(${same.indexOf(at) + 1})` : tag)
    if (tag === 'body') break
  }
  return steps.join(' > ')
}
