import type { Json, JsonObject } from '../model/json.js'
import { asInsert, isRole, type ContentDraft, type InsertDraft } from './draft-content.js'
import { ItemDrafts } from './draft-items.js'
import { arrangeOf, placeOf, roomAt, takesRoom, withoutTitle } from './draft-places.js'
import { freshName, type Drafts } from './draft-shared.js'
import { boxOf, byViewport, isBand, PX, shownBox, wholePx, writtenColor, type Views } from './draft-values.js'
import type { Observation, ObservedBox, OutlineNode } from './observation.js'
import { folded, headingWords, inWindow } from './seen-words.js'

/** A page is reported in so many bands at most; what comes after them is one run of text. */
const MOST_BANDS = 4
/** A ground that is nearly as wide as the window is a band, and so is one of the column's width with a heading. */
const BAND_SHARE = 0.9
/** Of a text so much is reported that a person knows which it is. */
const LONGEST_WORDS = 40
const TEXTS: ReadonlySet<string> = new Set(['heading', 'text', 'button', 'menu', 'form', 'listing', 'search'])

/** What is in a page's content as its bands: grounds that reach across it, and the text between them. */
export function draftBands(drafts: Drafts, views: Views): ContentDraft {
  const [widest] = views
  return widest ? new PageBands(drafts, views, widest.seen).read() : { body: [], inserts: [], arrange: undefined }
}

/** A band, or what is between two. */
interface Stretch {
  readonly band: OutlineNode | undefined
  readonly nodes: OutlineNode[]
  /** Where it begins and ends at each viewport; `undefined` where it is not shown. */
  readonly spans: (Span | undefined)[]
}
interface Span {
  readonly top: number
  readonly bottom: number
}

/** From a stretch's edges to its first words: above, at the nearer side, and to the title where that is in it. */
interface Room {
  readonly top: number
  readonly side: number
  readonly title: number | undefined
}

class PageBands {
  readonly #drafts: Drafts
  readonly #views: Views
  readonly #seen: Observation
  readonly #items: ItemDrafts
  readonly #names = new Set<string>()
  readonly #tops = new Map<Stretch, JsonObject[]>()

  constructor(drafts: Drafts, views: Views, seen: Observation) {
    this.#drafts = drafts
    this.#views = views
    this.#seen = seen
    this.#items = new ItemDrafts(drafts, views, (each) => each.outline)
  }

