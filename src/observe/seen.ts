import type { ObservedBox } from '../reality/observation.js'
import type { Look } from './look.js'
import { headingLevel } from './roles.js'
import { childrenOf, parentOf, tagOf, walk, wordsOf } from './tree.js'

/** Elements are asked about at most this often when something is looked for: a page may be hostile. */
const MOST_ASKED = 4000

/** What is in sight of a page: boxes in the window's width, how much text they hold, and headings that name the page. */
export class Sights {
  readonly document: Document
  readonly look: Look
  readonly width: number
  readonly height: number
  /** The parts of the document's title: the page's name, and mostly that of the site. */
  readonly #names: ReadonlySet<string>
  #weights: ReadonlyMap<Element, number> | undefined

  constructor(document: Document, look: Look) {
    this.document = document
    this.look = look
    const window = document.defaultView
    this.width = look.laidOut ? ((document.documentElement.clientWidth || window?.innerWidth) ?? 0) : 0
    this.height = window?.innerHeight ?? 0
    this.#names = new Set(
      [document.title, ...document.title.split(SEPARATORS)].map(plain).filter((name) => name.length > 1),
    )
  }

  /** An element's box where any of it is seen in the window's width. */
  box(element: Element): ObservedBox | undefined {
    const box = this.look.box(element)
    if (!box || box.width <= 1 || box.height <= 1 || box.x >= this.width - 1 || box.x + box.width <= 1) return undefined
    return this.look.presence(element) === 'shown' ? box : undefined
  }

  /** Whether anything of an element is seen: itself, or where it holds only what floats or stands out of flow, that. */
  isSeen(element: Element): boolean {
    return this.box(element) !== undefined || childrenOf(element).some((child) => this.box(child) !== undefined)
  }

  /** Elements that a test takes, outermost only, in order of the document; `enter` decides where to look on. */
  outermost(root: Element, takes: (element: Element) => boolean, enter: (element: Element) => boolean): Element[] {
    const found: Element[] = []
    const open = [root]
    let asked = 0
    for (let next = open.pop(); next && asked < MOST_ASKED; next = open.pop()) {
      asked += 1
      if (next !== root && takes(next)) found.push(next)
      else if (enter(next)) open.push(...childrenOf(next).reverse())
    }
    return found
  }

  /** Links that are seen in an element, as many as matter. */
  links(element: Element): Element[] {
    const found: Element[] = []
    for (const each of walk(element)) {
      if (found.length >= MOST_LINKS) break
      if (tagOf(each) === 'a' && each.hasAttribute('href') && this.#isSeenLink(each)) found.push(each)
    }
    return found
  }

  /** A link may be no box of its own, such as one around a picture that floats. */
  #isSeenLink(link: Element): boolean {
    return this.look.presence(link) === 'shown' && this.isSeen(link)
  }

  /** Headings in an element that are not in the document's title and lead nowhere else: those of a text. */
  ownHeadings(element: Element): Element[] {
    return [...walk(element)].filter(
      (each) =>
        (headingLevel(each) ?? 9) <= 3 &&
        this.look.presence(each) === 'shown' &&
        !this.isNamed(each) &&
        !leadsOn(each.closest('a[href]')) &&
        !leadsOn(each.querySelector('a[href]')),
    )
  }

  /** Whether an element has the words of the document's title, of a part of it, or of its beginning. */
  isNamed(element: Element): boolean {
    const words = plain(wordsOf(element))
    if (this.#names.has(words)) return true
    const title = plain(this.document.title)
    return words.length > 4 && title.startsWith(words) && !/^[\p{L}\p{N}]/u.test(title.slice(words.length))
  }

  /** Whether an element, or anything that it is in, is out of the flow. */
  isOutOfFlow(element: Element): boolean {
    for (const at of around(element, this.document.body)) {
      const position = this.look.style(at)?.position
      if (position === 'fixed' || position === 'absolute') return true
    }
    return false
  }

  /** How much of a page's text an element holds: its words, those in links for little, and what begins a text. */
  weight(element: Element): number {
    this.#weights ??= this.#weighAll()
    return this.#weights.get(element) ?? 0
  }

  /** In one walk, for pages may be large. */
  #weighAll(): ReadonlyMap<Element, number> {
    const all = [...walk(this.document.body)]
    const weights = new Map<Element, number>()
    const linked = new Set<Element>()
    for (const element of all) {
      const parent = parentOf(element)
      const isLinked = tagOf(element) === 'a' || (parent !== null && linked.has(parent))
      if (isLinked) linked.add(element)
      let own = BEGINS.has(tagOf(element)) ? 40 : 0
      for (const node of element.childNodes)
        if (node.nodeType === 3) own += (isLinked ? OF_LINKS : 1) * (node.nodeValue ?? '').trim().length
      weights.set(element, own)
    }
    for (const element of all.reverse()) {
      const parent = parentOf(element)
      if (parent && weights.has(parent)) weights.set(parent, (weights.get(parent) ?? 0) + (weights.get(element) ?? 0))
    }
    return weights
  }
}

/** How much of a text words in links are. */
const OF_LINKS = 0.1
const BEGINS = new Set(['p', 'h1', 'h2', 'h3', 'pre', 'td', 'form', 'img'])

/** Whether a link leads somewhere else than to its own place on the page. */
const leadsOn = (link: Element | null): boolean => link !== null && !/^#/.test(link.getAttribute('href') ?? '')

const SEPARATORS = /\s+[|–—·•:»«\\/-]\s+|:\s+|\s*[|»«—]\s*/
const MOST_LINKS = 60

/** Words as they are compared: without case, white space and the sign of a link to itself. */
export const plain = (text: string): string =>
  text
    .replace(/([^\p{L}\p{N}\p{P}]|[¶#])+$/u, '')
    .replace(/\s+/g, ' ')
    .trim()
    .toLowerCase()

/** The element itself and all it is in, innermost first, up to the body. */
export function* around(element: Element, body: Element): Iterable<Element> {
  for (let at: Element | null = element; at && at !== body; at = parentOf(at)) yield at
}

/** Whether two boxes are over one another, more than by a margin. */
export const overlapsAcross = (a: ObservedBox, b: ObservedBox): boolean =>
  Math.min(a.x + a.width, b.x + b.width) - Math.max(a.x, b.x) > 8

/** The smallest box around several. */
export const unionOf = (boxes: readonly ObservedBox[]): ObservedBox | undefined => {
  if (boxes.length === 0) return undefined
  const x = Math.min(...boxes.map((b) => b.x))
  const y = Math.min(...boxes.map((b) => b.y))
  const right = Math.max(...boxes.map((b) => b.x + b.width))
  const bottom = Math.max(...boxes.map((b) => b.y + b.height))
  return { x, y, width: right - x, height: bottom - y }
}
