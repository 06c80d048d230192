import { isPropertyPath } from '../model/facets.js'
import { isAllowedOn } from '../inspect/allowances.js'
import type { Finding, Numbers, Severity } from '../inspect/rule.js'
import { drift as DRIFT } from '../inspect/rules/drift.js'
import { tryPatch } from '../inspect/engine/step.js'
import { isFacet } from '../model/facets.js'
import { toPointer, type Json } from '../model/json.js'
import type { Patch } from '../model/patch.js'
import type { SourcePlace } from '../model/problem.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { explain, type Explanation } from './causes.js'
import { Comparer, placeObservations, type Discrepancy } from './compare.js'
import type { Observation, ObservationFailure } from './observation.js'

/** One value of a real page that is not as it was worked out. */
export interface Drift extends Omit<Discrepancy, 'isEstimate'> {
  /** The layer that decided what was expected, and where; `null` where no setting decides it. */
  readonly decided: { readonly layer: string; readonly at: SourcePlace | null } | null
}

/** What one change behind the site file's back explains. */
export interface DriftFinding extends Finding {
  /** The change of the site file that would explain it; `null` where none was found. */
  readonly cause: { readonly title: string; readonly patch: Patch } | null
  readonly drifts: readonly Drift[]
}

/** Where real pages differ from the site file. */
export interface DriftReport {
  readonly findings: readonly DriftFinding[]
  /** Numbers that were only estimated and are otherwise: `observe --apply`, or a `height`, would settle them. */
  readonly estimates: readonly Discrepancy[]
  /** Pages that were compared. */
  readonly compared: readonly string[]
  /** Pages of the site that were not observed, and why; without a reason they were not asked for. */
  readonly unseen: readonly { readonly page: string; readonly because?: string }[]
  /** Addresses that are no page of the site. */
  readonly strange: readonly string[]
}

/** How a site is compared with its real pages. */
export interface DriftOptions {
  /** The clock, for years and countdowns; default the machine's. */
  readonly now?: Date | undefined
}

/** Compares a site with observations of its real pages. */
export function findDrift(
  resolved: ResolvedSite,
  observations: readonly (Observation | ObservationFailure)[],
  { now = new Date() }: DriftOptions = {},
): DriftReport {
  const { placed, failed, strange } = placeObservations(resolved, observations)
  const gone = failed.filter(({ failure }) => isGone(failure)).map(({ page }) => page)
  const comparer = new Comparer(placed, gone, now)
  const found = comparer.compare(resolved)
  const severity = severityOf(resolved)
  const reported = severity === undefined ? [] : found.filter(({ page }) => !isAllowedOn(resolved, DRIFT.id, page))
  const seen = new Set(comparer.pages)
  const unseen = resolved.pageIds.flatMap((id) => {
    if (seen.has(id) || resolved.page(id).dormant || resolved.site.pageData(id)?.status === 'draft') return []
    const failure = failed.find(({ page }) => page === id)?.failure
    return [{ page: id, ...(failure && { because: failure.message }) }]
  })
  return {
    findings: explain(resolved, comparer, reported).map((each) =>
      toFinding(resolved, comparer, each, severity ?? 'warning'),
    ),
    estimates: reported.filter(({ isEstimate }) => isEstimate),
    compared: comparer.pages,
    unseen,
    strange,
  }
}

/** Whether a page is not there any more, and not merely out of reach. */
const isGone = ({ status }: ObservationFailure): boolean => status === 404 || status === 410

function severityOf({ site }: ResolvedSite): Severity | undefined {
  const said =
    (site.data.severity as Readonly<Record<string, Severity | 'none'>> | undefined)?.[DRIFT.id] ?? DRIFT.severity
  return said === 'none' ? undefined : said
}

function toFinding(
  resolved: ResolvedSite,
  comparer: Comparer,
  { cause, discrepancies }: Explanation,
  severity: Severity,
): DriftFinding {
  const { site } = resolved
  const drifts = discrepancies.map(({ isEstimate: _isEstimate, ...d }): Drift => ({
    ...d,
    decided: decidedBy(resolved, d),
  }))
  const [first] = drifts
  const pages = [...new Set(drifts.map((d) => d.page))]
  const viewports = new Set(drifts.map((d) => d.viewport))
  const pointer = cause?.at ?? first?.decided?.at?.pointer ?? toPointer(['pages', first?.page ?? ''])
  const decided = new Map(
    drifts.flatMap((d) => (d.decided?.at ? [[`${d.decided.at.pointer}`, d.decided] as const] : [])),
  )
  const worst = drifts.reduce<Drift | undefined>((a, b) => (a && off(a) >= off(b) ? a : b), undefined)
  return {
    key: `${DRIFT.id}@${pointer}${cause ? '' : `#${first?.property}`}`,
    rule: DRIFT.id,
    severity,
    facet: facetOf(first?.property ?? ''),
    pages,
    viewports: site.viewports.map((v) => v.name).filter((name) => viewports.has(name)),
    certainty: 'measured',
    message: messageOf(drifts, cause?.title),
    advice: DRIFT.advice,
    numbers: worst ? numbersOf(worst) : {},
    cases: drifts.map((d) => ({ page: d.page, viewport: d.viewport, numbers: numbersOf(d) })),
    at: site.locate(pointer),
    related: [...decided.values()].flatMap(({ layer, at }) =>
      at && at.pointer !== pointer && !/^\/pages\/[^/]+$/.test(at.pointer)
        ? [{ ...at, because: `decides what was expected (${layer})` }]
        : [],
    ),
    fixes:
      cause && holds(resolved, comparer, cause.patch, discrepancies)
        ? [{ title: `update the site file: ${cause.title}`, patch: cause.patch, pages, choice: true }]
        : [],
    cause: cause ? { title: cause.title, patch: cause.patch } : null,
    drifts,
  }
}

