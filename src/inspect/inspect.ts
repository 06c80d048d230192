import { leastCertain } from '../measure/box.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { allFacts } from './all-facts.js'
import { FactFinder, type RuleFact } from './facts.js'
import { toGroups } from './groups.js'
import { Prover } from './prove.js'
import { SEVERITIES, type Fact, type Finding, type Group, type Rule, type Severity } from './rule.js'
import { RULES } from './rules/index.js'

export interface InspectOptions {
  /** Only these rules; default all. Entries of `allow` are held against all rules only. */
  readonly rules?: readonly Rule[]
  /** Only what holds on these pages; default all. */
  readonly pages?: readonly string[]
  /** Whether to try the fixes in memory and offer those that hold; default true. */
  readonly fixes?: boolean
  /** The clock, for years and countdowns; default the machine's. */
  readonly now?: Date
  /** Called after each page, for progress. */
  readonly onPage?: (done: number, all: number) => void
}

/** Finds every conflict, most harmful first; one finding for each rule and deciding place. */
export function inspect(resolved: ResolvedSite, options: InspectOptions = {}): Finding[] {
  const { rules = RULES, now = new Date(), fixes = true } = options
  const finder = new FactFinder(now)
  const severityOf = severities(resolved)
  const asked = rules.filter((rule) => severityOf(rule) !== undefined)
  const facts = allFacts(resolved, finder, asked, options.onPage)
  const groups = toGroups(onlyPages(facts, options.pages))
  const prover = fixes ? new Prover(resolved, finder, asked, facts) : undefined
  return groups
    .map(({ rule, group }) => toFinding(resolved, rule, severityOf(rule) as Severity, group, prover))
    .sort(
      (a, b) =>
        SEVERITIES.indexOf(a.severity) - SEVERITIES.indexOf(b.severity) ||
        b.pages.length - a.pages.length ||
        (a.key < b.key ? -1 : 1),
    )
}

/** The severity of each rule on this site; `undefined` where the site wants to hear nothing of it. */
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
  prover: Prover | undefined,
): Finding {
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
    certainty: leastCertain(...facts.map((c) => c.certainty ?? 'computed')),
    message: rule.message(group),
    advice: rule.advice,
    numbers: roundAll(worst.numbers),
    cases: cases.map(({ page, viewport, numbers }) => ({ page, viewport, numbers: roundAll(numbers) })),
    at: facts.find((c) => c.place)?.place ?? site.locate(group.at),
    related: [...related.values()].map(({ pointer, because }) => ({ ...site.locate(pointer), because })),
    fixes: prover?.fixes(rule, group) ?? [],
  }
}

const roundAll = (numbers: Readonly<Record<string, number>>): Record<string, number> =>
  Object.fromEntries(Object.entries(numbers).map(([name, n]) => [name, Math.round(n * 1000) / 1000]))
