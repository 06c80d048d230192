import { headingLevel } from './roles.js'
import type { Sights } from './seen.js'
import { isWithin, parentOf, tagOf, walk, wordsOf } from './tree.js'

/** So much of the text is the whole of it. */
const WHOLE = 0.8

/** Elements whose id or one of whose classes has such a name. */
const allNamed = (root: Element, name: RegExp): Element[] =>
  [...walk(root)].filter((element) => [element.id, ...element.classList].some((word) => name.test(word)))

/**
 * The heading that names the page: an element that is called so; a heading 1 with the words of the document's title, or
 * that is not in a block of its own as a builder's sections are; without any, another heading with those words, or a
 * heading 1 of them in such a block.
 */
export function guessTitle(
  document: Document,
  content: Element | undefined,
  apart: readonly Element[],
  sights?: Sights,
): Element | undefined {
  const isOwn = (element: Element): boolean => !apart.some((part) => isWithin(element, part))
  // Several of a name are those of entries in a list.
  const called = allNamed(content ?? document.body, /^(page|entry|post|article)-?(title|heading)$/i)
  const [itself] = called
  if (itself && called.length === 1 && !itself.closest('li')) {
    // Where more is in it than its heading, the heading is the title.
    const top = [...walk(itself)].find((each) => headingLevel(each) === 1)
    return top && wordsOf(top) !== wordsOf(itself) ? top : itself
  }
  const headings = [...walk(document.body)].filter((element) => headingLevel(element) !== undefined && isOwn(element))
  const tops = headings.filter((element) => headingLevel(element) === 1)
  /** The block of its own that a heading is in. */
  const blockOf = (element: Element): Element | undefined => {
    for (let at = parentOf(element); at && at !== content; at = parentOf(at))
      if (tagOf(at) === 'section' && at.id !== '') return at
    return undefined
  }
  const isTheme = (element: Element): boolean => blockOf(element) === undefined
  /** How much text there is without the parts that are told by themselves. */
  const whole = (): number => {
    const all = content ?? document.body
    return apart.reduce(
      (weight, part) => weight - (sights && isWithin(part, all) ? sights.weight(part) : 0),
      sights?.weight(all) ?? 0,
    )
  }
  /** Whether that block only wraps the whole text. */
  const isPlain = (element: Element): boolean => {
    const block = blockOf(element)
    if (!block || !sights) return block === undefined
    const { background, picture } = sights.look.colors(block)
    return !(background ?? picture) && sights.weight(block) >= WHOLE * whole()
  }
  const isPageName = (element: Element): boolean => sights?.isNamed(element) ?? false
  const isInContent = (element: Element): boolean => !content || isWithin(element, content)
  return (
    tops.find((element) => isPageName(element) && isTheme(element) && isInContent(element)) ??
    tops.find((element) => isPageName(element) && isPlain(element)) ??
    tops.find((element) => isTheme(element) && isInContent(element)) ??
    tops.find(isTheme) ??
    (tops.length === 1 && sights ? tops.find(isPlain) : undefined) ??
    tops.find((element) => isPageName(element) && isInContent(element)) ??
    (tops.length === 0
      ? headings.find((element) => isPageName(element) && isPlain(element) && sights?.box(element))
      : undefined)
  )
}
