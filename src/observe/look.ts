import type { ObservedBox } from '../reality/observation.js'
import type { Presence } from '../model/facets.js'
import { parentOf } from './tree.js'

const rounded = (px: number): number => Math.round(px * 100) / 100 || 0

/** What is seen of elements. Without a browser (`laidOut` false) only the markup is known. */
export class Look {
  readonly laidOut: boolean
  readonly #window: Window | null
  /** What elements do to all that is in them, and how they are themselves. */
  readonly #known = new WeakMap<Element, Presence>()
  readonly #presences = new WeakMap<Element, Presence>()
  readonly #boxes = new WeakMap<Element, ObservedBox>()

  constructor(document: Document, structureOnly: boolean) {
    this.#window = structureOnly ? null : document.defaultView
    this.laidOut = this.#window !== null
  }

  style(element: Element): CSSStyleDeclaration | undefined {
    return this.#window?.getComputedStyle(element)
  }

  /** Where an element is laid out, from the page's top left; what only a transform does to it is left out. */
  box(element: Element): ObservedBox | undefined {
    const window = this.#window
    if (!window) return undefined
    let box = this.#boxes.get(element)
    if (!box) {
      if (this.style(element)?.display === 'none') return undefined
      box = boxIn(window, element)
      this.#boxes.set(element, box)
    }
    // It is written into what is observed, where each is its own.
    return { ...box }
  }

  presence(element: Element): Presence {
    let presence = this.#presences.get(element)
    if (!presence) this.#presences.set(element, (presence = this.#presence(element)))
    return presence
  }

  #presence(element: Element): Presence {
    const inherited = this.#around(element)
    if (inherited === 'hidden' || !this.laidOut) return inherited
    const style = this.style(element)
    if (!style) return inherited
    // Visibility is inherited, so that only the element itself has to be asked.
    const isSkipped = element.checkVisibility?.() === false && style.display !== 'contents'
    if (style.visibility !== 'visible' || isSkipped) return 'hidden'
    return this.#isMovedAway(element, style) ? 'visually-hidden' : inherited
  }

  /** What an element and those around it do to all that is in it. */
  #around(element: Element): Presence {
    const known = this.#known.get(element)
    if (known) return known
    const above: Element[] = []
    let presence: Presence = 'shown'
    for (let at: Element | null = element; at; at = parentOf(at)) {
      const found = this.#known.get(at)
      if (found) {
        presence = found
        break
      }
      above.push(at)
    }
    for (const at of above.reverse()) {
      const here = this.laidOut ? this.#here(at) : markupPresence(at)
      if (presence !== 'hidden' && here !== 'shown') presence = here
      this.#known.set(at, presence)
    }
    return presence
  }

  #here(element: Element): Presence {
    const style = this.style(element)
    if (!style || style.display === 'contents') return 'shown'
    if (style.display === 'none') return 'hidden'
    return this.#isCutAway(element, style) ? 'visually-hidden' : 'shown'
  }

  #isCutAway(element: Element, style: CSSStyleDeclaration): boolean {
    if (style.opacity === '0' || isClippedAway(style)) return true
    const { width, height } = element.getBoundingClientRect()
    if (width > 1 && height > 1) return false
    if (style.overflowX !== 'visible' || style.overflowY !== 'visible') return true
    const { offsetWidth = 0, offsetHeight = 0 } = element as HTMLElement
    return offsetWidth > 1 && offsetHeight > 1
  }

  #isMovedAway(element: Element, style: CSSStyleDeclaration): boolean {
    if (parseFloat(style.fontSize) < 1 || parseFloat(style.textIndent) <= -999) return true
    const { right, bottom, width, height } = element.getBoundingClientRect()
    const { scrollX, scrollY } = this.#window as Window
    return width > 0 && height > 0 && (right + scrollX <= 0 || bottom + scrollY <= 0)
  }

  /** Background and ink as they are drawn. */
  colors(element: Element): { background?: string; picture?: true; ink?: string } {
    const style = this.style(element)
    if (!style) return {}
    return {
      ...(!isTransparent(style.backgroundColor) && { background: style.backgroundColor }),
      ...(style.backgroundImage !== 'none' && { picture: true as const }),
      ink: style.color,
    }
  }

  /** Top, right, bottom, left in px; nothing where there is none. */
  padding(element: Element): [number, number, number, number] | undefined {
    const style = this.style(element)
    if (!style) return undefined
    const sides = [style.paddingTop, style.paddingRight, style.paddingBottom, style.paddingLeft].map(
      (side) => rounded(parseFloat(side)) || 0,
    ) as [number, number, number, number]
    return sides.some((side) => side > 0) ? sides : undefined
  }
}

/** Where an element is laid out; what a transform does to it is left out. */
function boxIn(window: Window, element: Element): ObservedBox {
  const rect = element.getBoundingClientRect()
  let { x, y, width, height } = rect
  const { offsetWidth, offsetHeight } = element as HTMLElement
  if (offsetWidth !== undefined && Math.max(Math.abs(offsetWidth - width), Math.abs(offsetHeight - height)) > 1) {
    x += (width - offsetWidth) / 2
    y += (height - offsetHeight) / 2
    ;[width, height] = [offsetWidth, offsetHeight]
  }
  return {
    x: rounded(x + window.scrollX),
    y: rounded(y + window.scrollY),
    width: rounded(width),
    height: rounded(height),
  }
}

/** Of a computed color, which browsers write as `rgba(…, 0)` or with a slash. */
export const isTransparent = (color: string): boolean => /^(transparent$|rgba\(.*,\s*0\)$|.*\/\s*0%?\)$)/.test(color)

/** Clipped to nothing: by `clip-path`, or by `clip` where that works. */
function isClippedAway({ clipPath, clip, position }: CSSStyleDeclaration): boolean {
  const inset = /^inset\(\s*(\d+(?:\.\d+)?)%/.exec(clipPath)
  if (inset && Number(inset[1]) >= 50) return true
  if (/^circle\(0(px|%)?[\s)]/.test(clipPath)) return true
  if (position !== 'absolute' && position !== 'fixed') return false
  const [top, right, bottom, left] = (/^rect\((.*)\)$/.exec(clip)?.[1] ?? '').split(/[\s,]+/).map(parseFloat)
  return top !== undefined && ((bottom ?? 99) - top <= 1 || (right ?? 99) - (left ?? 0) <= 1)
}

/** What the markup alone shows: the `hidden` attribute and the element's own style. */
function markupPresence(element: Element): Presence {
  const style = (element.getAttribute('style') ?? '').replace(/\s+/g, '').toLowerCase()
  return element.hasAttribute('hidden') || /(^|;)(display:none|visibility:hidden)/.test(style) ? 'hidden' : 'shown'
}
