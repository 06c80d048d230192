import { facetsInPx } from '../measure/facets.js'
import { measurePage } from '../measure/page.js'
import type { PageMeasure } from '../measure/page-measure.js'
import { valueAt, type Json } from '../model/json.js'
import type { Patch } from '../model/patch.js'
import equal from 'fast-deep-equal'
import type { ResolvedPage } from '../resolve/page.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { ofPages, toGroups } from './groups.js'
import { MOST_MEASURED } from './measures.js'
import { repeatsOverride, undoesOnPurpose } from './on-purpose.js'
import { pagesInWords } from './propose.js'
import type { Group, Fix, PageRule, Proposal, Refusal, Rule, SiteRule, ViewRule } from './rule.js'
import { addCounts, keysOf, type Counts, type RuleFact } from './rule-fact.js'
import type { Look } from './seen.js'
import type { SiteFacts } from './site-facts.js'
import { Step } from './step.js'
import { overriddenBy, Together } from './together.js'
import { tryPatch } from './try-patch.js'
import { toEnd } from './turns.js'

/** How many fixes are looked for: every one, none beyond the first that is certain, or none that a person has to choose. */
export type HowMany = 'all' | 'first' | 'certain'

/** What was tried for a finding: the fixes that hold, and why other proposals do not. */
export interface Tried {
  readonly fixes: readonly Fix[]
  readonly refused: readonly Refusal[]
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
  /** Proposals of the group that is tried which do not hold, with the reason. */
  #refused: Refusal[] = []
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
    this.#refused = []
    this.#together = new Together()
    const fixes = yield* this.#fixes(rule, group, howMany)
    return { fixes, refused: this.#refused }
  }

