import { ident } from 'css-tree/utils'
import { DEFAULT_LOCATORS, type ChromePart } from '../resolve/chrome-tree.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { neededClearance, coversContent } from '../inspect/rules/clearance-wrong.js'
import { hiddenTargets } from '../inspect/rules/target-under-header.js'
import { narrowedByPadding } from '../inspect/rules/narrowed-by-padding.js'
import { spaceUnclaimed } from '../inspect/rules/space-unclaimed.js'
import type { Fact } from '../inspect/rule.js'
import { PageSight } from '../inspect/page-sight.js'
import type { Sight } from '../inspect/sight.js'
import { firstContent } from '../measure/printed.js'
import type { Viewport } from '../model/site.js'

/** One declaration that some pages need at some viewports, with why. */
export interface NeededStyle {
  /** What it is set on: a part of the page, or the targets of links by their ids. */
  readonly on: ChromePart | { readonly ids: readonly string[] }
  readonly property: string
  readonly value: string
  readonly because: string
  readonly pages: readonly string[]
  readonly viewports: readonly string[]
}

type Need = Omit<NeededStyle, 'pages' | 'viewports'>

/**
 * What the pages of a site need in exact px that their settings do not give: clearances, scroll margins, widths.
 *
 * @example
 * neededStyles(resolved).map(({ property, value }) => [property, value]) // => [['padding-top', '96px']]
 */
export function neededStyles(resolved: ResolvedSite, pages: readonly string[] = resolved.pageIds): NeededStyle[] {
  const byPages = new Map<string, { need: Need; at: Map<string, string[]> }>()
  for (const id of pages) {
    const page = resolved.page(id)
    if (page.dormant) continue
    const sight = new PageSight(resolved, page, new Date(0))
    for (const each of sight.sights)
      for (const need of [...needsOf(each), ...widthsOf(sight, each)]) {
        const key = JSON.stringify([need.on, need.property, need.value, need.because])
        const known = byPages.get(key) ?? { need, at: new Map<string, string[]>() }
        byPages.set(key, known)
        known.at.set(id, [...(known.at.get(id) ?? []), each.view.viewport.name])
      }
  }
  return [...byPages.values()].flatMap(({ need, at }) => sameViewports(at).map((group) => ({ ...need, ...group })))
}

/** Pages that need a thing at the same viewports, together. */
function sameViewports(at: ReadonlyMap<string, readonly string[]>) {
  const groups = new Map<string, { pages: string[]; viewports: readonly string[] }>()
  for (const [page, viewports] of at) {
    const key = viewports.join()
    const known = groups.get(key) ?? { pages: [], viewports }
    known.pages.push(page)
    groups.set(key, known)
  }
  return [...groups.values()]
}

const px = (n: number): string => `${Math.round(n * 1000) / 1000}px`

function needsOf(sight: Sight): Need[] {
  const { measure } = sight
  const needed = neededClearance(sight)
  const isAuto = sight.view.value('header.clearance') === 'auto'
  // A theme's own files know nothing of the setting: what `auto` comes to is needed as well.
  const off = isAuto || Math.abs(measure.clearance - needed) > 0.5
  const said = sight.view.value('header.clearance')
  const needs: Need[] = []
  const outOfFlow = sight.headerPosition === 'fixed' || sight.headerPosition === 'overlay' || !sight.header
  if (needed > 0 && off && (coversContent(sight) || said !== 0))
    needs.push({ on: 'page', property: 'padding-top', value: px(needed), because: 'the height of its fixed header' })
  else if (needed === 0 && outOfFlow && said !== 'auto' && measure.clearance > 0.5)
    needs.push({ on: 'page', property: 'padding-top', value: '0', because: 'no header needs room' })
  else if (needed === 0 && coversContent(sight)) needs.push(...roomUnderOverlay(sight))
  for (const { section, needed: margin } of hiddenTargets(sight))
    needs.push({
      on: { ids: [section.id] },
      property: 'scroll-margin-top',
      value: px(margin),
      because: 'the height of the header that stays',
    })
  return needs
}

