import { diffFacets } from '../change/diff.js'
import { tryPatch } from '../inspect/try-patch.js'
import { listsBy } from '../model/lists.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { candidates } from './candidates.js'
import type { Cause, DriftGroup } from './cause.js'
import { followersOf, type Comparer, type Discrepancy } from './compare.js'
import { isOfOneBox } from './layer-candidates.js'

/** Discrepancies that one change explains; without a cause, those of one property that none was found for. */
export interface Explanation {
  readonly cause: Cause | undefined
  /** The first of them is what the cause was looked for. */
  readonly discrepancies: readonly Discrepancy[]
}

/** How often a cause is looked for: past that, what is left is listed without one. */
const MOST_ROUNDS = 60
/** Something else that a change would break counts twice what it explains. */
const PRICE_OF_NEW = 2
/** Of two that explain as much, the one with fewer operations. */
const PRICE_OF_OPERATION = 0.01

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
    const open = left.filter((d) => !hopeless.has(keyOf(d)))
    const [group] = groupsOf(open)
    if (!group) break
    const best = bestOf(now, comparer, left, group)
    if (!best) {
      for (const d of group.discrepancies) hopeless.add(keyOf(d))
      out.push({ cause: undefined, discrepancies: group.discrepancies })
      continue
    }
    const isOfGroup = (d: Discrepancy): boolean => d.property === group.property
    const explained = [...best.gone.filter(isOfGroup), ...best.gone.filter((d) => !isOfGroup(d))]
    out.push({ cause: best.cause, discrepancies: explained })
    for (const d of best.followers) hopeless.add(keyOf(d))
    now = best.after
    left = best.left
  }
  const rest = left.filter((d) => !hopeless.has(keyOf(d)))
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
      new Set(discrepancies.flatMap((d) => (MAKES[d.property] ?? []).map((property) => keyOf({ ...d, property })))),
  )
  return all.filter(
    ({ discrepancies }, n) =>
      !discrepancies.every((d) => made.some((keys, other) => other !== n && keys.has(keyOf(d)))),
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
    const others = new Set(all.filter((other) => !group.has(other)).flatMap((e) => e.discrepancies.map(keyOf)))
    const discrepancies = found
      .filter((d) => !d.isEstimate && pages.has(d.page) && isOfOneBox(d.property) && !others.has(keyOf(d)))
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

const valueKeyOf = (d: Discrepancy): string => `${keyOf(d)} ${JSON.stringify(d.expected)}`

const keyOf = ({ page, viewport, property }: Discrepancy): string => `${page} ${viewport} ${property}`

/** Pages on which the same is seen of a property; the most pages first. */
function groupsOf(discrepancies: readonly Discrepancy[]): readonly DriftGroup[] {
  const byPage = new Map<string, Discrepancy[]>()
  for (const d of discrepancies) {
    const key = `${d.property} ${d.page}`
    byPage.set(key, [...(byPage.get(key) ?? []), d])
  }
  const groups = new Map<string, Discrepancy[][]>()
  for (const list of byPage.values()) {
    const key = JSON.stringify([list[0]?.property, list.map(({ viewport, seen }) => [viewport, seen])])
    groups.set(key, [...(groups.get(key) ?? []), list])
  }
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

/** What a change comes to on pages. */
interface Difference {
  /** What it explains. */
  readonly gone: readonly Discrepancy[]
  readonly left: readonly Discrepancy[]
  /** What of that appeared and merely follows from what it explains. */
  readonly followers: readonly Discrepancy[]
  /** How much else appeared. */
  readonly fresh: number
}

interface Tried extends Difference {
  readonly cause: Cause
  readonly after: ResolvedSite
  readonly score: number
}

function bestOf(
  now: ResolvedSite,
  comparer: Comparer,
  before: readonly Discrepancy[],
  group: DriftGroup,
): Tried | undefined {
  const looked = new Looked(comparer, before, group.pages)
  const [sample = ''] = group.pages
  const isOfGroup = (d: Discrepancy): boolean => d.property === group.property
  const onSample = looked.on(sample).filter(isOfGroup).length
  let best: Tried | undefined
  const seenPatches = new Set<string>()
  for (const cause of candidates(now, comparer, group, before)) {
    const text = JSON.stringify(cause.patch)
    if (cause.patch.length === 0 || seenPatches.has(text)) continue
    seenPatches.add(text)
    const after = tryPatch(now, cause.patch)
    if (!after) continue
    // Most candidates do nothing for the first page, and need not be checked against all others.
    if (comparer.compare(after, [sample]).filter(isOfGroup).length >= onSample) continue
    const found = looked.with(after, cause, best?.score)
    if (!found?.gone.some(isOfGroup)) continue
    const tried: Tried = { cause, after, ...found, score: scoreOf(cause, found.gone.length, found.fresh) }
    // Of two that explain as much, the one that reaches fewer pages claims less of those that were not looked at.
    if (!best || tried.score > best.score || reachOf(now, tried) < reachOf(now, best)) best = tried
  }
  return best && { ...best, ...looked.everywhere(best) }
}

/** What a change that explains so much is worth, where something else appears with it. */
const scoreOf = ({ patch }: Cause, gone: number, fresh: number): number =>
  gone - PRICE_OF_NEW * fresh - PRICE_OF_OPERATION * patch.length

/** What differed before a change, and the pages that it is looked at on. */
class Looked {
  readonly #comparer: Comparer
  readonly #before: readonly Discrepancy[]
  readonly #byPage: ReadonlyMap<string, readonly Discrepancy[]>
  readonly #known: ReadonlySet<string>
  readonly #pages: readonly string[]
  readonly #asked: readonly Discrepancy[]

  /** @param first - The pages that a cause is looked for. */
  constructor(comparer: Comparer, before: readonly Discrepancy[], first: readonly string[]) {
    this.#comparer = comparer
    this.#before = before
    this.#byPage = listsBy(before, ({ page }) => page)
    this.#known = new Set(before.map(keyOf))
    this.#pages = somePages(comparer.pages, first)
    const isLooked = new Set(this.#pages)
    this.#asked = before.filter(({ page }) => isLooked.has(page))
  }

  on(page: string): readonly Discrepancy[] {
    return this.#byPage.get(page) ?? []
  }

  /**
   * What a change comes to on these pages; `undefined` from the first page on after which it can come to nothing, or to
   * less than the best so far: what differs on a page, and what follows from it, is that page's own matter.
   */
  with(after: ResolvedSite, cause: Cause, least = 0): Difference | undefined {
    let [gone, fresh] = [this.#asked.length, 0]
    for (const page of this.#pages) {
      const before = this.on(page)
      const found = this.#difference(before, this.#comparer.compare(after, [page]))
      gone -= before.length - found.gone.length
      fresh += found.fresh
      const most = scoreOf(cause, gone, fresh)
      if (most <= 0 || most < least) return undefined
    }
    return this.#difference(this.#asked, this.#comparer.compare(after, this.#pages))
  }

  /** What the change that was tried comes to on all pages. */
  everywhere(tried: Tried): Difference {
    const isAll = this.#pages.length === this.#comparer.pages.length
    return isAll ? tried : this.#difference(this.#before, this.#comparer.compare(tried.after))
  }

  #difference(before: readonly Discrepancy[], after: readonly Discrepancy[]): Difference {
    const left = after.filter(({ isEstimate }) => !isEstimate)
    const still = new Set(left.map(keyOf))
    const gone = before.filter((d) => !still.has(keyOf(d)))
    const follows = new Set(
      gone.flatMap(({ page, property }) => followersOf(property).map((each) => `${page} ${each}`)),
    )
    const appeared = left.filter((d) => !this.#known.has(keyOf(d)))
    const followers = appeared.filter((d) => follows.has(`${d.page} ${d.property}`))
    return { gone, left, followers, fresh: appeared.length - followers.length }
  }
}

/** How many pages a change gives other facets. */
const reachOf = (now: ResolvedSite, { after }: Tried): number =>
  diffFacets(now, after).reduce((sum, { pages }) => sum + pages.length, 0)

/** Past so many pages a candidate is checked against some of them, and the best of all against every one. */
const MOST_LOOKED_AT = 300

/** The first pages of a group, and others evenly from all. */
function somePages(all: readonly string[], group: readonly string[]): readonly string[] {
  if (all.length <= MOST_LOOKED_AT) return all
  const step = (2 * all.length) / MOST_LOOKED_AT
  return [...new Set([...group.slice(0, MOST_LOOKED_AT / 2), ...all.filter((_, n) => Math.floor(n % step) === 0)])]
}
