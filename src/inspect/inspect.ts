import { leastCertain, type Certainty } from '../measure/box.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { toGroups, type RuleGroup } from './groups.js'
import { factsOf, gatherFacts } from './engine/known-facts.js'
import { Prover, type HowMany, type Tried } from './engine/prover.js'
import type { SiteFacts } from './engine/site-facts.js'
import {
  SEVERITIES,
  type Case,
  type Fact,
  type Finding,
  type Group,
  type RelatedPointer,
  type Rule,
  type Severity,
} from './rule.js'
import type { Viewport } from '../model/site.js'
import { withCases, type RuleFact } from './rule-fact.js'
import { UnknownNameError, ValueError } from '../model/unknown-name.js'
import { expectPages } from './expect-pages.js'
import { inTurns, toEnd } from './turns.js'
import { RULES, rulesOf, type RuleId } from './rules/index.js'

/** What is checked, and how much of what is found is returned. */
export interface InspectOptions {
  /** Only these rules, by id or as rules of your own; default all. Entries of `allow` are checked against all rules only. */
  readonly rules?: readonly (RuleId | Rule)[]
  /** Only what holds on these pages; default all. */
  readonly pages?: readonly string[]
  /** Only findings of this severity or worse; default `note`. */
  readonly severity?: Severity
  /** Only the findings of these keys; default all. */
  readonly keys?: ReadonlySet<string>
  /** At most this many findings, the most harmful; default all. */
  readonly max?: number
  /** Called once with all findings, those beyond `max` included, before fixes are tried. */
  readonly onFound?: (found: readonly Found[]) => void
  /** Whether to try fixes in memory and offer those that hold, and how many; `true` is all of them, default none. */
  readonly fixes?: boolean | HowMany
  /** Whether each page and viewport is listed with its numbers; default true. Without, `cases` are empty and `related` few. */
  readonly cases?: boolean
  /** The clock, for years and countdowns; default the machine's. */
  readonly now?: Date
  /** Whether neither this site nor a change of it is inspected again: without fixes less is then noted. Default false. */
  readonly isLast?: boolean
  /** Called as the work goes on: pages that were looked at, then findings whose fixes were tried. */
  readonly onProgress?: (progress: InspectProgress) => void
}

/** What is known of a finding before fixes are tried. */
export type Found = Pick<Finding, 'key' | 'rule' | 'severity' | 'pages'>

/** How far an inspection is. */
export interface InspectProgress {
  readonly step: 'pages' | 'fixes'
  readonly done: number
  readonly all: number
}

/**
 * Finds every conflict, most harmful first; one finding for each rule and deciding place.
 *
 * @throws {UnknownNameError} For a page, rule or severity that there is not.
 * @example
 * inspect(resolved, { pages: ['visit'], severity: 'error' }).map(({ rule }) => rule) // => ['header-covers-content']
 */
export function inspect(resolved: ResolvedSite, options: InspectOptions = {}): Finding[] {
  return toEnd(inspecting(resolved, options))
}

/** Options of `inspectAsync`: those of `inspect`, and a signal. */
export interface InspectAsyncOptions extends InspectOptions {
  /** Ends the work early; the promise is then rejected with the signal's reason. */
  readonly signal?: AbortSignal
}

/**
 * The same as `inspect`, in turns, so that a page stays usable meanwhile.
 *
 * @throws The reason of an aborted signal.
 * @example
 * (await inspectAsync(resolved, { signal: AbortSignal.timeout(60_000) })).length // => 1
 */
export function inspectAsync(resolved: ResolvedSite, options: InspectAsyncOptions = {}): Promise<Finding[]> {
  return inTurns(inspecting(resolved, options), options.signal)
}