  read(): ContentDraft {
    const around = new Map<string, OutlineNode[]>()
    const body: OutlineNode[] = []
    for (const node of this.#seen.outline) {
      const place = placeOf(this.#seen, this.#items, node)
      if (place === 'body') body.push(node)
      else if (place !== undefined) around.set(place, [...(around.get(place) ?? []), node])
    }
    // Free space below a header that takes room is no clearance: nothing has to get out of its way.
    if (!around.has('after-header') && this.#views.every(({ seen }) => takesRoom(seen))) around.set('after-header', [])
    const inserts = [...around].flatMap(([place, nodes]) => this.#insert(nodes, place) ?? [])
    const stretches = this.#stretches(body)
    const titled = this.#stretchOfTitle(stretches)
    this.#setSpans(stretches, titled !== undefined)
    this.#placeTops(stretches)
    const first = titled ? undefined : this.#gapAboveTitle()
    return {
      body: stretches.flatMap((stretch): readonly JsonObject[] => {
        const section = this.#section(stretch, stretch === titled)
        return section ? [section] : []
      }),
      inserts,
      arrange: this.#arrange(titled !== undefined, body, first),
      hasTitle: titled !== undefined,
    }
  }

  /** What of the theme is printed on any width, in order; what is not there needs no place. */
  #arrange(hasTitle: boolean, body: readonly OutlineNode[], first: Json | undefined): Json | undefined {
    const seen = hasTitle ? withoutTitle(this.#seen) : this.#seen
    const boxes = body.flatMap((node) => node.box ?? [])
    const arrange = arrangeOf(seen, boxes, { first })
    if (!Array.isArray(arrange)) return undefined
    const isThere = (entry: Json): boolean =>
      typeof entry !== 'string' ||
      entry === 'content' ||
      this.#views.some(({ seen: { parts } }) => (parts as Record<string, unknown>)[entry] !== undefined)
    return (arrange as readonly Json[]).filter(isThere)
  }

  /** All that is at one place around the content is one band that fills the room there. */
  #insert(nodes: readonly OutlineNode[], at: string): InsertDraft | undefined {
    const heights = this.#views.map(({ name, seen }) => [name, roomAt(seen, at)] as const)
    if (heights.every(([, height]) => height <= 1)) return undefined
    const [only] = nodes
    const isOne =
      nodes.length === 1 &&
      only !== undefined &&
      this.#boxes(only).every((box, n) => !box || Math.abs(box.height - (heights[n]?.[1] ?? 0)) <= 1)
    const height = byViewport(this.#views.map(({ name }, n) => [name, wholePx(heights[n]?.[1])]))
    const color = isOne ? this.#items.sized(only.at, ({ background }) => writtenColor(background)) : undefined
    const data = {
      section: this.#nameOf(isOne ? only.id : undefined, nodes.length === 0 ? 'space' : 'band'),
      ...(height !== undefined && { height }),
      ...(color !== undefined && color !== 'transparent' && { background: { color } }),
    }
    return { at, data: asInsert(data, at), heights: new Map(heights) }
  }

  /** A name of the page's own, or one that shows that it has none. */
  #nameOf(id: string | undefined, kind: 'band' | 'text' | 'space'): string {
    const isOwn = id !== undefined && !isRandom(id) && !this.#names.has(id)
    let n = 1
    while (this.#names.has(`${kind}-${n}`)) n++
    const name = isOwn ? id : freshName(`${kind}-${n}`, (each) => this.#names.has(each))
    this.#names.add(name)
    return name
  }

  #boxes(node: OutlineNode): readonly (ObservedBox | undefined)[] {
    return this.#items.at(node.at).map((each, n) => {
      const [box, seen] = [shownBox(each), this.#views[n]?.seen]
      return box && seen && inWindow(box, seen)
    })
  }

  #column(view: number): ObservedBox | undefined {
    const seen = this.#views[view]?.seen
    return seen && (boxOf(seen, 'column') ?? boxOf(seen, 'container') ?? boxOf(seen, 'content'))
  }

  #isBandHere(node: OutlineNode): boolean {
    const ground = this.#seen.ground?.color
    const hasGround = node.picture === true || (node.background !== undefined && node.background !== ground)
    if (node.kind !== 'section' || !hasGround) return false
    // On a narrow screen everything is as wide as the window: the widest at which it is shown decides what it is.
    const boxes = this.#boxes(node)
    const at = boxes.findIndex((box) => box !== undefined)
    const isAsWide = (widthOf: (view: number) => number | undefined): boolean =>
      (boxes[at]?.width ?? 0) >= BAND_SHARE * (widthOf(at) ?? Infinity)
    return isAsWide((n) => this.#views[n]?.width) || (holdsHeading(node) && isAsWide((n) => this.#column(n)?.width))
  }

  /** Bands and what is between them, in order. */
  #stretches(body: readonly OutlineNode[]): Stretch[] {
    const out: Stretch[] = []
    const run = (): Stretch => {
      const last = out.at(-1)
      if (last && !last.band) return last
      const made = { band: undefined, nodes: [], spans: [] }
      out.push(made)
      return made
    }
    let bands = 0
    const isInLast = (node: OutlineNode): boolean => {
      const last = out.findLast(({ band }) => band)?.band
      const [own, other] = [this.#boxes(node), last && this.#boxes(last)]
      return own.some((box, n) => {
        const around = other?.[n]
        return box && around && box.y + 1 < around.y + around.height
      })
    }
    const holdsBand = (node: OutlineNode): boolean =>
      (node.items ?? []).some((each) => this.#isBandHere(each) || holdsBand(each))
    const add = (node: OutlineNode): void => {
      const isCovered = isInLast(node)
      if (!isCovered && bands < MOST_BANDS && this.#isBandHere(node)) {
        bands += 1
        run()
        out.push({ band: node, nodes: [node], spans: [] })
      } else if (!isCovered && !node.beside && bands < MOST_BANDS && holdsBand(node)) node.items?.forEach(add)
      else run().nodes.push(node)
    }
    body.forEach(add)
    run()
    return out
  }

  /** The stretch in which the title is, where it is not the first thing of the column. */
  #stretchOfTitle(stretches: readonly Stretch[]): Stretch | undefined {
    const title = boxOf(this.#seen, 'title')
    if (!title || isBand(this.#seen, 'title')) return undefined
    const at = this.#views.findIndex(({ seen }) => seen === this.#seen)
    const bandBox = ({ band }: Stretch): ObservedBox | undefined => band && this.#boxes(band)[at]
    const around = stretches.find((each) => {
      const box = bandBox(each)
      return box && title.y >= box.y - PX && title.y + title.height <= box.y + box.height + PX
    })
    if (around) return around
    const above = stretches.findLastIndex((each) => {
      const box = bandBox(each)
      return box && box.y + box.height <= title.y + PX
    })
    return above < 0 ? undefined : stretches.slice(above).find(({ band }) => !band)
  }

  #gapAboveTitle(): Json | undefined {
    const gaps = this.#views.map(({ seen }, n) => {
      const [title, column] = [boxOf(seen, 'title'), this.#column(n)]
      return title && column && !isBand(seen, 'title') ? Math.round(title.y - column.y) : undefined
    })
    if (gaps.every((gap) => (gap ?? 0) <= 0)) return undefined
    return byViewport(this.#views.map(({ name }, n) => [name, wholePx(gaps[n])]))
  }

  /** Lays the stretches out from the theme's own parts above the content to those below. */
  #setSpans(stretches: readonly Stretch[], isTitleInside: boolean): void {
    const boxes = new Map(stretches.flatMap(({ band }) => (band ? [[band, this.#boxes(band)] as const] : [])))
    this.#views.forEach(({ seen }, n) => {
      const column = this.#column(n)
      const parts = (['title', 'byline', 'leadImage', 'comments'] as const).flatMap((name) => {
        if (name === 'title' && isTitleInside) return []
        const isAbove = (name === 'title' || name === 'leadImage') && isBand(seen, name)
        const box = boxOf(seen, name)
        return box && !isAbove ? [box] : []
      })
      const top = Math.min(...stretches.flatMap(({ nodes }) => nodes).flatMap((node) => this.#boxes(node)[n]?.y ?? []))
      const isOver = (box: ObservedBox): boolean => box.y + box.height / 2 < top
      let at = Math.max(column?.y ?? 0, ...parts.filter(isOver).map((box) => box.y + box.height))
      const end = Math.min(
        (column?.y ?? 0) + (column?.height ?? 0),
        ...parts.filter((box) => !isOver(box)).map((box) => box.y),
      )
      stretches.forEach((stretch, k) => {
        if (stretch.band) {
          const box = boxes.get(stretch.band)?.[n]
          stretch.spans[n] = box && { top: box.y, bottom: box.y + box.height }
          if (box) at = Math.max(at, box.y + box.height)
          return
        }
        const next = stretches.slice(k + 1).find(({ band }) => band && boxes.get(band)?.[n])?.band
        const bottom = (next && boxes.get(next)?.[n]?.y) ?? end
        stretch.spans[n] = { top: at, bottom: Math.max(at, bottom) }
        at = Math.max(at, bottom)
      })
    })
  }

  #section(stretch: Stretch, hasTitle: boolean): JsonObject | undefined {
    const { band, nodes, spans } = stretch
    const isFlat = spans.every((span) => !span || span.bottom - span.top <= 1)
    if (isFlat && !hasTitle && !this.#tops.has(stretch)) return undefined
    const hide = this.#views.flatMap(({ name }, n) => (spans[n] ? [] : [name]))
    const texts = this.#textsIn(nodes)
    const room = spans.map((span, n) => this.#roomIn(stretch, span, n, texts, hasTitle))
    const items = this.#itemsOf(stretch, texts, room, hasTitle)
    const padding = this.#paddingOf(band, room)
    return {
      section: this.#nameOf(
        band && this.#isInPlace(band) ? band.id : undefined,
        band ? 'band' : items.length > 0 ? 'text' : 'space',
      ),
      ...(band && this.#groundOf(band)),
      ...(padding !== undefined && { padding }),
      ...(hide.length > 0 && { hide }),
      minHeight: this.#heightOf(spans),
      ...(items.length > 0 && { items }),
    }
  }

  #heightOf(spans: Stretch['spans']): Json {
    const known = this.#views.flatMap(({ name, height }, n) => {
      const span = spans[n]
      return span ? [{ name, px: span.bottom - span.top, share: (span.bottom - span.top) / height }] : []
    })
    const [first] = known
    // The same share of every screen is a height in parts of the screen.
    const isShare = first && known.length > 1 && known.every(({ share }) => Math.abs(share - first.share) < 0.002)
    if (isShare) return `${Math.round(first.share * 1000) / 10}vh`
    return byViewport(known.map(({ name, px }) => [name, wholePx(px)])) ?? 0
  }

  /** Whether a band reaches from side to side of the window at every viewport. */
  #isWindow(band: OutlineNode): boolean {
    return this.#boxes(band).every((box, n) => !box || box.width >= (this.#views[n]?.width ?? Infinity) - PX)
  }

  /** What a band leaves free of the column, right and left. */
  #sides(band: OutlineNode): readonly (readonly number[])[] {
    return this.#boxes(band).map((box, n) => {
      const column = this.#column(n)
      return box && column ? [column.x + column.width - box.x - box.width, box.x - column.x] : [0, 0]
    })
  }

  #isInPlace(band: OutlineNode): boolean {
    return this.#isWindow(band) || this.#sides(band).every((each) => each.every((side) => Math.abs(side) <= PX))
  }

