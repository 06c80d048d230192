import type { OutlineNode } from '../reality/observation.js'
import type { Look } from './look.js'
import { leadsHome } from './links.js'
import { headingLevel, roleOf } from './roles.js'
import { childrenOf, PHRASING, tagOf, wordsOf } from './tree.js'
import { inkOf } from './words-seen.js'

/** Text is cut to so many characters, an outline to so many things: a page may be hostile. */
const LONGEST_TEXT = 300
const MOST_NODES = 800
const DEEPEST = 40
/** A section of so much of the text's height is no part of it, but all. */
const WHOLE_SHARE = 0.8
const EMBEDS = new Set(['iframe', 'video', 'object', 'embed', 'canvas', 'audio'])
const PICTURES = new Set(['img', 'svg', 'picture'])
const UNSEEN_FIELDS = new Set(['hidden', 'submit', 'button', 'reset', 'image'])

/** Writes down what is in an element, as the words of a site file know it. */
export class Outliner {
  isCut = false
  #count = 0
  /** Whether what is described is a header, footer or sidebar. */
  #isPart = false
  /** How many bands that hold the title are open. */
  #bands = 0
  readonly #look: Look
  /** Parts of the page that are described elsewhere. */
  readonly #apart: ReadonlySet<Element>
  /** Parts that only hold others. */
  readonly #wrappers: ReadonlySet<Element>

  /** Parts that are around the text. */
  readonly #chrome: ReadonlySet<Element>

  constructor(look: Look, apart: ReadonlySet<Element>, wrappers: ReadonlySet<Element>, chrome: ReadonlySet<Element>) {
    this.#look = look
    this.#apart = apart
    this.#wrappers = wrappers
    this.#chrome = chrome
  }

