import type { SiteData } from '../model/schema.js'
import { own } from '../model/json.js'
import type { Selector, Where } from '../model/site-data.js'
import { plainPath } from '../model/check-names.js'
import { segmentsOf, type PageFacts } from './page-facts.js'
import { pathPattern, type PathPattern } from './path-pattern.js'

/** How specific a selector is: (page, purpose, path, tag, template + builder, kind), compared from the left. */
export type Specificity = readonly [number, number, number, number, number, number]

/** One selector, read once. */
export interface CompiledSelector {
  readonly source: Selector
  readonly specificity: Specificity
  readonly patterns: readonly PathPattern[]
  readonly matches: (facts: PageFacts, template: string | null | undefined) => boolean
}

const listOf = (value: string | readonly string[] | undefined): readonly string[] =>
  value === undefined ? [] : typeof value === 'string' ? [value] : value

export const selectorsOf = (where: Where | undefined): readonly Selector[] =>
  where === undefined ? [] : Array.isArray(where) ? (where as readonly Selector[]) : [where as Selector]

/**
 * Reads a selector: all its keys must hold, and of a key's list of values one.
 *
 * @param front - The front page's id: its address is `/`, which counts for `under`.
 */
export function compileSelector(site: SiteData, selector: Selector): CompiledSelector {
  const globs = listOf(selector.path)
  const patterns = globs.map(pathPattern)
  const under = listOf(selector.under)
  const depth = (page: string): number => {
    const found = own(site.pages, page)
    return found && site.purposes?.front !== page ? segmentsOf(plainPath(found.path)).length : 0
  }
  const strongest = (numbers: readonly number[]): number => Math.max(0, ...numbers)
  const has = (key: keyof Selector): number => (selector[key] === undefined ? 0 : 1)
  const any = (key: keyof Selector, holds: (value: string) => boolean): boolean =>
    selector[key] === undefined || listOf(selector[key] as string | readonly string[]).some(holds)
  return {
    source: selector,
    patterns,
    specificity: [
      has('page'),
      has('purpose'),
      strongest(patterns.map((p) => p.literals)) + strongest(under.map(depth)),
      has('tag'),
      has('template') + has('builder'),
      has('kind'),
    ],
    matches: (facts, template) =>
      any('kind', (v) => v === facts.kind) &&
      any('page', (v) => v === facts.id) &&
      any('purpose', (v) => facts.purposes.some((p) => p === v || p.startsWith(`${v}:`))) &&
      any('under', (v) => facts.ancestors.includes(v)) &&
      any('tag', (v) => facts.tags.includes(v)) &&
      any('builder', (v) => v === facts.builder) &&
      any('template', (v) => v === template) &&
      (patterns.length === 0 || patterns.some((p) => p.matches(facts.segments))),
  }
}

export function compareSpecificity(a: Specificity, b: Specificity): number {
  for (let i = 0; i < a.length; i++) {
    const apart = (a[i] as number) - (b[i] as number)
    if (apart !== 0) return apart
  }
  return 0
}

/** A `where` (and `except`) as a question that can be put to any page. */
export interface CompiledWhere {
  /** The strongest selector that matches; `undefined` where none does or `except` shuts the page out. */
  readonly match: (facts: PageFacts, template: string | null | undefined) => CompiledSelector | undefined
  readonly selectors: readonly CompiledSelector[]
}

export function compileWhere(site: SiteData, where: Where | undefined, except?: Where): CompiledWhere {
  const selectors = selectorsOf(where).map((s) => compileSelector(site, s))
  const shut = selectorsOf(except).map((s) => compileSelector(site, s))
  return {
    selectors,
    match: (facts, template) => {
      if (shut.some((s) => s.matches(facts, template))) return undefined
      let best: CompiledSelector | undefined
      for (const selector of selectors) {
        if (!selector.matches(facts, template)) continue
        if (!best || compareSpecificity(selector.specificity, best.specificity) > 0) best = selector
      }
      return best
    },
  }
}
