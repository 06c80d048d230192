import type { OutlineNode } from '../reality/observation.js'
import type { Look } from './look.js'
import { leadsHome } from './parts.js'
import { headingLevel, roleOf } from './roles.js'
import { childrenOf, PHRASING, tagOf, wordsOf } from './tree.js'

/** Text is cut to so many characters, an outline to so many things: a page may be hostile. */
const LONGEST_TEXT = 300
const MOST_NODES = 800
const DEEPEST = 40
const EMBEDS = new Set(['iframe', 'video', 'object', 'embed', 'canvas', 'audio'])
const PICTURES = new Set(['img', 'svg', 'picture'])
const UNSEEN_FIELDS = new Set(['hidden', 'submit', 'button', 'reset', 'image'])

/** Writes down what stands in an element, as the words of a site file know it. */
export class Outliner {
  isCut = false
  #count = 0
  readonly #look: Look
  /** Parts of the page that are told of elsewhere. */
  readonly #apart: ReadonlySet<Element>
  /** Parts that only hold others. */
  readonly #wrappers: ReadonlySet<Element>

  constructor(look: Look, apart: ReadonlySet<Element>, wrappers: ReadonlySet<Element>) {
    this.#look = look
    this.#apart = apart
    this.#wrappers = wrappers
  }

  inside(element: Element, depth = 0): OutlineNode[] {
    if (depth > DEEPEST) this.isCut = true
    return depth > DEEPEST ? [] : childrenOf(element).flatMap((child) => this.#nodes(child, depth))
  }

  #nodes(element: Element, depth: number): OutlineNode[] {
    if (this.#apart.has(element)) return []
    if (this.#count >= MOST_NODES) this.isCut = true
    if (this.isCut) return []
    const isWrapper = this.#holdsParts(element)
    const leaf = isWrapper ? undefined : this.#leaf(element)
    if (leaf) {
      this.#count += 1
      return [leaf]
    }
    const items = this.inside(element, depth + 1)
    if (isWrapper) return items
    const look = this.#look
    const { ink, ...ground } = look.colours(element)
    const padding = look.padding(element)
    const beside = isBeside(items) && { beside: true as const }
    const stands = element.id !== '' || element.hasAttribute('role') || 'background' in ground || 'picture' in ground
    // What has no look and no name of its own only groups.
    if (!stands && (items.length === 0 || (!beside && !padding))) return items
    this.#count += 1
    return [
      {
        kind: 'section',
        ...this.#common(element),
        ...(ink !== undefined && { ink }),
        ...ground,
        ...(padding && { padding }),
        ...beside,
        ...(items.length > 0 && { items }),
      },
    ]
  }

  #holdsParts(element: Element): boolean {
    if (this.#wrappers.has(element)) return true
    for (const part of [...this.#wrappers, ...this.#apart]) if (element.contains(part)) return true
    return false
  }

  #common(element: Element) {
    const box = this.#look.box(element)
    const role = element.getAttribute('role') ?? undefined
    return {
      ...(element.id !== '' && { id: element.id }),
      ...(role !== undefined && { role }),
      presence: this.#look.presence(element),
      ...(box && { box }),
    }
  }

  #leaf(element: Element): OutlineNode | undefined {
    const tag = tagOf(element)
    const role = roleOf(element)
    const make = (kind: OutlineNode['kind'], more: Partial<OutlineNode> = {}): OutlineNode => ({
      kind,
      ...this.#common(element),
      ...more,
    })
    const level = headingLevel(element)
    if (level !== undefined) return make('heading', { level, ...textOf(element) })
    const links = linksOf(element)
    if (role === 'navigation' && element.querySelector('h1,h2,h3,form') === null) return make('menu', { links })
    const fields = [...element.querySelectorAll('input,select,textarea')].filter(
      (field) => !UNSEEN_FIELDS.has(field.getAttribute('type') ?? ''),
    )
    if (role === 'search' || (tag === 'form' && fields.some((f) => f.getAttribute('type') === 'search')))
      return make('search')
    if (tag === 'form' || role === 'form') return make('form', { fields: fields.length })
    if (EMBEDS.has(tag)) return make('embed', {})
    if (PICTURES.has(tag)) return make('image')
    const [only] = childrenOf(element)
    const words = textOf(element)
    if (only && childrenOf(element).length === 1 && words.text === '' && isPicture(only)) {
      const home = tag === 'a' && leadsHome(element)
      return make(home ? 'logo' : 'image', links.length > 0 ? { links } : {})
    }
    if (tag === 'a' || tag === 'button') return words.text === '' ? undefined : make('button', { ...words, links })
    if (words.text === '' || !isText(element)) return undefined
    return make('text', { ...words, ...(links.length > 0 && { links }) })
  }
}

const isPicture = (element: Element): boolean => {
  const inside = childrenOf(element)
  return PICTURES.has(tagOf(element)) || (inside.length === 1 && isPicture(inside[0] as Element))
}

/** Whether what stands in an element is lines of text. */
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

export function linksOf(element: Element): { label: string; url: string }[] {
  const all = [...(element.matches('a[href]') ? [element] : []), ...element.querySelectorAll('a[href]')]
  return all.slice(0, MOST_NODES).map((link) => ({
    label: wordsOf(link).slice(0, LONGEST_TEXT) || (link.getAttribute('aria-label') ?? ''),
    url: addressOf(link),
  }))
}

/** Where a link leads, written out in full; as it is where it is no address. */
export function addressOf(link: Element): string {
  const href = link.getAttribute('href') ?? ''
  try {
    return new URL(href, link.ownerDocument.baseURI).href
  } catch {
    return href
  }
}

/** Whether things stand side by side: some two at the same height, one after the other. */
function isBeside(items: readonly OutlineNode[]): boolean {
  const boxes = items.flatMap(({ box, presence }) =>
    box && presence === 'shown' && box.width > 0 && box.height > 0 ? [box] : [],
  )
  return boxes.some((a, n) => {
    const b = boxes[n + 1]
    return b !== undefined && Math.min(a.y + a.height, b.y + b.height) > Math.max(a.y, b.y) && b.x !== a.x
  })
}