  *#fixes(rule: Rule, group: Group, howMany: HowMany): Steps<readonly Fix[]> {
    this.#isAskedAgain = howMany === 'certain'
    const all = this.#proposals(rule, group)
    const proposals = howMany === 'certain' ? all.filter(({ choice }) => !choice) : all
    const isCertain = (fix: Fix): boolean => !fix.choice && !fix.others
    const proven: Fix[] = []
    for (const proposal of proposals) {
      const proof = yield* this.#prove(rule, group, proposal)
      if (group.pages.length > 1) this.#note(proposal.patch, proof)
      const { fix } = proof
      if (!fix) continue
      proven.push(fix)
      if (howMany !== 'all' && isCertain(fix)) return [fix]
    }
    const clean = withoutRepeats(proven.filter((fix) => !fix.others))
    const refused = [...this.#refused]
    const parts = clean.some((fix) => !fix.choice) ? undefined : yield* this.#pageByPage(rule, group)
    this.#refused = refused
    return [...(parts ? [parts] : []), ...clean, ...proven.filter((fix) => fix.others)]
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
    const parts: { readonly page: string; readonly fix: Fix }[] = []
    const known = new Map<string, Look>()
    for (const page of group.pages) {
      const fix = yield* this.#firstAlone(rule, ofPages(rule, group, [page]))
      if (!fix) continue
      parts.push({ page, fix })
      const look = overriddenBy(fix.patch).has(page) ? this.#step(fix.patch)?.lookApart(page) : undefined
      if (look) known.set(page, look)
    }
    const titles = [...new Set(parts.map(({ page, fix }) => withoutPage(fix.title, page)))]
    if (parts.length === 0) return undefined
    const title = `page by page: ${titles.join('; or ')}`
    const patch = parts.flatMap(({ fix }) => fix.patch)
    const healed = parts.map(({ page }) => page)
    return (yield* this.#prove(rule, ofPages(rule, group, healed), { title, patch }, known)).fix
  }

  /** The first fix of a group that needs nobody to choose and changes no other page. */
  *#firstAlone(rule: Rule, group: Group): Steps<Fix | undefined> {
    for (const proposal of this.#proposals(rule, group)) {
      if (proposal.choice || this.#isRuledOut(rule, group, proposal)) continue
      const { fix } = yield* this.#prove(rule, group, proposal, this.#knownOf(group, proposal))
      if (fix && !fix.others) return fix
    }
    return undefined
  }

  /** What is seen of a page after a proposal for it alone, where the same was tried for all pages of its group. */
  #knownOf({ pages: [page = ''] }: Group, { patch }: Proposal): ReadonlyMap<string, Look> {
    const look = this.#together.stepLike(page, patch)?.lookApart(page)
    return new Map(look && [[page, look]])
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
    if (proof.refused) this.#refused.push(proof.refused)
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
    const isSettled =
      rule.scope === 'site' ? settlesSite(step, rule, mine) : this.#settlesPages(step, rule, group, mine)
    if (!(yield* isSettled)) return STAYS
    const counts: Counts = new Map()
    const came: RuleFact[] = []
    // Housekeeping can be tidied up after; all else refuses the step.
    const worse = (facts: readonly RuleFact[]): RuleFact[] =>
      facts.filter((fact) => fact.rule.severity !== 'note' && isGrown(fact, counts))
    const take = (delta: { readonly gone: readonly RuleFact[]; readonly came: readonly RuleFact[] }): RuleFact[] => {
      addCounts(counts, delta.gone, -1)
      addCounts(counts, delta.came)
      for (const fact of delta.came) came.push(fact)
      return worse(delta.came)
    }
    let looked = 0
    for (const id of step.affected) {
      const caused = take(step.ofPage(id))
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

  /** Whether the rule itself, asked about the group's pages alone, sees less than before. */
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

type Steps<T> = Generator<unknown, T>

/** How often each case of a group is seen. */
const countsOf = (rule: Rule, { worst, cases }: Group): Counts =>
  addCounts(new Map(), [{ rule, fact: worst, cases, page: undefined }])

/** Whether a rule sees less of what it saw of a page before a step. */
function isSettledOn(step: Step, rule: ViewRule | PageRule, id: string, mine: Counts): boolean {
  const { base, allowances } = step
  const before = base.look(id)?.facts.filter((fact) => fact.rule === rule) ?? []
  const counts = addCounts(new Map(), base.allowances.pass(before), -1)
  const isSettled = (key: string): boolean => !mine.has(key) || (counts.get(key) ?? 0) <= -(mine.get(key) ?? 0)
  // What is seen at one viewport may be enough: more of it only adds.
  for (const facts of step.factsInTurn(id, rule)) {
    const came = allowances.pass(facts)
    addCounts(counts, came)
    if (!came.flatMap(keysOf).every(isSettled)) return false
  }
  return [...counts.keys()].every(isSettled)
}

/** Whether a rule about the whole site, asked alone, sees less than before. */
function* settlesSite(step: Step, rule: SiteRule, mine: Counts): Steps<boolean> {
  for (const id of step.affected) {
    step.glance(id)?.ofSite(rule)
    yield
  }
  const { gone, came } = step.ofRule(rule)
  const counts = addCounts(addCounts(new Map(), gone, -1), came)
  return [...mine].every(([key, times]) => (counts.get(key) ?? 0) <= -times)
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

const isGrown = (fact: RuleFact, counts: Counts): boolean => keysOf(fact).some((key) => (counts.get(key) ?? 0) > 0)

const withoutPage = (title: string, page: string): string =>
  title.replace(new RegExp(`,? on ${pagesInWords([page]).replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}`), '')

/** Past so many pages a fix for each is of no use, and trying them would take its time. */
const MOST_PARTS = 40
/** How often a fix may be tidied up after. */
const MOST_ROUNDS = 3
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

/**
 * The pages of which a visitor gets something else after a step, at any viewport, in the order of the site; some of them
 * need not be asked.
 */
export function changedPages(step: Step, but: readonly string[] = []): readonly string[] {
  const { after } = step
  const before = step.base.resolved
  const named = new Set(but)
  const changed = new Set(
    [...step.affected].filter((id) => {
      if (named.has(id)) return false
      if (!before.site.pageData(id)) return false
      const glance = step.glance(id)
      if (!glance) return true
      return looksDifferent(before.page(id), after.page(id), {
        before: (name) => step.base.measures.of(id).get(name),
        after: (name) => glance.sight.sights.find((s) => s.view.viewport.name === name)?.measure,
      })
    }),
  )
  return changed.size === 0 ? [] : before.pageIds.filter((id) => changed.has(id))
}

/** A page's measures that are known, before and after a change. */
interface KnownMeasures {
  readonly before: (viewport: string) => PageMeasure | undefined
  readonly after: (viewport: string) => PageMeasure | undefined
}

/** Whether a visitor gets something else of a page: other facets or other boxes. */
export function looksDifferent(old: ResolvedPage, now: ResolvedPage, known?: KnownMeasures): boolean {
  if (old.dormant || now.dormant) return old.dormant !== now.dormant
  return old.site.viewports.some(({ name }) => {
    if (!now.site.viewports.some((v) => v.name === name)) return true
    const [a, b] = [known?.before(name) ?? measurePage(old, name), known?.after(name) ?? measurePage(now, name)]
    if (a.boxes.length !== b.boxes.length) return true
    const isMoved = a.boxes.some((box, n) => {
      const other = b.boxes[n]
      if (box === other) return false
      return !(
        other &&
        box.id === other.id &&
        box.x === other.x &&
        box.y === other.y &&
        box.width === other.width &&
        box.height === other.height
      )
    })
    return isMoved || !equal(facetsInPx(a), facetsInPx(b))
  })
}
