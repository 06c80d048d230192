import { fromPointer, toPointer, valueAt, type Json } from '../../model/json.js'
import type { Patch } from '../../model/patch.js'
import { JOINED_LISTS } from '../../model/sections.js'
import { toGroups, keyOf, ofPages } from '../groups.js'
import { repeatsOverride, undoesOnPurpose } from '../on-purpose.js'
import { pagesInWords } from '../propose.js'
import type { Fix, Group, Proposal, Refusal, Rule } from '../rule.js'
import { addCounts, keysOf, type Counts, type RuleFact } from '../rule-fact.js'
import type { Steps } from '../turns.js'
import type { SiteFacts } from './site-facts.js'
import { changedPages, Step, tryPatch } from './step.js'

/**
 * How many fixes to look for. `all`: every one. `first`: stop at the first certain one. `certain`: the same, and skip
 * choices and fixes that change other pages.
 */
export type HowMany = 'all' | 'first' | 'certain'

/** The proposals that were tried for a finding: fixes, and refused ones with the reason. */
export interface Tried {
  readonly fixes: readonly Fix[]
  readonly refused: readonly Refusal[]
}

/** The result of trying a proposal: a fix or a refusal; neither if it changes nothing. */
interface Proof {
  readonly fix?: Fix
  readonly refused?: Refusal
}

/** Findings on more pages than this get no fix page by page. */
const MOST_PARTS = 40
/** How many times a fix may be extended to clear away what it causes. */
const MOST_ROUNDS = 3
/** Number of recent steps to keep: equal proposals follow each other. */
const MOST_KEPT = 8

const STAYS = 'the conflict would stay'

/**
 * Tries proposals in memory. A proposal becomes a fix if the finding is gone and no error or warning is new; the other
 * pages that it changes are listed with it.
 */
export class Prover {
  readonly #base: SiteFacts
  readonly #isInBase: boolean
  readonly #steps = new Map<string, Step | undefined>()

  /** @param isInBase - Whether fixes may change list entries that come from extended files. */
  constructor(base: SiteFacts, isInBase = false) {
    this.#base = base
    this.#isInBase = isInBase
  }

  /** The step of a fix. */
  stepOf({ patch }: Fix): Step | undefined {
    return this.#step(patch)
  }

  /** Tries a group's proposals. Fixes come in the order certain, choices, those that change other pages. */
  *tryGroup(rule: Rule, group: Group, howMany: HowMany): Steps<Tried> {
    const proposals = this.#proposals(rule, group)
    const proofs = new Map<Proposal, Proof>()
    for (const proposal of proposals) {
      if (proposal.choice) continue
      const proof = yield* this.#prove(rule, group, proposal)
      proofs.set(proposal, proof)
      if (howMany !== 'all' && proof.fix && !proof.fix.others) return { fixes: [proof.fix], refused: [] }
    }
    const isCertain = [...proofs.values()].some(({ fix }) => fix && !fix.others)
    const parts = isCertain ? undefined : yield* this.#pageByPage(rule, group)
    const isEnough = howMany === 'certain' || (howMany === 'first' && parts && !parts.others)
    if (isEnough) return { fixes: parts && !parts.others ? [parts] : [], refused: [] }
    for (const proposal of proposals)
      if (!proofs.has(proposal)) proofs.set(proposal, yield* this.#prove(rule, group, proposal))
    const inOrder = proposals.map((proposal) => proofs.get(proposal) as Proof)
    const proven = inOrder.flatMap(({ fix }) => fix ?? [])
    const clean = withoutRepeats(proven.filter((fix) => !fix.others))
    return {
      fixes: [...(parts ? [parts] : []), ...clean, ...proven.filter((fix) => fix.others)].sort(byCertainty),
      refused: inOrder.flatMap(({ refused }) => refused ?? []),
    }
  }

  /** A rule's proposals; those that would undo something set on purpose become choices. */
  #proposals(rule: Rule, group: Group): readonly Proposal[] {
    const { resolved } = this.#base
    return (rule.propose?.(group, resolved) ?? []).map((proposal) =>
      !proposal.choice && undoesOnPurpose(proposal.patch, resolved) ? { ...proposal, choice: true } : proposal,
    )
  }

