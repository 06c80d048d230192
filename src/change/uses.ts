import { surroundItems } from '../measure/surround.js'
import { Frame } from '../measure/frame.js'
import { measurePage } from '../measure/page.js'
import type { PageMeasure } from '../measure/page-measure.js'
import { own, toPointer } from '../model/json.js'
import { UnknownNameError } from '../model/unknown-name.js'
import type { SourcePlace } from '../model/problem.js'
import type { ChainEntry, ResolvedPage } from '../resolve/page.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'

/** Kinds of things that pages share. */
export const SHARED_THINGS = ['template', 'surround', 'menu', 'asset'] as const
/** A kind of thing that pages share. */
export type SharedThing = (typeof SHARED_THINGS)[number]

/** One page's part in the use of a shared thing. */
export interface Use {
  readonly page: string
  readonly viewports: readonly string[]
  /** Through whom: "assign entry 2 (kind product)". */
  readonly because: string
  readonly at: SourcePlace | null
}

/** Who uses a shared thing, and who would change with it. */
export interface Uses {
  readonly kind: SharedThing
  readonly id: string
  readonly at: SourcePlace
  readonly uses: readonly Use[]
  /** Assigned but overridden: another is stronger, or what it is for is not printed. */
  readonly would: readonly Use[]
  /** Templates that take it as their base, and the like. */
  readonly through: readonly { readonly kind: SharedThing; readonly id: string; readonly at: SourcePlace }[]
  /** Pages that would change if it did. */
  readonly changes: readonly string[]
}

const SECTIONS: Readonly<Record<SharedThing, 'templates' | 'surrounds' | 'menus' | 'assets'>> = {
  template: 'templates',
  surround: 'surrounds',
  menu: 'menus',
  asset: 'assets',
}

/** The kinds of shared things that have a name. */
export const kindsNamed = (resolved: ResolvedSite, id: string): readonly SharedThing[] =>
  SHARED_THINGS.filter(
    (kind) => own(resolved.site.data[SECTIONS[kind]] as Record<string, unknown> | undefined, id) !== undefined,
  )

/** Every shared thing's name, for suggestions. */
export const sharedNames = (resolved: ResolvedSite): readonly string[] =>
  SHARED_THINGS.flatMap((kind) => Object.keys(resolved.site.data[SECTIONS[kind]] ?? {}))

/**
 * Finds the pages that use a template, surround, menu or asset, those where it is overridden, and those that would
 * change with it.
 *
 * @throws {UnknownNameError} When the site has no such thing.
 * @example
 * usesOf(resolved, 'surround', 'top').changes // => ['visit']
 */
export function usesOf(resolved: ResolvedSite, kind: SharedThing, id: string): Uses {
  const known = (resolved.site.data[SECTIONS[kind]] ?? {}) as Record<string, unknown>
  if (own(known, id) === undefined) throw new UnknownNameError(kind, id, Object.keys(known))
  const pages = [...resolved.pages()].filter((page) => !page.dormant)
  const found = pages.flatMap((page) => FINDERS[kind](resolved, page, id))
  const uses = merged(found.filter((u) => u.used))
  const users = new Set(uses.map((use) => use.page))
  const through = kind === 'template' ? basedOn(resolved, id) : []
  const heirs = new Set(through.map((heir) => heir.id))
  const changed = new Set(pages.filter((p) => heirs.has(p.choice.template?.id ?? '')).map((p) => p.id))
  return {
    kind,
    id,
    at: resolved.site.locate(toPointer([SECTIONS[kind], id])),
    uses,
    would: merged(found.filter((u) => !u.used && !users.has(u.page))),
    through,
    changes: resolved.pageIds.filter((page) => users.has(page) || changed.has(page)),
  }
}

interface Found {
  readonly page: string
  readonly viewport: string | undefined
  readonly because: string
  readonly at: SourcePlace | null
  readonly used: boolean
}

