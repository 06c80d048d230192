import type { ObservedBox } from '../reality/observation.js'
import type { Look } from './look.js'
import { walk } from './tree.js'

/** Words that are seen, with the element that holds them and the box of their lines. */
export interface SeenWords {
  readonly element: Element
  readonly text: string
  readonly box: ObservedBox
  readonly style: CSSStyleDeclaration
}

/** A page may be hostile: no more texts are looked at. */
const MOST_TEXTS = 3000

/** Every text that is seen in an element, in order of the document, with its lines as they are drawn. */
export function wordsSeen(root: Element, look: Look): SeenWords[] {
  const out: SeenWords[] = []
  const window = root.ownerDocument.defaultView
  if (!window || !look.laidOut) return out
  const range = root.ownerDocument.createRange()
  for (const element of walk(root)) {
    if (out.length >= MOST_TEXTS) break
    const nodes = [...element.childNodes].filter((node) => node.nodeType === 3 && (node.nodeValue ?? '').trim() !== '')
    const [first, last] = [nodes[0], nodes.at(-1)]
    const style = first && look.presence(element) === 'shown' ? look.style(element) : undefined
    if (!first || !last || !style) continue
    range.setStartBefore(first)
    range.setEndAfter(last)
    const { x, y, width, height } = range.getBoundingClientRect()
    if (width <= 1 || height <= 1) continue
    const box = { x: x + window.scrollX, y: y + window.scrollY, width, height }
    out.push({
      element,
      text: nodes
        .map((node) => node.nodeValue)
        .join(' ')
        .replace(/\s+/g, ' ')
        .trim(),
      box,
      style,
    })
  }
  return out
}

/** The color of most of an element's words, which may be another than its own; those on a ground of their own apart. */
export function inkOf(root: Element, look: Look): string | undefined {
  const counts = new Map<string, number>()
  let asked = 0
  const read = (element: Element): void => {
    if ((asked += 1) > MOST_ASKED || (element !== root && 'background' in look.colors(element))) return
    let letters = 0
    for (const node of element.childNodes) if (node.nodeType === 3) letters += (node.nodeValue ?? '').trim().length
    if (letters > 0 && look.presence(element) === 'shown') {
      const color = look.style(element)?.color ?? ''
      counts.set(color, (counts.get(color) ?? 0) + letters)
    }
    for (const child of element.children) read(child)
  }
  read(root)
  return [...counts].sort(([, a], [, b]) => b - a)[0]?.[0] ?? look.style(root)?.color
}

const MOST_ASKED = 200
