import type { LayeredMap } from '../model/layered-map.js'
import { HeldTally } from './held-tally.js'
import type { Looker } from './look.js'
import type { ReadKey } from './reads.js'
import type { SiteFact, SiteRule } from './rule.js'
import { siteFact, type RuleFact } from './rule-fact.js'
import { positionIn } from './site-states.js'
import { Survey } from './survey.js'

/** What is known of a rule about the whole site. */
export interface Judged {
  readonly tallies: LayeredMap<HeldTally>
  /** What was seen under each key. */
  readonly facts: LayeredMap<readonly RuleFact[]>
}

/** Who rests on what was read: pages by their ids, judgments by rule and key. Some of them may not any more. */
export type Readers<T> = Map<ReadKey, Set<T>>

export function addReaders<T>(readers: Readers<T>, reads: Iterable<ReadKey>, reader: T): void {
  for (const key of reads) {
    const known = readers.get(key)
    if (known) known.add(reader)
    else readers.set(key, new Set([reader]))
  }
}

/** Every fact that a rule about the whole site saw. */
export function* factsIn(judged: Judged | undefined): Iterable<RuleFact> {
  if (judged) for (const key of judged.facts.keys) yield* judged.facts.get(key) ?? []
}

const ofNoPage = new WeakMap<SiteFact, RuleFact>()

/** A fact of a rule; what is about no page and was reported before is the same, so that a change need not count it. */
function asBefore(rule: SiteRule, fact: SiteFact, { viewports }: Survey): RuleFact {
  if (fact.pages.length > 0) return siteFact(rule, fact, viewports)
  const known = ofNoPage.get(fact)
  if (known?.rule === rule) return known
  const made = siteFact(rule, fact, viewports)
  ofNoPage.set(fact, made)
  return made
}

/** What one rule sees under a key; what of the site it rests on is noted. */
export function judge(
  looker: Looker,
  rule: SiteRule,
  now: Date,
  key: string,
  tally = HeldTally.empty,
  readers?: Readers<string>,
): readonly RuleFact[] {
  const found: RuleFact[] = []
  const position = positionIn(looker.resolved)
  const { reads } = looker.during((resolved) => {
    const survey = new Survey(resolved, now)
    rule.judge(tally.inOrder(position), survey, (fact) => void found.push(asBefore(rule, fact, survey)), key)
  })
  if (readers) addReaders(readers, reads, key)
  return found
}
