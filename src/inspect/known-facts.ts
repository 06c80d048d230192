import type { ResolvedSite } from '../resolve/resolve-site.js'
import { askedRules } from './look.js'
import type { Rule } from './rule.js'
import { RULES } from './rules/index.js'
import { SiteFacts } from './site-facts.js'
import { Step } from './step.js'
import { earlierStates } from './site-states.js'
import { toEnd } from './turns.js'

/** What was found out about states of sites, for as long as these are there. */
const known = new WeakMap<ResolvedSite, SiteFacts[]>()

/** Without a clock that was given, what was found out less than this ago still holds; ms. */
const CLOCK_HOLDS = 60_000

export interface FactsOptions {
  /** The rules to ask; default all. */
  readonly rules?: readonly Rule[]
  /** The clock, for years and countdowns; default the machine's. */
  readonly now?: Date | undefined
  /** Whether nobody will ask for the same again, or for what a change makes of it. */
  readonly isLast?: boolean
}

/** The rules that a site does not turn off. */
export const heardRules = ({ site }: ResolvedSite, rules: readonly Rule[] = RULES): readonly Rule[] => {
  const severity = site.data.severity ?? {}
  return rules.filter((rule) => severity[rule.id] !== 'none')
}

/**
 * What rules see of a site: as it is known, else worked out from a state that the site was made out of, else by looking
 * at every page. Yields the number of pages that were looked at.
 */
export function* gatherFacts(resolved: ResolvedSite, options: FactsOptions = {}): Generator<number, SiteFacts> {
  const rules = heardRules(resolved, options.rules)
  const { now } = options
  const of = (state: ResolvedSite): SiteFacts | undefined => known.get(state)?.find((facts) => isFor(facts, rules, now))
  const here = of(resolved)
  if (here) return here
  for (const state of earlierStates(resolved)) {
    const facts = of(state)
    if (!facts) continue
    const step = new Step(facts, resolved)
    yield* step.looking()
    const kept = keep(step.facts())
    // A file that is read again and again would be held in all its states.
    if (resolved.change?.isReread) resolved.letGo()
    return kept
  }
  const { isLast = false } = options
  const facts = yield* SiteFacts.gather(resolved, askedRules(rules), now ?? new Date(), isLast)
  return isLast ? facts : keep(facts)
}

/** The same, in one go. */
export function factsOf(resolved: ResolvedSite, options: FactsOptions = {}): SiteFacts {
  return toEnd(gatherFacts(resolved, options))
}

/** Keeps what was found out about a state. */
export function keep(facts: SiteFacts): SiteFacts {
  const others = known.get(facts.resolved) ?? []
  known.set(facts.resolved, [facts, ...others].slice(0, MOST_KEPT))
  return facts
}

/** For how many choices of rules and clocks a state is kept. */
const MOST_KEPT = 3

function isFor({ rules, now: clock }: SiteFacts, asked: readonly Rule[], now: Date | undefined): boolean {
  const isClock = now ? now.getTime() === clock.getTime() : Date.now() - clock.getTime() < CLOCK_HOLDS
  return isClock && rules.all.length === asked.length && asked.every((rule, n) => rule === rules.all[n])
}
