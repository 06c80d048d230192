import { remembered } from '../model/remembered.js'
import { PAGE_PARTS, samePartsOf, type PagePart } from '../measure/page.js'
import type { PageMeasure } from '../measure/page-measure.js'
import { listsBy } from '../model/lists.js'
import type { Look, SeenByRule } from './seen.js'
import type { PageSight } from './page-sight.js'
import type { Rule, SiteRule } from './rule.js'

/** What was seen of a page before a change, and its measures then. */
export interface LookBefore {
  readonly look: Look
  readonly measures: ReadonlyMap<string, PageMeasure>
}

/**
 * What a rule saw of a page that it would see again after a change to nothing but surrounds; `undefined` where it has to be
 * asked.
 */
export function staysOf(
  { look, measures }: LookBefore,
  { page, sights }: PageSight,
): ((rule: Rule) => SeenByRule | undefined) | undefined {
  if (page.dormant || look.core !== page.core) return undefined
  const changed = new Set<PagePart>()
  for (const { view, measure } of sights) {
    const before = measures.get(view.viewport.name)
    if (before?.view.style !== view.style) return undefined
    const same = samePartsOf(before, measure)
    for (const part of PAGE_PARTS) if (!same.includes(part)) changed.add(part)
  }
  const seen = seenBy(look)
  return (rule) => {
    const isSame = rule.looksAt?.every((part) => !changed.has(part)) ?? false
    return isSame ? (seen.get(rule) ?? NOTHING) : undefined
  }
}

const NOTHING: SeenByRule = { marks: [], facts: [] }

/** What each rule saw of a page, sorted once for all changes that are tried. */
const seenBy = remembered((look: Look): ReadonlyMap<Rule, SeenByRule> => {
  const [facts, marks] = [listsBy(look.facts, ruleOf), listsBy(look.marks, ruleOf)]
  const rules = new Set<Rule>([...facts.keys(), ...marks.keys()])
  return new Map(
    [...rules].map((rule) => [rule, { facts: facts.get(rule) ?? [], marks: marks.get(rule as SiteRule) ?? [] }]),
  )
})

const ruleOf = <R extends Rule>({ rule }: { readonly rule: R }): R => rule
