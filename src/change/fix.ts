import { factsOf, keep } from '../inspect/engine/known-facts.js'
import { Prover, type Tried } from '../inspect/engine/prover.js'
import type { RuleGroup } from '../inspect/groups.js'
import { byHarm, findingsIn } from '../inspect/inspect.js'
import { settingsIn } from '../inspect/on-purpose.js'
import { toEnd } from '../inspect/turns.js'
import { expectPages } from '../inspect/expect-pages.js'
import { type Finding, type Fix, type Rule } from '../inspect/rule.js'
import { rulesOf, type RuleId } from '../inspect/rules/index.js'
import { valueAt, type Json } from '../model/json.js'
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
  /** Whether fixes may change files underneath (`extends`), and so every site that extends them. */
  readonly base?: boolean
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
 * have left it. No setting is given a value that it had before. A fix that no longer holds by then is left; what could
 * not be fixed beside another conflict is tried again once something else was.
 *
 * @example
 * fixSite(resolved).patch // => [{ op: 'add', path: '/theme/layout/header/clearance', value: 'auto' }]
 */
export function fixSite(resolved: ResolvedSite, options: FixOptions = {}): FixResult {
  expectPages(resolved, options.pages)
  const rules = options.rules && new Set(rulesOf(options.rules).map(({ id }) => id))
  let facts = factsOf(resolved, { now: options.now })
  const applied: AppliedFix[] = []
  const given = new GivenValues()
  // What is not certain is looked for once, at the end, unless it may be applied.
  const howMany = options.choose !== undefined ? 'all' : options.otherPages ? 'first' : 'certain'
  let left: readonly Finding[] = []
  for (let count = -1; count < applied.length;) {
    count = applied.length
    // Every finding of the site as it is now is tried once.
    const tried = new Map<string, Tried>()
    const untouched: RuleGroup[] = []
    const untried = (): RuleGroup[] =>
      byHarm(facts).filter((each) => !tried.has(each.id) && isAsked(each, rules, options.pages))
    let groups = untried()
    let prover = new Prover(facts, options.base)
    for (let next = groups.shift(); next; next = groups.shift()) {
      const attempt = toEnd(prover.tryGroup(next.rule, next.group, howMany))
      tried.set(next.id, attempt)
      const fix = chosen(
        attempt.fixes.filter(({ patch }) => !given.isRepeated(patch)),
        options,
      )
      const step = fix && prover.stepOf(fix)
      if (!fix || !step) {
        untouched.push(next)
        continue
      }
      const before = facts
      facts = keep(step.facts())
      given.add(fix.patch, before.resolved)
      applied.push({ ...fix, rule: next.rule.id, key: next.key })
      options.onFix?.(applied.length)
      groups = untried()
      prover = new Prover(facts, options.base)
    }
    // The last round changes nothing, so that what it has tried holds of the site as it is then.
    if (count !== applied.length) continue
    if (howMany !== 'all')
      for (const each of untouched) tried.set(each.id, toEnd(prover.tryGroup(each.rule, each.group, 'first')))
    left = findingsIn(facts, tried)
  }
  return { applied, left, patch: applied.flatMap((fix) => fix.patch), after: facts.resolved }
}

/** The values that settings had, or were given: none is given back, so that fixes of two conflicts do not alternate. */
class GivenValues {
  readonly #known = new Set<string>()

  add(patch: Patch, { site }: ResolvedSite): void {
    for (const { pointer, value } of settingsIn(patch)) {
      this.#known.add(nameOf(pointer, value))
      const old = valueAt(site.data as unknown as Json, pointer)
      if (old !== undefined) this.#known.add(nameOf(pointer, old))
    }
  }

  isRepeated(patch: Patch): boolean {
    return settingsIn(patch).some(({ pointer, value }) => this.#known.has(nameOf(pointer, value)))
  }
}

const nameOf = (pointer: string, value: Json): string => JSON.stringify([pointer, value])

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
