import { LayeredMap } from '../model/layered-map.js'
import { addToList, listsBy } from '../model/lists.js'
import type { Renumbering } from '../resolve/renumbered.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { Allowances, rulesAllowedAnew, type Usage } from './allowances.js'
import { mergedInOrder, renamedFact, renamedLook, renamedMap, unlike } from './fact-changes.js'
import { factsByKey, keyOf } from './groups.js'
import { HeldTally } from './held-tally.js'
import { factsIn, judge, type Judged } from './judged.js'
import { Looker, type Glance } from './look.js'
import { Measures, MOST_MEASURED } from './measures.js'
import { changedReads, type ReadKey } from './reads.js'
import type { PageRule, Rule, SiteRule, ViewRule } from './rule.js'
import type { RuleFact } from './rule-fact.js'
import type { Look, Mark } from './seen.js'
import { SiteFacts, type KnownParts } from './site-facts.js'
import { changesSince, positionIn } from './site-states.js'

/** Facts that a change removes, and those that it adds. */
export interface FactsDelta {
  readonly gone: readonly RuleFact[]
  readonly came: readonly RuleFact[]
}

/** What a step changes of what is known of a rule about the whole site. */
interface JudgedChange {
  readonly tallies: ReadonlyMap<string, HeldTally>
  readonly facts: ReadonlyMap<string, readonly RuleFact[] | undefined>
}

/** What a step makes of one rule about the whole site. */
interface Ruling {
  readonly change: JudgedChange
  readonly delta: FactsDelta
}

/** Is told of each page that was looked at, with its measures as far as they are known. */
export type OnLook = (page: string, measures: BeforeAndAfter<Glance['measures']>) => void

interface BeforeAndAfter<T> {
  readonly before: T
  readonly after: T
}

/** What a change does to what rules see; each page that it affects is looked at when it is asked for, and once. */
export class Step {
  readonly base: SiteFacts
  readonly after: ResolvedSite
  /** Pages to look at again, in no order; those that are gone included. */
  readonly affected: ReadonlySet<string>
  readonly allowances: Allowances
  readonly #parts: KnownParts
  readonly #looker: Looker
  readonly #changed: ReadonlySet<ReadKey>
  readonly #renumbering: Renumbering
  /** Whether nothing of the site changes but what surrounds print. */
  readonly #isAboutSurrounds: boolean
  readonly #glances = new Map<string, Glance>()
  readonly #known: ReadonlyMap<string, Look>
  readonly #rulings = new Map<SiteRule, Ruling>()
  #judged: { readonly changes: ReadonlyMap<SiteRule, JudgedChange>; readonly delta: FactsDelta } | undefined

  /**
   * @param after - A state that a change has made out of the one that is known.
   * @param isTrial - Whether no step will be made from there.
   * @param known - What is seen of pages after steps that do the same to each of them (`lookApart`).
   */
  constructor(base: SiteFacts, after: ResolvedSite, isTrial = false, known: ReadonlyMap<string, Look> = new Map()) {
    const { parts } = base
    this.base = base
    this.after = after
    this.#parts = parts
    this.#looker = new Looker(after, base.rules, base.now, { before: base.measures, isTrial })
    const { edited, reach, renumbering } = changesSince(base.resolved, after)
    this.#renumbering = renumbering
    const [a, b] = [base.resolved.site, after.site]
    this.#changed = changedReads(a, b, edited)
    this.#isAboutSurrounds = renumbering.isEmpty && [...this.#changed].every((key) => key.startsWith('surrounds/'))
    const affected = new Set(reach === 'all' ? [...a.pageIds, ...b.pageIds] : reach)
    for (const id of edited) if (a.pageData(id) !== b.pageData(id)) affected.add(id)
    for (const key of this.#changed) for (const id of parts.readers.of(key)) affected.add(id)
    for (const id of affected) if (!a.pageData(id) && !b.pageData(id)) affected.delete(id)
    this.affected = affected
    this.#known = new Map([...known].filter(([, look]) => this.isApart(look)))
    this.allowances = new Allowances(after, allowingPages(parts.allowances, after, edited))
  }

  /** Looks at all pages that it affects, one after the other; yields their number so far. */
  *looking(onLook?: OnLook): Generator<number> {
    let done = 0
    for (const id of this.affected) {
      // First as it was: what stays of that need not be measured again, nor with the next change that is tried.
      const before = onLook && this.#measuresBefore(id)
      const glance = this.glance(id)
      if (glance) {
        void glance.look
        onLook?.(id, { before, after: glance.measures })
        if (done >= MOST_MEASURED) glance.letGo()
      }
      yield ++done
    }
  }

  #measuresBefore(id: string): Glance['measures'] {
    const { resolved, measures } = this.base
    return resolved.site.pageData(id) && !resolved.page(id).dormant ? measures.of(id) : undefined
  }