/** Whether a cause's patch alone makes what it explains agree. */
function holds(
  resolved: ResolvedSite,
  comparer: Comparer,
  patch: Patch,
  discrepancies: readonly Discrepancy[],
): boolean {
  const after = tryPatch(resolved, patch)
  if (!after) return false
  const [first] = discrepancies
  const left = comparer.compare(after, [...new Set(discrepancies.map((d) => d.page))])
  return !left.some((d) => d.page === first?.page && d.property === first.property && d.viewport === first.viewport)
}

const BODY_FACETS: Readonly<Record<string, string>> = { body: 'body', page: 'site' }
const facetOf = (property: string): string => {
  const [facet = ''] = property.split('.')
  return isFacet(facet) ? facet : (BODY_FACETS[facet] ?? 'site')
}

const off = ({ expected, seen }: Discrepancy | Drift): number =>
  typeof expected === 'number' && typeof seen === 'number' ? Math.abs(seen - expected) : 0

const numbersOf = ({ expected, seen }: Drift): Numbers =>
  typeof expected === 'number' && typeof seen === 'number' ? { expected, seen } : {}

/** Settings that decide what is observed, where it goes by another name. */
const DECIDED_AS: Readonly<Record<string, string>> = {
  'width.container': 'width.max',
  'width.column': 'width.columnMax',
  'comments.width': 'comments.maxWidth',
  'header.height': 'header.use',
  'footer.height': 'footer.use',
  'header.links': 'header.use',
  'footer.links': 'footer.use',
  'header.words': 'header.use',
  'footer.words': 'footer.use',
}

/** Who decided what was expected of a page. */
function decidedBy(
  resolved: ResolvedSite,
  { page: id, viewport, property }: Omit<Discrepancy, 'isEstimate'>,
): Drift['decided'] {
  if (!resolved.site.pageData(id)) return null
  const page = resolved.page(id)
  if (property.startsWith('body.') || property.startsWith('page.') || property === 'title.words' || page.dormant)
    return { layer: 'page', at: resolved.site.locate(toPointer(['pages', id])) }
  const view = resolved.site.viewports.some((v) => v.name === viewport) ? page.at(viewport) : undefined
  const path = DECIDED_AS[property] ?? (property === 'spacing.within' ? 'width.columnMax' : property)
  const chain = view && isPropertyPath(path) ? view.chain(path) : []
  const winner = chain.find((entry) => entry.outcome === 'wins')
  return winner ? { layer: winner.layer, at: winner.at } : { layer: 'baseline', at: null }
}

/** A value as a sentence has it. */
export function valueInWords(value: Json): string {
  if (typeof value === 'number') return `${value} px`
  if (typeof value === 'string') return value === '' ? 'nothing' : value
  if (Array.isArray(value))
    return value.length === 0 ? 'nothing' : (value as readonly Json[]).map((v) => String(v)).join(', ')
  return JSON.stringify(value)
}

function messageOf(drifts: readonly Drift[], cause: string | undefined): string {
  const [first] = drifts
  if (!first) return DRIFT.summary
  const others = new Set(drifts.map((d) => d.property)).size - 1
  const more =
    others > 0 ? `, and ${others} more ${others === 1 ? 'property differs' : 'properties differ'} with it` : ''
  return `${differenceInWords(first)}${more}; ${cause === undefined ? 'no single change of the site file explains it' : `likeliest cause: ${cause}`}`
}

const LONGEST = 120

/** What is seen and what was expected, of lists and texts only what they do not share. */
function differenceInWords({ property, expected, seen }: Drift): string {
  const [part = ''] = property.split('.')
  if (property.endsWith('.words') && Array.isArray(expected)) {
    const missing = (expected as readonly string[]).filter(
      (text) => !(seen as readonly string[]).some((each) => each.toLowerCase() === text.toLowerCase()),
    )
    return `the ${part} does not have ${missing.map((text) => `“${text}”`).join(' or ')}`.slice(0, LONGEST)
  }
  if (Array.isArray(expected) && Array.isArray(seen)) {
    const without = (list: readonly Json[], other: readonly Json[]) => list.filter((each) => !other.includes(each))
    const [added, gone] = [
      without(seen as readonly Json[], expected as readonly Json[]),
      without(expected as readonly Json[], seen as readonly Json[]),
    ]
    const said = [
      added.length > 0 && `${valueInWords(added)} is there`,
      gone.length > 0 && `${valueInWords(gone)} is not`,
    ]
    return `${property}: ${said.filter(Boolean).join(', ') || 'another order'}`
  }
  return `${property} is ${valueInWords(seen)}, not ${valueInWords(expected)}`.slice(0, LONGEST)
}
