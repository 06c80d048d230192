import { allFacts } from '../inspect/all-facts.js'
import { FactFinder } from '../inspect/facts.js'
import { toGroups, type RuleGroup } from '../inspect/groups.js'
import { Prover } from '../inspect/prove.js'
import { SEVERITIES, type Fix } from '../inspect/rule.js'
import { RULES } from '../inspect/rules/index.js'
import type { Patch } from '../model/patch.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'

export interface FixOptions {
  /** Only findings of these rules; default all. */
  readonly rules?: readonly string[]
  /** Only findings that hold on one of these pages; default all. */
  readonly pages?: readonly string[]
  /** Whether fixes may change pages that do not have the finding. */
  readonly otherPages?: boolean
  /** Which of the choices to take where a person has to choose, counted from 1; default none. */
  readonly choose?: number
  readonly now?: Date
  /** Called after each fix, for progress. */
  readonly onFix?: (done: number) => void
}

export interface AppliedFix extends Fix {
  readonly rule: string
  readonly key: string
}

export interface FixResult {
  readonly applied: readonly AppliedFix[]
  readonly patch: Patch
  readonly after: ResolvedSite
}

/**
 * Applies every fix that is certain, most harmful findings first, each proven against the site as the ones before it
 * have left it. A fix that no longer holds by then is left.
 */
export function fixSite(resolved: ResolvedSite, options: FixOptions = {}): FixResult {
  const { now = new Date() } = options
  const finder = new FactFinder(now)
  const severity = resolved.site.data.severity ?? {}
  const rules = RULES.filter((rule) => severity[rule.id] !== 'none')
  const applied: AppliedFix[] = []
  const tried = new Set<string>()
  let current = resolved
  let appliedBefore = 0
  for (;;) {
    const facts = allFacts(current, finder, rules)
    const next = inOrder(toGroups(facts)).find((each) => !tried.has(keyOf(each)) && isAsked(each, options))
    if (!next && applied.length > appliedBefore) {
      // What could not be fixed beside another trouble may be now that it is gone.
      appliedBefore = applied.length
      tried.clear()
      continue
    }
    if (!next) return { applied, patch: applied.flatMap((fix) => fix.patch), after: current }
    tried.add(keyOf(next))
    const fixes = new Prover(current, finder, rules, facts).fixes(next.rule, next.group)
    const fix = chosen(fixes, options)
    if (!fix) continue
    current = current.with(fix.patch)
    applied.push({ ...fix, rule: next.rule.id, key: keyOf(next) })
    options.onFix?.(applied.length)
  }
}

const keyOf = ({ rule, group }: RuleGroup): string => `${rule.id}@${group.at}`

const inOrder = (groups: readonly RuleGroup[]): readonly RuleGroup[] =>
  [...groups].sort((a, b) => SEVERITIES.indexOf(a.rule.severity) - SEVERITIES.indexOf(b.rule.severity))

function isAsked({ rule, group }: RuleGroup, { rules, pages }: FixOptions): boolean {
  if (rules && !rules.includes(rule.id)) return false
  return !pages || group.pages.some((page) => pages.includes(page))
}

function chosen(fixes: readonly Fix[], { otherPages = false, choose }: FixOptions): Fix | undefined {
  const allowed = fixes.filter((fix) => otherPages || !fix.others)
  const certain = allowed.find((fix) => !fix.choice)
  if (certain || choose === undefined) return certain
  return allowed.filter((fix) => fix.choice)[choose - 1]
}
