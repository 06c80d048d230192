import type { Box, PrintedItem } from '../measure/box.js'
import type { Frame } from '../measure/frame.js'
import { frameOf, measurePage } from '../measure/page.js'
import type { PageMeasure } from '../measure/page-measure.js'
import { headerBox, isOverlaying, itemPrints } from '../measure/printed.js'
import type { MeasuredSection } from '../measure/section.js'
import { surroundItems } from '../measure/surround.js'
import { DEFAULT_ARRANGE, pathOf, type PresentFacet, type PropertyPath } from '../model/facets.js'
import type { ItemKind } from '../model/item-kinds.js'
import type { PageView, ResolvedPage } from '../resolve/page.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { Answers } from './answers.js'
import type { Deciding } from './deciding.js'

/** Where no layer sets anything: the place where the theme could. */
const THEME = '/theme'

/** Kinds of items in which there are words (contract: *text*). */
const TEXT_KINDS = new Set<ItemKind>([
  ...(['heading', 'title', 'byline', 'text', 'button', 'form', 'menu', 'social'] as const),
  ...(['countdown', 'listing', 'comments', 'use'] as const),
])

/** One page at one viewport, with the questions that several rules put to it. Each is answered once. */
export class Sight {
  readonly resolved: ResolvedSite
  readonly page: ResolvedPage
  readonly view: PageView
  readonly now: Date
  #frame: Frame | undefined
  #measure: PageMeasure | undefined
  #items: readonly PrintedItem[] | undefined
  #titles: readonly SeenTitle[] | undefined
  #texts: readonly PrintedItem[] | undefined
  readonly #answers = new Answers<Sight>()

  constructor(resolved: ResolvedSite, page: ResolvedPage, viewport: string, now: Date) {
    this.resolved = resolved
    this.page = page
    this.view = page.at(viewport)
    this.now = now
  }

