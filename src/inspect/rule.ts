import type { Facet } from '../model/facets.js'
import type { Certainty } from '../measure/box.js'
import type { SourcePlace } from '../model/problem.js'
import type { Patch } from '../model/patch.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import type { Deciding } from './deciding.js'
import type { Sight } from './sight.js'

export const SEVERITIES = ['error', 'warning', 'note'] as const
export type Severity = (typeof SEVERITIES)[number]

export type Numbers = Readonly<Record<string, number>>

/** Another place that has a part in a conflict. */
export interface RelatedPointer {
  readonly pointer: string
  readonly because: string
}

/** What a rule saw on one page at one viewport. */
export interface Fact extends Deciding {
  readonly numbers: Numbers
  readonly certainty?: Certainty
  readonly related?: readonly RelatedPointer[]
  /** Words for the message, such as where a title comes from. */
  readonly words?: Readonly<Record<string, string>>
}

/** A fact with where it was seen. */
export interface Case extends Fact {
  readonly page: string
  readonly viewport: string
}

/** All cases of one rule at one deciding place. */
export interface Group {
  readonly at: string
  /** In order of page and viewport. */
  readonly cases: readonly Case[]
  readonly pages: readonly string[]
  readonly worst: Case
}

/** A change that might remove a finding; it is offered only once it is proven to. */
export interface Proposal {
  readonly title: string
  readonly patch: Patch
}

/** A kind of conflict: data first, its functions last. */
export interface Rule {
  readonly id: string
  readonly severity: Severity
  readonly facet: Facet | 'site' | 'body' | 'template'
  /** What it means, in one sentence. */
  readonly summary: string
  /** Names of the numbers, the one that makes a case worst first. */
  readonly numbers: readonly string[]
  /** Whether the largest or the smallest first number is worst. */
  readonly worst: 'largest' | 'smallest'
  /** What happens, in one sentence, for people. */
  readonly message: (group: Group) => string
  /** What to do, in one sentence, where no mend is certain. */
  readonly advice: string
  /** Looks at one page at one viewport. */
  readonly check: (sight: Sight, report: (fact: Fact) => void) => void
  /** Changes that might remove a group's cause, best first. */
  readonly propose: (group: Group, resolved: ResolvedSite) => readonly Proposal[]
}

export const defineRule = (rule: Rule): Rule => rule

/** A mend that was tried in memory: it removes the finding, and changes no page but those it names. */
export interface Mend {
  readonly title: string
  readonly patch: Patch
  readonly pages: readonly string[]
}

/** One rule at one deciding place, with every page and viewport it holds at. */
export interface Finding {
  /** Stable between runs: rule and pointer. */
  readonly key: string
  readonly rule: string
  readonly severity: Severity
  readonly facet: string
  readonly pages: readonly string[]
  readonly viewports: readonly string[]
  readonly certainty: Certainty
  readonly message: string
  readonly advice: string
  /** Of the worst case. */
  readonly numbers: Numbers
  readonly cases: readonly { readonly page: string; readonly viewport: string; readonly numbers: Numbers }[]
  readonly at: SourcePlace
  readonly related: readonly (SourcePlace & { readonly because: string })[]
  readonly mends: readonly Mend[]
}