  /** A fix that combines one proposal for each page; pages without one are left out. */
  *#pageByPage(rule: Rule, group: Group): Steps<Fix | undefined> {
    if (group.pages.length < 2 || group.pages.length > MOST_PARTS) return undefined
    const alone = group.pages.map((page) => {
      const mine = ofPages(rule, group, [page])
      return { page, mine, proposals: this.#proposals(rule, mine).filter(({ choice }) => !choice) }
    })
    // Overrides on each page usually suffice, so these are tried for all pages at once first.
    const overrides = alone.map(({ page, proposals }) => ({
      page,
      of: proposals.find(({ patch }) => overridesOnly(patch, page)),
    }))
    const whole = overrides.flatMap(({ page, of }): Part[] => (of ? [{ page, of }] : []))
    const isForAll = whole.length === overrides.length
    const together = isForAll ? yield* this.#proveParts(rule, group, whole) : undefined
    if (together && !together.others) return together
    const parts: Part[] = []
    for (const { page, mine, proposals } of alone) {
      for (const proposal of proposals) {
        const { fix } = yield* this.#prove(rule, mine, proposal)
        if (!fix || fix.others) continue
        parts.push({ page, of: fix })
        break
      }
    }
    return yield* this.#proveParts(rule, group, parts)
  }

  /** Tries the parts as one fix. */
  *#proveParts(rule: Rule, group: Group, parts: readonly Part[]): Steps<Fix | undefined> {
    if (parts.length === 0) return undefined
    const titles = [...new Set(parts.map(({ page, of }) => withoutPage(of.title, page)))]
    const title = `page by page: ${titles.join('; or ')}`
    const patch = parts.flatMap(({ of }) => of.patch)
    const healed = parts.map(({ page }) => page)
    return (yield* this.#prove(rule, ofPages(rule, group, healed), { title, patch })).fix
  }

