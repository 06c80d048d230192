import { leastCertain } from '../measure/box.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { toGroups, type RuleGroup } from './groups.js'
import { factsOf, gatherFacts, toEnd } from './known-facts.js'
import { Prover, type HowMany, type Tried } from './prove.js'
import type { SiteFacts } from './site-facts.js'
import { SEVERITIES, type Fact, type Finding, type Group, type Rule, type Severity } from './rule.js'
import type { RuleFact } from './rule-fact.js'
import { UnknownNameError, ValueError } from '../model/unknown-name.js'
import { expectPages } from './expect-pages.js'
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
  /** Whether to try fixes in memory and offer those that hold: all, or none beyond the first that is certain; default none. */
  readonly fixes?: boolean | HowMany
  /** The clock, for years and countdowns; default the machine's. */
  readonly now?: Date
  /** Called as the work goes on: pages that were looked at, then findings whose fixes were tried. */
  readonly onProgress?: (progress: InspectProgress) => void
}

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

/** For how long the work goes on before others get a turn; ms, half a frame at 60 Hz. */
const TURN = 8

/**
 * The same as `inspect`, in turns, so that a page stays usable meanwhile.
 *
 * @throws The reason of an aborted signal.
 * @example
 * (await inspectAsync(resolved, { signal: AbortSignal.timeout(60_000) })).length // => 1
 */
export async function inspectAsync(resolved: ResolvedSite, options: InspectAsyncOptions = {}): Promise<Finding[]> {
  const steps = inspecting(resolved, options)
  for (let until = performance.now() + TURN; ;) {
    options.signal?.throwIfAborted()
    const step = steps.next()
    if (step.done) return step.value
    if (performance.now() < until) continue
    await new Promise((resolve) => setTimeout(resolve))
    until = performance.now() + TURN
  }
}

/** Filters come before the work: what was not asked for is not looked at, and its fixes are not tried. */
function* inspecting(resolved: ResolvedSite, options: InspectOptions): Generator<void, Finding[]> {
  const { now, fixes = false, onProgress, max } = options
  const severityOf = severities(resolved)
  const least = SEVERITIES.indexOf(options.severity ?? 'note')
  if (least === -1) throw new UnknownNameError('severity', String(options.severity), SEVERITIES)
  if (max !== undefined && !(max >= 0)) throw new ValueError(`expected max to be a number from 0, got ${max}`)
  const isAsked = (rule: Rule): boolean => SEVERITIES.indexOf(severityOf(rule) ?? 'note') <= least
  expectPages(resolved, options.pages)
  const rules = (options.rules ? rulesOf(options.rules) : RULES).filter(isAsked)
  const gathering = gatherFacts(resolved, { rules, now })
  const pages = resolved.pageIds.length
  let gathered = gathering.next()
  for (; !gathered.done; gathered = gathering.next()) {
    onProgress?.({ step: 'pages', done: gathered.value, all: pages })
    yield
  }
  const { keys } = options
  const isKept = (group: RuleGroup): boolean => keys?.has(keyOf(group)) ?? true
  const found = toGroups(onlyPages(gathered.value.all, options.pages)).filter(isKept).sort(byHarm(severityOf))
  const groups = max === undefined ? found : found.slice(0, max)
  let prover: Prover | undefined
  const findings: Finding[] = []
  for (const { rule, group } of groups) {
    const finding = toFinding(resolved, rule, severityOf(rule) as Severity, group)
    // A fix is checked against all rules, also those that were not asked for.
    if (fixes === false) {
      findings.push({ ...finding, ...withTried() })
      continue
    }
    if (rule.propose) prover ??= new Prover(factsOf(resolved, { now: gathered.value.now }))
    const tried = rule.propose && prover?.tryGroup(rule, group, fixes === true ? 'all' : fixes)
    findings.push({ ...finding, ...withTried(tried) })
    onProgress?.({ step: 'fixes', done: findings.length, all: groups.length })
    yield
  }
  return findings
}

const byHarm =
  (severityOf: (rule: Rule) => Severity | undefined) =>
  (a: RuleGroup, b: RuleGroup): number =>
    SEVERITIES.indexOf(severityOf(a.rule) as Severity) - SEVERITIES.indexOf(severityOf(b.rule) as Severity) ||
    b.group.pages.length - a.group.pages.length ||
    (keyOf(a) < keyOf(b) ? -1 : 1)

/** Every finding of what is known of a site, most harmful first, with what was tried for it by other means. */
export function findingsIn(facts: SiteFacts, tried: ReadonlyMap<string, Tried>): readonly Finding[] {
  const { resolved } = facts
  const severityOf = severities(resolved)
  return [...toGroups(facts.all)].sort(byHarm(severityOf)).map(({ rule, group }) => ({
    ...toFinding(resolved, rule, severityOf(rule) as Severity, group),
    ...withTried(tried.get(keyOf({ rule, group }))),
  }))
}

const withTried = ({ fixes, refused }: Tried = { fixes: [], refused: [] }): Pick<Finding, 'fixes' | 'refused'> => ({
  fixes,
  ...(fixes.length === 0 && refused.length > 0 && { refused }),
})

const keyOf = ({ rule, group }: RuleGroup): string => `${rule.id}@${group.at}`

/** The severity of each rule on this site; `undefined` where the site turns it off. */
function severities({ site }: ResolvedSite): (rule: Rule) => Severity | undefined {
  const said = new Map(Object.entries(site.data.severity ?? {}))
  return (rule) => {
    const severity = said.get(rule.id) ?? rule.severity
    return severity === 'none' ? undefined : severity
  }
}

function onlyPages(facts: readonly RuleFact[], pages: readonly string[] | undefined): readonly RuleFact[] {
  if (!pages) return facts
  const wanted = new Set(pages)
  return facts.flatMap((each) => {
    const cases = each.cases.filter(({ page }) => wanted.has(page))
    return cases.length > 0 ? [{ ...each, cases }] : []
  })
}

function toFinding(
  resolved: ResolvedSite,
  rule: Rule,
  severity: Severity,
  group: Group,
): Omit<Finding, 'fixes' | 'refused'> {
  const { site } = resolved
  const { cases, worst } = group
  const holds = new Set(cases.map((c) => c.viewport))
  const facts: readonly Fact[] = cases.length > 0 ? cases : [worst]
  const related = new Map(facts.flatMap((c) => c.related ?? []).map((r) => [`${r.pointer} ${r.because}`, r]))
  return {
    key: `${rule.id}@${group.at}`,
    rule: rule.id,
    severity,
    facet: rule.facet,
    pages: group.pages,
    viewports: site.viewports.map((v) => v.name).filter((name) => holds.has(name)),
    certainty: leastCertain(...new Set(facts.map((c) => c.certainty ?? 'computed'))),
    message: rule.message(group),
    advice: rule.advice,
    numbers: roundAll(worst.numbers),
    cases: cases.map(({ page, viewport, numbers }) => ({ page, viewport, numbers: roundAll(numbers) })),
    at: facts.find((c) => c.place)?.place ?? site.locate(group.at),
    related: [...related.values()].map(({ pointer, because }) => ({ ...site.locate(pointer), because })),
  }
}

const roundAll = (numbers: Readonly<Record<string, number>>): Record<string, number> =>
  Object.fromEntries(Object.entries(numbers).map(([name, n]) => [name, Math.round(n * 1000) / 1000]))