/** Under an overlay header the content gives way, not the page: what lies behind stays where it is. */
function roomUnderOverlay({ measure, frame, header }: Sight): Need[] {
  const first = firstContent(measure)
  if (!first || !header) return []
  const before = frame.property('spacing.before') ?? 0
  const value = px(before + header.y + header.height - first.box.y)
  return [{ on: 'content', property: 'padding-top', value, because: 'room for the header that lies over it' }]
}

function widthsOf(page: PageSight, sight: Sight): Need[] {
  const needs: Need[] = []
  narrowedByPadding.check(page, ({ numbers }: Fact) => {
    const equivalent = px(numbers['equivalent'] ?? 0)
    const because = 'the width that its side padding gives on the widest window'
    needs.push({ on: 'container', property: 'max-width', value: equivalent, because })
    for (const property of ['padding-left', 'padding-right'])
      needs.push({ on: 'container', property, value: '0', because })
  })
  spaceUnclaimed.check(sight, () => {
    needs.push({ on: 'column', property: 'max-width', value: 'none', because: 'no sidebar is beside it' })
  })
  return needs
}

/**
 * A style sheet with exactly what is needed, page by page and width by width, in media queries. No script, no guess:
 * read back as a style of the site, it removes the findings that it is for.
 */
export function styleOut(resolved: ResolvedSite, pages?: readonly string[]): string {
  const { site } = resolved
  const locators: Readonly<Partial<Record<ChromePart, string | undefined>>> = site.data.locators ?? {}
  // What is on the same elements at the same widths for the same reason is one rule.
  const rules = new Map<string, { because: string; selectors: string; media: string; declarations: string[] }>()
  for (const style of neededStyles(resolved, pages)) {
    const selectors = style.pages.flatMap((page) => selectorsFor(locators, page, style.on)).join(',\n')
    const media = mediaFor(site.viewports, style.viewports)
    const key = `${style.because}\n${media}\n${selectors}`
    const rule = rules.get(key) ?? { because: style.because, selectors, media, declarations: [] }
    rule.declarations.push(`  ${style.property}: ${style.value};`)
    rules.set(key, rule)
  }
  const blocks = [...rules.values()].map(({ because, selectors, media, declarations }) => {
    const rule = `${selectors} {\n${declarations.join('\n')}\n}`
    return `/* ${because} */\n${media === '' ? rule : `@media ${media} {\n${rule.replace(/^/gm, '  ')}\n}`}`
  })
  const head = `/* Exact offsets and widths for ${site.data.site.name.replaceAll('*/', '* /')}, made by wembra css. */`
  return `${[head, ...blocks].join('\n\n')}\n`
}

function selectorsFor(
  locators: Readonly<Partial<Record<ChromePart, string | undefined>>>,
  page: string,
  on: NeededStyle['on'],
): readonly string[] {
  const root = `${locators.page ?? DEFAULT_LOCATORS.page}.${ident.encode(`page-${page}`)}`
  if (on === 'page') return [root]
  if (typeof on === 'string') return [`${root} ${locators[on] ?? DEFAULT_LOCATORS[on]}`]
  return on.ids.map((id) => `${root} #${ident.encode(id)}`)
}

/** A hair below a width, for `max-width`: browsers may lay out between whole px. */
const HAIR = 0.02

/** The media query of some viewports: each stands for the widths up to the next wider one's; empty for all. */
function mediaFor(all: readonly Viewport[], names: readonly string[]): string {
  const narrowFirst = [...all].sort((a, b) => a.width - b.width)
  if (narrowFirst.every((v) => names.includes(v.name))) return ''
  const ranges: string[] = []
  narrowFirst.forEach((viewport, index) => {
    if (!names.includes(viewport.name) || (index > 0 && names.includes(narrowFirst[index - 1]?.name ?? ''))) return
    const end = narrowFirst.slice(index).find((v) => !names.includes(v.name))
    const from = index === 0 ? '' : `(min-width: ${viewport.width}px)`
    const to = end ? `(max-width: ${end.width - HAIR}px)` : ''
    ranges.push([from, to].filter((part) => part !== '').join(' and '))
  })
  return ranges.join(', ')
}