  /** A page as it is after the change; `undefined` where it is gone. */
  glance(id: string): Glance | undefined {
    if (!this.after.site.pageData(id)) return undefined
    let glance = this.#glances.get(id)
    if (!glance) {
      const before = this.#isAboutSurrounds ? this.base.look(id) : undefined
      this.#glances.set(id, (glance = this.#looker.glance(id, before)))
    }
    return glance
  }

  /** A look at a page that rests on nothing the step changes elsewhere: it is the same after a step for that page alone. */
  lookApart(id: string): Look | undefined {
    const known = this.#known.get(id)
    if (known) return known
    const glance = this.#renumbering.isEmpty ? this.#glances.get(id) : undefined
    return glance && this.isApart(glance) && this.isApart(glance.look) ? glance.look : undefined
  }

  /** Whether what was seen of a page up to now rests on nothing that the step changes elsewhere. */
  isApart({ reads }: { readonly reads: ReadonlySet<ReadKey> }): boolean {
    for (const key of reads) if (this.#changed.has(key)) return false
    return true
  }

  /** What one rule sees of a page; viewport by viewport, for who may know enough before the last. */
  factsInTurn(id: string, rule: ViewRule | PageRule): Iterable<readonly RuleFact[]> {
    const known = this.#known.get(id)
    if (known) return [known.facts.filter((fact) => fact.rule === rule)]
    return this.glance(id)?.factsInTurn(rule) ?? []
  }

  #look(id: string): Look | undefined {
    return this.#known.get(id) ?? this.glance(id)?.look
  }

  /** What the change does to the facts of one page, less what is allowed. */
  ofPage(id: string): FactsDelta {
    const delta = { gone: this.base.look(id)?.facts ?? [], came: this.#look(id)?.facts ?? [] }
    return this.#passed(this.#isAboutSurrounds ? withoutCommon(delta) : delta)
  }

  /** What it does to all that one rule about the site sees, which is asked alone about its pages; less what is allowed. */
  ofRule(rule: SiteRule): FactsDelta {
    const delta = { gone: [] as RuleFact[], came: [] as RuleFact[] }
    const [gone, came]: [Mark[], Mark[]] = [[], []]
    const isMine = (each: { readonly rule: Rule }): boolean => each.rule === rule
    for (const id of this.affected) {
      const look = this.base.look(id)
      const glance = this.glance(id)
      const now = glance?.ofSite(rule)
      const [old, fresh] = unlike(
        look && { core: look.core, marks: look.marks.filter(isMine) },
        glance && now && { core: glance.sight.page.core, marks: now.marks },
        this.#renumbering,
      )
      gone.push(...old)
      came.push(...fresh)
      delta.gone.push(...(look?.facts.filter(isMine) ?? []))
      delta.came.push(...(now?.facts ?? []))
    }
    const known = this.#parts.judged.get(rule)
    const ruling = known && this.#ruling(rule, known, gone, came)
    for (const fact of ruling?.delta.gone ?? []) delta.gone.push(fact)
    for (const fact of ruling?.delta.came ?? []) delta.came.push(fact)
    return this.#passed(delta)
  }

  /** What it does to the facts about the site, less what is allowed. */
  get ofSite(): FactsDelta {
    const { base, allowances } = this
    const { delta } = this.#judge()
    if (base.allowances.isEmpty && allowances.isEmpty) return delta
    const usage: Usage = new Map(base.usage)
    for (const id of this.affected) {
      base.allowances.pass(base.look(id)?.facts ?? [], usage, -1)
      allowances.pass(this.#look(id)?.facts ?? [], usage)
    }
    const stays = this.#judgedByOthers(delta)
    const gone = base.allowances.pass([...delta.gone, ...stays], usage, -1)
    const came = allowances.pass([...delta.came, ...stays], usage)
    return {
      gone: [...gone, ...base.unusedFacts(base.allowances, base.usage)],
      came: [...came, ...base.unusedFacts(allowances, usage)],
    }
  }

  #passed({ gone, came }: FactsDelta): FactsDelta {
    return { gone: this.base.allowances.pass(gone), came: this.allowances.pass(came) }
  }

  /** Facts that stay as they are, and that other entries of `allow` may let pass than before. */
  #judgedByOthers(delta: FactsDelta): readonly RuleFact[] {
    const rules = rulesAllowedAnew(this.base.allowances, this.allowances)
    const regated = [...this.affected].filter((id) => this.base.look(id)?.core !== this.#look(id)?.core)
    if (rules.size + regated.length === 0) return []
    const pages = new Set(regated)
    const redone = new Set(delta.gone)
    for (const id of this.affected) for (const fact of this.base.look(id)?.facts ?? []) redone.add(fact)
    const isOther = ({ rule, cases }: RuleFact): boolean =>
      rules.has(rule.id) || cases.some(({ page }) => pages.has(page))
    // What is seen of other pages by themselves is other only where the entries of its rule are.
    const facts = rules.size > 0 ? this.base.everyFact() : this.base.judgedFacts()
    return [...facts].filter((fact) => !redone.has(fact) && isOther(fact))
  }

  #judge() {
    return (this.#judged ??= this.#judgeAgain())
  }

  #judgeAgain() {
    const gone = new Map<SiteRule, Mark[]>()
    const came = new Map<SiteRule, Mark[]>()
    for (const id of this.affected) {
      const [old, now] = unlike(this.base.look(id), this.#look(id), this.#renumbering)
      for (const mark of old) addToList(gone, mark.rule, mark)
      for (const mark of now) addToList(came, mark.rule, mark)
    }
    const changes = new Map<SiteRule, JudgedChange>()
    const delta = { gone: [] as RuleFact[], came: [] as RuleFact[] }
    for (const [rule, known] of this.#parts.judged) {
      const ruling = this.#ruling(rule, known, gone.get(rule) ?? [], came.get(rule) ?? [])
      changes.set(rule, ruling.change)
      for (const fact of ruling.delta.gone) delta.gone.push(fact)
      for (const fact of ruling.delta.came) delta.came.push(fact)
    }
    return { changes, delta }
  }

  /** A rule is asked once, whether by itself or with all others. */
  #ruling(rule: SiteRule, known: Judged, gone: readonly Mark[], came: readonly Mark[]): Ruling {
    let ruling = this.#rulings.get(rule)
    if (!ruling) this.#rulings.set(rule, (ruling = this.#judgeRule(rule, known, gone, came)))
    return ruling
  }

