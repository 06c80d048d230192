import type { ObservedBox } from '../reality/observation.js'
import { leadsHome } from './links.js'
import { headingLevel, roleOf } from './roles.js'
import { around, plain, unionOf, type Sights } from './seen.js'
import { childrenOf, isWithin, tagOf, walk, wordsOf } from './tree.js'

/** A bar begins within so much of the window's height, and is no higher than so much of it. */
const HIGHEST_START = 0.36
const TALLEST = 0.45
/** A bar is at least so wide, of the window; without any name for it nearly all of it, and at the very top. */
const NARROWEST = 0.5
const NEARLY_ALL = 0.9
const TOP_PX = 80
/** More words than this outside links are a text, not a bar. */
const MOST_WORDS = 200
const NO_BARS = new Set([
  'p',
  'ul',
  'ol',
  'dl',
  'dd',
  'li',
  'form',
  'table',
  'h1',
  'h2',
  'h3',
  'h4',
  'pre',
  'a',
  'main',
  'article',
])
const BAR_NAMES =
  /^(page|site|main|top|nav|global)?-?(head|header|masthead|banner|top-?bar|top-?nav|nav-?bar|navigation|nav|menu-?bar|menu)$/i

const hasBarName = (element: Element): boolean =>
  roleOf(element) === 'navigation' ||
  tagOf(element) === 'header' ||
  [element.id, ...element.classList].some((name) => BAR_NAMES.test(name))

/** The bar at the top that leads through the site; `undefined` where none is in sight. */
export function findHeader(sights: Sights): Element | undefined {
  const bars = sights.outermost(
    sights.document.body,
    (element) => isTopBar(element, sights),
    (element) => mayHoldBar(element, sights),
  )
  const top = (bar: Element): number => (sights.box(bar) ?? outOfFlowBox(bar, sights))?.y ?? 0
  return bars.find((bar) => roleOf(bar) === 'banner') ?? [...bars].sort((a, b) => top(a) - top(b))[0]
}

function mayHoldBar(element: Element, sights: Sights): boolean {
  const box = sights.look.box(element)
  if (!box) return sights.look.style(element)?.display === 'contents'
  return box.y <= sights.height * HIGHEST_START && sights.look.presence(element) === 'shown'
}

function isTopBar(element: Element, sights: Sights): boolean {
  const box = sights.box(element) ?? outOfFlowBox(element, sights)
  if (!box || box.y > sights.height * HIGHEST_START || box.height > sights.height * TALLEST) return false
  if (box.width < sights.width * NARROWEST || box.height < 20 || NO_BARS.has(tagOf(element))) return false
  if (isFooting(element) || isTrail(element, sights)) return false
  const isBanner = roleOf(element) === 'banner'
  const isNamed = isBanner || hasBarName(element)
  const isAtTop = box.y <= TOP_PX && box.width >= sights.width * NEARLY_ALL
  if (!isNamed && !isAtTop) return false
  // What names the site may be a heading in a bar; any other heading is that of a text.
  const headings = [...walk(element)].filter((each) => (headingLevel(each) ?? 9) <= 3)
  const own = sights.ownHeadings(element)
  const hasWayHome = isBanner && sights.links(element).some(leadsHome)
  if (own.some((each) => headingLevel(each) === 1 || !hasWayHome) || (headings.length > 0 && !isNamed)) return false
  const words = wordsOf(element)
  const loose = words.length - [...element.querySelectorAll('a,button,li')].reduce((n, a) => n + wordsOf(a).length, 0)
  if (loose > MOST_WORDS || element.querySelector('p p, article') !== null) return false
  const links = sights.links(element).length
  const hasPicture = element.querySelector('img,svg') !== null
  const hasSign = hasPicture || (isBanner && words !== '')
  // What leads on may be pushed out of the window by a rail.
  const leads = tagOf(element) !== 'header' && element.querySelector('a[href],button') !== null
  if (isNamed && box.y <= TOP_PX) return links > 0 || leads || (hasSign && isAtTop && headings.length === 0)
  return links >= 2
}

/** The way from the front page to this one has so many steps, and leads no further. */
const MOST_STEPS = 5

