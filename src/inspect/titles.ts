import type { PrintedItem } from '../measure/box.js'
import { isInside, type Sight } from './sight.js'

/** A heading or title that can be seen. */
export interface SeenTitle {
  readonly pointer: string
  readonly what: string
  /** Whether it is the theme's own. */
  readonly theme: boolean
  /** Whether it carries the headline: a heading 1, or the page's title itself. */
  readonly carriesHeadline: boolean
}

/** Words without case, and with white space of any length the same. */
export const normalised = (text: string): string => text.replace(/\s+/g, ' ').trim().toLowerCase()

/**
 * All that shows a page's title at a viewport: the theme's title; `title` items; a heading 1 in the template's arrange
 * or in the first section; any heading with the title's words.
 */
export function seenTitles(sight: Sight): SeenTitle[] {
  const theme: SeenTitle = {
    pointer: sight.decider('title.presence').at,
    what: "the theme's title",
    theme: true,
    carriesHeadline: true,
  }
  const items = sight.items
    .filter((printed) => sight.prints(printed))
    .flatMap((printed) => titleOf(sight, printed) ?? [])
  return sight.measure.box('title') ? [theme, ...items] : items
}

function titleOf(sight: Sight, { item, kind, pointer, place }: PrintedItem): SeenTitle | undefined {
  if (kind === 'title') return { pointer, what: `a title item in the ${place}`, theme: false, carriesHeadline: true }
  if (kind !== 'heading') return undefined
  const isTitle = normalised(item.text ?? '') === normalised(sight.page.data.title)
  if (!isTitle && !isTop(sight, item.heading, pointer, place)) return undefined
  const what = `${isTitle ? 'the same words as' : 'a'} heading ${item.heading ?? ''} in the ${place}`
  return { pointer, what, theme: false, carriesHeadline: item.heading === 1 }
}

function isTop(sight: Sight, level: number | undefined, pointer: string, place: string): boolean {
  const first = sight.firstSection
  return level === 1 && (place === 'arrange' || (first !== undefined && isInside(pointer, first.pointer)))
}