  /** Everything is compared by the new numbers of list entries; what is known goes by the old ones. */
  #judgeRule(rule: SiteRule, known: Judged, gone: readonly Mark[], came: readonly Mark[]): Ruling {
    const readers = this.#parts.judgments.get(rule)
    const readAnew: string[] = []
    if (readers) for (const read of this.#changed) for (const key of readers.get(read) ?? []) readAnew.push(key)
    if (gone.length + came.length + readAnew.length === 0) return UNCHANGED
    const delta = { gone: [] as RuleFact[], came: [] as RuleFact[] }
    const renamed = this.#renumbering
    const before = renamed.inverse
    const [old, now] = [listsBy(gone, keyOfMark), listsBy(came, keyOfMark)]
    const tallies = new Map<string, HeldTally>()
    const tallyOf = (key: string): HeldTally =>
      tallies.get(key) ?? (known.tallies.get(before.text(key)) ?? HeldTally.empty).renamed(renamed)
    for (const key of new Set([...old.keys(), ...now.keys()]))
      tallies.set(key, tallyOf(key).with(old.get(key) ?? [], now.get(key) ?? []))
    const facts = new Map<string, readonly RuleFact[] | undefined>()
    for (const key of new Set([...tallies.keys(), ...readAnew.map((each) => renamed.text(each))])) {
      const past = known.facts.get(before.text(key)) ?? []
      const tally = tallyOf(key)
      const isJudged = !tally.isEmpty || rule.keys?.includes(key)
      const found = isJudged ? judge(this.#looker, rule, this.base.now, key, tally, readers) : []
      if (past.length + found.length === 0) continue
      const [was, is] = [new Set(past), new Set(found)]
      for (const fact of past) if (!is.has(fact)) delta.gone.push(fact)
      for (const fact of found) if (!was.has(fact)) delta.came.push(fact)
      facts.set(key, found.length > 0 ? found : undefined)
    }
    return { change: { tallies, facts }, delta }
  }

  #facts: SiteFacts | undefined

  /** What is known of the site after the change. */
  facts(): SiteFacts {
    return (this.#facts ??= this.#arrive())
  }

  /** The looks at pages that stay as they are, by the new numbers of list entries. */
  #renamedLooks(): LayeredMap<Look> {
    const { looks } = this.#parts
    const renamed = this.#renumbering
    if (renamed.isEmpty) return looks
    const stays = looks.keys.filter((id) => !this.affected.has(id))
    return LayeredMap.of(
      new Map(stays.map((id) => [id, renamedLook(looks.get(id) as Look, renamed, this.after.page(id).core)])),
    )
  }

  /** All that goes and comes; `undefined` where facts are counted against `allow`, or named by other numbers. */
  #wholeDelta(): FactsDelta | undefined {
    const { base, allowances } = this
    if (!this.#renumbering.isEmpty || !base.allowances.isEmpty || !allowances.isEmpty) return undefined
    const { delta } = this.#judge()
    const ids = [...this.affected]
    return {
      gone: [...ids.flatMap((id) => base.look(id)?.facts ?? []), ...delta.gone],
      came: [...ids.flatMap((id) => this.glance(id)?.look.facts ?? []), ...delta.came],
    }
  }

  #arrive(): SiteFacts {
    const { readers, judgments } = this.#parts
    const changes = new Map<string, Look | undefined>()
    for (const id of this.affected) {
      const look = this.glance(id)?.look
      changes.set(id, look)
      if (look) readers.add(id, look)
    }
    const looks = this.#renamedLooks().with(changes)
    const renamed = this.#renumbering
    const judged = new Map(
      [...this.#judge().changes].map(([rule, change]): readonly [SiteRule, Judged] => {
        const known = this.#parts.judged.get(rule) as Judged
        const tallies = renamedMap(known.tallies, renamed, (tally) => tally.renamed(renamed))
        const facts = renamedMap(known.facts, renamed, (list) => list.map((fact) => renamedFact(fact, renamed)))
        return [rule, { tallies: tallies.with(withoutEmpty(change.tallies)), facts: facts.with(change.facts) }]
      }),
    )
    // Where entries of lists have other numbers, boxes have other pointers.
    const measures = renamed.isEmpty
      ? this.base.measures.after(this.after, this.affected, (id) => this.glance(id)?.measures)
      : new Measures(this.after)
    const parts = { looks, readers, judgments, judged, allowances: this.allowances, measures }
    const { knownByKey } = this.base
    const delta = knownByKey && this.#wholeDelta()
    const byKey = delta && changedByKey(knownByKey, delta, judged, positionIn(this.after))
    return new SiteFacts(this.after, this.base, parts, byKey)
  }
}

