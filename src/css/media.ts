import { compileQuery, matches } from 'media-query-fns'

const compiled = new Map<string, ReturnType<typeof compileQuery>>()

/** Whether a media query list holds for a screen of a size in px, with a mouse, light and without preferences. */
export function mediaHolds(
  query: string,
  { width, height }: { readonly width: number; readonly height: number },
): boolean {
  let parsed = compiled.get(query)
  if (!parsed) {
    parsed = compile(query)
    if (compiled.size > 5000) compiled.clear()
    compiled.set(query, parsed)
  }
  const [widthPx, heightPx] = [Math.round(width), Math.round(height)]
  return matches(parsed, { widthPx, heightPx, deviceWidthPx: widthPx, deviceHeightPx: heightPx, dppx: 1 })
}

/** A query that cannot be read is `not all`, as Media Queries 4 says in section 3.2. */
function compile(query: string): ReturnType<typeof compileQuery> {
  try {
    return compileQuery(query)
  } catch {
    return compileQuery('not all')
  }
}
