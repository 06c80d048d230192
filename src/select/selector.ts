import { plainPath } from '../model/paths.js'
import type { Site } from '../model/site.js'
import type { Selector, Where } from '../model/site-data.js'
import { segmentsOf, type PageFacts } from './page-facts.js'
import { pathPattern, type PathPattern } from './path-pattern.js'

/** How specific a selector is: (page, purpose, path, tag, template + builder, kind), compared from the left. */
export type Specificity = readonly [number, number, number, number, number, number]

type Test = (facts: PageFacts, template: string | null | undefined) => boolean

/** One selector, read once. */
export interface CompiledSelector {
  readonly source: Selector
  readonly specificity: Specificity
  readonly patterns: readonly PathPattern[]
  readonly matches: Test
}

export const listOf = (value: string | readonly string[] | undefined): readonly string[] =>
  value === undefined ? [] : typeof value === 'string' ? [value] : value

export const selectorsOf = (where: Where | undefined): readonly Selector[] =>
  where === undefined ? [] : Array.isArray(where) ? (where as readonly Selector[]) : [where as Selector]

/** How each key but `path` is asked of a page. */
const ASKS: Readonly<
  Record<'kind' | 'page' | 'purpose' | 'under' | 'tag' | 'builder' | 'template', (value: string) => Test>
> = {
  kind: (value) => (facts) => facts.kind === value,
  page: (value) => (facts) => facts.id === value,
  purpose: (value) => (facts) => facts.purposes.some((p) => p === value || p.startsWith(`${value}:`)),
  under: (value) => (facts) => facts.ancestors.includes(value),
  tag: (value) => (facts) => facts.tags.includes(value),
  builder: (value) => (facts) => facts.builder === value,
  template: (value) => (_facts, template) => template === value,
}

const anyOf = (tests: readonly Test[]): Test => {
  const [only] = tests
  return only && tests.length === 1 ? only : (facts, template) => tests.some((test) => test(facts, template))
}

/** Reads a selector: all its keys must hold, and of a key's list of values one. */
export function compileSelector(site: Site, selector: Selector): CompiledSelector {
  const patterns = listOf(selector.path).map(pathPattern)
  const front = site.data.purposes?.front
  const depth = (page: string): number => {
    const found = site.pageData(page) // the front page's address is `/`, whatever its path
    return found && front !== page ? segmentsOf(plainPath(found.path)).length : 0
  }
  const strongest = (numbers: readonly number[]): number => Math.max(0, ...numbers)
  const has = (key: keyof Selector): number => (selector[key] === undefined ? 0 : 1)
  const tests = Object.entries(ASKS).flatMap(([key, ask]) => {
    const values = selector[key as keyof typeof ASKS]
    return values === undefined ? [] : [anyOf(listOf(values).map(ask))]
  })
  if (patterns.length > 0) tests.push((facts) => patterns.some((p) => p.matches(facts.segments)))
  return {
    source: selector,
    patterns,
    specificity: [
      has('page'),
      has('purpose'),
      strongest(patterns.map((p) => p.literals)) + strongest(listOf(selector.under).map(depth)),
      has('tag'),
      has('template') + has('builder'),
      has('kind'),
    ],
    matches: (facts, template) => {
      for (const test of tests) if (!test(facts, template)) return false
      return true
    },
  }
}

export function compareSpecificity(a: Specificity, b: Specificity): number {
  for (let i = 0; i < a.length; i++) {
    const apart = (a[i] as number) - (b[i] as number)
    if (apart !== 0) return apart
  }
  return 0
}

/** Whether any selector means a page, one that `except` shuts out included. */
export const isMeant = ({ selectors }: CompiledWhere, facts: PageFacts, template: string | null): boolean =>
  selectors.some((selector) => selector.matches(facts, template))

/** A `where` (and `except`) as a question that can be put to any page. */
export interface CompiledWhere {
  /** The strongest selector that matches; `undefined` where none does or `except` shuts the page out. */
  readonly match: (facts: PageFacts, template: string | null | undefined) => CompiledSelector | undefined
  readonly selectors: readonly CompiledSelector[]
}

export function compileWhere(site: Site, where: Where | undefined, except?: Where): CompiledWhere {
  const selectors = selectorsOf(where).map((s) => compileSelector(site, s))
  const shut = selectorsOf(except).map((s) => compileSelector(site, s))
  return {
    selectors,
    match: (facts, template) => {
      let best: CompiledSelector | undefined
      for (const selector of selectors) {
        if (best && compareSpecificity(selector.specificity, best.specificity) <= 0) continue
        if (selector.matches(facts, template)) best = selector
      }
      return best && shut.some((s) => s.matches(facts, template)) ? undefined : best
    },
  }
}
