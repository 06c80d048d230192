import { isEqual as equal } from 'es-toolkit'
import { own, toPointer, type Json } from '../model/json.js'
import type { Patch } from '../model/patch.js'
import { removeAt } from '../inspect/propose.js'
import type { Proposal } from '../inspect/rule.js'
import { askedRules } from '../inspect/look.js'
import { SiteFacts } from '../inspect/engine/site-facts.js'
import { changedPages, Step, tryPatch } from '../inspect/engine/step.js'
import { facetRecord, type FacetRecord } from '../measure/facet-record.js'
import type { ResolvedPage } from '../resolve/page.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { templateCopies } from '../inspect/rules/template-copies.js'
import { overrideRedundant } from '../inspect/rules/override-redundant.js'
import { toEnd } from '../inspect/turns.js'
import { toGroups } from '../inspect/groups.js'
import { DEFAULT_ARRANGE } from '../model/facets.js'
import { freeName } from './free-name.js'
import { ownLayer } from '../inspect/own-settings.js'
import { PageSight } from '../inspect/page-sight.js'

/** Pages with the same effective layout at every viewport. */
export interface LayoutGroup {
  readonly pages: readonly string[]
  readonly templates: readonly string[]
  /** The group it is nearest to, and the properties in which they differ. */
  readonly nearest: { readonly group: number; readonly differ: readonly string[] } | undefined
}

/** A change after which every page has the facets and boxes that it had, and the site sets less. */
export interface GroupProposal {
  readonly title: string
  readonly patch: Patch
  /** How many settings fewer there are. */
  readonly saved: number
}

/** Pages by their effective layout, and what could be set once. */
export interface Groups {
  /** Most pages first. */
  readonly groups: readonly LayoutGroup[]
  readonly proposals: readonly GroupProposal[]
  /** Templates that differ in settings alone, which other layers could set as well. */
  readonly alike: readonly (readonly string[])[]
  /** The fewest templates that would serve the site: one for each arrangement and ground that are not the plain ones. */
  readonly fewest: number
  readonly used: number
}

/**
 * Finds the pages that are really the same, and what could be set in one place instead of many.
 *
 * @example
 * groupPages(resolved).groups.map(({ pages }) => pages) // => [['visit']]
 */
export function groupPages(resolved: ResolvedSite): Groups {
  const pages = [...resolved.pages()].filter((page) => !page.dormant)
  const alike = templatesAlike(pages)
  return {
    groups: groupLayouts(resolved),
    proposals: proposals(resolved),
    alike: alike.filter(({ templates }) => templates.length > 1).map(({ templates }) => templates),
    fewest: alike.filter(({ isPlain }) => !isPlain).length,
    used: new Set(pages.flatMap((page) => page.choice.template?.id ?? [])).size,
  }
}

/** Pages by what they get: those of a group have every facet the same at every viewport. Most pages first. */
export function groupLayouts(resolved: ResolvedSite): readonly LayoutGroup[] {
  const pages = [...resolved.pages()].filter((page) => !page.dormant)
  const byFacets = new Map<string, { facets: FacetRecord; pages: ResolvedPage[] }>()
  const keys = new Map<FacetRecord, string>()
  for (const page of pages) {
    const facets = facetRecord(page)
    const key = keys.get(facets) ?? keyOf(facets)
    keys.set(facets, key)
    const known = byFacets.get(key) ?? { facets, pages: [] }
    known.pages.push(page)
    byFacets.set(key, known)
  }
  const found = [...byFacets.values()].sort((a, b) => b.pages.length - a.pages.length)
  return found.map(({ facets, pages: same }, index): LayoutGroup => ({
    pages: same.map((page) => page.id),
    templates: [...new Set(same.map((page) => page.choice.template?.id ?? 'none'))],
    nearest: nearestOf(
      found.map((group) => group.facets),
      facets,
      index,
    ),
  }))
}

/**
 * The templates in use by what nothing but a template can set: what it prints in which order, and its ground. All else
 * that a template sets, other layers can.
 */
function templatesAlike(pages: readonly ResolvedPage[]) {
  const byWhat = new Map<string, { isPlain: boolean; templates: Set<string> }>()
  for (const { choice, ground } of pages) {
    const arrange = choice.template?.arrange ?? DEFAULT_ARRANGE
    const own = choice.template?.ground
    const hasGround = Object.values(own ?? {}).some((said) => said !== undefined)
    const isPlain = equal(arrange, DEFAULT_ARRANGE) && !hasGround
    const key = JSON.stringify([arrange, ground])
    const known = byWhat.get(key) ?? { isPlain, templates: new Set<string>() }
    byWhat.set(key, {
      isPlain: known.isPlain || isPlain,
      templates: known.templates.add(choice.template?.id ?? 'none'),
    })
  }
  return [...byWhat.values()].map(({ isPlain, templates }) => ({ isPlain, templates: [...templates] }))
}

