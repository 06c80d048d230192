import { valueAt, type Json } from '../model/json.js'
import type { Patch } from '../model/patch.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { changedPages, isChanged, othersOf } from './changed-pages.js'
import { ofPages, toGroups } from './groups.js'
import { MOST_MEASURED } from './measures.js'
import { repeatsOverride, undoesOnPurpose } from './on-purpose.js'
import { pagesInWords } from './propose.js'
import type { Group, Fix, Proposal, Refusal, Rule } from './rule.js'
import { addCounts, type Counts, type RuleFact } from './rule-fact.js'
import type { Look } from './seen.js'
import type { SiteFacts } from './site-facts.js'
import { countsOf, isGrown, isSettledOn, settlesSite, uneven } from './settles.js'
import { Step, type FactsDelta } from './step.js'
import { overriddenBy, Together } from './together.js'
import { tryPatch } from './try-patch.js'
import { toEnd, type Steps } from './turns.js'

/**
 * How many fixes are looked for: every one; none beyond the first that is certain; the same without those that a person
 * has to choose; or what is certain alone, which changes no other page either.
 */
export type HowMany = 'all' | 'first' | 'no-choices' | 'certain'

/** What was tried for a finding: the fixes that hold, and why other proposals do not. */
export interface Tried {
  readonly fixes: readonly Fix[]
  readonly refused: readonly Refusal[]
}

/** One page of a group, and what is proposed for it that needs nobody to choose. */
interface Alone {
  readonly page: string
  readonly group: Group
  readonly proposals: readonly Proposal[]
}

/** What helps one page of a group by itself. */
interface Part {
  readonly page: string
  readonly of: Proposal
}

/** What became of a proposal: a fix, or a reason why not; neither where it changes nothing. */
interface Proof {
  readonly fix?: Fix
  readonly refused?: Refusal
}

/** Tries proposals in memory: the finding must be gone, no new one come, and the other pages that change are reported. */
export class Prover {
  readonly #base: SiteFacts
  /** Steps that were tried, by their patch: the same proposals are tried once. */
  readonly #tried = new Map<string, Step | undefined>()
  /** What became of proposals, by group and patch, where their group is asked for again. */
  readonly #proofs = new Map<string, Proof>()
  #isAskedAgain = false
  /** What the group's pages were tried with together, as far as it tells what becomes of each by itself. */
  #together = new Together()

  constructor(base: SiteFacts) {
    this.#base = base
  }

  /** The step that a fix takes, which it was proven by. */
  stepOf({ patch }: Fix): Step | undefined {
    return this.#step(patch)
  }

  /** The proposals of a group that hold, those that change no other page first; and why others do not. */
  tryGroup(rule: Rule, group: Group, howMany: HowMany): Tried {
    return toEnd(this.tryingGroup(rule, group, howMany))
  }

