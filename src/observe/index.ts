/**
 * Observes the page it runs in.
 *
 * @module wembra/observe
 */
import type { ExitPlaceSeen, Observation, ObservedPart } from '../reality/observation.js'
import { isTransparent, Look } from './look.js'
import { faultsOf, placeOf } from './faults.js'
import { addressOf, Outliner } from './outline.js'
import { findParts, type KnownParts, type Locators, type PartName, type Parts } from './parts.js'
import { headingLevel, LANDMARKS, nameOf, roleOf } from './roles.js'
import { childrenOf, find, isWithin, tagOf, walk, wordsOf } from './tree.js'
import { inkOf } from './words-seen.js'

/** How a page is observed. */
export interface ObserveOptions {
  /** The site's selectors for its parts; those that are not given are found by landmarks and by how the page is built. */
  readonly locators?: Locators
  /** Parts that were found at another viewport of the same page, by the `path` of the observation. */
  readonly known?: KnownParts
  /** Name of the viewport. */
  readonly viewport?: string
  /** Look at the markup alone; what is not laid out has neither boxes nor colors. */
  readonly structureOnly?: boolean
  /** Default: the page this runs in. */
  readonly document?: Document
  /** Where the page was found. */
  readonly url?: string
}

const MOST_HEADINGS = 400
const LONGEST_TEXT = 300

/**
 * Writes down what a real page shows: landmarks, headings, parts with their boxes and colors, what the header covers,
 * and where the page leads. It changes nothing in the page, and needs nothing but a DOM.
 */
