import { compile, type Options } from 'css-select'
import { parse, type Selector } from 'css-what'
import type { LOCATORS } from '../model/site-data.js'

/** The parts of a page that a locator names. */
export type ChromePart = (typeof LOCATORS)[number]

/** One element of the small tree that style sheets are matched against. */
export interface ChromeElement {
  readonly part: ChromePart | 'root'
  readonly tag: string
  readonly attributes: ReadonlyMap<string, string>
  readonly children: readonly ChromeElement[]
  parent: ChromeElement | null
}

/** What the elements are called where the site does not set. */
export const DEFAULT_LOCATORS: Readonly<Record<ChromePart, string>> = {
  page: 'body',
  header: '#top',
  title: '.page-title',
  byline: '.byline',
  leadImage: '.lead',
  content: 'main',
  container: '.wrap',
  column: '.column',
  sidebar: 'aside.rail',
  comments: '#comments',
  footer: '#foot',
}

/** Tags for locators that name none: what a part is in plain semantic HTML. */
const TAGS: Readonly<Record<ChromePart, string>> = {
  page: 'body',
  header: 'header',
  title: 'h1',
  byline: 'p',
  leadImage: 'figure',
  content: 'main',
  container: 'div',
  column: 'div',
  sidebar: 'aside',
  comments: 'section',
  footer: 'footer',
}

/** Which part is in which, in order. */
const CHILDREN: Readonly<Partial<Record<ChromePart, readonly ChromePart[]>>> = {
  page: ['header', 'content', 'footer'],
  content: ['container'],
  container: ['column', 'sidebar'],
  column: ['title', 'byline', 'leadImage', 'comments'],
}

/**
 * The tree of a page: page > header, content > container > (column > (title, byline, leadImage, comments), sidebar),
 * footer, each with the tag, id, classes and attributes of its locator.
 *
 * @param isThere - Whether a part is in the markup.
 * @param classes - The page's own, on its outermost part.
 */
export function chromeTree(
  locators: Readonly<Partial<Record<ChromePart, string | undefined>>>,
  isThere: (part: ChromePart) => boolean,
  classes: readonly string[],
): ReadonlyMap<ChromePart, ChromeElement> {
  const found = new Map<ChromePart, ChromeElement>()
  const make = (part: ChromePart): ChromeElement => {
    const children = (CHILDREN[part] ?? []).filter(isThere).map(make)
    const element: ChromeElement = {
      part,
      ...readLocator(part, locators[part], part === 'page' ? classes : []),
      children,
      parent: null,
    }
    for (const child of children) child.parent = element
    found.set(part, element)
    return element
  }
  const page = make('page')
  page.parent = { part: 'root', tag: 'html', attributes: new Map(), children: [page], parent: null }
  return found
}

/** The tag and attributes that the last compound of a locator asks for. */
export function readLocator(part: ChromePart, locator: string | undefined, classes: readonly string[]) {
  let tag = TAGS[part]
  const attributes = new Map<string, string>()
  const names = [...classes]
  for (const step of lastCompound(locator ?? DEFAULT_LOCATORS[part])) {
    if (step.type === 'tag') tag = step.name
    if (step.type !== 'attribute') continue
    if (step.name === 'class' && step.action === 'element') names.push(step.value)
    else attributes.set(step.name, step.value)
  }
  if (names.length > 0) attributes.set('class', names.join(' '))
  return { tag, attributes }
}

function lastCompound(locator: string): readonly Selector[] {
  try {
    const [steps = []] = parse(locator)
    const isCombinator = ({ type }: Selector): boolean => ['descendant', 'child', 'sibling', 'adjacent'].includes(type)
    return steps.slice(steps.findLastIndex(isCombinator) + 1)
  } catch {
    return []
  }
}

type Matcher = (element: ChromeElement) => boolean

const OPTIONS: Options<ChromeElement, ChromeElement> = {
  adapter: {
    isTag: (_node): _node is ChromeElement => true,
    getAttributeValue: (element, name) => element.attributes.get(name),
    hasAttrib: (element, name) => element.attributes.has(name),
    getChildren: (element) => [...element.children],
    getName: (element) => element.tag,
    getParent: (element) => element.parent,
    getSiblings: (element) => [...(element.parent?.children ?? [element])],
    getText: () => '',
    removeSubsets: (nodes) => nodes,
  },
}

const matchers = new Map<string, Matcher | null>()

/** A selector as a question; `null` for one that cannot be asked of a tree, such as one of a pseudo-element. */
export function selectorMatcher(selector: string): Matcher | null {
  let matcher = matchers.get(selector)
  if (matcher === undefined) {
    matcher = compileMatcher(selector)
    if (matchers.size > 20_000) matchers.clear()
    matchers.set(selector, matcher)
  }
  return matcher
}

function compileMatcher(selector: string): Matcher | null {
  try {
    return compile<ChromeElement, ChromeElement>(selector, OPTIONS)
  } catch {
    return null
  }
}

/**
 * The class names that a selector mentions, at any depth, and `*` where it may mean any. Ids and other attributes are
 * those of locators, which all pages have in common.
 */
export function classesIn(selector: string): readonly string[] {
  const found: string[] = []
  const look = (lists: readonly (readonly Selector[])[]): void => {
    for (const step of lists.flat()) {
      if (step.type === 'attribute' && step.name === 'class') found.push(step.action === 'element' ? step.value : '*')
      if (step.type === 'pseudo' && Array.isArray(step.data)) look(step.data)
    }
  }
  try {
    look(parse(selector))
  } catch {
    return ['*']
  }
  return found
}