/** Without the facts that are on both sides. */
function withoutCommon({ gone, came }: FactsDelta): FactsDelta {
  const [was, is] = [new Set(gone), new Set(came)]
  return { gone: gone.filter((fact) => !is.has(fact)), came: came.filter((fact) => !was.has(fact)) }
}

const UNCHANGED: Ruling = { change: { tallies: new Map(), facts: new Map() }, delta: { gone: [], came: [] } }

const keyOfMark = ({ key }: Mark): string => key

const withoutEmpty = (tallies: ReadonlyMap<string, HeldTally>): Map<string, HeldTally | undefined> =>
  new Map([...tallies].map(([key, tally]) => [key, tally.isEmpty ? undefined : tally]))

/** The pages with entries of `allow` of their own. */
function allowingPages(before: Allowances, after: ResolvedSite, edited: Iterable<string>): ReadonlySet<string> {
  const changed = [...edited].filter((id) => before.pages.has(id) !== (after.site.pageData(id)?.allow !== undefined))
  if (changed.length === 0) return before.pages
  const pages = new Set(before.pages)
  for (const id of changed)
    if (after.site.pageData(id)?.allow) pages.add(id)
    else pages.delete(id)
  return pages
}

/** Facts by their keys after a change; those of a key in the order of their pages, what is judged last. */
function changedByKey(
  before: LayeredMap<readonly RuleFact[]>,
  { gone, came }: FactsDelta,
  judged: KnownParts['judged'],
  position: (page: string) => number,
): LayeredMap<readonly RuleFact[]> {
  const isGone = new Set(gone)
  const isOfPage = ({ page }: RuleFact): boolean => page !== undefined
  const placeOf = ({ page = '' }: RuleFact): number => position(page)
  const added = factsByKey(came)
  const changes = new Map<string, readonly RuleFact[] | undefined>()
  for (const key of new Set([...factsByKey(gone).keys(), ...added.keys()])) {
    const stays = (before.get(key) ?? []).filter((fact) => !isGone.has(fact))
    const came = added.get(key) ?? []
    const other = stays.find((fact) => !isOfPage(fact)) ?? came.find((fact) => !isOfPage(fact))
    const ofSite = other ? [...factsIn(judged.get(other.rule as SiteRule))].filter((fact) => keyOf(fact) === key) : []
    const ofPages = mergedInOrder(other ? stays.filter(isOfPage) : stays, came.filter(isOfPage), placeOf)
    const list = ofSite.length > 0 ? [...ofPages, ...ofSite] : ofPages
    changes.set(key, list.length > 0 ? list : undefined)
  }
  return before.with(changes)
}
