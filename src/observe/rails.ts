import type { ObservedBox } from '../reality/observation.js'
import { roleOf } from './roles.js'
import { overlapsAcross, unionOf, type Sights } from './seen.js'
import { childrenOf, isWithin, parentOf, tagOf, wordsOf } from './tree.js'

/** A rail is no wider than so much of the window, and no narrower than this. */
const WIDEST = 0.46
/** One that is kept in its place may lie over most of a narrow window. */
const WIDEST_PINNED = 0.8
const NARROWEST_PX = 100
const NAMED =
  /(^|[-_\s#])(side-?(bar|nav|menu)?|sphinxsidebar|rail|secondary|toc|drawer|aside)([-_\s\d]|$)|side-?(bar|nav)/i

const isNamed = (element: Element): boolean =>
  roleOf(element) === 'complementary' ||
  roleOf(element) === 'navigation' ||
  tagOf(element) === 'aside' ||
  NAMED.test(`${element.id} ${element.getAttribute('class') ?? ''}`)

/** A rail has words, or a page of its own in a frame. */
const holdsAnything = (element: Element): boolean =>
  wordsOf(element).length >= 10 || element.querySelector('iframe') !== null

/** Whether a block is a rail by itself: kept in its place, narrow, and as high as half the window. */
export function isPinnedRail(element: Element, sights: Sights): boolean {
  const box = sights.box(element)
  const position = sights.look.style(element)?.position ?? 'static'
  if (!box || !['fixed', 'absolute', 'sticky'].includes(position) || !holdsAnything(element)) return false
  return box.width <= sights.width * WIDEST_PINNED && box.height >= sights.height / 2
}

/** What is beside the text for most of its height or of the window's, narrower than it. */
export function findRail(sights: Sights, column: Element, apart: readonly Element[]): Element | undefined {
  const text = textBox(sights, column)
  if (!text) return undefined
  let best: { element: Element; area: number } | undefined
  for (let at: Element | null = column; at && at !== sights.document.body; at = parentOf(at)) {
    const holder = parentOf(at)
    if (!holder) break
    for (const sibling of childrenOf(holder)) {
      if (sibling === at || isWithin(column, sibling)) continue
      for (const each of [sibling, ...(isEmptyHolder(sibling, sights) ? childrenOf(sibling) : [])]) {
        const box = beside(each, { sights, text, apart })
        const area = box ? box.width * filledHeight(each, box, sights) : 0
        if (area > (best?.area ?? 0)) best = { element: each, area }
      }
    }
  }
  return best?.element
}

/** A holder of no size of its own, in which something out of flow is. */
const isEmptyHolder = (element: Element, sights: Sights): boolean => {
  const box = sights.look.box(element)
  return box !== undefined && (box.height <= 1 || box.width <= 1)
}

/** Whether a block is beside another and is no rail: they are columns of one text. */
export function isFellowColumn(sights: Sights, block: Element, other: Element): boolean {
  const [text, box] = [sights.box(block), sights.box(other)]
  if (!text || !box || box.width < NARROWEST_PX || overlapsAcross(box, text)) return false
  if (box.y + box.height <= text.y || box.y >= text.y + text.height || wordsOf(other).length < 10) return false
  return beside(other, { sights, text, apart: [] }) === undefined
}

/** The box of a rail beside a text; `undefined` for what is none. */
function beside(
  element: Element,
  { sights, text, apart }: { readonly sights: Sights; readonly text: ObservedBox; readonly apart: readonly Element[] },
): ObservedBox | undefined {
  const box = sights.box(element)
  if (!box || box.width < NARROWEST_PX || box.width > sights.width * WIDEST || box.width > text.width) return undefined
  if (apart.some((other) => isWithin(element, other) || isWithin(other, element))) return undefined
  if (overlapsAcross(box, text)) return undefined
  // What is kept in its place comes to be beside the text when the page scrolls.
  const isApart = box.y + box.height <= text.y || box.y >= text.y + text.height
  if (isApart && !isPinnedRail(element, sights)) return undefined
  if (!holdsAnything(element) || !isHighEnough(element, box, { sights, text })) return undefined
  return box
}

function isHighEnough(
  element: Element,
  box: ObservedBox,
  { sights, text }: { readonly sights: Sights; readonly text: ObservedBox },
): boolean {
  if (isPinnedRail(element, sights)) return true
  if (isNamed(element) || childrenOf(element).slice(0, 3).some(isNamed) || isListOfLinks(element))
    return box.height >= 30
  const height = filledHeight(element, box, sights)
  return height >= 0.5 * Math.min(sights.height, text.height) && height >= 200
}

/** Of so much in links, and so many of them, a block leads on: a table of contents, a list of other pages. */
const LINK_SHARE = 0.6
const FEWEST_LINKS = 3

function isListOfLinks(element: Element): boolean {
  const links = [...element.querySelectorAll('li a[href]')]
  const linked = links.reduce((sum, link) => sum + wordsOf(link).length, 0)
  return links.length >= FEWEST_LINKS && linked >= LINK_SHARE * wordsOf(element).length
}

/** A cell of a row is as high as its neighbor, whatever is in it: how high that is. */
function filledHeight(element: Element, box: ObservedBox, sights: Sights): number {
  if (isPinnedRail(element, sights)) return box.height
  const inside = unionOf(childrenOf(element).flatMap((child) => sights.box(child) ?? []))
  return Math.min(box.height, inside?.height ?? box.height)
}

/** Where the lines of a column are: what floats or is laid out beside them is not in it. */
export function textBox(sights: Sights, column: Element): ObservedBox | undefined {
  const own = sights.box(column)
  const blocks = childrenOf(column).flatMap((child) => {
    const box = sights.box(child)
    return box && sights.weight(child) > 0 ? [box] : []
  })
  const inside = unionOf(blocks)
  if (!own) return inside
  const padding = sights.look.padding(column)
  const content = padding ? { ...own, x: own.x + padding[3], width: own.width - padding[1] - padding[3] } : own
  if (!inside) return content
  // Lists begin further in; what is free at both sides is held together by something.
  const [left, right] = [inside.x - content.x, content.x + content.width - inside.x - inside.width]
  return left > 2 && Math.abs(left - right) <= 4 ? { ...content, x: inside.x, width: inside.width } : content
}