/** The same for two records in which every property has the same value everywhere, in whatever order. */
const keyOf = (facets: FacetRecord): string =>
  JSON.stringify(Object.values(facets).map((values) => Object.entries(values).sort(([a], [b]) => (a < b ? -1 : 1))))

/** The properties that have another value at some viewport. */
function differing(a: FacetRecord, b: FacetRecord): readonly string[] {
  const views = Object.keys(a).map((viewport) => [a[viewport] ?? {}, b[viewport] ?? {}] as const)
  const paths = new Set(views.flatMap(([one, other]) => [...Object.keys(one), ...Object.keys(other)]))
  return [...paths].filter((path) => views.some(([one, other]) => !equal(one[path], other[path]))).sort()
}

/** The larger group that differs in the fewest properties. Of many groups only the largest are asked. */
function nearestOf(all: readonly FacetRecord[], mine: FacetRecord, index: number) {
  let best: { group: number; differ: readonly string[] } | undefined
  all.slice(0, MOST_COMPARED).forEach((other, group) => {
    if (group === index) return
    const differ = differing(mine, other)
    if (!best || differ.length < best.differ.length) best = { group, differ }
  })
  return best
}

/** So many of the largest groups are compared with, that the work does not grow with their square. */
const MOST_COMPARED = 40

/** Proposals that were tried on the whole site; each on what the ones before it leave, so that all can be taken. */
function proposals(resolved: ResolvedSite): readonly GroupProposal[] {
  let known = toEnd(SiteFacts.gather(resolved, askedRules([overrideRedundant, templateCopies]), new Date(0)))
  const proven: GroupProposal[] = []
  for (const make of [redundant, templated, lifted, shared, copies])
    for (const { title, patch } of make(known.resolved, known)) {
      const after = tryPatch(known.resolved, patch)
      const saved = after && sizeOf(known.resolved) - sizeOf(after)
      if (!after || saved === undefined || saved <= 0) continue
      const step = new Step(known, after)
      if (changedPages(step).length > 0) continue
      proven.push({ title, patch, saved })
      known = step.facts()
    }
  return proven
}

/** How much a site sets: its settings, templates and entries, counted value by value. */
function sizeOf({ site }: ResolvedSite): number {
  const { templates, kinds, theme, assign, builders } = site.data
  const ofPages = site.pageIds.map((id) => {
    const page = site.pageData(id)
    return [page?.layout ?? {}, page?.template ?? {}]
  })
  return count([templates ?? {}, kinds ?? {}, theme, assign ?? [], builders ?? {}, ofPages] as unknown as Json)
}

const count = (value: Json): number =>
  typeof value === 'object' && value !== null
    ? Object.values(value).reduce<number>((sum, each) => sum + count(each as Json), 0)
    : 1

/** Overrides that set what would hold anyway. */
function redundant(resolved: ResolvedSite, known: SiteFacts): Proposal[] {
  const facts = [...known.everyFact()].filter(({ rule }) => rule === overrideRedundant)
  return toGroups(facts, resolved).map(({ group }) => ({
    title: `remove ${group.worst.words?.['path'] ?? 'an override'} from ${group.pages[0] ?? ''}: it changes nothing`,
    patch: removeAt(resolved.site, group.at),
  }))
}

interface Override {
  readonly page: ResolvedPage
  readonly path: string
  readonly value: Json
  readonly pointer: string
}

function overridesOf(resolved: ResolvedSite): readonly Override[] {
  return resolved.pageIds.flatMap((id): readonly Override[] => {
    const page = resolved.page(id)
    if (page.dormant) return []
    const at = toPointer(['pages', id, 'layout'])
    const own = ownLayer(new PageSight(resolved, page, new Date(0)))
    return [...(own?.settings.values ?? [])].map(([path, { value, pointer }]) => ({
      page,
      path,
      value,
      pointer: at + pointer,
    }))
  })
}

/** The same override on all pages of a kind, or of a part of the site: set once there. */
function lifted(resolved: ResolvedSite): Proposal[] {
  const { site } = resolved
  const same = new Map<string, Override[]>()
  for (const override of overridesOf(resolved)) {
    const key = JSON.stringify([override.page.facts.kind, override.path, override.value])
    same.set(key, [...(same.get(key) ?? []), override])
  }
  return [...same.values()].flatMap((all): Proposal[] => {
    const [first] = all
    if (!first || all.length < 2) return []
    const { kind } = first.page.facts
    const remove = all.flatMap(({ pointer }) => removeAt(site, pointer))
    const layout = nested(first.path.split('.'), first.value)
    const entry = (where: Json): Patch => [
      ...remove,
      ...(site.data.assign ? [] : [{ op: 'add' as const, path: '/assign', value: [] }]),
      { op: 'add', path: '/assign/-', value: { layout, where } },
    ]
    const parent = new Set(all.map(({ page }) => page.data.parent)).size === 1 ? first.page.data.parent : undefined
    return [
      { title: `set ${first.path} once for kind ${kind}, instead of on ${all.length} pages`, patch: entry([{ kind }]) },
      ...(parent === undefined
        ? []
        : [
            {
              title: `set ${first.path} once for what is under ${parent}, instead of on ${all.length} pages`,
              patch: entry([{ under: parent }]),
            },
          ]),
    ]
  })
}

