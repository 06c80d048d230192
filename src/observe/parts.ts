import type { LOCATORS } from '../model/site-data.js'
import type { ObservedPart } from '../reality/observation.js'
import type { Look } from './look.js'
import { headingLevel, roleOf } from './roles.js'
import { childrenOf, find, isWithin, parentOf, tagOf, walk, wordsOf } from './tree.js'

/** A part that a site may name by a CSS selector. */
export type PartName = (typeof LOCATORS)[number]
/** CSS selectors of parts that a site names itself. */
export type Locators = Partial<Record<PartName, string | undefined>>
export interface FoundPart {
  readonly element: Element
  readonly by: ObservedPart['by']
}
export type Parts = Partial<Record<PartName, FoundPart>>

/** Finds the parts of a page: by the locators that are given, else by landmarks, else by how the page is built. */
export function findParts(document: Document, look: Look, locators: Locators): Parts {
  const body = document.body
  const elements = [...walk(body)]
  const parts: Parts = {}
  const set = (name: PartName, guess: () => FoundPart | undefined): void => {
    const locator = locators[name]
    const located = locator === undefined ? undefined : find(body, locator)
    // What a site's own locator does not find is not there.
    const found = located ? ({ element: located, by: 'locator' } as const) : locator === undefined ? guess() : undefined
    if (found) parts[name] = found
  }
  const guessed = (element: Element | undefined): FoundPart | undefined => element && { element, by: 'guess' }
  /** The page's own comes first, its footer last: content may have some of its own. */
  const landmark = (role: string): FoundPart | undefined => {
    const all = elements.filter((element) => roleOf(element) === role)
    if (role === 'contentinfo') all.reverse()
    const element = all.find((each) => look.presence(each) === 'shown') ?? all[0]
    return element && { element, by: 'landmark' }
  }
  set('page', () => ({ element: body, by: 'landmark' }))
  set('content', () => landmark('main') ?? guessed(guessContent(body)))
  const content = parts.content?.element
  const around = blocksAround(body, content)
  set('header', () => landmark('banner') ?? guessed(around.before.find(hasWayHome) ?? around.before.find(hasLinks)))
  set('footer', () => landmark('contentinfo') ?? guessed(around.after.at(-1)))
  set('sidebar', () => landmark('complementary') ?? guessed(named(content, /^(side-?bar|rail|secondary)$/i)))
  set('title', () => guessed(guessTitle(document, elements, content)))
  set('comments', () => guessed(named(body, /^(comments?|discussion|responses)(-(area|list|section))?$/i)))
  set('byline', () => guessed(guessByline(content)))
  set('leadImage', () => guessed(guessLeadImage(content, parts.title?.element, document)))
  set('container', () => guessed(look.laidOut ? guessContainer(content, parts.sidebar?.element, look) : undefined))
  set('column', () => guessed(guessColumn(parts.container?.element, parts.sidebar?.element, look)))
  return parts
}

/** Without a landmark: the innermost block that holds most of the words; what stands beside it is chrome. */
function guessContent(body: Element): Element | undefined {
  let at: Element | undefined = body
  while (at) {
    const weights: [number, Element][] = childrenOf(at).map((child) => [weightOf(child), child])
    const all = weights.reduce((sum, [weight]) => sum + weight, 0)
    const heaviest: Element | undefined = weights.find(([weight]) => weight * 2 >= all)?.[1]
    if (!heaviest) return at === body ? undefined : at
    if (weights.length > 1) return heaviest
    at = heaviest
  }
  return undefined
}

/** How much of a page's content is in a block: its words outside links, and what begins a text. */
function weightOf(element: Element): number {
  const linked = [...element.querySelectorAll('a')].reduce((sum, link) => sum + wordsOf(link).length, 0)
  return wordsOf(element).length - linked + 40 * element.querySelectorAll('p,h1,h2,h3').length
}

/** The blocks before and after the content, at any depth above it. */
function blocksAround(body: Element, content: Element | undefined): { before: Element[]; after: Element[] } {
  const before: Element[] = []
  const after: Element[] = []
  for (let at = content; at && at !== body; at = parentOf(at) ?? undefined) {
    const siblings = childrenOf(parentOf(at) ?? body)
    const index = siblings.indexOf(at)
    before.unshift(...siblings.slice(0, index))
    after.push(...siblings.slice(index + 1))
  }
  return { before, after }
}

const hasLinks = (element: Element): boolean => element.querySelector('a[href],nav') !== null

