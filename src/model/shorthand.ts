import { parseLengths } from '../css/length.js'
import { didYouMean } from './did-you-mean.js'
import { FACETS, isFacet, type Facet } from './facets.js'
import { isObject, type Json, type JsonObject } from './json.js'

const SIDES = ['none', 'left', 'right']
const MODES = ['boxed', 'full']

/**
 * Writes the shorthand of layout settings out, so that what is merged and compared is always
 * `facet: { property: value }`. What is not understood is left for the schema to complain about.
 *
 * @param viewports - The site's viewport names, which tell a map by viewport from one of properties.
 * @example
 * expandLayout({ title: 'hidden', spacing: '40px 72px' }, ['desk'])
 * // => { title: { presence: 'hidden' }, spacing: { before: '40px', after: '72px' } }
 */
export function expandLayout(layout: Json, viewports: readonly string[]): Json {
  if (!isObject(layout)) return layout
  const out: Record<string, Json> = {}
  for (const [facet, said] of Object.entries(layout))
    out[facet] = isFacet(facet) ? expandFacet(facet, said, viewports) : said
  return out
}

function expandFacet(facet: Facet, said: Json, viewports: readonly string[]): Json {
  const properties = Object.keys(FACETS[facet])
  if (said === null || Array.isArray(said)) return said
  if (said === 'inherit' || said === 'revert') return Object.fromEntries(properties.map((p) => [p, said]))
  if (isObject(said)) {
    const isMap = isShorthandMap(said, properties, viewports)
    return isMap ? expandMap(facet, said) : said
  }
  return expandWord(facet, said) ?? said
}

/** Whether a map is one by viewport: all its keys name viewports, or nearly so and rather than properties. */
function isShorthandMap(map: JsonObject, properties: readonly string[], viewports: readonly string[]): boolean {
  const keys = Object.keys(map)
  const names = [...viewports, 'else']
  const isName = (key: string): boolean => names.includes(didYouMean(key, [...properties, ...names]) ?? '')
  return keys.length > 0 && keys.every(isName) && Object.values(map).every((value) => typeof value !== 'object')
}

/** A shorthand by viewport: each entry is expanded, and the properties keep the entries that name them. */
function expandMap(facet: Facet, map: JsonObject): Json {
  const properties: Record<string, Record<string, Json>> = {}
  for (const [viewport, value] of Object.entries(map)) {
    const entry =
      value === 'inherit' || value === 'revert' ? everyShorthandProperty(facet, value) : expandWord(facet, value)
    if (!entry) return map
    for (const [property, each] of Object.entries(entry)) (properties[property] ??= {})[viewport] = each
  }
  return properties
}

function everyShorthandProperty(facet: Facet, value: Json): JsonObject {
  return Object.fromEntries(Object.keys(FACETS[facet]).map((property) => [property, value]))
}

function expandWord(facet: Facet, said: Json): JsonObject | undefined {
  if (facet === 'findable') return { site: said, web: said }
  if (facet === 'spacing') return expandSpacing(said)
  if (facet === 'width') return { mode: said }
  if (facet === 'sidebar' && typeof said === 'string' && SIDES.includes(said)) return { side: said }
  if (typeof said !== 'string' || MODES.includes(said)) return undefined
  return { presence: said }
}

function expandSpacing(said: Json): JsonObject | undefined {
  if (typeof said === 'number') return { before: said, after: said }
  if (typeof said !== 'string') return undefined
  const [before, after = before, ...more] = parseLengths(said) ?? []
  if (!before || !after || more.length > 0) return { before: said, after: said }
  return { before: before.source, after: after.source }
}

/** Layouts that are expanded already: what a change leaves alone keeps its identity. */
const writtenOut = new WeakSet<JsonObject>()

/** Writes out every `layout` of a site document: of the theme, kinds, templates, builders, assign entries and pages. */
export function expandSite(site: JsonObject, viewports: readonly string[]): JsonObject {
  const expandHolder = (holder: Json): Json => {
    const layout = isObject(holder) ? holder['layout'] : undefined
    if (layout === undefined || (isObject(layout) && writtenOut.has(layout))) return holder
    const expanded = expandLayout(layout, viewports)
    if (isObject(expanded)) writtenOut.add(expanded)
    return { ...(holder as JsonObject), layout: expanded }
  }
  const out: Record<string, Json> = { ...site }
  if ('theme' in out) out['theme'] = expandHolder(out['theme'] ?? null)
  for (const section of ['kinds', 'templates', 'builders', 'pages']) {
    const entries = out[section]
    if (isObject(entries))
      out[section] = Object.fromEntries(Object.entries(entries).map(([id, holder]) => [id, expandHolder(holder)]))
  }
  const assign = out['assign']
  if (Array.isArray(assign)) {
    const expanded = (assign as readonly Json[]).map(expandHolder)
    // The same list where nothing was short, so that others can tell by it that nothing changed.
    if (expanded.some((entry, index) => entry !== assign[index])) out['assign'] = expanded
  }
  return out
}