/** Filters come before the work: what was not asked for is not looked at, and its fixes are not tried. */
function* inspecting(resolved: ResolvedSite, options: InspectOptions): Generator<unknown, Finding[]> {
  const { now, fixes = false, onProgress, onFound, max } = options
  const severityOf = severities(resolved)
  const least = SEVERITIES.indexOf(options.severity ?? 'note')
  if (least === -1) throw new UnknownNameError('severity', String(options.severity), SEVERITIES)
  if (max !== undefined && !(max >= 0)) throw new ValueError(`expected max to be a number from 0, got ${max}`)
  const isAsked = (rule: Rule): boolean => SEVERITIES.indexOf(severityOf(rule) ?? 'note') <= least
  expectPages(resolved, options.pages)
  const rules = (options.rules ? rulesOf(options.rules) : RULES).filter(isAsked)
  const isLast = options.isLast === true && fixes === false
  const gathering = gatherFacts(resolved, { rules, now, isLast })
  const pages = resolved.pageIds.length
  let gathered = gathering.next()
  for (; !gathered.done; gathered = gathering.next()) {
    onProgress?.({ step: 'pages', done: gathered.value, all: pages })
    yield
  }
  const { keys } = options
  const isKept = ({ key }: RuleGroup): boolean => keys?.has(key) ?? true
  const { value: facts } = gathered
  const found: RuleGroup[] = []
  for (const group of options.pages ? toGroups(onlyPages(facts.all, options.pages), resolved) : facts.groups()) {
    if (isKept(group)) found.push(group)
    yield
  }
  found.sort(compareHarm(severityOf))
  const groups = max === undefined ? found : found.slice(0, max)
  onFound?.(
    found.map(({ key, rule, pages }) => {
      return { key, rule: rule.id, severity: severityOf(rule) as Severity, pages }
    }),
  )
  let prover: Prover | undefined
  const findings: Finding[] = []
  for (const made of groups) {
    const { rule, group } = made
    const finding = toFinding(resolved, severityOf(rule) as Severity, made, options.cases)
    // Fixes are checked against all rules, including those that were not asked for.
    if (fixes === false) {
      findings.push({ ...finding, ...withTried() })
      yield
      continue
    }
    if (rule.propose) prover ??= new Prover(factsOf(resolved, { rules: withOwn(rules), now: facts.now }))
    const tried =
      rule.propose && prover ? yield* prover.tryGroup(rule, group, fixes === true ? 'all' : fixes) : undefined
    findings.push({ ...finding, ...withTried(tried) })
    onProgress?.({ step: 'fixes', done: findings.length, all: groups.length })
    yield
  }
  return findings
}

/** All built-in rules and custom ones. */
const withOwn = (rules: readonly Rule[]): readonly Rule[] => {
  const known = new Set<Rule>(RULES)
  const own = rules.filter((rule) => !known.has(rule))
  return own.length > 0 ? [...RULES, ...own] : RULES
}

const rank = (severity: Severity | undefined): number => SEVERITIES.indexOf(severity as Severity)

const compareHarm =
  (severityOf: (rule: Rule) => Severity | undefined) =>
  (a: RuleGroup, b: RuleGroup): number =>
    (a.rule === b.rule ? 0 : rank(severityOf(a.rule)) - rank(severityOf(b.rule))) ||
    b.pages.length - a.pages.length ||
    (a.key < b.key ? -1 : 1)

/** All findings of a site as groups, the most severe and then the widest first: the order in which fixes are tried. */
export const byHarm = (facts: SiteFacts): readonly RuleGroup[] =>
  [...facts.groups()].sort(compareHarm(severities(facts.resolved)))

/** All findings of a site, the most severe first, with the fixes in `tried`. */
export function findingsIn(facts: SiteFacts, tried: ReadonlyMap<string, Tried>): readonly Finding[] {
  const { resolved } = facts
  const severityOf = severities(resolved)
  return byHarm(facts).map((group) => ({
    ...toFinding(resolved, severityOf(group.rule) as Severity, group),
    ...withTried(tried.get(group.id)),
  }))
}

const withTried = ({ fixes, refused }: Tried = { fixes: [], refused: [] }): Pick<Finding, 'fixes' | 'refused'> => ({
  fixes,
  ...(fixes.length === 0 && refused.length > 0 && { refused }),
})

/** The severity of each rule on this site; `undefined` where the site turns it off. */
function severities({ site }: ResolvedSite): (rule: Rule) => Severity | undefined {
  const changed = new Map(Object.entries(site.data.severity ?? {}))
  return (rule) => {
    const severity = changed.get(rule.id) ?? rule.severity
    return severity === 'none' ? undefined : severity
  }
}

