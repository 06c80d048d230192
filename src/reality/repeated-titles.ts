import type { Observation, ObservationFailure } from './observation.js'
import { folded } from './seen-words.js'

/** From so many pages on a heading that most of them have is the site's name. */
const FEWEST_PAGES = 3
const MOST_PAGES = 0.6

/**
 * Observations of one site, in which no heading that most pages repeat passes for a page's title: there the title is the
 * heading that has the words of the document's own title, or there is none.
 */
export function withoutRepeatedTitles<T extends Observation | ObservationFailure>(seen: readonly T[]): readonly T[] {
  const pages = new Set<string>()
  const titled = new Map<string, Set<string>>()
  for (const each of seen) {
    if (each.report !== 'observation') continue
    pages.add(each.url)
    const { title } = each.parts
    if (title?.by !== 'guess' || title.text === undefined) continue
    const words = comparable(title.text)
    titled.set(words, (titled.get(words) ?? new Set()).add(each.url))
  }
  const isRepeated = (words: string): boolean => {
    const on = titled.get(words)?.size ?? 0
    return on >= FEWEST_PAGES && on >= MOST_PAGES * pages.size
  }
  return seen.map((each) => {
    if (each.report !== 'observation' || !isRepeated(comparable(each.parts.title?.text ?? ''))) return each
    const { title: _name, ...parts } = each.parts
    const names = each.title.split(/\s+[|–—·•:»-]\s+/).map(comparable)
    const own = each.headings.find(
      ({ text, place }) => place === 'body' && names.includes(comparable(text)) && !isRepeated(comparable(text)),
    )
    if (!own) return { ...each, parts }
    const { level, text, presence, box } = own
    return {
      ...each,
      parts: { ...parts, title: { presence, by: 'guess' as const, selector: `h${level}`, text, ...(box && { box }) } },
    }
  })
}

const comparable = (text: string): string => folded(text).toLowerCase()
