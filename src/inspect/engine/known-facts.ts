import type { ResolvedSite } from '../../resolve/resolve-site.js'
import type { Rule } from '../rule.js'
import { RULES } from '../rules/index.js'
import { toEnd } from '../turns.js'
import { askedRules } from '../look.js'
import { SiteFacts } from './site-facts.js'
import { Step } from './step.js'

/** The facts of each state of a site that is in memory. */
const known = new WeakMap<ResolvedSite, readonly SiteFacts[]>()

/** Number of combinations of rules and clock to keep for a state. */
const MOST_KEPT = 3
/** Facts without a given clock are valid for this long; ms. */
const CLOCK_HOLDS = 60_000

export interface FactsOptions {
  /** The rules to ask; default all. */
  readonly rules?: readonly Rule[]
  /** The clock, for years and countdowns; default the machine's. */
  readonly now?: Date | undefined
  /** Whether neither this state nor a change of it will be asked for again. */
  readonly isLast?: boolean
}

/**
 * The facts of a site: kept ones, else derived from an earlier state, else from looking at every page. Yields the number
 * of pages that were looked at.
 */
export function* gatherFacts(resolved: ResolvedSite, options: FactsOptions = {}): Generator<number, SiteFacts> {
  const { now, isLast = false } = options
  const severity = resolved.site.data.severity ?? {}
  const rules = (options.rules ?? RULES).filter(({ id }) => severity[id] !== 'none')
  const knownOf = (state: ResolvedSite): SiteFacts | undefined =>
    known.get(state)?.find((facts) => isFor(facts, rules, now))
  const here = knownOf(resolved)
  if (here) return here
  for (const state of earlierStates(resolved)) {
    const facts = knownOf(state)
    if (!facts) continue
    const step = new Step(facts, resolved)
    yield* step.looking()
    const kept = keep(step.facts())
    // Otherwise all earlier states of a file that is read again and again would stay in memory.
    if (resolved.change?.isReread) resolved.release()
    return kept
  }
  const facts = yield* SiteFacts.gather(resolved, askedRules(rules), now ?? new Date(), isLast)
  return isLast ? facts : keep(facts)
}

/** `gatherFacts` without interruption. */
export const factsOf = (resolved: ResolvedSite, options: FactsOptions = {}): SiteFacts =>
  toEnd(gatherFacts(resolved, options))

/** Keeps the facts of a state. */
export function keep(facts: SiteFacts): SiteFacts {
  known.set(facts.resolved, [facts, ...(known.get(facts.resolved) ?? [])].slice(0, MOST_KEPT))
  return facts
}

/** The states that a site was made from, nearest first, as far as they are in memory. */
export function* earlierStates(resolved: ResolvedSite): Iterable<ResolvedSite> {
  for (let here = resolved.change?.before; here; here = here.change?.before) yield here
}

function isFor({ rules, now: clock }: SiteFacts, asked: readonly Rule[], now: Date | undefined): boolean {
  const isClock = now ? now.getTime() === clock.getTime() : Date.now() - clock.getTime() < CLOCK_HOLDS
  return isClock && rules.all.length === asked.length && asked.every((rule, n) => rule === rules.all[n])
}
