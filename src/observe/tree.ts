/** Elements whose inside is not part of the page. */
const SKIPPED = new Set([
  'script',
  'style',
  'noscript',
  'link',
  'meta',
  'head',
  'base',
  'title',
  'area',
  'source',
  'track',
])

export const tagOf = (element: Element): string => element.localName.toLowerCase()

/** An element's children as they are laid out: an open shadow root's, and what is put into its slots. */
export function childrenOf(element: Element): Element[] {
  const root = element.shadowRoot
  const own = root
    ? [...root.children]
    : tagOf(element) === 'slot' && (element as HTMLSlotElement).assignedElements?.().length
      ? (element as HTMLSlotElement).assignedElements()
      : [...element.children]
  const laidOut: Element[] = []
  for (const child of own) {
    const tag = tagOf(child)
    // Without a browser a declarative shadow root is still a template.
    if (tag !== 'template') {
      if (!SKIPPED.has(tag)) laidOut.push(child)
    } else if (child.hasAttribute('shadowrootmode'))
      laidOut.push(...[...(child as HTMLTemplateElement).content.children].filter((each) => !SKIPPED.has(tagOf(each))))
  }
  return laidOut
}

/** What an element is in as it is laid out. */
export function parentOf(element: Element): Element | null {
  if (element.assignedSlot) return element.assignedSlot
  if (element.parentElement) return element.parentElement
  return (element.getRootNode?.() as Partial<ShadowRoot> | undefined)?.host ?? null
}

/** An element and all in it, in order of the document. */
export function* walk(root: Element): Generator<Element> {
  const open = [root]
  for (let next = open.pop(); next; next = open.pop()) {
    yield next
    open.push(...childrenOf(next).reverse())
  }
}

/** The first element that a selector means, those in open shadow roots included. */
export function find(root: Element, selector: string): Element | undefined {
  try {
    const found = root.ownerDocument.querySelector(selector)
    if (found) return found
    for (const element of walk(root)) {
      const inside = element.shadowRoot?.querySelector(selector)
      if (inside) return inside
    }
  } catch {
    // No selector that this browser knows means nothing.
  }
  return undefined
}

export const isWithin = (element: Element, outer: Element | undefined): boolean => {
  if (!outer || outer.contains(element)) return outer !== undefined
  for (let at: Element | null = element; at; at = parentOf(at)) if (at === outer) return true
  return false
}

/** Words of an element, white space folded. */
export function wordsOf(element: Element): string {
  const parts: string[] = []
  const read = (node: Node): void => {
    if (node.nodeType === 3) parts.push(node.nodeValue ?? '')
    else if (node.nodeType === 1 || node.nodeType === 11) {
      const element_ = node as Element
      if (node.nodeType === 1 && (SKIPPED.has(tagOf(element_)) || tagOf(element_) === 'template')) return
      const inside = node.nodeType === 1 ? (element_.shadowRoot ?? node) : node
      const before = parts.length
      for (const child of inside.childNodes) read(child)
      // Blocks are words apart, and so is what stands on both sides of a sign or a line's end.
      const isApart = parts.length === before ? tagOf(element_) !== 'wbr' : !PHRASING.has(tagOf(element_))
      if (node.nodeType === 1 && isApart) parts.push(' ')
    }
  }
  read(element)
  return parts.join('').replace(/\s+/g, ' ').trim()
}

/** Elements that are within a line of text. */
export const PHRASING = new Set(
  'a abbr b bdi bdo br cite code data del dfn em i ins kbd mark q s samp small span strong sub sup time u var wbr label'.split(
    ' ',
  ),
)