  /** The same in steps; no other group is tried before the end. */
  *tryingGroup(rule: Rule, group: Group, howMany: HowMany): Steps<Tried> {
    this.#together = new Together()
    const isChoosing = howMany === 'all' || howMany === 'first'
    this.#isAskedAgain = !isChoosing
    const proposals = this.#proposals(rule, group).filter(({ choice }) => isChoosing || !choice)
    const proofs = new Map<Proposal, Proof>()
    let parts: Fix | undefined
    if (howMany !== 'all') {
      for (const proposal of proposals) {
        if (proposal.choice || (yield* this.#changesOthers(rule, group, proposal))) continue
        const proof = yield* this.#proveForAll(rule, group, proposal)
        proofs.set(proposal, proof)
        if (proof.fix && !proof.fix.others) return { fixes: [proof.fix], refused: [] }
      }
      parts = yield* this.#pageByPage(rule, group)
      if (parts && !parts.others) return { fixes: [parts], refused: [] }
      if (howMany === 'certain') return { fixes: [], refused: [] }
    }
    for (const proposal of proposals)
      if (!proofs.has(proposal)) proofs.set(proposal, yield* this.#proveForAll(rule, group, proposal))
    const inOrder = proposals.map((proposal) => proofs.get(proposal) as Proof)
    const proven = inOrder.flatMap(({ fix }) => fix ?? [])
    const clean = withoutRepeats(proven.filter((fix) => !fix.others))
    if (howMany === 'all' && !clean.some((fix) => !fix.choice)) parts = yield* this.#pageByPage(rule, group)
    return {
      fixes: [...(parts ? [parts] : []), ...clean, ...proven.filter((fix) => fix.others)],
      refused: inOrder.flatMap(({ refused }) => refused ?? []),
    }
  }

  *#proveForAll(rule: Rule, group: Group, proposal: Proposal): Steps<Proof> {
    const proof = yield* this.#prove(rule, group, proposal)
    if (group.pages.length > 1) this.#note(proposal.patch, proof)
    return proof
  }

  /**
   * Whether a proposal that helps is soon seen to change other pages: it is not certain then, and its proof, which goes
   * through all of these, can wait until nothing certain was found.
   */
  *#changesOthers(rule: Rule, group: Group, { patch }: Proposal): Steps<boolean> {
    const step = this.#step(patch)
    if (!step || step.affected.size <= group.pages.length) return false
    if (!(yield* this.#settles(step, rule, group, countsOf(rule, group)))) return false
    const isSeen = othersOf(step, group.pages)
      .slice(0, LOOKED_AHEAD)
      .some((id) => isChanged(step, id))
    if (isSeen) this.#together.addUseless(patch)
    return isSeen
  }

  /** What a rule proposes; what would undo something set on purpose is a choice, whatever the rule calls it. */
  #proposals(rule: Rule, group: Group): readonly Proposal[] {
    const { resolved } = this.#base
    return (rule.propose?.(group, resolved) ?? []).map((proposal) =>
      !proposal.choice && undoesOnPurpose(proposal.patch, resolved) ? { ...proposal, choice: true } : proposal,
    )
  }

  /** What helps each page by itself, where no one change helps them all; pages it cannot help are left out. */
  *#pageByPage(rule: Rule, group: Group): Steps<Fix | undefined> {
    if (group.pages.length < 2 || group.pages.length > MOST_PARTS) return undefined
    const alone = group.pages.map((page): Alone => {
      const mine = ofPages(rule, group, [page])
      return { page, group: mine, proposals: this.#proposals(rule, mine).filter(({ choice }) => !choice) }
    })
    const together = yield* this.#partsTogether(rule, group, alone)
    if (together) return together
    const parts: Part[] = []
    for (const each of alone) {
      const fix = yield* this.#firstAlone(rule, each)
      if (fix) parts.push({ page: each.page, of: fix })
    }
    return yield* this.#proveParts(rule, group, parts)
  }

  /** The same where each page is helped by the first proposal that may, which overrides its layout: no page is tried alone. */
  *#partsTogether(rule: Rule, group: Group, alone: readonly Alone[]): Steps<Fix | undefined> {
    const parts = alone.flatMap(({ page, group: mine, proposals }): Part[] => {
      const of = proposals.find((proposal) => !this.#isRuledOut(rule, mine, proposal))
      return of ? [{ page, of }] : []
    })
    if (!parts.every(({ page, of }) => overriddenBy(of.patch).has(page) && overriddenBy(of.patch).size === 1))
      return undefined
    const fix = yield* this.#proveParts(rule, group, parts)
    return fix?.others ? undefined : fix
  }

  /** What helps pages by themselves, as one fix. */
  *#proveParts(rule: Rule, group: Group, parts: readonly Part[]): Steps<Fix | undefined> {
    if (parts.length === 0) return undefined
    const known = new Map<string, Look>()
    for (const { page, of } of parts) {
      const look = this.#lookAfter(page, of.patch)
      if (look) known.set(page, look)
    }
    const titles = [...new Set(parts.map(({ page, of }) => withoutPage(of.title, page)))]
    const title = `page by page: ${titles.join('; or ')}`
    const patch = parts.flatMap(({ of }) => of.patch)
    const healed = parts.map(({ page }) => page)
    return (yield* this.#prove(rule, ofPages(rule, group, healed), { title, patch }, known)).fix
  }

  /** The first fix of a page that changes no other page. */
  *#firstAlone(rule: Rule, { page, group, proposals }: Alone): Steps<Fix | undefined> {
    for (const proposal of proposals) {
      if (this.#isRuledOut(rule, group, proposal)) continue
      const look = this.#lookAfter(page, proposal.patch)
      const { fix } = yield* this.#prove(rule, group, proposal, new Map(look && [[page, look]]))
      if (fix && !fix.others) return fix
    }
    return undefined
  }

  /** What is seen of a page after a patch that overrides its layout, where the same was tried, for it alone or for others too. */
  #lookAfter(page: string, patch: Patch): Look | undefined {
    const alone = (): Step | undefined =>
      overriddenBy(patch).has(page) ? this.#tried.get(JSON.stringify(patch)) : undefined
    return (this.#together.stepLike(page, patch) ?? alone())?.lookApart(page)
  }

  /** Notes what a patch for all pages of a group tells of the same for one of them. */
  #note(patch: Patch, { fix, refused }: Proof): void {
    // Only whether a conflict stays goes by the pages that are asked about.
    if (fix ? fix.others : refused?.because !== STAYS) this.#together.addUseless(patch)
    const step = this.#tried.get(JSON.stringify(patch))
    if (step && !fix) this.#together.addStep(patch, step)
  }

  /** Whether what was tried for all pages of a group tells that a proposal for one of them alone does not hold. */
  #isRuledOut(rule: Rule, alone: Group, { patch }: Proposal): boolean {
    if (this.#together.isUseless(patch)) return true
    const [page] = alone.pages as readonly [string]
    const step = this.#together.stepLike(page, patch)
    const glance = step?.glance(page)
    if (!step || !glance || (rule.scope !== 'view' && rule.scope !== 'page')) return false
    const isSettled = isSettledOn(step, rule, page, countsOf(rule, alone))
    return !isSettled && step.isApart(glance)
  }

  /** @param known - What is known of pages after the change. */
  *#prove(rule: Rule, group: Group, proposal: Proposal, known?: ReadonlyMap<string, Look>): Steps<Proof> {
    const key = this.#isAskedAgain ? JSON.stringify([rule.id, group.at, group.pages, proposal]) : ''
    const proof = this.#proofs.get(key) ?? (yield* this.#try(rule, group, proposal, known))
    if (this.#isAskedAgain) this.#proofs.set(key, proof)
    return proof
  }

  *#try(rule: Rule, group: Group, proposal: Proposal, known?: ReadonlyMap<string, Look>): Steps<Proof> {
    let { patch } = proposal
    const refuse = (because: string): Proof => ({ refused: { title: proposal.title, because } })
    for (let round = 0; round <= MOST_ROUNDS; round++) {
      const step = this.#step(patch, round === 0 ? known : undefined)
      if (!step) return {}
      const found = yield* this.#contradictions(step, rule, group)
      const mayLeave = proposal.choice === true || rule.severity === 'note'
      const fresh =
        typeof found === 'string' || !mayLeave ? found : found.filter((fact) => !LEFT_OVER.has(fact.rule.id))
      if (typeof fresh === 'string') return refuse(fresh)
      if (fresh.length === 0) {
        const others = changedPages(step, group.pages)
        return { fix: { ...proposal, patch, pages: group.pages, ...(others.length > 0 && { others }) } }
      }
      const more = tidyUp(step.after, fresh)
      if (!more) return refuse(wouldCause(fresh))
      // What would only tidy away again what was added leads nowhere.
      if (more.some(({ op, path }) => op === 'remove' && !isThere(this.#base.resolved, path))) return {}
      patch = [...patch, ...more]
    }
    return {}
  }

  #step(patch: Patch, known?: ReadonlyMap<string, Look>): Step | undefined {
    if (patch.length === 0) return undefined
    const key = JSON.stringify(patch)
    if (!this.#tried.has(key)) {
      const after = tryPatch(this.#base.resolved, patch)
      // Only the latest are kept: proposals that are the same come one after the other.
      if (this.#tried.size >= MOST_KEPT) this.#tried.delete([...this.#tried.keys()][0] as string)
      this.#tried.set(key, after && new Step(this.#base, after, true, known))
    }
    return this.#tried.get(key)
  }

  /** The facts that a step brings; or, at the first sign that it will not do, why. */
  *#contradictions(step: Step, rule: Rule, group: Group): Steps<string | readonly RuleFact[]> {
    const mine = countsOf(rule, group)
    if (!(yield* this.#settles(step, rule, group, mine))) return STAYS
    const counts: Counts = new Map()
    const came: RuleFact[] = []
    // Housekeeping can be tidied up after; all else refuses the step.
    const worse = (facts: readonly RuleFact[]): RuleFact[] =>
      facts.filter((fact) => fact.rule.severity !== 'note' && isGrown(fact, counts))
    const take = (delta: FactsDelta): RuleFact[] => {
      addCounts(counts, delta.gone, -1)
      addCounts(counts, delta.came)
      for (const fact of delta.came) came.push(fact)
      return worse(delta.came)
    }
    let looked = 0
    for (const id of step.affected) {
      const caused = take(uneven(step.ofPage(id)))
      if (caused.length > 0) return wouldCause(caused)
      if (++looked > MOST_MEASURED) step.glance(id)?.letGo()
      yield
    }
    if (take(step.ofSite).length > 0) {
      const caused = worse(came)
      if (caused.length > 0) return wouldCause(caused)
    }
    if (![...mine].every(([key, times]) => (counts.get(key) ?? 0) <= -times)) return STAYS
    return came.filter((fact) => isGrown(fact, counts))
  }

  /** Whether the rule itself, asked before all others, sees less than before. */
  #settles(step: Step, rule: Rule, group: Group, mine: Counts): Steps<boolean> {
    return rule.scope === 'site' ? settlesSite(step, rule, mine) : this.#settlesPages(step, rule, group, mine)
  }

  /** The same of a rule about pages, asked about the group's alone. */
  *#settlesPages(step: Step, rule: Rule, group: Group, mine: Counts): Steps<boolean> {
    if (rule.scope !== 'view' && rule.scope !== 'page') return true
    for (const id of group.pages) {
      if (!step.affected.has(id)) return false
      if (!step.glance(id)) continue
      yield
      if (!isSettledOn(step, rule, id, mine)) return false
    }
    return true
  }
}

/** Without fixes that put one override on several pages, where a layer that decides for them can take it. */
function withoutRepeats(fixes: readonly Fix[]): readonly Fix[] {
  const isOnce = (fix: Fix): boolean => !fix.choice && !repeatsOverride(fix.patch)
  return fixes.some(isOnce) ? fixes.filter((fix) => fix.choice || !repeatsOverride(fix.patch)) : fixes
}

/** What is left over where a thing is used no more, by a person's choice or in housekeeping. */
const LEFT_OVER: ReadonlySet<string> = new Set(['surround-unused', 'template-unused'])

const STAYS = 'the conflict would stay'

/** What a step would bring about, by rule and page. */
function wouldCause(facts: readonly RuleFact[]): string {
  const [{ rule, cases }] = facts as readonly [RuleFact, ...RuleFact[]]
  const pages = [...new Set(cases.map(({ page }) => page))]
  return `it would cause ${rule.id}${pages.length > 0 ? ` on ${pagesInWords(pages)}` : ''}`
}

const withoutPage = (title: string, page: string): string =>
  title.replace(new RegExp(`,? on ${pagesInWords([page]).replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}`), '')

/** Past so many pages a fix for each is of no use, and trying them would take its time. */
const MOST_PARTS = 40
/** How often a fix may be tidied up after. */
const MOST_ROUNDS = 3
/** So many pages tell soon enough whether a proposal changes others. */
const LOOKED_AHEAD = 3
/** How many steps are kept for proposals that are the same. */
const MOST_KEPT = 8

const isThere = ({ site }: ResolvedSite, pointer: string): boolean =>
  valueAt(site.data as unknown as Json, pointer) !== undefined

/** What clears away housekeeping that a change brought about, such as an override it made redundant. */
function tidyUp(after: ResolvedSite, fresh: readonly RuleFact[]): Patch | undefined {
  if (fresh.some(({ rule }) => rule.severity !== 'note')) return undefined
  for (const { rule, group } of toGroups(fresh)) {
    const [first] = (rule.propose?.(group, after) ?? []).filter(({ choice, patch }) => !choice && patch.length > 0)
    if (first) return first.patch
  }
  return undefined
}