  get frame(): Frame {
    return (this.#frame ??= frameOf(this.measure))
  }

  get measure(): PageMeasure {
    return (this.#measure ??= measurePage(this.page, this.view.viewport.name))
  }

  /** Every item that is on the page, those of a surround that is in the body or an insert included. */
  get items(): readonly PrintedItem[] {
    return (this.#items ??= this.#allItems())
  }

  #allItems(): readonly PrintedItem[] {
    const { items } = this.measure
    if (!items.some(({ kind }) => kind === 'use')) return items
    const all: PrintedItem[] = []
    for (const printed of items) {
      all.push(printed)
      if (printed.kind !== 'use') continue
      for (const inner of surroundItems(this.frame, printed.item.use, printed.place)) all.push(nested(inner, printed))
    }
    return all
  }

  /** Whether an item prints anything. */
  prints({ item }: PrintedItem): boolean {
    return itemPrints(this.page, item)
  }

  /** Whether an item prints text. */
  isText(printed: PrintedItem): boolean {
    return TEXT_KINDS.has(printed.kind) && this.prints(printed)
  }

  /** The items that print text, of surrounds too. */
  get texts(): readonly PrintedItem[] {
    return (this.#texts ??= this.items.filter((printed) => this.isText(printed)))
  }

  /** What some work comes to here; done once, however many rules ask for it. */
  once<T>(work: (sight: Sight) => T): T {
    return this.#answers.of(this, work)
  }

  /** Whether a facet is shown at this viewport. */
  isShown(facet: PresentFacet): boolean {
    return this.view.presence(pathOf(facet, 'presence')) === 'shown'
  }

  /** The header's box where it is printed. */
  get header(): Box | undefined {
    return headerBox(this.measure)
  }

  /** The footer's box where it is printed. */
  get footer(): Box | undefined {
    const box = this.measure.box('footer')
    return box && box.height > 0 ? box : undefined
  }

  /** The sidebar's box where it is printed; an empty one keeps its place. */
  get sidebar(): Box | undefined {
    return this.measure.box('sidebar')
  }

  get headerPosition(): string {
    return String(this.view.value('header.position'))
  }

  /** Whether the header lets show through what it lies over. */
  get isHeaderOverlaying(): boolean {
    return isOverlaying(this.measure)
  }

  get arrange() {
    return this.page.choice.template?.arrange ?? DEFAULT_ARRANGE
  }

  /** Pointer of the page's body. */
  get body(): string {
    return this.page.bodyPointer
  }

  /** The body's first section that is not hidden, where the template prints the content. */
  get firstSection(): MeasuredSection | undefined {
    if (!this.arrange.includes('content')) return undefined
    const { body } = this
    return this.measure.sections.find((s) => s.depth === 0 && isInside(s.pointer, body))
  }

  /** What decides a property; the theme where only the baseline has a value. */
  decider(path: PropertyPath): Deciding {
    const styled = this.view.style.entries.get(path)?.declarations[0]
    if (styled) return { at: styled.pointer, place: { ...styled.place, pointer: styled.pointer } }
    return { at: this.view.decidingPointer(path) ?? THEME, place: undefined }
  }

  /** All that shows the page's title, or a heading that stands for it, in order of the document. */
  get seenTitles(): readonly SeenTitle[] {
    return (this.#titles ??= seenTitles(this))
  }

  /** Whether any heading 1 is seen, title or not. */
  get seesTopHeading(): boolean {
    return this.items.some((printed) => printed.item.heading === 1 && this.prints(printed))
  }
}

/** Whether a pointer names something inside what another names. */
export const isInside = (pointer: string, outer: string): boolean =>
  pointer.length > outer.length && pointer[outer.length] === '/' && pointer.startsWith(outer)

/** An item of a surround that is in the content has the box of the item that uses it. */
function nested(inner: PrintedItem, { box, section }: PrintedItem): PrintedItem {
  if (!box && section === undefined) return inner
  const { place, kind, item, pointer } = inner
  return { place, kind, item, pointer, ...(box && { box }), ...(section !== undefined && { section }) }
}

/** A heading or title that can be seen. */
export interface SeenTitle {
  readonly pointer: string
  readonly what: string
  /** Whether it is the theme's own. */
  readonly theme: boolean
  /** Whether it has the words of the page's title. */
  readonly isNamed: boolean
  /** Whether it carries the headline: a heading 1, or the page's title itself. */
  readonly carriesHeadline: boolean
}

const normalized = (text: string): string => text.replace(/\s+/g, ' ').trim().toLowerCase()

const LAST_ASCII = 0x7f
const isSpace = (code: number): boolean => code === 0x20 || (code >= 0x09 && code <= 0x0d)

/** Whether two texts have the same words, in upper or lower case and with white space of any length between them. */
function areSameWords(a: string, b: string): boolean {
  const length = Math.min(a.length, b.length)
  // Most differ within a few letters, or one goes on where the other ends: no text need be made to see that.
  for (let n = 0; n < length; n++) {
    const [x, y] = [a.charCodeAt(n), b.charCodeAt(n)]
    if (x === y) continue
    if (x > LAST_ASCII || y > LAST_ASCII || isSpace(x) || isSpace(y)) return normalized(a) === normalized(b)
    if ((x | 0x20) !== (y | 0x20)) return false
  }
  return !/\S/.test(a.slice(length)) && !/\S/.test(b.slice(length)) && normalized(a) === normalized(b)
}

/**
 * All that shows a page's title at a viewport: the theme's title; `title` items; a heading 1 in the template's arrange
 * or in the first section; any heading with the title's words.
 */
function seenTitles(sight: Sight): SeenTitle[] {
  const titles: SeenTitle[] = []
  if (sight.measure.box('title')) {
    const pointer = sight.decider('title.presence').at
    titles.push({ pointer, what: "the theme's title", theme: true, isNamed: true, carriesHeadline: true })
  }
  for (const printed of sight.items) {
    const { kind } = printed
    const title = (kind === 'title' || kind === 'heading') && sight.prints(printed) && titleOf(sight, printed)
    if (title) titles.push(title)
  }
  return titles
}

function titleOf(sight: Sight, { item, kind, pointer, place }: PrintedItem): SeenTitle | undefined {
  if (kind === 'title')
    return { pointer, what: `a title item in the ${place}`, theme: false, isNamed: true, carriesHeadline: true }
  if (kind !== 'heading') return undefined
  const isTitle = areSameWords(item.text ?? '', sight.page.data.title)
  if (!isTitle && !isTop(sight, item.heading, pointer, place)) return undefined
  const what = `a heading ${item.heading ?? ''}${isTitle ? ' with the title’s words' : ''} in the ${place}`
  return { pointer, what, theme: false, isNamed: isTitle, carriesHeadline: item.heading === 1 }
}

function isTop(sight: Sight, level: number | undefined, pointer: string, place: string): boolean {
  const first = sight.firstSection
  return level === 1 && (place === 'arrange' || (first !== undefined && isInside(pointer, first.pointer)))
}
