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

/** Is told of each page that was looked at, with its measures as far as they are known. */
export type OnLook = (page: string, before: PageMeasures | undefined, after: PageMeasures | undefined) => void

/** Of so many pages that were looked at in a step the measures are kept. */
const MOST_MEASURED = 1000

/** What a change does to what rules see; each page that it affects is looked at when it is asked for, and once. */
export class Step {
  readonly base: SiteFacts
  readonly after: ResolvedSite
  /** Pages to look at again, in no order; those that are gone included. */
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

  /** A page as it is after the change; `undefined` where it is gone. */
  glance(id: string): Glance | undefined {
    if (!this.after.site.pageData(id)) return undefined
    let glance = this.#glances.get(id)
    if (!glance) {
      glance = this.#looker.glance(id)
      this.#glances.set(id, glance)
    }
    return glance
  }

  /** What is seen of a page after the change; `undefined` where it is gone. */
  look(id: string): Look | undefined {
    const glance = this.glance(id)
    const look = glance?.look
    if (this.#glances.size > MOST_MEASURED) glance?.release()
    return look
  }

  /** Looks at all pages that it affects, one after the other; yields their number so far. */
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

  /** What the change does to the facts of one page, less what is allowed. */
  ofPage(id: string): FactsDelta {
    return {
      gone: this.base.allowances.pass(this.base.look(id)?.facts ?? []),
      came: this.#allowances.pass(this.look(id)?.facts ?? []),
    }
  }

  /** What one rule sees of a page after the change, less what is allowed; nothing of a page that is gone. */
  ofRuleOnPage(rule: Rule, id: string): readonly RuleFact[] {
    return this.#allowances.pass(this.glance(id)?.ofRule(rule).facts ?? [])
  }

  /** All that it does to what rules see, less what is allowed. */
  get delta(): FactsDelta {
    return (this.#delta ??= this.#wholeDelta())
  }

  #wholeDelta(): FactsDelta {
    const { base } = this
    const [before, after] = [base.allowances, this.#allowances]
    // Where other entries of `allow` hold, they may let pass what did not change.
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

  /** Whether selectors mean another choice of the pages that stay. */
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

  /** Judges a rule again under each key of which a page has other marks, or whose judgment read something that changed. */
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

  /** What is known of the site after the change. */
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

/** What pages change of the marks of a rule: under which keys, and all marks that they have then. */
interface Touched {
  readonly keys: Set<string>
  readonly pages: Set<string>
  readonly came: Mark[]
}

const UNTOUCHED: Touched = { keys: new Set(), pages: new Set(), came: [] }

/** What is known of a rule after a step, and the keys that were judged again. */
interface Judgment {
  readonly keys: ReadonlySet<string>
  readonly judged: Judged
}

/** What is seen under the keys that were judged again. */
function deltaOf(before: Judged, { keys, judged }: Judgment): FactsDelta {
  const factsOf = ({ facts }: Judged): readonly RuleFact[] => [...keys].flatMap((key) => facts.get(key) ?? [])
  return { gone: factsOf(before), came: factsOf(judged) }
}

/** Whether pages that stay follow each other in another order. */
function isReordered(before: readonly string[], after: readonly string[]): boolean {
  if (before === after) return false
  const [old, now] = [new Set(before), new Set(after)]
  const stayed = after.filter((id) => old.has(id))
  return before.filter((id) => now.has(id)).some((id, n) => id !== stayed[n])
}

/** All that changed from one state to a later one. @throws {ValueError} Where the later one was not made out of it. */
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

/** The site with a patch applied in memory; `undefined` where that is no site, or nothing is changed. */
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
 * The pages of which a visitor gets something else after a step, at any viewport, in the order of the site; some of them,
 * and those that it brings, are not asked.
 */
export function changedPages(step: Step, but: readonly string[] = []): readonly string[] {
  const { resolved } = step.base
  const named = new Set(but)
  const changed = new Set(
    [...step.affected].filter((id) => !named.has(id) && resolved.site.pageData(id) && isChanged(step, id)),
  )
  return changed.size === 0 ? [] : resolved.pageIds.filter((id) => changed.has(id))
}

/** Whether a visitor gets something else of a page that was there before a step: other boxes or other facets. */
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
    isSameRecord(a as Facets, b as Facets, (x, y) => x === y || equal(x, y)),
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
