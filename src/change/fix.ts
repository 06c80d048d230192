import { factsOf, keep } from '../inspect/engine/known-facts.js'
import { Prover, type Tried } from '../inspect/engine/prover.js'
import type { RuleGroup } from '../inspect/groups.js'
import { byHarm, findingsIn } from '../inspect/inspect.js'
import { settingsIn } from '../inspect/on-purpose.js'
import { toEnd } from '../inspect/turns.js'
import { expectPages } from '../inspect/expect-pages.js'
import { type Finding, type Fix, type Rule } from '../inspect/rule.js'
import { rulesOf, type RuleId } from '../inspect/rules/index.js'
import type { Patch } from '../model/patch.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'

/** Which fixes are applied. */
export interface FixOptions {
  /** Only findings of these rules, by id or as rules of your own; default all. */
  readonly rules?: readonly (RuleId | Rule)[]
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

/** What was fixed, and what is left. */
export interface FixResult {
  readonly applied: readonly AppliedFix[]
  /** Findings that are left, with the fixes that hold: choices, and those that change other pages. */
  readonly left: readonly Finding[]
  readonly patch: Patch
  readonly after: ResolvedSite
}

/**
 * Applies every fix that is certain, most harmful findings first, each proven against the site as the ones before it
 * have left it. One setting gets one fix. A fix that no longer holds by then is left; what could not be fixed beside another trouble is tried
 * again once something else was.
 *
 * @example
 * fixSite(resolved).patch // => [{ op: 'add', path: '/theme/layout/header/clearance', value: 'auto' }]
 */
export function fixSite(resolved: ResolvedSite, options: FixOptions = {}): FixResult {
  expectPages(resolved, options.pages)
  const rules = options.rules && new Set(rulesOf(options.rules).map(({ id }) => id))
  let facts = factsOf(resolved, { now: options.now })
  const applied: AppliedFix[] = []
  const settled = new Set<string>()
  // What is not certain is looked for once, at the end, unless it may be applied.
  const howMany = options.choose !== undefined ? 'all' : options.otherPages ? 'first' : 'certain'
  let left: readonly Finding[] = []
  for (let before = -1; before < applied.length;) {
    before = applied.length
    // Every finding of the site as it is now is tried once.
    const tried = new Map<string, Tried>()
    const untouched: RuleGroup[] = []
    const untried = (): RuleGroup[] =>
      byHarm(facts).filter((each) => !tried.has(each.id) && isAsked(each, rules, options.pages))
    let groups = untried()
    let prover = new Prover(facts)
    for (let next = groups.shift(); next; next = groups.shift()) {
      const attempt = toEnd(prover.tryGroup(next.rule, next.group, howMany))
      tried.set(next.id, attempt)
      const fix = chosen(
        attempt.fixes.filter(({ patch }) => !settingsIn(patch).some((setting) => settled.has(setting))),
        options,
      )
      const step = fix && prover.stepOf(fix)
      if (!fix || !step) {
        untouched.push(next)
        continue
      }
      facts = keep(step.facts())
      for (const setting of settingsIn(fix.patch)) settled.add(setting)
      applied.push({ ...fix, rule: next.rule.id, key: next.key })
      options.onFix?.(applied.length)
      groups = untried()
      prover = new Prover(facts)
    }
    // The last round changes nothing, so that what it has tried holds of the site as it is then.
    if (before !== applied.length) continue
    if (howMany !== 'all')
      for (const each of untouched) tried.set(each.id, toEnd(prover.tryGroup(each.rule, each.group, 'first')))
    left = findingsIn(facts, tried)
  }
  return { applied, left, patch: applied.flatMap((fix) => fix.patch), after: facts.resolved }
}

function isAsked(
  { rule, group }: RuleGroup,
  rules: ReadonlySet<string> | undefined,
  pages: readonly string[] | undefined,
): boolean {
  if (rules && !rules.has(rule.id)) return false
  return !pages || group.pages.some((page) => pages.includes(page))
}

function chosen(fixes: readonly Fix[], { otherPages = false, choose }: FixOptions): Fix | undefined {
  const allowed = fixes.filter((fix) => otherPages || !fix.others)
  const certain = allowed.find((fix) => !fix.choice)
  if (certain || choose === undefined) return certain
  return allowed.filter((fix) => fix.choice)[choose - 1]
}