  *#prove(rule: Rule, group: Group, proposal: Proposal): Steps<Proof> {
    let { patch } = proposal
    const refuse = (because: string): Proof => ({ refused: { title: proposal.title, because } })
    const base = this.#isInBase ? undefined : this.#entryUnderneath(patch)
    if (base !== undefined) return refuse(`it is an entry of ${base}, which other sites may extend`)
    for (let round = 0; round <= MOST_ROUNDS; round++) {
      const step = this.#step(patch)
      if (!step) return {}
      const found = yield* this.#contradictions(step, rule, group, proposal.choice === true)
      if (typeof found === 'string') return refuse(found)
      const mayLeave = proposal.choice === true || rule.severity === 'note'
      const fresh = mayLeave ? found.filter((fact) => fact.rule.upkeep !== 'unused') : found
      const more = fresh.length > 0 ? this.#clearAway(step, fresh) : undefined
      // Upkeep never blocks the fix of something that a visitor sees.
      const inTheWay = fresh.filter((fact) => !fact.rule.upkeep || rule.upkeep)
      if (!more && inTheWay.length > 0 && rule.severity === 'note') return refuse(wouldCause(inTheWay))
      if (!more) {
        const others = changedPages(step, group.pages)
        return { fix: { ...proposal, patch, pages: group.pages, ...(others.length > 0 && { others }) } }
      }
      // A fix whose own addition would be cleared away again is no fix.
      if (more.some(({ op, path }) => op === 'remove' && !this.#isThere(path))) return {}
      patch = [...patch, ...more]
    }
    return {}
  }

  #step(patch: Patch): Step | undefined {
    const key = JSON.stringify(patch)
    if (!this.#steps.has(key)) {
      const after = tryPatch(this.#base.resolved, patch)
      if (this.#steps.size >= MOST_KEPT) this.#steps.delete([...this.#steps.keys()][0] as string)
      this.#steps.set(key, after && new Step(this.#base, after))
    }
    return this.#steps.get(key)
  }

  /** The notes that a step causes, or the reason why it is no fix. */
  *#contradictions(step: Step, rule: Rule, group: Group, isChoice: boolean): Steps<string | readonly RuleFact[]> {
    if (!(yield* this.#settles(step, rule, group))) return STAYS
    const counts: Counts = new Map()
    for (const id of step.affected) {
      const { gone, came } = step.ofPage(id)
      addCounts(counts, gone, -1)
      addCounts(counts, came)
      // Site rules are counted below, together with their judgments.
      const worse = came.filter((fact) => fact.rule.scope !== 'site' && isHarm(fact) && isGrown(fact, counts))
      if (worse.length > 0) return wouldCause(worse)
      yield
    }
    const { gone, came } = step.delta
    const all = addCounts(addCounts(new Map(), gone, -1), came)
    const known = this.#base.byKey
    // A finding that is now decided elsewhere counts as new, except after a choice.
    const grown = came.filter((fact) => isGrown(fact, all) || (!isChoice && !known.has(keyOf(fact))))
    const worse = grown.filter(isHarm)
    if (worse.length > 0) return wouldCause(worse)
    return [...countsOf(rule, group)].every(([key, times]) => (all.get(key) ?? 0) <= -times) ? grown : STAYS
  }

  /** Whether the group's own rule, asked before all others, no longer reports its cases. */
  *#settles(step: Step, rule: Rule, group: Group): Steps<boolean> {
    const mine = countsOf(rule, group)
    if (rule.scope === 'site') return true
    for (const id of group.pages) {
      if (!step.affected.has(id)) return false
      const now = step.ofRuleOnPage(rule, id)
      yield
      const before = this.#base.look(id)?.facts.filter((fact) => fact.rule === rule) ?? []
      const counts = addCounts(addCounts(new Map(), this.#base.allowances.pass(before), -1), now)
      const isSettled = (key: string): boolean => !mine.has(key) || (counts.get(key) ?? 0) <= -(mine.get(key) ?? 0)
      if (![...counts.keys()].every(isSettled)) return false
    }
    return true
  }

  /** A patch that clears away what a change made superfluous, such as an override that is redundant since. */
  #clearAway({ after }: Step, fresh: readonly RuleFact[]): Patch | undefined {
    const left = fresh.filter((fact) => fact.rule.upkeep === 'cleared')
    for (const { rule, group } of toGroups(left, after)) {
      const proposals = rule.propose?.(group, after) ?? []
      const first = proposals.find(({ choice, patch }) => !choice && patch.length > 0)
      if (first) return first.patch
    }
    return undefined
  }

  /** The extended file whose list entry a patch changes; such an entry cannot be changed from another file. */
  #entryUnderneath(patch: Patch): string | undefined {
    const { site } = this.#base.resolved
    const changed = patch.find(({ path }) => {
      const [section = '', position] = fromPointer(path)
      const isEntry = JOINED_LISTS.has(section) && position !== undefined && position !== '-'
      return isEntry && this.#isThere(toPointer([section, position])) && site.nearness(path) > 0
    })
    return changed && site.locate(changed.path).file
  }

  #isThere(pointer: string): boolean {
    return valueAt(this.#base.resolved.site.data as unknown as Json, pointer) !== undefined
  }
}

/** The proposal for one page of a group. */
interface Part {
  readonly page: string
  readonly of: Proposal
}

const isHarm = ({ rule }: RuleFact): boolean => rule.severity !== 'note'

/** Whether the rule of a fact is reported more often than before on any of its pages. */
const isGrown = (fact: RuleFact, counts: Counts): boolean => keysOf(fact).some((key) => (counts.get(key) ?? 0) > 0)

/** Counts the cases of a group. */
const countsOf = (rule: Rule, { worst, cases }: Group): Counts =>
  addCounts(new Map(), [{ rule, fact: worst, cases, page: undefined }])

/** Whether a patch sets a page's own layout and nothing else. */
const overridesOnly = (patch: Patch, page: string): boolean =>
  patch.length > 0 &&
  patch.every(({ path }) => {
    const [section, id, key] = fromPointer(path)
    return section === 'pages' && id === page && key === 'layout'
  })

const rankOf = ({ choice, others }: Fix): number => (others ? 2 : choice ? 1 : 0)
const byCertainty = (a: Fix, b: Fix): number => rankOf(a) - rankOf(b)

/** Drops fixes that repeat an override on several pages if another fix sets it once. */
function withoutRepeats(fixes: readonly Fix[]): readonly Fix[] {
  const kept = (alike: readonly Fix[]): readonly Fix[] => {
    const once = alike.filter(({ patch }) => !repeatsOverride(patch))
    return once.length > 0 ? once : alike
  }
  return [...kept(fixes.filter(({ choice }) => !choice)), ...kept(fixes.filter(({ choice }) => choice))]
}

/** The reason for a refusal: the rule and pages of what a step would cause. */
function wouldCause(facts: readonly RuleFact[]): string {
  const [{ rule, cases }] = facts as readonly [RuleFact, ...RuleFact[]]
  const pages = [...new Set(cases.map(({ page }) => page))]
  return `it would cause ${rule.id}${pages.length > 0 ? ` on ${pagesInWords(pages)}` : ''}`
}

const withoutPage = (title: string, page: string): string =>
  title.replace(new RegExp(`,? on ${pagesInWords([page]).replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}`), '')
