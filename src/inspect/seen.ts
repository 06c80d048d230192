import type { PageCore } from '../resolve/page.js'
import type { ReadKey } from './engine/reads.js'
import type { SiteRule } from './rule.js'
import type { RuleFact } from './rule-fact.js'
import type { TallyMark } from './tally.js'

/** What a page adds to the tallies of a rule about the whole site. */
export interface Mark extends TallyMark {
  readonly rule: SiteRule
  readonly key: string
}

/** All that was seen of one page, and what of the rest of the site it rests on. */
export interface Look {
  readonly core: PageCore
  readonly reads: ReadonlySet<ReadKey>
  readonly facts: readonly RuleFact[]
  readonly marks: readonly Mark[]
}