export function observe(options: ObserveOptions = {}): Observation {
  const { document = globalThis.document, structureOnly = false, locators = {}, known = {} } = options
  const look = new Look(document, structureOnly)
  const parts = findParts(document, look, locators, known)
  const elements = [...walk(document.body)]
  const page = new Page(document, look, parts)
  const outlinerOf = (): Outliner =>
    new Outliner(look, page.elementsOf(APART), page.elementsOf(WRAPPERS), page.elementsOf(CHROME))
  const outliner = outlinerOf()
  const outline = outliner.inside(document.body)
  // A long text does not cut what is around it.
  const described = describe(page, outlinerOf, look)
  const ground = groundOf(document, look)
  const header = page.headerBar
  const { innerWidth, innerHeight } = globalThis
  const data = structuredData(document)
  return {
    wembra: 1,
    report: 'observation',
    url: (options.url ?? document.URL).replace(/#.*/, ''),
    viewport: look.laidOut
      ? { ...(options.viewport !== undefined && { name: options.viewport }), width: innerWidth, height: innerHeight }
      : null,
    title: document.title.slice(0, LONGEST_TEXT),
    ...optional('language', document.documentElement.lang),
    ...(look.laidOut && { direction: look.style(document.documentElement)?.direction === 'rtl' ? 'rtl' : 'ltr' }),
    ...optional('canonical', document.querySelector('link[rel~=canonical]')?.getAttribute('href')),
    ...optional('robots', document.querySelector('meta[name=robots i]')?.getAttribute('content')),
    ...optional('shareImage', document.querySelector('meta[property="og:image"]')?.getAttribute('content')),
    ...(data.headline && { headline: data.headline }),
    types: data.types,
    classes: [...document.body.classList],
    ...(look.laidOut && {
      size: { width: document.documentElement.scrollWidth, height: document.documentElement.scrollHeight },
    }),
    ...(ground && { ground }),
    parts: described,
    ...(header && { covered: coveredBy(header, elements, look), behindHeader: behind(header, look, ground?.color) }),
    landmarks: elements.flatMap((element) => {
      const role = roleOf(element)
      if (role === undefined || !LANDMARKS.has(role)) return []
      const box = look.box(element)
      return [{ role, ...optional('name', nameOf(element)), presence: look.presence(element), ...(box && { box }) }]
    }),
    headings: headingsOf(elements, page, look),
    outline,
    exits: exitsOf(elements, page, look),
    comments: parts.comments !== undefined,
    ...(look.laidOut && { faults: faultsOf(document, look, parts) }),
    ...(outliner.isCut && { cut: true as const }),
  }
}

const APART: readonly PartName[] = ['header', 'footer', 'sidebar', 'title', 'byline', 'leadImage', 'comments']
const CHROME: readonly PartName[] = ['header', 'footer', 'sidebar', 'comments']
const WRAPPERS: readonly PartName[] = ['page', 'content', 'container', 'column']
/** Parts whose inside is reported. */
const OUTLINED: ReadonlySet<PartName> = new Set(['header', 'footer', 'sidebar', 'leadImage'])

const optional = <K extends string>(key: K, value: string | null | undefined) =>
  (value ? { [key]: value.slice(0, LONGEST_TEXT) } : {}) as { [key in K]?: string }

/** A page with its parts. */
class Page {
  readonly document: Document
  readonly parts: Parts
  readonly #look: Look

  constructor(document: Document, look: Look, parts: Parts) {
    this.document = document
    this.#look = look
    this.parts = parts
  }

  elementsOf(names: readonly PartName[]): ReadonlySet<Element> {
    return new Set(names.flatMap((name) => this.parts[name]?.element ?? []))
  }

  placeOf(element: Element): ExitPlaceSeen {
    for (const place of ['header', 'footer', 'sidebar'] as const)
      if (this.parts[place] && isWithin(element, this.parts[place].element)) return place
    return 'body'
  }

  /** The header as it is laid out: where the element itself takes no height, what stands out of flow in it. */
  get headerBar(): Element | undefined {
    const header = this.parts.header?.element
    return header && this.#look.laidOut && this.#look.presence(header) === 'shown' ? this.barOf(header) : undefined
  }

  barOf(element: Element): Element {
    if ((this.#look.box(element)?.height ?? 1) > 0) return element
    for (const inside of walk(element))
      if (isOutOfFlow(this.#look, inside) && (this.#look.box(inside)?.height ?? 0) > 0) return inside
    return element
  }

  /** How it is on the page: an element around it that holds nothing else may be what sticks. */
  positionOf(element: Element): string | undefined {
    const look = this.#look
    if (!look.laidOut) return undefined
    for (let at: Element | null = element; at && at !== this.document.body; at = at.parentElement) {
      const position = look.style(at)?.position
      if (position !== undefined && position !== 'static' && position !== 'relative') return position
      if (at.parentElement && childrenOf(at.parentElement).length > 1) break
    }
    return 'static'
  }
}

const isOutOfFlow = (look: Look, element: Element): boolean =>
  ['fixed', 'absolute'].includes(look.style(element)?.position ?? '')

function describe(page: Page, outlinerOf: () => Outliner, look: Look): Observation['parts'] {
  const out: Observation['parts'] = {}
  for (const [name, found] of Object.entries(page.parts) as [PartName, NonNullable<Parts[PartName]>][]) {
    const element = name === 'header' ? page.barOf(found.element) : found.element
    const box = found.box ?? look.box(element)
    const padding = look.padding(element)
    const position = page.positionOf(element)
    const part: ObservedPart = {
      presence: look.presence(element),
      by: found.by,
      selector: selectorOf(found.element),
      names: namesOf(found.element),
      ...(name === 'sidebar' && found.by !== 'locator' && { path: pathOf(found.element) }),
      ...(box && { box }),
      ...(position !== undefined && { position }),
      ...(WRAPPERS.includes(name) ? {} : { text: wordsOf(element).slice(0, LONGEST_PART) }),
      ...(OUTLINED.has(name) && { outline: outlinerOf().insidePart(found.element) }),
      ...look.colors(element),
      ...(BARS.has(name) && optional('ink', inkOf(element, look))),
      ...(padding && { padding }),
    }
    out[name] = part
  }
  return out
}

/** Parts whose words are reported in their own color. */
const BARS: ReadonlySet<PartName> = new Set(['header', 'footer'])
const LONGEST_PART = 2000

const selectorOf = (element: Element): string =>
  [tagOf(element), element.id && `#${element.id}`, ...[...element.classList].map((name) => `.${name}`)].join('')

/** Which child it is of what it is in, from the page's root down. */
function pathOf(element: Element): string {
  const steps: string[] = []
  for (let at: Element | null = element; at?.parentElement; at = at.parentElement)
    steps.unshift(`${tagOf(at)}:nth-child(${[...at.parentElement.children].indexOf(at) + 1})`)
  return steps.join('>')
}

/** By which of its names an element is the first that is found. */
const namesOf = (element: Element): string[] => {
  const ids = element.id === '' ? [] : [`#${nameInSelector(element.id)}`]
  const all = [tagOf(element), ...ids, ...[...element.classList].map((name) => `.${nameInSelector(name)}`)]
  return all.filter((name) => find(element.ownerDocument.body, name) === element)
}

/** A name as a selector has it; without a browser only plain names are reported. */
const nameInSelector = (name: string): string => globalThis.CSS?.escape?.(name) ?? name

function groundOf(document: Document, look: Look): { color: string; ink: string } | undefined {
  const [body, root] = [look.style(document.body), look.style(document.documentElement)]
  if (!body || !root) return undefined
  const color = [body, root].map((style) => style.backgroundColor).find((each) => !isTransparent(each))
  return { color: color ?? 'rgb(255, 255, 255)', ink: body.color }
}

/** Words and headings that lie under a header which takes no room, highest first. */
function coveredBy(header: Element, elements: readonly Element[], look: Look): { what: string; px: number }[] {
  const top = look.box(header)
  if (!top) return []
  return elements
    .filter((element) => !isWithin(element, header) && element.children.length === 0 && wordsOf(element) !== '')
    .flatMap((element) => {
      const box = look.box(element)
      const px = box ? Math.min(box.y + box.height, top.y + top.height) - Math.max(box.y, top.y) : 0
      const isBeside = box && (box.x >= top.x + top.width || box.x + box.width <= top.x)
      if (px <= 0.5 || isBeside || look.presence(element) !== 'shown') return []
      return [{ what: `${tagOf(element)} "${wordsOf(element).slice(0, 60)}"`, px: Math.round(px * 100) / 100 }]
    })
    .slice(0, 20)
}

/** Colors under the first words of a header, nearest first, down to the first that lets nothing through. */
function behind(header: Element, look: Look, ground: string | undefined): string[] {
  const words = [...walk(header)].find((each) => each.children.length === 0 && wordsOf(each) !== '')
  const { left, top, width, height } = (words ?? header).getBoundingClientRect()
  const stack = header.ownerDocument.elementsFromPoint(left + width / 2, top + height / 2)
  const found: string[] = []
  for (const element of stack) {
    const { background, picture } = look.colors(element)
    if (picture || tagOf(element) === 'img') return [...found, 'picture']
    if (background !== undefined) found.push(background)
    if (background !== undefined && !/^rgba|\//.test(background)) return found
  }
  return ground === undefined ? found : [...found, ground]
}

function headingsOf(elements: readonly Element[], page: Page, look: Look): Observation['headings'] {
  return elements
    .flatMap((element) => {
      const level = headingLevel(element)
      if (level === undefined) return []
      const box = look.box(element)
      const text = wordsOf(element).slice(0, LONGEST_TEXT)
      return [
        {
          ...{ level, text, presence: look.presence(element), place: page.placeOf(element) },
          ...(look.laidOut && { selector: placeOf(element) }),
          ...(box && { box }),
        },
      ]
    })
    .slice(0, MOST_HEADINGS)
}

/** Other addresses that what is shown leads to, each once. */
function exitsOf(elements: readonly Element[], page: Page, look: Look): Observation['exits'] {
  const own = page.document.URL.replace(/#.*/, '')
  const found = {
    header: new Set<string>(),
    footer: new Set<string>(),
    sidebar: new Set<string>(),
    body: new Set<string>(),
  }
  for (const element of elements) {
    if (tagOf(element) !== 'a' || !element.hasAttribute('href') || look.presence(element) !== 'shown') continue
    const address = addressOf(element)
    if (/^javascript:/i.test(address) || address.replace(/#.*/, '') === own) continue
    found[page.placeOf(element)].add(address)
  }
  return { header: [...found.header], footer: [...found.footer], sidebar: [...found.sidebar], body: [...found.body] }
}

/** What JSON-LD and microdata declare the page to be, and its headline. */
function structuredData(document: Document): { types: string[]; headline?: Observation['headline'] } {
  const types = new Set<string>()
  let headline: string | undefined
  const read = (value: unknown, depth: number): void => {
    if (typeof value !== 'object' || value === null || depth > 8) return
    for (const type of [(value as { '@type'?: unknown })['@type']].flat()) if (typeof type === 'string') types.add(type)
    const said = (value as { headline?: unknown }).headline
    if (typeof said === 'string') headline ??= said
    for (const inside of Object.values(value)) read(inside, depth + 1)
  }
  for (const script of document.querySelectorAll('script[type="application/ld+json"]'))
    try {
      read(JSON.parse(script.textContent ?? ''), 0)
    } catch {
      // Broken structured data is ignored.
    }
  for (const item of document.querySelectorAll('[itemtype]'))
    for (const type of item.getAttribute('itemtype')?.split(/\s+/) ?? []) types.add(type.replace(/^.*\//, ''))
  const marked = document.querySelector('[itemprop~=headline]')
  const text = headline ?? (marked && (marked.getAttribute('content') ?? wordsOf(marked)))
  return {
    types: [...types].slice(0, 20),
    ...(text && {
      headline: { text: text.slice(0, LONGEST_TEXT), from: headline === undefined ? 'microdata' : 'json-ld' },
    }),
  }
}
