import type { Facet } from '../model/facets.js'
import type { Certainty } from '../measure/box.js'
import type { SourcePlace } from '../model/problem.js'
import type { Patch } from '../model/patch.js'
import type { AssignData } from '../model/schema.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import type { Deciding } from './deciding.js'
import type { PageSight } from './page-sight.js'
import type { Sight } from './sight.js'
import type { Survey } from './survey.js'
import type { Tally } from './tally.js'

/** Severities, worst first. */
export const SEVERITIES = ['error', 'warning', 'note'] as const
/** How much a finding matters: what a visitor sees or misses, or housekeeping. */
export type Severity = (typeof SEVERITIES)[number]

/** Numbers of a finding by name; px, ratios or counts, as the page of its rule explains. */
export type Numbers = Readonly<Record<string, number>>

/** Another place that has a part in a conflict. */
export interface RelatedPointer {
  readonly pointer: string
  readonly because: string
}

/** What a rule saw. */
export interface Fact extends Deciding {
  readonly numbers: Numbers
  readonly certainty?: Certainty | undefined
  readonly related?: readonly RelatedPointer[] | undefined
  /** Words for the message, such as where a title comes from. */
  readonly words?: Readonly<Record<string, string>> | undefined
  /** Assign entries that the message names; each becomes a word, "assign entry 3", when the finding is reported. */
  readonly entries?: Readonly<Record<string, AssignData>> | undefined
}

/** What a rule about the whole site saw, with the pages and viewports at which it holds. */
export interface SiteFact extends Fact {
  readonly pages: readonly string[]
  /** Default: all. */
  readonly viewports?: readonly string[]
}

/** A fact with where it was seen. */
export interface Case extends Fact {
  readonly page: string
  readonly viewport: string
}

/** All cases of one rule at one deciding place. */
export interface Group {
  readonly at: string
  /** In order of page and viewport; none where a fact is about no page. */
  readonly cases: readonly Case[]
  readonly pages: readonly string[]
  readonly worst: Fact
}

/** A change that might remove a finding; it is offered only once it is proven to. */
export interface Proposal {
  readonly title: string
  readonly patch: Patch
  /** One of several things a person may want: it is offered, and never applied unasked. */
  readonly choice?: boolean
}

/** What a rule declares about itself. */
export interface RuleWords {
  readonly id: string
  readonly severity: Severity
  readonly facet: Facet | 'site' | 'body' | 'template' | 'assignment' | 'override' | 'policy'
  /** What it means, in one sentence. */
  readonly summary: string
  /** Why it matters to a visitor (or, of a note, to who keeps the site). */
  readonly matters: string
  /** When it holds, with the formula. */
  readonly holds: string
  /** A small site that shows it, without the keys that every site has. */
  readonly example: string
  /** Names of the numbers, the one that makes a case worst first. */
  readonly numbers: readonly string[]
  /** Whether the largest or the smallest first number is worst; default the largest. */
  readonly worst?: 'largest' | 'smallest'
  /** What to do, in one sentence, where no fix is certain. */
  readonly advice: string
}

/**
 * How a rule about how the site file is written, which no visitor sees, counts when a fix causes its findings. `cleared`:
 * the fix clears them away as well. `unused`: something is no longer used, which choices and fixes of notes may leave.
 * `other`: fixes of other such rules must not cause them.
 */
export type Upkeep = 'cleared' | 'unused' | 'other'

interface RuleData extends RuleWords {
  /** Only for rules about how the site file is written; a finding of any other rule refuses the fix that causes it. */
  readonly upkeep?: Upkeep
  /** What happens, in one sentence, for people. */
  readonly message: (group: Group) => string
  /** Changes that might remove a group's cause, best first. */
  readonly propose?: (group: Group, resolved: ResolvedSite) => readonly Proposal[]
}

/** A kind of conflict that is seen on one page at one viewport. */
export interface ViewRule extends RuleData {
  readonly scope: 'view'
  /** Reports the facts of a page at one viewport. */
  readonly check: (sight: Sight, report: (fact: Fact) => void) => void
}

/** A kind of conflict of a page, whatever the viewport: in its markup or its settings. */
export interface PageRule extends RuleData {
  readonly scope: 'page'
  /** Reports the facts of a page. */
  readonly check: (sight: PageSight, report: (fact: Fact) => void) => void
}

/** How a page adds to the tallies of a rule: under a key, a value, with what the rule will want to know of it. */
export type MakeMark = (key: string, value: string, detail?: unknown) => void

