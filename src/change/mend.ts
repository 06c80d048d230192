import { allFacts } from '../inspect/all-facts.js'
import { FactFinder } from '../inspect/facts.js'
import { toGroups, type RuleGroup } from '../inspect/groups.js'
import { Prover } from '../inspect/prove.js'
import { SEVERITIES, type Mend } from '../inspect/rule.js'
import { RULES } from '../inspect/rules/index.js'
import type { Patch } from '../model/patch.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'

export interface MendOptions {
  /** Only findings of these rules; default all. */
  readonly rules?: readonly string[]
  /** Only findings that hold on one of these pages; default all. */
  readonly pages?: readonly string[]
  /** Whether mends may change pages that do not have the finding. */
  readonly otherPages?: boolean
  /** Which of the choices to take where a person has to choose, counted from 1; default none. */
  readonly choose?: number
  readonly now?: Date
  /** Called after each mend, for progress. */
  readonly onMend?: (done: number) => void
}

export interface AppliedMend extends Mend {
  readonly rule: string
  readonly key: string
}

export interface MendResult {
  readonly applied: readonly AppliedMend[]
  readonly patch: Patch
  readonly after: ResolvedSite
}

/**
 * Applies every mend that is certain, most harmful findings first, each proven against the site as the ones before it
 * have left it. A mend that no longer holds by then is left.
 */
export function mendSite(resolved: ResolvedSite, options: MendOptions = {}): MendResult {
  const { now = new Date() } = options
  const finder = new FactFinder(now)
  const severity = resolved.site.data.severity ?? {}
  const rules = RULES.filter((rule) => severity[rule.id] !== 'none')
  const applied: AppliedMend[] = []
  const tried = new Set<string>()
  let current = resolved
  let appliedBefore = 0
  for (;;) {
    const facts = allFacts(current, finder, rules)
    const next = inOrder(toGroups(facts)).find((each) => !tried.has(keyOf(each)) && isAsked(each, options))
    if (!next && applied.length > appliedBefore) {
      // What could not be mended beside another trouble may be now that it is gone.
      appliedBefore = applied.length
      tried.clear()
      continue
    }
    if (!next) return { applied, patch: applied.flatMap((mend) => mend.patch), after: current }
    tried.add(keyOf(next))
    const mends = new Prover(current, finder, rules, facts).mends(next.rule, next.group)
    const mend = chosen(mends, options)
    if (!mend) continue
    current = current.with(mend.patch)
    applied.push({ ...mend, rule: next.rule.id, key: keyOf(next) })
    options.onMend?.(applied.length)
  }
}

const keyOf = ({ rule, group }: RuleGroup): string => `${rule.id}@${group.at}`

const inOrder = (groups: readonly RuleGroup[]): readonly RuleGroup[] =>
  [...groups].sort((a, b) => SEVERITIES.indexOf(a.rule.severity) - SEVERITIES.indexOf(b.rule.severity))

function isAsked({ rule, group }: RuleGroup, { rules, pages }: MendOptions): boolean {
  if (rules && !rules.includes(rule.id)) return false
  return !pages || group.pages.some((page) => pages.includes(page))
}

function chosen(mends: readonly Mend[], { otherPages = false, choose }: MendOptions): Mend | undefined {
  const allowed = mends.filter((mend) => otherPages || !mend.others)
  const certain = allowed.find((mend) => !mend.choice)
  if (certain || choose === undefined) return certain
  return allowed.filter((mend) => mend.choice)[choose - 1]
}