const nested = (path: readonly string[], value: Json): Json =>
  path.reduceRight<Json>((inside, key) => ({ [key]: inside }), value)

/** Fewer pages, or a single setting, are set more plainly by an entry with that setting. */
const TEMPLATE_PAGES = 3
const TEMPLATE_SETTINGS = 2

/** Pages of one template that override much in the same way: a template of their own, and an entry that gives it. */
function templated(resolved: ResolvedSite): Proposal[] {
  const { site } = resolved
  const same = new Map<string, { template: string; layout: Json; pages: ResolvedPage[] }>()
  for (const id of resolved.pageIds) {
    const page = resolved.page(id)
    const { layout } = page.data
    const template = page.choice.template?.id
    if (page.dormant || template === undefined || !layout || count(layout as Json) < TEMPLATE_SETTINGS) continue
    const key = JSON.stringify([template, layout])
    const known = same.get(key) ?? { template, layout: layout as Json, pages: [] }
    known.pages.push(page)
    same.set(key, known)
  }
  return [...same.values()].flatMap(({ template, layout, pages }): Proposal[] => {
    if (pages.length < TEMPLATE_PAGES) return []
    const name = freeName(`${template}-variant`, (id) => own(site.data.templates, id) !== undefined)
    const ids = pages.map((page) => page.id)
    const patchFor = (where: Json): Patch => [
      { op: 'add', path: toPointer(['templates', name]), value: { base: template, layout } },
      ...pages.flatMap(({ id, data }) => [
        { op: 'remove' as const, path: toPointer(['pages', id, 'layout']) },
        ...(data.template === undefined ? [] : removeAt(site, toPointer(['pages', id, 'template']))),
      ]),
      ...(site.data.assign ? [] : [{ op: 'add' as const, path: '/assign', value: [] }]),
      { op: 'add', path: '/assign/-', value: { template: name, where } },
    ]
    const title = `make a template of what ${ids.length} pages with ${template} override in the same way: ${ids.slice(0, 4).join(', ')}${ids.length > 4 ? ', …' : ''}`
    const { kind, parent } = pages[0]?.data ?? {}
    const wheres: Json[] = [
      ...(pages.every(({ data }) => data.kind === kind) && kind !== undefined ? [[{ kind }]] : []),
      ...(pages.every(({ data }) => data.parent === parent) && parent !== undefined ? [[{ under: parent }]] : []),
      [{ page: ids }],
    ]
    return wheres.map((where) => ({ title, patch: patchFor(where) }))
  })
}

/** Pages that override the same in the same way: one assign entry that names them. */
function shared(resolved: ResolvedSite): Proposal[] {
  const { site } = resolved
  const same = new Map<string, string[]>()
  for (const id of resolved.pageIds) {
    const layout = site.pageData(id)?.layout
    if (layout && Object.keys(layout).length > 0)
      same.set(JSON.stringify(layout), [...(same.get(JSON.stringify(layout)) ?? []), id])
  }
  return [...same].flatMap(([text, ids]): Proposal[] => {
    if (ids.length < 2) return []
    return [
      {
        title: `set once what ${ids.length} pages set each: ${ids.slice(0, 4).join(', ')}${ids.length > 4 ? ', …' : ''}`,
        patch: [
          ...ids.map((id) => ({ op: 'remove' as const, path: toPointer(['pages', id, 'layout']) })),
          ...(site.data.assign ? [] : [{ op: 'add' as const, path: '/assign', value: [] }]),
          { op: 'add', path: '/assign/-', value: { layout: JSON.parse(text) as Json, where: [{ page: ids }] } },
        ],
      },
    ]
  })
}

/** Templates that differ in next to nothing: one laid over the other. */
function copies(resolved: ResolvedSite, known: SiteFacts): Proposal[] {
  const facts = [...known.everyFact()].filter(({ rule }) => rule === templateCopies)
  return toGroups(facts, resolved).flatMap(({ group }) =>
    (templateCopies.propose?.(group, resolved) ?? []).map(({ title, patch }) => ({ title, patch })),
  )
}