/** A kind of conflict that only all pages together show. What it wants of pages is tallied, so that a change costs what it changes. */
export interface SiteRule extends RuleData {
  readonly scope: 'site'
  /** What one page adds to the tallies; it may look at nothing but the page. */
  readonly marks?: (sight: PageSight, mark: MakeMark) => void
  /** Whether it looks at pages again when it judges, so that a mark may stay and mean something else. */
  readonly looksAgain?: boolean
  /** Whether dormant pages are tallied as well. */
  readonly seesDormant?: boolean
  /** What is seen of all marks under one key. */
  readonly judge: (tally: Tally, survey: Survey, report: (fact: SiteFact) => void, key: string) => void
  /** Keys that are judged even when no page has a mark there: of what the site sets outside its pages. */
  readonly keys?: readonly string[]
  /** What is seen of a page by itself. */
  readonly onPage?: (sight: PageSight, report: (fact: Fact) => void) => void
}

/** What is reported about the entries of `allow`, after all other rules. */
export interface AllowRule extends RuleData {
  readonly scope: 'allow'
  /** Reports entries of `allow` that nothing needs. */
  readonly check: (unused: readonly Allowance[], report: (fact: SiteFact) => void) => void
}

/** A kind of conflict between the site file and real pages: who observes them reports it. */
export interface RealityRule extends RuleData {
  readonly scope: 'reality'
}

/** One entry of `allow`: of the site, a template or a page. */
export interface Allowance {
  readonly pointer: string
  readonly rules: readonly string[]
  readonly reason: string
}

/** A kind of conflict: data first, its functions last. */
export type Rule = ViewRule | PageRule | SiteRule | AllowRule | RealityRule

/** A rule whose id is known to the type. */
type Named<R extends Rule, I extends string> = R & { readonly id: I }

/** What any of the rules may declare. */
type Declared = RuleData & Partial<Pick<ViewRule, 'check'> & Omit<SiteRule, keyof RuleData | 'scope'>>

/**
 * A rule with its properties in one order: all are of one shape, so that asking each of many for the same property costs
 * what asking one does.
 */
function makeRule<R extends Rule>(scope: R['scope'], rule: Omit<R, 'scope'>): R {
  const { id, severity, facet, summary, matters, holds, example, numbers, worst, advice, ...functions } =
    rule as unknown as Declared
  const { message, propose, check, marks, looksAgain, seesDormant, judge, keys, onPage, ...more } = functions
  return {
    ...{ scope, id, severity, facet, summary, matters, holds, example, numbers, worst, advice, message },
    ...{ propose, check, marks, looksAgain, seesDormant, judge, keys, onPage },
    ...more,
  } as unknown as R
}

/** Declares a rule that looks at a page at one viewport. */
export const viewRule = <const I extends string>(rule: Omit<Named<ViewRule, I>, 'scope'>): Named<ViewRule, I> =>
  makeRule('view', rule)
/** Declares a rule that looks at a page whatever the viewport. */
export const pageRule = <const I extends string>(rule: Omit<Named<PageRule, I>, 'scope'>): Named<PageRule, I> =>
  makeRule('page', rule)
export const allowRule = <const I extends string>(rule: Omit<Named<AllowRule, I>, 'scope'>): Named<AllowRule, I> =>
  makeRule('allow', rule)
export const realityRule = <const I extends string>(
  rule: Omit<Named<RealityRule, I>, 'scope'>,
): Named<RealityRule, I> => makeRule('reality', rule)
export const siteRule = <const I extends string>(rule: Omit<Named<SiteRule, I>, 'scope'>): Named<SiteRule, I> =>
  makeRule('site', rule)

/** A fix that was tried in memory: it removes the finding, brings no other, and changes no page but those it names. */
export interface Fix extends Proposal {
  readonly pages: readonly string[]
  /** Pages without the finding that it changes as well; such a fix is applied only when that is asked for. */
  readonly others?: readonly string[]
}

/** A change that was tried in memory and is not offered. */
export interface Refusal {
  readonly title: string
  /** What it would bring about, or that it does not help. */
  readonly because: string
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
  readonly fixes: readonly Fix[]
  /** Changes that were tried, where none of them holds. */
  readonly refused?: readonly Refusal[]
  /** Of real pages: where it is seen, in px from the page's top left. */
  readonly boxes?: readonly PlaceOnPage[]
}

/** A place on a real page, named by its address, at a viewport. */
export interface PlaceOnPage {
  readonly page: string
  readonly viewport: string
  readonly box: { readonly x: number; readonly y: number; readonly width: number; readonly height: number }
}
