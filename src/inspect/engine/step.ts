import { isEqual as equal } from 'es-toolkit'
import { facetRecord } from '../../measure/facet-record.js'
import type { PageMeasure } from '../../measure/page-measure.js'
import { PatchError } from '../../model/edited-document.js'
import { isSameRecord, listsBy } from '../../model/lists.js'
import type { Patch } from '../../model/patch.js'
import { SiteError } from '../../model/problem.js'
import { ValueError } from '../../model/unknown-name.js'
import type { ResolvedSite } from '../../resolve/resolve-site.js'
import type { Allowances, Usage } from '../allowances.js'
import type { RuleFact } from '../rule-fact.js'
import type { Rule, SiteRule } from '../rule.js'
import type { Look, Mark } from '../seen.js'
import { Looker, type Glance, type PageMeasures } from '../look.js'
import { changedReads, type ReadKey } from './reads.js'
import { positionIn } from '../positions.js'
import { addReaders, judge, type Judged, SiteFacts } from './site-facts.js'
import { changedKeys, withMarks, type Marks } from './tally.js'

/** Facts that a change removes, and those that it adds. */
export interface FactsDelta {
  readonly gone: readonly RuleFact[]
  readonly came: readonly RuleFact[]
}

/** Called for each page that was looked at, with its measures as far as they are known. */
export type OnLook = (page: string, before: PageMeasures | undefined, after: PageMeasures | undefined) => void

/** Number of looked-at pages whose measures a step keeps. */
const MOST_MEASURED = 1000

/** What a change does to the facts of a site. Affected pages are looked at once, when they are asked for. */
export class Step {
  readonly base: SiteFacts
  readonly after: ResolvedSite
  /** Pages to look at again, removed ones included; in no order. */
  readonly affected: ReadonlySet<string>
  readonly #allowances: Allowances
  readonly #looker: Looker
  readonly #changed: ReadonlySet<ReadKey>
  readonly #glances = new Map<string, Glance>()
  readonly #isReordered: boolean
  #judged: ReadonlyMap<SiteRule, Judgment> | undefined
  #facts: SiteFacts | undefined
  #delta: FactsDelta | undefined

