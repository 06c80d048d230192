import type { ObservedBox } from '../reality/observation.js'
import { isFellowColumn, isPinnedRail } from './rails.js'
import { unionOf, type Sights } from './seen.js'
import { headingLevel } from './roles.js'
import { childrenOf, isWithin, tagOf, walk, wordsOf } from './tree.js'

/** A block that holds so much of the text of all beside it is where the text is. */
const MOST = 0.85
/** One with a ground of its own has to hold nearly all of it. */
const NEARLY_ALL = 0.95

/** Deeper than this no text is looked for: a page may be hostile. */
const DEEPEST = 200

/** The block that holds the page's text and is no single section of it: of those that limit its lines the outermost. */
export function findColumn(sights: Sights, root: Element, apart: readonly Element[]): Element {
  const isApart = (element: Element): boolean =>
    apart.some((part) => isWithin(element, part)) || isPinnedRail(element, sights)
  const path = [root]
  let at = root
  for (let depth = 0; depth < DEEPEST; depth++) {
    const blocks = childrenOf(at).filter(
      (child) => !isApart(child) && sights.isSeen(child) && !isTitleBand(sights, child),
    )
    const weights = blocks.map((block) => ownWeight(sights, block, apart))
    const all = weights.reduce((sum, weight) => sum + weight, 0)
    const heaviest = weights.findIndex((weight) => weight > 0 && weight >= MOST * all)
    const next = blocks[heaviest]
    if (!next || !isWrapper(sights, next, (weights[heaviest] ?? 0) / all)) break
    const others = blocks.filter((block) => block !== next)
    if (others.some((other) => isFellowColumn(sights, next, other))) break
    const fellows = others.filter((other) => isFellow(sights, next, other))
    if (fellows.length > 0) {
      // Over a text that is narrower than itself a band with the title is one; else it is the first of the bands.
      if (!fellows.every((fellow) => isHeadBand(sights, fellow))) break
      const inner = findColumn(sights, next, apart)
      const [own, box] = [sights.box(inner), sights.box(next)]
      if (!own || !box || own.width > NARROWER * box.width) break
      return inner
    }
    path.push((at = next))
  }
  for (let n = path.length - 1; n > 0; n--) {
    const [outer, inner] = [path[n - 1] as Element, path[n] as Element]
    if (apart.some((part) => isWithin(part, outer)) || !isSameAcross(sights, outer, inner)) return inner
  }
  return root
}

/** Whether a block is one of a row of similar bands or rows: as wide as its neighbor, and with something to see. */
function isFellow(sights: Sights, block: Element, other: Element): boolean {
  const [own, box] = [sights.box(block), sights.box(other)]
  if (!own || !box || box.height < FELLOW_PX || sights.isOutOfFlow(other) || isTitleBand(sights, other)) return false
  const weight = sights.weight(other)
  if (weight < FELLOW_WEIGHT || weight < FELLOW_SHARE * wordsOf(other).length) return false
  return Math.abs(own.x - box.x) <= 2 && Math.abs(own.width - box.width) <= 2
}

const FELLOW_PX = 60
const FELLOW_WEIGHT = 40
/** What is nearly all links leads on, and is no text. */
const FELLOW_SHARE = 0.3

/** How much narrower a text is than the band above it. */
const NARROWER = 0.98

/** Whether a block has a heading 1 on a ground of its own. */
function isHeadBand(sights: Sights, block: Element): boolean {
  const { background, picture } = sights.look.colors(block)
  return Boolean(background ?? picture) && [...walk(block)].some((each) => headingLevel(each) === 1)
}

/** Whether a block is the page's title on a ground of its own. */
function isTitleBand(sights: Sights, block: Element): boolean {
  if (sights.weight(block) > BAND_WEIGHT || !isHeadBand(sights, block)) return false
  return [...walk(block)].some((each) => headingLevel(each) === 1 && sights.isNamed(each))
}

/** A band with a title has a few lines beside it; with more it is a text. */
const BAND_WEIGHT = 400

/** Whether a block begins and ends where the inside of what it is in does. */
export function isSameAcross(sights: Sights, outer: Element, inner: Element): boolean {
  const [around, own] = [sights.box(outer), sights.box(inner)]
  if (!around || !own) return sights.look.style(outer)?.display === 'contents' || !own
  const padding = sights.look.padding(outer) ?? [0, 0, 0, 0]
  const [x, width] = [around.x + padding[3], around.width - padding[1] - padding[3]]
  // What scrolls by itself holds more than is seen of it.
  const isWhole = own.y + own.height <= around.y + around.height + 2
  return isWhole && Math.abs(own.x - x) <= 2 && Math.abs(own.width - width) <= 2
}

/** What an element weighs without the parts of the page that are in it. */
const ownWeight = (sights: Sights, element: Element, apart: readonly Element[]): number =>
  apart.reduce(
    (weight, part) => (part !== element && isWithin(part, element) ? weight - sights.weight(part) : weight),
    sights.weight(element),
  )

/** Whether a block only wraps: it has no look of its own, and is no section that has a name. */
function isWrapper(sights: Sights, element: Element, share: number): boolean {
  const tag = tagOf(element)
  if (['p', 'ul', 'ol', 'dl', 'table', 'form', 'pre', 'blockquote', 'figure', 'details', 'iframe'].includes(tag))
    return false
  if (tag === 'section' && element.id !== '') return isCalledText(element)
  if (sights.document.querySelector('main,[role=main]') === element || tag === 'article') return true
  const { background, picture } = sights.look.colors(element)
  if (!(background ?? picture)) return true
  return share >= NEARLY_ALL && tag === 'div' && childrenOf(element).length > 1 && isTall(sights, element)
}

/** Whether a block is called the page's text; a builder names its sections after what is in them. */
const isCalledText = (element: Element): boolean =>
  [element.id, ...element.classList].some((name) => /^(page-?|main-?)?(main|content|text|body|article)$/i.test(name))

/** Whether a block with a ground of its own is as high as the window, as that of a whole page is. */
const isTall = (sights: Sights, element: Element): boolean => (sights.box(element)?.height ?? 0) >= 0.75 * sights.height

/** A box less the bars that are in it: from the first block beneath the header to the last above the footer. */
export function without(
  sights: Sights,
  { box, element }: { readonly box: ObservedBox; readonly element: Element },
  bars: readonly (readonly [Element, ObservedBox])[],
): ObservedBox {
  const inFlow = bars.filter(([bar]) => isWithin(bar, element) && !sights.isOutOfFlow(bar))
  if (inFlow.length === 0) return box
  let [top, bottom] = [box.y, box.y + box.height]
  for (const [, { y, height }] of inFlow)
    if (y - box.y < sights.height * 0.4 && y + height < bottom) top = Math.max(top, y + height)
    else if (y > top) bottom = Math.min(bottom, y)
  const blocks = childrenOf(element).flatMap((child) => {
    const own = sights.box(child)
    const isBar = inFlow.some(([bar]) => bar === child || isWithin(child, bar))
    if (!own || isBar || own.y >= bottom || own.y + own.height <= top || sights.isOutOfFlow(child)) return []
    const [y, end] = [Math.max(own.y, top), Math.min(own.y + own.height, bottom)]
    return [{ ...own, y, height: end - y }]
  })
  const inside = unionOf(blocks)
  if (inside) [top, bottom] = [Math.max(top, inside.y), Math.min(bottom, inside.y + inside.height)]
  return { ...box, y: top, height: bottom - top }
}
