import type { LOCATORS } from '../model/site-data.js'
import type { ObservedBox, ObservedPart } from '../reality/observation.js'
import { findFooter, findHeader } from './bars.js'
import type { Look } from './look.js'
import { leadsHome } from './links.js'
import { findRail, textBox } from './rails.js'
import { roleOf } from './roles.js'
import { around, overlapsAcross, Sights, unionOf } from './seen.js'
import { guessTitle } from './title.js'
import { findColumn, isSameAcross, without } from './text-column.js'
import { childrenOf, find, isWithin, parentOf, tagOf, walk, wordsOf } from './tree.js'

/** A part that a site may name by a CSS selector. */
export type PartName = (typeof LOCATORS)[number]
/** CSS selectors of parts that a site names itself. */
export type Locators = Partial<Record<PartName, string | undefined>>
export interface FoundPart {
  readonly element: Element
  readonly by: ObservedPart['by']
  /** Where it is seen, where that is not the element's own box. */
  readonly box?: ObservedBox
}
export type Parts = Partial<Record<PartName, FoundPart>>

/** Finds the parts of a page: by the locators that are given, else by what is seen of it, else by its markup. */
export function findParts(document: Document, look: Look, locators: Locators, known: KnownParts = {}): Parts {
  const body = document.body
  const parts: Parts = {}
  const set = (name: PartName, guess: () => FoundPart | undefined): void => {
    const locator = locators[name]
    const located = locator === undefined ? undefined : find(body, locator)
    // What a site's own locator does not find is not there.
    const found = located ? ({ element: located, by: 'locator' } as const) : locator === undefined ? guess() : undefined
    if (found) parts[name] = found
  }
  const guesses = look.laidOut
    ? new SeenGuesses(document, look, parts, known)
    : new MarkupGuesses(document, look, parts)
  set('page', () => ({ element: body, by: 'landmark' }))
  for (const name of guesses.order) set(name, () => guesses.guess(name))
  set('comments', () => guessed(named(body, /^(comments?|discussion|responses)(-(area|list|section))?$/i)))
  const content = parts.content?.element
  set('byline', () => guessed(guessByline(content)))
  set('leadImage', () => guessed(guessLeadImage(content, parts.title?.element, document)))
  return parts
}

/** Parts that were found at another viewport, by a selector that means them alone. */
export type KnownParts = Partial<Record<PartName, string>>

const guessed = (element: Element | undefined): FoundPart | undefined => element && { element, by: 'guess' }
const byRole = (element: Element | undefined, role: string): FoundPart | undefined =>
  element && { element, by: roleOf(element) === role ? 'landmark' : 'guess' }

/** Elements of a role that are shown, in order of the document; those that are not where none is. */
function landmarks(document: Document, look: Look, role: string): Element[] {
  const all = [...walk(document.body)].filter((element) => roleOf(element) === role)
  const shown = all.filter((element) => look.presence(element) === 'shown')
  return shown.length > 0 ? shown : all
}

/** What the markup alone shows of where the parts are. */
class MarkupGuesses {
  readonly order = ['content', 'header', 'footer', 'sidebar', 'title'] as const
  readonly #document: Document
  readonly #look: Look
  readonly #parts: Parts

  constructor(document: Document, look: Look, parts: Parts) {
    this.#document = document
    this.#look = look
    this.#parts = parts
  }

