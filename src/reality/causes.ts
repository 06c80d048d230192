import { listsBy } from '../model/lists.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { findCause } from './cause-search.js'
import type { Cause, DriftGroup } from './cause.js'
import { discrepancyKey, type Comparer, type Discrepancy } from './compare.js'
import { isOfOneBox } from './layer-candidates.js'

/** Discrepancies that one change explains; without a cause, those of one property that none was found for. */
export interface Explanation {
  readonly cause: Cause | undefined
  /** The first of them is what the cause was looked for. */
  readonly discrepancies: readonly Discrepancy[]
}

/** How often a cause is looked for: past that, what is left is listed without one. */
const MOST_ROUNDS = 60
/**
 * Explains what differs by single changes: the change that would make most of it vanish and nothing else appear, then
 * the next for what is left. Each candidate is tried in memory and compared with what was seen.
 */
export function explain(
  resolved: ResolvedSite,
  comparer: Comparer,
  found: readonly Discrepancy[],
): readonly Explanation[] {
  const out: Explanation[] = []
  let now = resolved
  let left: readonly Discrepancy[] = found.filter(({ isEstimate }) => !isEstimate)
  /** What no cause is looked for: none was found, or it follows from another. */
  const hopeless = new Set<string>()
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const open = left.filter((d) => !hopeless.has(discrepancyKey(d)))
    const [group] = groupsOf(open)
    if (!group) break
    const best = findCause(now, comparer, left, group)
    if (!best) {
      for (const d of group.discrepancies) hopeless.add(discrepancyKey(d))
      out.push({ cause: undefined, discrepancies: group.discrepancies })
      continue
    }
    const isOfGroup = (d: Discrepancy): boolean => d.property === group.property
    const explained = [...best.gone.filter(isOfGroup), ...best.gone.filter((d) => !isOfGroup(d))]
    out.push({ cause: best.cause, discrepancies: explained })
    for (const d of best.followers) hopeless.add(discrepancyKey(d))
    now = best.after
    left = best.left
  }
  const rest = left.filter((d) => !hopeless.has(discrepancyKey(d)))
  const uncaused = groupsOf(rest).map(({ discrepancies }) => ({ cause: undefined, discrepancies }))
  return withoutConsequences(joined(found, [...out, ...uncaused]))
}

/** What a browser makes of another change: a bar that floats holds more, one of another height moves what is beneath. */
const MAKES: Readonly<Record<string, readonly string[]>> = {
  'header.position': ['header.height'],
  'header.height': ['header.clearance', 'spacing.before'],
  'footer.words': ['footer.height'],
}

/** Explanations without those of which each difference is what another explanation makes at that place. */
function withoutConsequences(all: readonly Explanation[]): readonly Explanation[] {
  const made = all.map(
    ({ discrepancies }) =>
      new Set(
        discrepancies.flatMap((d) => (MAKES[d.property] ?? []).map((property) => discrepancyKey({ ...d, property }))),
      ),
  )
  return all.filter(
    ({ discrepancies }, n) =>
      !discrepancies.every((d) => made.some((keys, other) => other !== n && keys.has(discrepancyKey(d)))),
  )
}

/**
 * A real change of one box that no setting says exactly shows as several differences, or as other settings of pages:
 * these are one, without a cause.
 */
function joined(found: readonly Discrepancy[], all: readonly Explanation[]): readonly Explanation[] {
  const boxes = all.filter(({ discrepancies: [first] }) => isOfOneBox(first?.property ?? ''))
  const groups = new Map(boxes.map((each) => [each, new Set([each])]))
  const join = (list: Iterable<Explanation>): void => {
    let whole: Set<Explanation> | undefined
    for (const each of list) {
      const own = groups.get(each) as Set<Explanation>
      if (own === whole) continue
      whole = new Set([...(whole ?? []), ...own])
      for (const member of whole) groups.set(member, whole)
    }
  }
  const seen = new Set(found.map(valueKeyOf))
  /** No cause was found, or what one made differ had to be explained in turn. */
  const isUnsure = ({ cause, discrepancies: [first] }: Explanation): boolean =>
    !cause || (first !== undefined && !seen.has(valueKeyOf(first)))
  for (const list of listsOf(boxes, (d) => d.page)) if (list.some(isUnsure)) join(list)
  // The same step on pages that are set one by one is one change as well.
  for (const list of listsOf(boxes, stepOf))
    if (list.some((each) => isUnsure(each) || each.cause?.at.startsWith('/pages/'))) join(list)
  return all.flatMap((each) => {
    const group = groups.get(each)
    if (!group || group.size === 1) return [each]
    if ([...group][0] !== each) return []
    const pages = new Set([...group].flatMap(({ discrepancies }) => discrepancies.map(({ page }) => page)))
    const others = new Set(all.filter((other) => !group.has(other)).flatMap((e) => e.discrepancies.map(discrepancyKey)))
    const discrepancies = found
      .filter((d) => !d.isEstimate && pages.has(d.page) && isOfOneBox(d.property) && !others.has(discrepancyKey(d)))
      .sort((a, b) => rankOf(a.property) - rankOf(b.property))
    return [{ cause: undefined, discrepancies }]
  })
}

/** Explanations that have something in common, by what it is. */
function listsOf(
  all: readonly Explanation[],
  of: (d: Discrepancy) => string | undefined,
): Iterable<readonly Explanation[]> {
  const lists = new Map<string, Set<Explanation>>()
  for (const each of all)
    for (const d of each.discrepancies) {
      const key = of(d)
      if (key !== undefined) lists.set(key, (lists.get(key) ?? new Set<Explanation>()).add(each))
    }
  return [...lists.values()].filter(({ size }) => size > 1).map((list) => [...list])
}

/** By how many whole px a number grew or shrank, and which. */
const stepOf = ({ property, viewport, expected, seen }: Discrepancy): string | undefined =>
  typeof expected === 'number' && typeof seen === 'number'
    ? `${property} ${viewport} ${Math.round(seen - expected)}`
    : undefined

const valueKeyOf = (d: Discrepancy): string => `${discrepancyKey(d)} ${JSON.stringify(d.expected)}`

/** Pages on which the same is seen of a property; the most pages first. */
function groupsOf(discrepancies: readonly Discrepancy[]): readonly DriftGroup[] {
  const byPage = listsBy(discrepancies, (d) => `${d.property} ${d.page}`)
  const groups = listsBy(byPage.values(), (list) =>
    JSON.stringify([list[0]?.property, list.map(({ viewport, seen }) => [viewport, seen])]),
  )
  return [...groups.values()]
    .map((lists): DriftGroup => ({
      property: lists[0]?.[0]?.property ?? '',
      pages: lists.map((list) => list[0]?.page ?? ''),
      discrepancies: lists.flat(),
      seen: new Map((lists[0] ?? []).map(({ viewport, seen }) => [viewport, seen])),
    }))
    .sort((a, b) => b.pages.length - a.pages.length || rankOf(a.property) - rankOf(b.property))
}

/** Causes before their consequences: what decides widths before what is as wide, those before heights. */
const rankOf = (property: string): number => {
  const order = [
    'page.presence',
    '.presence',
    '.use',
    '.position',
    '.side',
    'width.container',
    'width.',
    '.links',
    '.words',
    'spacing.',
    'body.',
  ]
  const index = order.findIndex((part) => property.includes(part))
  return index < 0 ? order.length : index
}