/** Whether a line only says where the page is: its own name, which leads nowhere, after the pages above it. */
function isTrail(element: Element, sights: Sights): boolean {
  const all = [...walk(element)]
  const isLink = (each: Element): boolean => tagOf(each) === 'a'
  const first = all.findIndex(isLink)
  if (first < 0 || all.filter(isLink).length > MOST_STEPS || element.querySelector('form,button,input')) return false
  const heading = [...sights.document.querySelectorAll('h1')].find((each) => !isWithin(each, element))
  const name = heading ? plain(wordsOf(heading)) : ''
  return (
    name !== '' &&
    all.slice(first).some((each) => plain(wordsOf(each)) === name && !each.closest('a') && !each.querySelector('a'))
  )
}

/** What stands out of flow in an element that takes no height itself. */
function outOfFlowBox(element: Element, sights: Sights): ObservedBox | undefined {
  if ((sights.look.box(element)?.height ?? 1) > 0 || roleOf(element) !== 'banner') return undefined
  for (const inside of childrenOf(element)) {
    const box = sights.box(inside)
    if (box) return box
  }
  return undefined
}

const FOOTING = /(^|[-_\s])(foot|footer|colophon|copyright|bottom-?bar|site-?info|navfooter)([-_\s]|$)/i
const namesOf = (element: Element): string => `${element.id} ${element.getAttribute('class') ?? ''}`
const isFooting = (element: Element): boolean =>
  tagOf(element) === 'footer' || roleOf(element) === 'contentinfo' || FOOTING.test(namesOf(element))

/** The last block that leads through or signs the site, with those that touch it; `undefined` where none is in sight. */
export function findFooter(
  sights: Sights,
  header: Element | undefined,
): { readonly element: Element; readonly box: ObservedBox } | undefined {
  const { body } = sights.document
  const all: { element: Element; box: ObservedBox }[] = []
  for (const element of body.querySelectorAll('footer,[role=contentinfo],[id],[class]')) {
    if (!isFooting(element) || isInArticle(element, sights)) continue
    if (header && (isWithin(element, header) || isWithin(header, element))) continue
    const whole = wide(element, sights)
    const box = whole && sights.box(whole)
    const isNew = whole && !all.some((each) => isWithin(whole, each.element))
    if (isNew && box && (wordsOf(whole) !== '' || whole.querySelector('img,svg') !== null))
      all.push({ element: whole, box })
  }
  // What is called one by its markup goes before what only has a name like one.
  const isMarked = ({ element }: { element: Element }): boolean =>
    tagOf(element) === 'footer' || roleOf(element) === 'contentinfo'
  const marked = all.filter(isMarked)
  const bottom = ({ box }: { box: ObservedBox }): number => box.y + box.height
  const lowest = (list: typeof all): (typeof all)[number] | undefined =>
    [...list].sort((a, b) => bottom(b) - bottom(a))[0]
  let last = lowest(marked) ?? lowest(all)
  // Beneath a marked one there may be a last line with the copyright.
  for (const each of all)
    if (last && Math.abs(each.box.y - bottom(last)) <= 4 && each.box.width >= last.box.width - 4)
      last = { element: last.element, box: unionOf([last.box, each.box]) ?? last.box }
  const pageEnd = Math.max(sights.document.documentElement.scrollHeight, sights.height)
  const headerBottom = header ? (sights.box(header)?.y ?? 0) + (sights.box(header)?.height ?? 0) : 0
  if (!last || last.box.y < headerBottom) return undefined
  return isMarked(last) || bottom(last) >= Math.min(pageEnd * 0.6, pageEnd - 900) ? last : undefined
}

/** The element, or where it is only the end of a bar, the bar. */
function wide(element: Element, sights: Sights): Element | undefined {
  const own = sights.look.box(element)
  if (!own) return undefined
  for (const at of around(element, sights.document.body)) {
    const box = sights.look.box(at)
    if (!box || box.height > Math.max(own.height, 1) + 60) return undefined
    if (box.width >= sights.width * NARROWEST) return at
  }
  return undefined
}

/** Whether a footer is that of an article, not the page's. */
function isInArticle(element: Element, sights: Sights): boolean {
  const article = element.closest('article,aside,blockquote,[role=article],dialog,[role=dialog]')
  if (!article) return false
  const [outer, own] = [sights.look.box(article), sights.look.box(element)]
  return !outer || !own || own.width < sights.width * 0.9
}
