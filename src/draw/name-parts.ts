import type { Element } from 'hast'
import type { PageMeasure } from '../measure/page-measure.js'
import { readLocator, type ChromePart } from '../resolve/chrome-tree.js'
import { classesOf } from '../resolve/resolve-site.js'

/** Which box is which part of the page, as the site's locators know it. */
const PART_OF_BOX: Readonly<Record<string, ChromePart>> = {
  ...{ page: 'page', header: 'header', title: 'title', byline: 'byline', leadImage: 'leadImage', main: 'content' },
  ...{ container: 'container', column: 'column', sidebar: 'sidebar', comments: 'comments', footer: 'footer' },
}

/** Elements that hold content and do nothing else. */
const SAFE_TAGS: ReadonlySet<string> = new Set([
  ...['header', 'footer', 'main', 'nav', 'aside', 'section', 'article', 'div', 'p', 'figure', 'span', 'hgroup'],
  ...['h1', 'h2', 'h3', 'h4', 'h5', 'h6', 'ul', 'ol', 'li'],
])
/** Attributes that name an element. */
const SAFE_ATTRIBUTES = /^(id|class|role|data-(?!box$|look$)[a-z0-9-]+)$/

/** Gives each part the tag, id and classes that its locator asks for, so that the site's own CSS finds it. */
export function nameParts(root: Element, { view }: PageMeasure): void {
  const { locators } = view.page.site.data
  const classes = classesOf(view.page.core)
  for (const element of elementsOf(root)) {
    const part = PART_OF_BOX[String(element.properties['dataBox'] ?? '')]
    if (!part) continue
    const { tag, attributes } = readLocator(part, locators?.[part], part === 'page' ? classes : [])
    // A locator is somebody's text: only what cannot run, fetch or lead anywhere is taken from it.
    if (part !== 'page' && SAFE_TAGS.has(tag)) element.tagName = tag
    for (const [name, value] of attributes) if (SAFE_ATTRIBUTES.test(name)) element.properties[name] = value
  }
}

/** Moves the style of elements into the sheet, where it has no specificity, so that other CSS is stronger. */
export function gatherStyles(root: Element): void {
  const names = new Map<string, string>()
  for (const { properties } of elementsOf(root)) {
    const style = properties['style']
    if (typeof style !== 'string') continue
    const name = names.get(style) ?? `w${names.size + 1}`
    names.set(style, name)
    delete properties['style']
    properties['dataLook'] = name
  }
  const rules = [...names].map(([style, name]) => `\n:where([data-look=${name}]){${style.replaceAll('</', '<\\/')}}`)
  const sheet = [...elementsOf(root)].find((element) => element.tagName === 'style')
  sheet?.children.push({ type: 'text', value: rules.join('') })
}

function* elementsOf(root: Element): Iterable<Element> {
  const open = [root]
  for (let next = open.pop(); next; next = open.pop()) {
    yield next
    open.push(...next.children.filter((child) => child.type === 'element').reverse())
  }
}
