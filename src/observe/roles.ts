import { parentOf, tagOf } from './tree.js'

/** Sectioning elements, in which a header or footer is not the page's (HTML-AAM). */
const SECTIONING = new Set(['article', 'aside', 'main', 'nav', 'section'])
const SECTIONING_ROLES = new Set(['article', 'complementary', 'main', 'navigation', 'region'])
const BY_TAG: Readonly<Record<string, string>> = {
  main: 'main',
  nav: 'navigation',
  aside: 'complementary',
  search: 'search',
}
export const LANDMARKS = new Set([
  ...['banner', 'navigation', 'main', 'complementary', 'contentinfo', 'search', 'form', 'region'],
])

/** Role of an element: the one it is given, else what HTML-AAM gives its tag; only landmarks and headings. */
export function roleOf(element: Element): string | undefined {
  const given = element.getAttribute('role')?.trim().split(/\s+/)[0]
  if (given) return given
  const tag = tagOf(element)
  if (/^h[1-6]$/.test(tag)) return 'heading'
  if (tag === 'header' || tag === 'footer')
    return standsInSection(element) ? undefined : tag === 'header' ? 'banner' : 'contentinfo'
  if (tag === 'section' || tag === 'form') return nameOf(element) ? (tag === 'form' ? 'form' : 'region') : undefined
  return BY_TAG[tag]
}

function standsInSection(element: Element): boolean {
  for (let at = parentOf(element); at; at = parentOf(at))
    if (SECTIONING.has(tagOf(at)) || SECTIONING_ROLES.has(at.getAttribute('role') ?? '')) return true
  return false
}

/** The name that an element is given for those who do not see it. */
export function nameOf(element: Element): string | undefined {
  const label = element.getAttribute('aria-label')?.trim()
  if (label) return label
  const by = element.getAttribute('aria-labelledby')?.trim().split(/\s+/) ?? []
  const words = by.map((id) => element.ownerDocument.getElementById(id)?.textContent?.trim() ?? '').join(' ')
  return words.trim() || undefined
}

/** Level of a heading, 1 to 6 or more; `undefined` for what is none. */
export function headingLevel(element: Element): number | undefined {
  const tag = /^h([1-6])$/.exec(tagOf(element))
  const given = element.getAttribute('role')
  if (given ? given !== 'heading' : !tag) return undefined
  return Number(element.getAttribute('aria-level') ?? tag?.[1] ?? 2) || 2
}