/** The same use at several viewports is one. */
function merged(found: readonly Found[]): Use[] {
  const byUse = new Map<string, { use: Found; viewports: string[] }>()
  for (const use of found) {
    const key = `${use.page} ${use.because} ${use.at?.pointer ?? ''}`
    const known = byUse.get(key) ?? { use, viewports: [] }
    byUse.set(key, known)
    if (use.viewport !== undefined && !known.viewports.includes(use.viewport)) known.viewports.push(use.viewport)
  }
  return [...byUse.values()].map(({ use: { page, because, at }, viewports }) => ({ page, viewports, because, at }))
}

/** Templates that take one as their base, at any remove. */
function basedOn(resolved: ResolvedSite, id: string): Uses['through'] {
  const heirs = [...resolved.templates.values()].filter((t) => t.data.base === id)
  return heirs.flatMap((heir) => [
    { kind: 'template' as const, id: heir.id, at: resolved.site.locate(toPointer(['templates', heir.id, 'base'])) },
    ...basedOn(resolved, heir.id),
  ])
}

type Finder = (resolved: ResolvedSite, page: ResolvedPage, id: string) => readonly Found[]

const atViewports = (
  resolved: ResolvedSite,
  page: ResolvedPage,
  look: (measure: PageMeasure, viewport: string) => readonly Omit<Found, 'page' | 'viewport'>[],
): readonly Found[] =>
  resolved.site.viewports.flatMap(({ name }) =>
    look(measurePage(page, name), name).map((found) => ({ ...found, page: page.id, viewport: name })),
  )

const ofEntry = (entry: ChainEntry, used: boolean, why = '') => ({ because: entry.because + why, at: entry.at, used })

const FINDERS: Readonly<Record<SharedThing, Finder>> = {
  template: (_resolved, page, id) =>
    page.templateChain
      .filter((entry) => entry.value === id)
      .map((entry) => ({
        page: page.id,
        viewport: undefined,
        ...ofEntry(entry, entry.outcome === 'wins' || (entry.outcome === 'same' && page.choice.template?.id === id)),
      })),

  surround: (resolved, page, id) =>
    atViewports(resolved, page, (measure) => [
      ...(['header', 'footer', 'sidebar'] as const).flatMap((facet) => {
        const { view } = measure
        const isPrinted = measure.box(facet) !== undefined
        return view
          .chain(`${facet}.use`)
          .filter((entry) => entry.value === id)
          .map((entry) => {
            const wins = entry.outcome === 'wins'
            return ofEntry(entry, wins && isPrinted, wins && !isPrinted ? `; the ${facet} is not printed` : '')
          })
      }),
      ...measure.items
        .filter((printed) => printed.item.use === id)
        .map((printed) => ({
          because: `in the ${printed.place}`,
          at: resolved.site.locate(printed.pointer),
          used: true,
        })),
    ]),

  menu: (resolved, page, id) => printedItems(resolved, page, (item) => item.menu === id),

  asset: (resolved, page, id) => [
    ...printedItems(resolved, page, (item) => item.image === id || item.logo === id),
    ...atViewports(resolved, page, (measure) =>
      measure.sections
        .filter((section) => section.data.background?.image === id)
        .map((s) => ({
          because: `behind "${s.id}"`,
          at: resolved.site.locate(`${s.pointer}/background/image`),
          used: true,
        })),
    ),
    ...leadImage(resolved, page, id),
  ],
}

/** Items that print a thing, those of a surround that is in the content included. */
function printedItems(
  resolved: ResolvedSite,
  page: ResolvedPage,
  isIt: (item: PageMeasure['items'][number]['item']) => boolean,
): readonly Found[] {
  return atViewports(resolved, page, (measure) => {
    const frame = new Frame(measure.view)
    return measure.items
      .flatMap((printed) => [printed, ...surroundItems(frame, printed.item.use, printed.place)])
      .filter(({ item }) => isIt(item))
      .map(({ place, pointer }) => ({ because: `in the ${place}`, at: resolved.site.locate(pointer), used: true }))
  })
}

function leadImage(resolved: ResolvedSite, page: ResolvedPage, id: string): readonly Found[] {
  if (page.data.image !== id) return []
  const at = resolved.site.locate(toPointer(['pages', page.id, 'image']))
  return atViewports(resolved, page, (measure) => {
    const used = measure.box('leadImage') !== undefined
    return [{ because: used ? 'the lead image' : 'the lead image; it is not printed', at, used }]
  })
}
