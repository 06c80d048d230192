import { parseColor } from '../css/color.js'
import { own } from '../model/json.js'
import type { Item } from '../model/site-data.js'
import type { ResolvedPage } from '../resolve/page.js'
import type { Box } from './box.js'
import { frameOf } from './page.js'
import type { PageMeasure } from './page-measure.js'
import { surroundOf } from '../resolve/extensions.js'

/** Whether an item draws something: a menu needs entries, a surround items, a picture its asset, a text words. */
export function itemPrints(page: ResolvedPage, item: Item): boolean {
  if (item.menu !== undefined) return (own(page.site.data.menus, item.menu)?.length ?? 0) > 0
  if (item.social !== undefined) return item.social.length > 0
  const picture = item.image ?? item.logo
  if (picture !== undefined) return own(page.site.data.assets, picture) !== undefined
  if (item.use !== undefined)
    return (surroundOf(page.site.data, item.use)?.items ?? []).some((i) => itemPrints(page, i))
  if (item.text !== undefined) return item.text.trim() !== ''
  return item.gap === undefined
}

/** The background set for the header: the facet's own, else the surround's; `undefined` where no layer sets one. */
export function headerBackground(measure: PageMeasure): string | undefined {
  const { view, header } = measure
  const said = view.value('header.background')
  if (typeof said === 'string') return said
  return frameOf(measure).at(surroundOf(view.page.site.data, header.id)?.background)
}

/** Whether the header lets what is under it show through: `overlay`, or `fixed` with a background set to have alpha. */
export function isOverlaying(measure: PageMeasure): boolean {
  const position = measure.view.value('header.position')
  if (position !== 'fixed') return position === 'overlay'
  const said = headerBackground(measure)
  return said !== undefined && (parseColor(said)?.alpha ?? 1) < 1
}

/** The header's box, where it is shown and has something to draw. */
export function headerBox(measure: PageMeasure): Box | undefined {
  const box = measure.box('header')
  return box && box.height > 0 ? box : undefined
}

/** Whether the header is over the page instead of taking room in it. */
export const takesNoRoom = ({ view }: PageMeasure): boolean =>
  ['fixed', 'overlay'].includes(String(view.value('header.position')))

export interface FirstContent {
  readonly box: Box
  /** In words: "the title", `the text in "hero"`. */
  readonly what: string
}

/** Kinds that do not count under a header which lets them show through. */
const UNDERLAY = new Set(['image', 'embed'])

/**
 * The printed thing below the header's top edge that begins highest: title, byline, items of inserts and sections;
 * under an overlaying header pictures, embeds and the lead image do not count.
 */
export function firstContent(measure: PageMeasure): FirstContent | undefined {
  const { view } = measure
  const overlaying = isOverlaying(measure)
  const facets = overlaying ? (['title', 'byline'] as const) : (['title', 'byline', 'leadImage'] as const)
  const found: FirstContent[] = facets.flatMap((facet) => {
    const box = measure.box(facet)
    return box ? [{ box, what: `the ${facet === 'leadImage' ? 'lead image' : facet}` }] : []
  })
  for (const { box, kind, place, item, section } of measure.items) {
    if (!box || place === 'header' || place === 'footer' || place === 'sidebar') continue
    if (!itemPrints(view.page, item) || (overlaying && UNDERLAY.has(kind))) continue
    found.push({ box, what: section === undefined ? `a ${kind}` : `the ${kind} in "${section}"` })
  }
  const top = headerBox(measure)?.y ?? 0
  return found
    .filter(({ box }) => box.height > 0 && box.y + box.height > top)
    .reduce<FirstContent | undefined>((a, b) => (a && a.box.y <= b.box.y ? a : b), undefined)
}