function onlyPages(facts: readonly RuleFact[], pages: readonly string[]): readonly RuleFact[] {
  const wanted = new Set(pages)
  return facts.flatMap((each) => {
    const cases = each.cases.filter(({ page }) => wanted.has(page))
    return cases.length > 0 ? [withCases(each, cases)] : []
  })
}

function toFinding(
  { site }: ResolvedSite,
  severity: Severity,
  group: RuleGroup,
  hasCases = true,
): Omit<Finding, 'fixes' | 'refused'> {
  const { place, related, summary, cases } = summarize(group, site.viewports)
  return {
    ...{ key: group.key, rule: group.rule.id, severity },
    ...summary,
    cases: hasCases ? cases() : [],
    at: place ?? site.locate(group.group.at),
    related: (hasCases ? related : related.slice(0, FEW_RELATED)).map(({ pointer, because }) => ({
      ...site.locate(pointer),
      because,
    })),
  }
}

/** The advice where a style sheet decides, which no setting can override. */
const STYLE_ADVICE = 'change the rule of the style sheet, which overrides every setting'

/** Number of related places to list when cases are omitted. */
const FEW_RELATED = 10

/** A group as a report has it, before its places are located. */
interface Summary {
  /** The place in a style sheet. */
  readonly place: Fact['place']
  readonly related: readonly RelatedPointer[]
  readonly summary: Omit<Finding, 'key' | 'rule' | 'severity' | 'cases' | 'at' | 'related' | 'fixes' | 'refused'>
  /** Rounded when they are asked for: there may be one for each page of the site. */
  readonly cases: () => Finding['cases']
}

function summarize({ rule, group }: RuleGroup, viewports: readonly Viewport[]): Summary {
  const { cases, worst } = group
  const holds = new Set<string>()
  for (const { viewport } of cases) holds.add(viewport)
  const facts: readonly Fact[] = cases.length > 0 ? cases : [worst]
  // There may be a fact for each page of the site, so nothing is allocated per fact.
  const certainties = new Set<Certainty>()
  const related: RelatedPointer[] = []
  const reasons = new Map<string, Set<string>>()
  let place: Fact['place']
  for (const fact of facts) {
    place ??= fact.place
    certainties.add(fact.certainty ?? 'computed')
    for (const each of fact.related ?? []) {
      let known = reasons.get(each.pointer)
      if (!known) reasons.set(each.pointer, (known = new Set()))
      if (known.has(each.because)) continue
      known.add(each.because)
      related.push(each)
    }
  }
  let rounded: Finding['cases'] | undefined
  return {
    ...{ place, related },
    summary: {
      facet: rule.facet,
      pages: group.pages,
      viewports: viewports.map((v) => v.name).filter((name) => holds.has(name)),
      certainty: leastCertain(...certainties),
      message: rule.message(group),
      advice: place ? STYLE_ADVICE : rule.advice,
      numbers: roundAll(worst.numbers),
    },
    cases: () =>
      (rounded ??= inOrder(group, viewports).map(({ page, viewport, numbers }) => {
        return { page, viewport, numbers: roundAll(numbers) }
      })),
  }
}

/** Sorts cases by page and viewport; a rule with several reasons reports them reason by reason. */
function inOrder({ cases, pages }: Group, viewports: readonly Viewport[]): readonly Case[] {
  const pageAt = new Map(pages.map((id, n) => [id, n]))
  const viewportAt = new Map(viewports.map(({ name }, n) => [name, n]))
  const between = (at: ReadonlyMap<string, number>, a: string, b: string): number => (at.get(a) ?? 0) - (at.get(b) ?? 0)
  return [...cases].sort((a, b) => between(pageAt, a.page, b.page) || between(viewportAt, a.viewport, b.viewport))
}

const roundAll = (numbers: Readonly<Record<string, number>>): Record<string, number> =>
  Object.fromEntries(Object.entries(numbers).map(([name, n]) => [name, Math.round(n * 1000) / 1000]))