/** Whether an address is that of the front page. */
export function leadsHome(link: Element): boolean {
  const href = link.getAttribute('href')
  if (href === null) return false
  try {
    const { pathname, origin, search } = new URL(href, link.ownerDocument.baseURI)
    return (
      pathname === '/' &&
      search === '' &&
      origin === new URL(link.ownerDocument.baseURI).origin &&
      !href.startsWith('#')
    )
  } catch {
    return href === '/'
  }
}

const hasWayHome = (element: Element): boolean => [...element.querySelectorAll('a[href]')].some(leadsHome)

/** The first element whose id or one of whose classes has such a name. */
function named(root: Element | undefined, name: RegExp): Element | undefined {
  if (!root) return undefined
  for (const element of walk(root))
    if ([element.id, ...element.classList].some((word) => name.test(word))) return element
  return undefined
}

/** A heading 1 of the content that is not inside a block of its own, as a builder's sections are. */
function guessTitle(
  document: Document,
  elements: readonly Element[],
  content: Element | undefined,
): Element | undefined {
  const tops = elements.filter((element) => headingLevel(element) === 1)
  const isTheme = (element: Element): boolean => {
    for (let at = parentOf(element); at && at !== content; at = parentOf(at))
      if (tagOf(at) === 'section' && at.id !== '') return false
    return true
  }
  const itself = named(content ?? document.body, /^(page|entry|post|article)-?(title|heading)$/i)
  return (
    itself ?? tops.find((element) => isTheme(element) && (!content || isWithin(element, content))) ?? tops.find(isTheme)
  )
}

function guessByline(content: Element | undefined): Element | undefined {
  const found = named(content, /^(by-?line|(entry|post|article)-?meta)$/i)
  return found ?? content?.querySelector('[rel~=author],[itemprop=author]')?.closest('p,div') ?? undefined
}

/** A picture that comes straight after or before the title, and stands in no section of its own. */
function guessLeadImage(
  content: Element | undefined,
  title: Element | undefined,
  document: Document,
): Element | undefined {
  const itself = named(
    content ?? document.body,
    /^(lead|featured|hero|post|entry)-?(image|picture|media|thumbnail)$|^lead$/i,
  )
  if (itself) return itself
  const isPicture = (element: Element | null | undefined): element is Element =>
    element != null && ['figure', 'img', 'picture'].includes(tagOf(element))
  for (const sibling of [
    title?.nextElementSibling,
    title?.previousElementSibling,
    title?.nextElementSibling?.nextElementSibling,
  ])
    if (isPicture(sibling)) return sibling
  return undefined
}

/** The outermost element that holds nearly all of the content and is what makes it as wide as it is. */
function guessContainer(content: Element | undefined, sidebar: Element | undefined, look: Look): Element | undefined {
  const outer = content && look.box(content)
  if (!content || !outer) return undefined
  let at: Element = content
  for (;;) {
    const tall = childrenOf(at).filter((child) => (look.box(child)?.height ?? 0) > 0)
    const [child] = tall
    // Several blocks as wide as the content are its sections, and so is one with a look of its own.
    const { background, picture } = child ? look.colors(child) : {}
    const leavesSidebar =
      sidebar !== undefined && child !== undefined && isWithin(sidebar, at) && !isWithin(sidebar, child)
    if (!child || leavesSidebar || tall.length > 1 || background || picture || (tagOf(child) === 'section' && child.id))
      // A content that is empty but for its own padding holds nothing that could be as wide as it is.
      return !child && look.padding(content) ? undefined : at
    at = child
    if ((look.box(child)?.width ?? 0) < outer.width - 1) return at
  }
}

/** What is left of the container when the sidebar is taken away: its sibling; without one, what is narrower in it. */
function guessColumn(container: Element | undefined, sidebar: Element | undefined, look: Look): Element | undefined {
  if (!container) return undefined
  const rail = sidebar && isWithin(sidebar, container) ? sidebar : undefined
  for (let at: Element | null | undefined = rail; at && at !== container; at = parentOf(at)) {
    const beside = childrenOf(parentOf(at) ?? container).filter(
      (each) => each !== at && (look.box(each)?.width ?? 0) > 0,
    )
    if (beside.length > 0) return beside.sort((a, b) => area(look, b) - area(look, a))[0]
  }
  const inner = guessContainer(container, undefined, look)
  return (inner && isNarrower(look, inner, container) ? inner : undefined) ?? container
}

const isNarrower = (look: Look, inner: Element, outer: Element): boolean =>
  (look.box(inner)?.width ?? 0) < (look.box(outer)?.width ?? 0) - 1

const area = (look: Look, element: Element): number => {
  const box = look.box(element)
  return box ? box.width * box.height : 0
}