  #groundOf(band: OutlineNode): JsonObject {
    const [boxes, sides] = [this.#boxes(band), this.#sides(band)]
    const isWindow = this.#isWindow(band)
    const isInPlace = sides.every((each) => each.every((side) => Math.abs(side) <= PX))
    const margin = byViewport(
      this.#views.map(({ name }, n) => [
        name,
        boxes[n] && `0 ${Math.round(sides[n]?.[0] ?? 0)}px 0 ${Math.round(sides[n]?.[1] ?? 0)}px`,
      ]),
    )
    const color = this.#items.sized(band.at, ({ background }) => writtenColor(background))
    const ink = band.ink !== undefined && band.ink !== this.#seen.ground?.ink ? writtenColor(band.ink) : undefined
    return {
      ...(isRole(band.role) && { role: band.role }),
      ...(isWindow && { band: 'full' }),
      ...(!isInPlace && (isWindow ? { breakout: true } : { margin: margin ?? 0 })),
      background: {
        ...(color !== undefined && { color }),
        ...(band.picture && { image: this.#drafts.assets.of('picture', undefined) }),
      },
      ...(ink !== undefined && { ink }),
    }
  }

  /** Everything with words, at any depth. */
  #textsIn(nodes: readonly OutlineNode[]): OutlineNode[] {
    return nodes.flatMap((node) =>
      node.kind === 'section' ? this.#textsIn(node.items ?? []) : TEXTS.has(node.kind) && !node.title ? [node] : [],
    )
  }

  #roomIn(
    { band }: Stretch,
    span: Span | undefined,
    view: number,
    texts: readonly OutlineNode[],
    hasTitle: boolean,
  ): Room | undefined {
    const seen = this.#views[view]?.seen
    const title = hasTitle && seen ? boxOf(seen, 'title') : undefined
    const around = (band && this.#boxes(band)[view]) ?? this.#column(view)
    const boxes = [...texts.flatMap((node) => this.#boxes(node)[view] ?? []), ...(title ? [title] : [])]
    if (!span || !around || boxes.length === 0) return undefined
    const left = Math.min(...boxes.map(({ x }) => x)) - around.x
    const right = around.x + around.width - Math.max(...boxes.map(({ x, width }) => x + width))
    const top = Math.min(...boxes.map(({ y }) => y)) - span.top
    return { top: Math.max(0, top), side: Math.max(0, Math.min(left, right)), title: title && title.y - span.top }
  }

  /** Padding down to the first words; at the sides where a ground, or nothing, ends there. */
  #paddingOf(band: OutlineNode | undefined, room: readonly (Room | undefined)[]): Json | undefined {
    const nearest = room.flatMap((here, n) => {
      const [column, width] = [this.#column(n), this.#views[n]?.width ?? 0]
      const isAtEdge = column !== undefined && (column.x <= 1 || column.x + column.width >= width - 1)
      return here && (band || isAtEdge) ? [Math.round(here.side)] : []
    })
    // Where words keep away from the sides the least distance holds for all viewports.
    const isOne = nearest.every((side) => side > 0)
    const sides = this.#views.map(({ name }, n): readonly [string, string | undefined] => {
      const here = room[n]
      if (!here) return [name, undefined]
      const side = nearest.length === 0 ? 0 : isOne ? Math.min(...nearest) : Math.round(here.side)
      const top = Math.round(here.top)
      return [name, side > 0 ? `${top}px ${side}px 0` : top > 0 ? `${top}px 0 0` : '0px']
    })
    const padding = byViewport(sides)
    return padding === '0px' ? undefined : padding
  }

  /** Finds for each heading 1, the title apart, in which stretch it begins. */
  #placeTops(stretches: readonly Stretch[]): void {
    const title = headingWords(this.#seen.parts.title?.text ?? '')
    const at = this.#views.findIndex(({ seen }) => seen === this.#seen)
    const all = this.#seen.headings
    const own = all.findIndex((each) => isShownTop(each) && title !== '' && headingWords(each.text) === title)
    all.forEach((heading, n) => {
      if (n === own || !isShownTop(heading)) return
      const { y = 0 } = heading.box ?? {}
      const around = stretches.find(
        ({ spans }) => y >= (spans[at]?.top ?? Infinity) - PX && y < (spans[at]?.bottom ?? 0),
      )
      const stretch = around ?? stretches.at(-1)
      if (!stretch) return
      // All viewports have the same headings, in the same order.
      const hide = this.#views.flatMap(({ name, seen }) => {
        const same = seen.headings[n]
        return same && !isShownTop(same) ? [name] : []
      })
      const item = { heading: 1, text: shortened(headingWords(heading.text)), ...(hide.length > 0 && { hide }) }
      this.#tops.set(stretch, [...(this.#tops.get(stretch) ?? []), item])
    })
  }

  /** What identifies a stretch: the title, headings 1, its first heading or the beginning of its text. */
  #itemsOf(
    stretch: Stretch,
    texts: readonly OutlineNode[],
    room: readonly (Room | undefined)[],
    hasTitle: boolean,
  ): JsonObject[] {
    const first = texts.find((node) => folded(node.text ?? '') !== '')
    const isSecond = stretch.band && first?.kind === 'heading' && first.level === 2
    const headings: JsonObject[] = [
      ...(isSecond ? [{ heading: 2, text: folded(first.text ?? '') }] : []),
      ...(this.#tops.get(stretch) ?? []),
    ]
    const gap = byViewport(
      this.#views.map(({ name }, n) => {
        const here = room[n]
        return [name, here?.title === undefined ? undefined : wholePx(here.title - here.top)]
      }),
    )
    const height = byViewport(this.#views.map(({ name, seen }) => [name, wholePx(boxOf(seen, 'title')?.height)]))
    const title: JsonObject[] = !hasTitle
      ? []
      : [
          ...(gap === undefined || gap === '0px' ? [] : [{ gap }]),
          { title: true, ...(height !== undefined && { height }) },
        ]
    const words = first && headings.length === 0 ? [{ text: shortened(headingWords(first.text ?? '')) }] : []
    const isSeen = texts.length > 0 && words.length + headings.length === 0 && !hasTitle
    return [...title, ...headings, ...words, ...(isSeen ? [{ text: '…' }] : [])]
  }
}

const holdsHeading = (node: OutlineNode): boolean => node.kind === 'heading' || (node.items ?? []).some(holdsHeading)

const isShownTop = ({ level, place, presence }: Observation['headings'][number]): boolean =>
  level === 1 && place === 'body' && presence === 'shown'

const shortened = (text: string): string =>
  text.length <= LONGEST_WORDS ? text : `${text.slice(0, LONGEST_WORDS).replace(/\s+\S*$/, '')} …`

/** An id that a program made up: another one at the next visit. */
const isRandom = (id: string): boolean => /\d{4,}|[0-9a-f]{8,}|^:|[A-Z].*\d.*[A-Z]/.test(id)