  guess(name: PartName): FoundPart | undefined {
    const { body } = this.#document
    const content = this.#parts.content?.element
    /** The page's own comes first, its footer last: content may have some of its own. */
    const landmark = (role: string, n = 0): FoundPart | undefined =>
      byRole(landmarks(this.#document, this.#look, role).at(n), role)
    switch (name) {
      case 'content':
        return landmark('main') ?? guessed(guessContent(body))
      case 'header': {
        const { before } = blocksAround(body, content)
        return landmark('banner') ?? guessed(before.find(hasWayHome) ?? before.find(hasLinks))
      }
      case 'footer':
        return landmark('contentinfo', -1) ?? guessed(blocksAround(body, content).after.at(-1))
      case 'sidebar':
        return landmark('complementary') ?? guessed(named(content, SIDEBAR_NAMES))
      case 'title':
        return guessed(guessTitle(this.#document, content, []))
      default:
        return undefined
    }
  }
}

const SIDEBAR_NAMES = /^(side-?bar|rail|secondary)$/i

/** A main landmark that holds less of the page's text is not where the text is. */
const MAIN_SHARE = 0.3
/** Less than a line of text is none. */
const LITTLE = 40

/** What is seen of a page that is laid out. */
class SeenGuesses {
  readonly order = ['header', 'footer', 'content', 'sidebar', 'container', 'column', 'title'] as const
  readonly #document: Document
  readonly #look: Look
  readonly #parts: Parts
  readonly #known: KnownParts
  readonly #sights: Sights
  #text: Element | undefined

  constructor(document: Document, look: Look, parts: Parts, known: KnownParts) {
    this.#document = document
    this.#look = look
    this.#parts = parts
    this.#known = known
    this.#sights = new Sights(document, look)
  }

  guess(name: PartName): FoundPart | undefined {
    switch (name) {
      case 'header':
        return byRole(findHeader(this.#sights) ?? this.#unseen('banner'), 'banner')
      case 'footer': {
        const seen = findFooter(this.#sights, this.#element('header'))
        if (seen) return { ...seen, by: roleOf(seen.element) === 'contentinfo' ? 'landmark' : 'guess' }
        return byRole(this.#unseen('contentinfo') ?? this.#lastBlock(), 'contentinfo')
      }
      case 'content':
        return this.#content()
      case 'sidebar':
        return this.#sidebar()
      case 'container':
        return this.#container()
      case 'column':
        return this.#column()
      case 'title':
        return guessed(guessTitle(this.#document, this.#element('content'), this.#apart, this.#sights))
      default:
        return undefined
    }
  }

  #element(name: PartName): Element | undefined {
    return this.#parts[name]?.element
  }

  /** Parts that are around the content. */
  get #apart(): Element[] {
    return (['header', 'footer', 'sidebar'] as const).flatMap((name) => this.#element(name) ?? [])
  }

  /** A landmark that is not in sight at this width, and may be at another. */
  #unseen(role: string): Element | undefined {
    const [first] = landmarks(this.#document, this.#look, role)
    return first && this.#look.presence(first) !== 'shown' ? first : undefined
  }

  /** The block that holds the page's text. */
  get #textBlock(): Element {
    if (!this.#text) {
      const [main] = landmarks(this.#document, this.#look, 'main')
      const { body } = this.#document
      this.#text = findColumn(this.#sights, main && this.#holdsMost(main) ? main : body, this.#apart)
    }
    return this.#text
  }

  /** Whether most of the text is in a block; a page of links weighs little, but has most of the words. */
  #holdsMost(block: Element): boolean {
    const { body } = this.#document
    const isMost = (of: (element: Element) => number): boolean =>
      of(block) >= MAIN_SHARE * this.#apart.reduce((sum, part) => sum - of(part), of(body))
    return isMost((each) => this.#sights.weight(each)) || isMost((each) => wordsOf(each).length)
  }

  /** Without any name for it: what comes last, as wide as the window, and leads on. */
  #lastBlock(): Element | undefined {
    const text = findColumn(this.#sights, this.#document.body, this.#apart)
    const last = blocksAround(this.#document.body, text).after.at(-1)
    const isWide = last && (this.#sights.box(last)?.width ?? 0) >= 0.9 * this.#sights.width
    return last && isWide && hasLinks(last) && this.#sights.ownHeadings(last).length === 0 ? last : undefined
  }

  #content(): FoundPart | undefined {
    const [main] = landmarks(this.#document, this.#look, 'main')
    if (main) return this.#boxed(main, 'landmark')
    const text = this.#textBlock
    let at = text
    for (const next of around(text, this.#document.body)) {
      if (this.#apart.some((part) => isWithin(part, next))) break
      at = next
    }
    if (at === this.#document.body && this.#sights.weight(at) === 0) return undefined
    const found = this.#boxed(at, 'guess')
    const box = found.box ?? this.#look.box(at)
    if (!box) return found
    const free = this.#untilNeighbors(at, box)
    // A header or footer that is in it still bounds it.
    const y = found.box ? Math.max(free.y, found.box.y) : free.y
    const end = found.box ? found.box.y + found.box.height : free.y + free.height
    return { ...found, box: { ...free, y, height: end - y } }
  }

  /** Free space around the content belongs to it: up to what is above and below. */
  #untilNeighbors(element: Element, box: ObservedBox): ObservedBox {
    const { before, after } = blocksAround(this.#document.body, element)
    const inFlow = (block: Element): readonly ObservedBox[] => {
      const own = this.#sights.box(block)
      return own && !this.#sights.isOutOfFlow(block) && overlapsAcross(own, box) ? [own] : []
    }
    const above = unionOf(before.flatMap(inFlow).filter((each) => each.y + each.height <= box.y + 1))
    const below = unionOf(after.flatMap(inFlow).filter((each) => each.y >= box.y + box.height - 1))
    const top = above ? above.y + above.height : 0
    const bottom = below?.y ?? Math.max(box.y + box.height, this.#document.documentElement.scrollHeight)
    return { x: 0, y: top, width: this.#sights.width, height: bottom - top }
  }

  /** A part with its box, less the header and footer that are in it. */
  #boxed(element: Element, by: FoundPart['by'], box = this.#look.box(element)): FoundPart {
    const bars = (['header', 'footer'] as const).flatMap((name) => this.#element(name) ?? [])
    const inside = bars.flatMap((part) => {
      const own = this.#sights.box(part)
      return own && isWithin(part, element) ? [[part, own] as const] : []
    })
    return box && inside.length > 0
      ? { element, by, box: without(this.#sights, { box, element }, inside) }
      : { element, by }
  }

  #sidebar(): FoundPart | undefined {
    const known = this.#known.sidebar === undefined ? undefined : find(this.#document.body, this.#known.sidebar)
    if (known) return byRole(known, 'complementary')
    const text = this.#textBlock
    const rail = findRail(this.#sights, text, this.#apart)
    if (rail) return byRole(rail, 'complementary')
    const content = this.#element('content')
    const aside = landmarks(this.#document, this.#look, 'complementary')[0] ?? named(content, SIDEBAR_NAMES)
    const isAlone = aside && text === content && this.#sights.weight(text) - this.#sights.weight(aside) < LITTLE
    const isApart = aside && (!isWithin(aside, text) || isAlone)
    return isApart ? byRole(aside, 'complementary') : undefined
  }

  #container(): FoundPart | undefined {
    const [content, sidebar] = [this.#element('content'), this.#element('sidebar')]
    const plain = guessContainer(content, sidebar, this.#look)
    if (!plain) return undefined
    const text = this.#textBlock
    const holdsRail = sidebar !== undefined && isWithin(sidebar, plain)
    // One that is no narrower than the inside of the text's own block limits nothing.
    const isLoose = plain !== text && isWithin(plain, text) && isSameAcross(this.#sights, text, plain) && !holdsRail
    const isFit = text === content || (isWithin(text, plain) && (holdsRail || !isWithin(plain, text)))
    const found = this.#boxed(isFit && !isLoose ? plain : text, 'guess')
    return sidebar && !isWithin(sidebar, found.element) ? this.#withRail(found, sidebar) : found
  }

  /** A rail that is beside the container takes room of what both are in. */
  #withRail(found: FoundPart, sidebar: Element): FoundPart {
    const [own, rail] = [found.box ?? this.#look.box(found.element), this.#sights.box(sidebar)]
    // Margins of the one may reach under the other.
    const isInside = own && rail && rail.x >= own.x - 8 && rail.x + rail.width <= own.x + own.width + 8
    if (!own || !rail || isInside) return found
    const x = Math.min(own.x, rail.x)
    return { ...found, box: { ...own, x, width: Math.max(own.x + own.width, rail.x + rail.width) - x } }
  }

  #column(): FoundPart | undefined {
    const container = this.#element('container')
    if (!container) return undefined
    const [text, sidebar] = [this.#textBlock, this.#element('sidebar')]
    // Where there is no text the column is what the sidebar leaves.
    if (sidebar && isWithin(sidebar, text)) return guessed(guessColumn(container, sidebar, this.#look))
    const element = isWithin(text, container) ? text : container
    const [own, lines] = [this.#look.box(element), textBox(this.#sights, element)]
    // What limits the lines: padding, or each of the blocks.
    const box = own && lines ? { ...own, x: lines.x, width: lines.width } : own
    const found = this.#boxed(element, 'guess', box)
    return box && !found.box ? { ...found, box } : found
  }
}

/** Without a landmark: the innermost block that holds most of the words; what is beside it is chrome. */
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

const hasWayHome = (element: Element): boolean => [...element.querySelectorAll('a[href]')].some(leadsHome)

/** The first element whose id or one of whose classes has such a name. */
function named(root: Element | undefined, name: RegExp): Element | undefined {
  if (!root) return undefined
  for (const element of walk(root))
    if ([element.id, ...element.classList].some((word) => name.test(word))) return element
  return undefined
}

function guessByline(content: Element | undefined): Element | undefined {
  const found = named(content, /^(by-?line|(entry|post|article)-?meta)$/i)
  return found ?? content?.querySelector('[rel~=author],[itemprop=author]')?.closest('p,div') ?? undefined
}

/** A picture that comes straight after or before the title, and is in no section of its own. */
function guessLeadImage(
  content: Element | undefined,
  title: Element | undefined,
  document: Document,
): Element | undefined {
  const itself = named(
    content ?? document.body,
    /^(lead|featured|hero|post|entry)-?(image|picture|media|thumbnail)$|^lead$/i,
  )
  if (itself && (tagOf(itself) === 'img' || itself.querySelector('img,picture,svg,video'))) return itself
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
