import type { ResolvedSite } from '../../resolve/resolve-site.js'
import type { Rule } from '../rule.js'
import { RULES } from '../rules/index.js'
import { toEnd } from '../turns.js'
import { askedRules } from '../look.js'
import { SiteFacts } from './site-facts.js'
import { Step } from './step.js'

/** What was found out about states of sites, for as long as these are there. */
const known = new WeakMap<ResolvedSite, readonly SiteFacts[]>()

/** For how many choices of rules and clocks a state is kept. */
const MOST_KEPT = 3
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

/**
 * What rules see of a site: as it is known, else worked out from a state that the site was made out of, else by looking
 * at every page. Yields the number of pages that were looked at.
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
    // A file that is read again and again would be held in all its states.
    if (resolved.change?.isReread) resolved.letGo()
    return kept
  }
  const facts = yield* SiteFacts.gather(resolved, askedRules(rules), now ?? new Date(), isLast)
  return isLast ? facts : keep(facts)
}

/** The same, in one go. */
export const factsOf = (resolved: ResolvedSite, options: FactsOptions = {}): SiteFacts =>
  toEnd(gatherFacts(resolved, options))

/** Keeps what was found out about a state. */
export function keep(facts: SiteFacts): SiteFacts {
  known.set(facts.resolved, [facts, ...(known.get(facts.resolved) ?? [])].slice(0, MOST_KEPT))
  return facts
}

/** The states that a site was made out of, nearest first, as far as they are held on to. */
export function* earlierStates(resolved: ResolvedSite): Iterable<ResolvedSite> {
  for (let here = resolved.change?.before; here; here = here.change?.before) yield here
}

function isFor({ rules, now: clock }: SiteFacts, asked: readonly Rule[], now: Date | undefined): boolean {
  const isClock = now ? now.getTime() === clock.getTime() : Date.now() - clock.getTime() < CLOCK_HOLDS
  return isClock && rules.all.length === asked.length && asked.every((rule, n) => rule === rules.all[n])
}
