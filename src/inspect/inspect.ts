import { leastCertain } from '../measure/box.js'
import { measurePage } from '../measure/page.js'
import { fromPointer } from '../model/json.js'
import type { Patch } from '../model/patch.js'
import { SiteError } from '../model/problem.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { facetsInPx } from '../measure/facets.js'
import { SEVERITIES, type Case, type Finding, type Group, type Mend, type Rule } from './rule.js'
import { RULES } from './rules/index.js'
import { Sight } from './sight.js'

export interface InspectOptions {
  /** Only these rules; default all. */
  readonly rules?: readonly Rule[]
  /** Only these pages; default all. */
  readonly pages?: readonly string[]
  /** Whether to try the mends in memory and offer those that hold; default true. */
  readonly mends?: boolean
  /** Called after each page, for progress. */
  readonly onPage?: (done: number, all: number) => void
}

/** Finds every conflict, most harmful first; one finding for each rule and deciding place. */
export function inspect(resolved: ResolvedSite, options: InspectOptions = {}): Finding[] {
  const rules = options.rules ?? RULES
  const groups = findGroups(resolved, rules, options)
  const findings = rules.flatMap((rule) =>
    [...(groups.get(rule.id)?.values() ?? [])].map((cases) => toFinding(resolved, rule, cases, options.mends ?? true)),
  )
  return findings.sort(
    (a, b) =>
      SEVERITIES.indexOf(a.severity) - SEVERITIES.indexOf(b.severity) ||
      b.pages.length - a.pages.length ||
      (a.key < b.key ? -1 : 1),
  )
}

type Groups = Map<string, Map<string, Case[]>>

function findGroups(resolved: ResolvedSite, rules: readonly Rule[], options: InspectOptions): Groups {
  const groups: Groups = new Map(rules.map((rule) => [rule.id, new Map<string, Case[]>()]))
  const ids = options.pages ?? resolved.pageIds
  ids.forEach((id, done) => {
    const page = resolved.page(id)
    if (!page.dormant)
      for (const { name: viewport } of resolved.site.viewports) {
        const sight = new Sight(resolved, page, viewport)
        for (const rule of rules)
          rule.check(sight, (fact) => {
            const ofRule = groups.get(rule.id) as Map<string, Case[]>
            const cases = ofRule.get(fact.at)
            const found = { ...fact, page: id, viewport }
            if (cases) cases.push(found)
            else ofRule.set(fact.at, [found])
          })
      }
    options.onPage?.(done + 1, ids.length)
  })
  return groups
}

function toGroup(rule: Rule, cases: readonly Case[]): Group {
  const [first] = rule.numbers
  const sign = rule.worst === 'largest' ? 1 : -1
  const size = (c: Case): number => (first === undefined ? 0 : sign * (c.numbers[first] ?? 0))
  const worst = cases.reduce((a, b) => (size(b) > size(a) ? b : a))
  return { at: worst.at, cases, pages: [...new Set(cases.map((c) => c.page))], worst }
}

function toFinding(resolved: ResolvedSite, rule: Rule, cases: readonly Case[], withMends: boolean): Finding {
  const { site } = resolved
  const group = toGroup(rule, cases)
  const holds = new Set(cases.map((c) => c.viewport))
  const related = new Map(cases.flatMap((c) => c.related ?? []).map((r) => [`${r.pointer} ${r.because}`, r]))
  return {
    key: `${rule.id}@${group.at}`,
    rule: rule.id,
    severity: rule.severity,
    facet: rule.facet,
    pages: group.pages,
    viewports: site.viewports.map((v) => v.name).filter((name) => holds.has(name)),
    certainty: leastCertain(...cases.map((c) => c.certainty ?? 'computed')),
    message: rule.message(group),
    advice: rule.advice,
    numbers: roundAll(group.worst.numbers),
    cases: cases.map(({ page, viewport, numbers }) => ({ page, viewport, numbers: roundAll(numbers) })),
    at: cases.find((c) => c.place)?.place ?? site.locate(group.at),
    related: [...related.values()].map(({ pointer, because }) => ({ ...site.locate(pointer), because })),
    mends: withMends ? provenMends(resolved, rule, group) : [],
  }
}

const roundAll = (numbers: Readonly<Record<string, number>>): Record<string, number> =>
  Object.fromEntries(Object.entries(numbers).map(([name, n]) => [name, Math.round(n * 1000) / 1000]))

/** Proposals that were tried in memory: the finding is gone, nothing new came, no other page changed. */
function provenMends(resolved: ResolvedSite, rule: Rule, group: Group): Mend[] {
  return rule
    .propose(group, resolved)
    .filter(({ patch }) => patch.length > 0 && isProven(resolved, rule, group, patch))
    .map(({ title, patch }) => ({ title, patch, pages: group.pages }))
}

function isProven(resolved: ResolvedSite, rule: Rule, group: Group, patch: Patch): boolean {
  const after = tryPatch(resolved, patch)
  if (!after) return false
  const options = { pages: group.pages, mends: false }
  const before = new Set(inspect(resolved, options).flatMap(caseKeys))
  const later = inspect(after, options)
  const gone = !later.some((f) => f.rule === rule.id && f.at.pointer === group.at)
  const isNew = later.flatMap(caseKeys).some((key) => !before.has(key))
  return gone && !isNew && (touchesOnly(patch, group.pages) || othersUnchanged(resolved, after, group.pages))
}

/** Whether a patch changes nothing but the overrides and bodies of some pages, which no other page looks at. */
function touchesOnly(patch: Patch, pages: readonly string[]): boolean {
  return patch.every(({ path }) => {
    const [section, page = '', key = ''] = fromPointer(path)
    return section === 'pages' && pages.includes(page) && (key === 'layout' || key === 'body')
  })
}

const caseKeys = (finding: Finding): string[] => finding.cases.map((c) => `${finding.rule} ${c.page} ${c.viewport}`)

function tryPatch(resolved: ResolvedSite, patch: Patch): ResolvedSite | undefined {
  try {
    return resolved.with(patch)
  } catch (error) {
    if (error instanceof SiteError) return undefined
    throw error
  }
}

/** Whether every page but those named has the facets and boxes it had, at every viewport. */
function othersUnchanged(before: ResolvedSite, after: ResolvedSite, pages: readonly string[]): boolean {
  const named = new Set(pages)
  return before.pageIds
    .filter((id) => !named.has(id) && !before.page(id).dormant)
    .every((id) =>
      before.site.viewports.every(({ name }) => pictureOf(before, id, name) === pictureOf(after, id, name)),
    )
}

const pictures = new WeakMap<ResolvedSite, Map<string, string>>()

/** All that a visitor gets of a page, as one text to compare. */
function pictureOf(resolved: ResolvedSite, id: string, viewport: string): string {
  let ofSite = pictures.get(resolved)
  if (!ofSite) {
    ofSite = new Map()
    pictures.set(resolved, ofSite)
  }
  const key = `${viewport} ${id}`
  let picture = ofSite.get(key)
  if (picture === undefined) {
    const measure = measurePage(resolved.page(id), viewport)
    const boxes = measure.boxes.map(({ id: box, x, y, width, height }) => [box, x, y, width, height])
    picture = JSON.stringify([facetsInPx(measure), boxes])
    ofSite.set(key, picture)
  }
  return picture
}