  /** What is in a part of the page, with text that is in no element of its own. */
  insidePart(element: Element): OutlineNode[] {
    this.#isPart = true
    const nodes = [...this.inside(element), ...this.#loose(element, '')]
    this.#isPart = false
    return nodes
  }

  /** Text that stands in an element beside others; of the text itself every word is read as a whole. */
  #loose(element: Element, at: string): OutlineNode[] {
    if (!this.#isPart) return []
    const text = [...element.childNodes].map((node) => (node.nodeType === 3 ? (node.nodeValue ?? '') : ' ')).join('')
    const loose = text.replace(/\s+/g, ' ').trim()
    if (loose === '') return []
    return [{ kind: 'text', at: `${at}t.`, presence: this.#look.presence(element), text: loose.slice(0, LONGEST_TEXT) }]
  }

  inside(element: Element, at = '', depth = 0): OutlineNode[] {
    if (depth > DEEPEST) this.isCut = true
    return depth > DEEPEST ? [] : childrenOf(element).flatMap((child, n) => this.#nodes(child, `${at}${n}.`, depth))
  }

  #nodes(element: Element, at: string, depth: number): OutlineNode[] {
    if (this.#apart.has(element)) return this.#bands > 0 ? this.#title(element, at) : []
    if (this.#count >= MOST_NODES) this.isCut = true
    if (this.isCut) return []
    const holdsParts = this.#holds(element, this.#wrappers) || this.#holds(element, this.#apart)
    const leaf = holdsParts ? undefined : this.#leaf(element, at)
    if (leaf) {
      this.#count += 1
      return [leaf]
    }
    const look = this.#look
    // A ground under the title alone is a band that it is in.
    if (holdsParts && !this.#isBand(element)) return this.inside(element, at, depth + 1)
    if (holdsParts) this.#bands += 1
    const isRow = isBeside(childrenOf(element), look)
    // What is side by side keeps together, so that each column can be distinguished from the next.
    const inner = isRow
      ? childrenOf(element).flatMap((child, n) => this.#column(child, `${at}${n}.`, depth + 1))
      : this.inside(element, at, depth + 1)
    const items = [...inner, ...this.#loose(element, at)]
    if (holdsParts) this.#bands -= 1
    const { ink: own, ...ground } = look.colors(element)
    const ink = 'background' in ground || 'picture' in ground ? inkOf(element, look) : own
    const padding = look.padding(element)
    const stands = element.id !== '' || element.hasAttribute('role') || 'background' in ground || 'picture' in ground
    // What has no look and no name of its own only groups.
    if (!stands && (items.length === 0 || (!isRow && !padding))) return items
    this.#count += 1
    return [
      {
        kind: 'section',
        ...this.#common(element, at),
        ...(ink !== undefined && { ink }),
        ...ground,
        ...(padding && { padding }),
        ...(isRow && { beside: true as const }),
        ...(items.length > 0 && { items }),
      },
    ]
  }

  #column(element: Element, at: string, depth: number): OutlineNode[] {
    const nodes = this.#nodes(element, at, depth)
    if (nodes.length <= 1) return nodes
    return [{ kind: 'section', ...this.#common(element, at), items: nodes }]
  }

  /** The title where it is in a band; of other parts nothing is reported twice. */
  #title(element: Element, at: string): OutlineNode[] {
    const level = headingLevel(element)
    if (level === undefined) return []
    return [{ kind: 'heading', ...this.#common(element, at), level, title: true, ...textOf(element) }]
  }

  #holds(element: Element, parts: ReadonlySet<Element>): boolean {
    for (const part of parts) if (element.contains(part)) return true
    return false
  }

  /** Whether an element has a ground or a name of its own, and of the parts holds none but those of the text. */
  #isBand(element: Element): boolean {
    const { background, picture } = this.#look.colors(element)
    const isNamed = tagOf(element) === 'section' && element.id !== '' && !this.#isWhole(element)
    return (
      (background !== undefined || picture === true || isNamed) &&
      !this.#holds(element, this.#wrappers) &&
      !this.#holds(element, this.#chrome)
    )
  }

  /** Whether an element is as tall as most of what it is in: then it only wraps the text. */
  #isWhole(element: Element): boolean {
    const inner = [...this.#wrappers].at(-1)
    const [own, outer] = [this.#look.box(element), inner && this.#look.box(inner)]
    return own !== undefined && outer !== undefined && own.height >= WHOLE_SHARE * outer.height
  }

  #common(element: Element, at: string) {
    const box = this.#look.box(element)
    const role = element.getAttribute('role') ?? undefined
    return {
      at,
      ...(element.id !== '' && { id: element.id }),
      ...(role !== undefined && { role }),
      presence: this.#look.presence(element),
      ...(box && { box }),
    }
  }

  #leaf(element: Element, at: string): OutlineNode | undefined {
    const tag = tagOf(element)
    const role = roleOf(element)
    const make = (kind: OutlineNode['kind'], more: Partial<OutlineNode> = {}): OutlineNode => ({
      kind,
      ...this.#common(element, at),
      ...more,
    })
    const links = linksOf(element, this.#look)
    if (isListing(element)) return make('listing', { links })
    const level = headingLevel(element)
    // A bar's heading may be the way home; one of a text leads to itself at most.
    if (level !== undefined)
      return make('heading', { level, ...textOf(element), ...(this.#isPart && links.length > 0 && { links }) })
    if (role === 'navigation' && element.querySelector('h1,h2,h3,form') === null) return make('menu', { links })
    const fields = [...element.querySelectorAll('input,select,textarea')].filter(
      (field) => !UNSEEN_FIELDS.has(field.getAttribute('type') ?? ''),
    )
    if (role === 'search' || (tag === 'form' && fields.some((f) => f.getAttribute('type') === 'search')))
      return make('search')
    if (tag === 'form' || role === 'form') return make('form', { fields: fields.length })
    if (EMBEDS.has(tag)) return make('embed', sourceOf(element))
    if (PICTURES.has(tag)) return make('image', sourceOf(element))
    const [only] = childrenOf(element)
    const words = textOf(element)
    if (only && childrenOf(element).length === 1 && words.text === '' && isPicture(only)) {
      const link = tag === 'a' ? element : element.querySelector('a[href]')
      const home = link !== null && leadsHome(link)
      return make(home ? 'logo' : 'image', { ...sourceOf(element), ...(links.length > 0 && { links }) })
    }
    if (tag === 'a' || tag === 'button') {
      const text = words.text || iconName(element)
      return text === '' ? undefined : make('button', { ...words, text, links })
    }
    if (words.text === '' || !isText(element)) return undefined
    return make('text', { ...words, ...(links.length > 0 && { links }) })
  }
}

/** The name of a link or button that shows only an icon. */
const iconName = (element: Element): string => element.getAttribute('aria-label') ?? element.getAttribute('title') ?? ''

const isPicture = (element: Element): boolean => {
  const inside = childrenOf(element)
  return PICTURES.has(tagOf(element)) || (inside.length === 1 && isPicture(inside[0] as Element))
}

/** Whether an element lists other pages: several similar entries, each with a heading that leads somewhere. */
function isListing(element: Element): boolean {
  const entries = childrenOf(element)
  const [first] = entries
  return (
    first !== undefined &&
    (entries.length > 1 || tagOf(first) === 'article') &&
    entries.every(
      (entry) =>
        tagOf(entry) === tagOf(first) &&
        ['article', 'li', 'div'].includes(tagOf(entry)) &&
        entry.querySelectorAll('h2,h3,h4,h5,h6').length === 1 &&
        entry.querySelector(':is(h2,h3,h4,h5,h6) a[href],a[href] :is(h2,h3,h4,h5,h6)') !== null,
    )
  )
}

/** Whether what is in an element is lines of text. */
function isText(element: Element): boolean {
  const tag = tagOf(element)
  if (['p', 'ul', 'ol', 'dl', 'table', 'blockquote', 'pre', 'address', 'details'].includes(tag))
    return element.querySelector('section,article,h1,h2,h3,h4,h5,h6,form,iframe') === null
  return childrenOf(element).every((child) => PHRASING.has(tagOf(child)) && isText(child))
}

function textOf(element: Element): { text: string; words?: number } {
  const text = wordsOf(element)
  if (text.length <= LONGEST_TEXT) return { text }
  return { text: text.slice(0, LONGEST_TEXT), words: text.split(' ').length }
}

/** Links in an element: those that are seen, or all where it is hidden as a whole. */
function linksOf(element: Element, look: Look): { label: string; url: string }[] {
  const all = [...(element.matches('a[href]') ? [element] : []), ...element.querySelectorAll('a[href]')]
    .slice(0, MOST_NODES)
    .filter((link) => !/^javascript:/i.test(addressOf(link)))
  const seen = all.filter((link) => look.presence(link) === 'shown')
  return (seen.length > 0 ? seen : all).map((link) => ({
    label: wordsOf(link).slice(0, LONGEST_TEXT) || (link.getAttribute('aria-label') ?? ''),
    url: addressOf(link),
  }))
}

/** Where a link leads, preview in full; as it is where it is no address. */
export function addressOf(link: Element): string {
  const href = link.getAttribute('href') ?? ''
  try {
    return new URL(href, link.ownerDocument.baseURI).href
  } catch {
    return href
  }
}

/** Address of the picture or page that an element shows. */
function sourceOf(element: Element): { source?: string } {
  const shown = element.hasAttribute('src') ? element : element.querySelector('[src]')
  const source = shown?.getAttribute('src')
  return source && !source.startsWith('data:') ? { source: source.slice(0, LONGEST_TEXT) } : {}
}

/** Whether elements are side by side: some two at the same height, one after the other. */
function isBeside(elements: readonly Element[], look: Look): boolean {
  const boxes = elements.flatMap((element) => {
    const box = look.box(element)
    return box && box.width > 0 && box.height > 0 && look.presence(element) === 'shown' ? [box] : []
  })
  return boxes.some((a, n) => {
    const b = boxes[n + 1]
    return (
      b !== undefined &&
      Math.min(a.y + a.height, b.y + b.height) > Math.max(a.y, b.y) &&
      (b.x >= a.x + a.width - 1 || b.x + b.width <= a.x + 1)
    )
  })
}