  /**
   * @param after - A state that changes have made out of the one that is known.
   * @throws {ValueError} Where `after` was made out of another site.
   */
  constructor(base: SiteFacts, after: ResolvedSite) {
    this.base = base
    this.after = after
    this.#looker = new Looker(after, base.rules, base.now)
    const [a, b] = [base.resolved.site, after.site]
    const { edited, reach } = changesSince(base.resolved, after)
    this.#changed = changedReads(a, b, edited)
    this.#allowances = base.allowances.after(after, edited)
    const affected = new Set(reach === 'all' ? [...a.pageIds, ...b.pageIds] : reach)
    for (const id of edited) if (a.pageData(id) !== b.pageData(id)) affected.add(id)
    for (const key of this.#changed) for (const id of base.parts.readers.get(key) ?? []) affected.add(id)
    for (const id of affected) if (!a.pageData(id) && !b.pageData(id)) affected.delete(id)
    this.affected = affected
    this.#isReordered = isReordered(a.pageIds, b.pageIds)
  }

  /** A page after the change; `undefined` if it was removed. */
  glance(id: string): Glance | undefined {
    if (!this.after.site.pageData(id)) return undefined
    let glance = this.#glances.get(id)
    if (!glance) {
      glance = this.#looker.glance(id)
      this.#glances.set(id, glance)
    }
    return glance
  }

  /** What rules report of a page after the change; `undefined` if it was removed. */
  look(id: string): Look | undefined {
    const glance = this.glance(id)
    const look = glance?.look
    if (this.#glances.size > MOST_MEASURED) glance?.release()
    return look
  }

  /** Looks at all affected pages; yields their number so far. */
  *looking(onLook?: OnLook): Generator<number> {
    const { resolved } = this.base
    let done = 0
    for (const id of this.affected) {
      const isMeasured = onLook && resolved.site.pageData(id) && !resolved.page(id).dormant
      const before = isMeasured ? this.base.measuresOf(id) : undefined
      const after = this.glance(id)?.sight.measures
      onLook?.(id, before, after)
      this.look(id)
      yield ++done
    }
  }

  /** The change to the facts of one page, without allowed ones. */
  ofPage(id: string): FactsDelta {
    return {
      gone: this.base.allowances.pass(this.base.look(id)?.facts ?? []),
      came: this.#allowances.pass(this.look(id)?.facts ?? []),
    }
  }

  /** The facts of one rule on a page after the change, without allowed ones; none if the page was removed. */
  ofRuleOnPage(rule: Rule, id: string): readonly RuleFact[] {
    return this.#allowances.pass(this.glance(id)?.ofRule(rule).facts ?? [])
  }

  /** The change to all facts, without allowed ones. */
  get delta(): FactsDelta {
    return (this.#delta ??= this.#wholeDelta())
  }

  #wholeDelta(): FactsDelta {
    const { base } = this
    const [before, after] = [base.allowances, this.#allowances]
    // Changed entries of `allow` can affect facts that did not change.
    if (!after.isLike(before) || (!before.isEmpty && this.#areSelectedOtherwise())) {
      const [old, now] = [new Set(base.all), new Set(this.facts().all)]
      return { gone: base.all.filter((fact) => !now.has(fact)), came: [...now].filter((fact) => !old.has(fact)) }
    }
    const [gone, came]: [RuleFact[], RuleFact[]] = [[], []]
    for (const id of this.affected) {
      for (const fact of base.look(id)?.facts ?? []) gone.push(fact)
      for (const fact of this.look(id)?.facts ?? []) came.push(fact)
    }
    for (const [rule, judged] of this.#judgeAll()) {
      const delta = deltaOf(base.parts.judged.get(rule) as Judged, judged)
      for (const fact of delta.gone) gone.push(fact)
      for (const fact of delta.came) came.push(fact)
    }
    if (before.isEmpty) return { gone, came }
    const usage: Usage = new Map(base.usage)
    const passed = { gone: before.pass(gone, usage, -1), came: after.pass(came, usage) }
    return {
      gone: [...passed.gone, ...base.unusedFacts(base.usage)],
      came: [...passed.came, ...base.unusedFacts(usage)],
    }
  }

  /** Whether selectors may match other pages than before. */
  #areSelectedOtherwise(): boolean {
    return [...this.affected].some((id) => {
      const [old, now] = [this.base.look(id)?.core, this.look(id)?.core]
      return old && now && (old.template?.id !== now.template?.id || !old.facts.isLike(now.facts))
    })
  }

  #judgeAll(): ReadonlyMap<SiteRule, Judgment> {
    if (!this.#judged) {
      const touched = new Map<SiteRule, Touched>()
      for (const id of this.affected) {
        const now = this.look(id)
        for (const [rule, keys] of changedKeys(this.base.look(id), now)) {
          let each = touched.get(rule)
          if (!each) touched.set(rule, (each = { keys: new Set(), pages: new Set(), came: [] }))
          for (const key of keys) each.keys.add(key)
          each.pages.add(id)
          for (const mark of now?.marks ?? []) if (mark.rule === rule) each.came.push(mark)
        }
      }
      const { judged } = this.base.parts
      this.#judged = new Map([...judged].map(([rule, known]) => [rule, this.#judge(rule, known, touched.get(rule))]))
    }
    return this.#judged
  }

  /** Judges a rule again under each key whose marks changed or whose judgment read something that changed. */
  #judge(rule: SiteRule, known: Judged, touched: Touched = UNTOUCHED): Judgment {
    const { base, after } = this
    const { pages, came } = touched
    const keys = new Set(touched.keys)
    const readers = base.parts.judgedReaders.get(rule)
    if (this.#isReordered) for (const key of known.marks.keys) keys.add(key)
    const marks = new Map<string, Marks | undefined>()
    const position = positionIn(after)
    const byKey = listsBy(came, ({ key }) => key)
    for (const key of keys) {
      const fresh = byKey.get(key) ?? []
      const now = withMarks(known.marks.get(key) ?? [], pages, fresh, position)
      marks.set(key, now.length > 0 ? now : undefined)
    }
    for (const read of this.#changed) for (const key of readers?.get(read) ?? []) keys.add(key)
    if (keys.size === 0) return { keys, judged: known }
    const allMarks = known.marks.with(marks)
    const facts = new Map<string, readonly RuleFact[] | undefined>()
    for (const key of keys) {
      const list = allMarks.get(key) ?? []
      const isJudged = list.length > 0 || rule.keys?.includes(key)
      const found = isJudged ? judge(this.#looker, rule, base.now, key, list, readers) : []
      facts.set(key, found.length > 0 ? found : undefined)
    }
    return { keys, judged: { marks: allMarks, facts: known.facts.with(facts) } }
  }

  /** The facts of the site after the change. */
  facts(): SiteFacts {
    return (this.#facts ??= this.#arrive())
  }

  #arrive(): SiteFacts {
    const { base, affected } = this
    const { readers, judgedReaders } = base.parts
    const looks = new Map([...affected].map((id) => [id, this.look(id)]))
    for (const [id, look] of looks) if (look) addReaders(readers, look.reads, id)
    const judged = new Map([...this.#judgeAll()].map(([rule, judgment]) => [rule, judgment.judged]))
    const parts = { looks: base.parts.looks.with(looks), judged, readers, judgedReaders }
    return new SiteFacts(this.after, base, parts, this.#allowances)
  }
}

/** The changed marks of a rule: their keys, their pages, and all marks of these pages after the change. */
interface Touched {
  readonly keys: Set<string>
  readonly pages: Set<string>
  readonly came: Mark[]
}

const UNTOUCHED: Touched = { keys: new Set(), pages: new Set(), came: [] }

/** The marks and facts of a rule after a step, and the keys that were judged again. */
interface Judgment {
  readonly keys: ReadonlySet<string>
  readonly judged: Judged
}

/** The facts before and after under the keys that were judged again. */
function deltaOf(before: Judged, { keys, judged }: Judgment): FactsDelta {
  const factsOf = ({ facts }: Judged): readonly RuleFact[] => [...keys].flatMap((key) => facts.get(key) ?? [])
  return { gone: factsOf(before), came: factsOf(judged) }
}

/** Whether the pages in both states are in a different order. */
function isReordered(before: readonly string[], after: readonly string[]): boolean {
  if (before === after) return false
  const [old, now] = [new Set(before), new Set(after)]
  const stayed = after.filter((id) => old.has(id))
  return before.filter((id) => now.has(id)).some((id, n) => id !== stayed[n])
}

/** Everything that changed between two states. @throws {ValueError} If the later one was not made from the earlier. */
function changesSince(before: ResolvedSite, after: ResolvedSite) {
  const edited = new Set<string>()
  const reached = new Set<string>()
  let isAll = false
  for (let here = after; here !== before;) {
    const { change } = here
    if (!change) throw new ValueError('expected a site that was made from the other by changes')
    for (const id of change.edited) edited.add(id)
    if (change.reach === 'all') isAll = true
    else for (const id of change.reach) reached.add(id)
    here = change.before
  }
  return { edited, reach: isAll ? ('all' as const) : reached }
}

/** Applies a patch in memory; `undefined` if it is empty or the result is not a valid site. */
export function tryPatch(resolved: ResolvedSite, patch: Patch): ResolvedSite | undefined {
  if (patch.length === 0) return undefined
  try {
    return resolved.with(patch)
  } catch (error) {
    if (error instanceof SiteError || error instanceof PatchError) return undefined
    throw error
  }
}

/**
 * The pages that look different after a step at any viewport, in the order of the site; without the pages in `but` and new
 * pages.
 */
export function changedPages(step: Step, but: readonly string[] = []): readonly string[] {
  const { resolved } = step.base
  const named = new Set(but)
  const changed = new Set(
    [...step.affected].filter((id) => !named.has(id) && resolved.site.pageData(id) && isChanged(step, id)),
  )
  return changed.size === 0 ? [] : resolved.pageIds.filter((id) => changed.has(id))
}

/** Whether a page has other boxes or facets after a step. */
export function isChanged(step: Step, id: string): boolean {
  const sight = step.glance(id)?.sight
  if (!sight) return true
  const [old, now] = [step.base.resolved.page(id), sight.page]
  if (old.dormant || now.dormant) return old.dormant !== now.dormant
  const before = [...step.base.measuresOf(id).values()]
  const after = sight.sights.map(({ measure }) => measure)
  if (before.length !== after.length) return true
  if (before.some((measure, n) => hasOtherBoxes(measure, after[n] as PageMeasure))) return true
  return !isSameRecord(facetRecord(old, before), facetRecord(now, after), (a, b) =>
    isSameRecord(a as Facets, b as Facets, equal),
  )
}

type Facets = Readonly<Record<string, unknown>>

function hasOtherBoxes({ boxes, viewport }: PageMeasure, now: PageMeasure): boolean {
  if (viewport.name !== now.viewport.name || boxes.length !== now.boxes.length) return true
  return boxes.some((box, n) => {
    const other = now.boxes[n] as (typeof boxes)[number]
    if (box === other) return false
    const { id, x, y, width, height } = other
    return box.id !== id || box.x !== x || box.y !== y || box.width !== width || box.height !== height
  })
}
