import { compileQuery, matches } from 'media-query-fns'
import { rememberedText } from './remembered-text.js'

/** Answers by query and size: few sizes are asked for, and each again and again. */
const answers = new Map<string, boolean>()
const MOST_KEPT = 5000
const compiled = rememberedText(MOST_KEPT, compile)

/** Whether a media query list holds for a screen of a size in px, with a mouse, light and without preferences. */
export function mediaHolds(
  query: string,
  { width, height }: { readonly width: number; readonly height: number },
): boolean {
  const [widthPx, heightPx] = [Math.round(width), Math.round(height)]
  const asked = `${widthPx} ${heightPx} ${query}`
  let answer = answers.get(asked)
  if (answer !== undefined) return answer
  answer = matches(compiled(query), { widthPx, heightPx, deviceWidthPx: widthPx, deviceHeightPx: heightPx, dppx: 1 })
  if (answers.size > MOST_KEPT) answers.clear()
  answers.set(asked, answer)
  return answer
}

/** Longer queries nobody writes. */
const LONGEST = 2000
/** Each of these words may double what a query is taken apart into. */
const MOST_WORDS = 8

/** Whether a media query list is short and plain enough to be followed. */
export const isFollowed = (query: string): boolean =>
  query.length <= LONGEST && [...query.matchAll(/\b(?:or|not)\b/gi)].length <= MOST_WORDS

/** A query that cannot be read is `not all`, as Media Queries 4 defines in section 3.2. */
function compile(query: string): ReturnType<typeof compileQuery> {
  try {
    return compileQuery(query)
  } catch {
    return compileQuery('not all')
  }
}
