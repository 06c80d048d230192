import equal from 'fast-deep-equal'
import { LayeredMap } from '../model/layered-map.js'
import { addToList, listsBy } from '../model/lists.js'
import type { Renumbering } from '../resolve/renumbered.js'
import type { Look, Mark } from './seen.js'
import type { RuleFact } from './rule-fact.js'
import type { Rule, SiteRule } from './rule.js'

/** Marks of a page before and after, without those that stay; all of one key and value stay, or none. */
export function unlike(
  before: Pick<Look, 'core' | 'marks'> | undefined,
  after: Pick<Look, 'core' | 'marks'> | undefined,
  renamed: Renumbering,
): readonly [readonly Mark[], readonly Mark[]] {
  const isSameCore = before?.core === after?.core
  const marks = before?.marks ?? []
  const [gone, came] = ofOtherRules(
    renamed.isEmpty ? marks : marks.map((mark) => renamedMark(mark, renamed)),
    after?.marks ?? [],
    ({ looksAgain }) => looksAgain === true && !isSameCore,
  )
  const old = new MarksByName(gone)
  const now = new MarksByName(came)
  for (const list of now.all()) {
    const [first] = list as [Mark, ...Mark[]]
    if (first.rule.looksAgain && !isSameCore) continue
    const same = old.of(first)
    if (!same || same.length !== list.length || !same.every((mark, n) => equal(mark.detail, list[n]?.detail))) continue
    old.drop(first)
    now.drop(first)
  }
  return [[...old.all()].flat(), [...now.all()].flat()]
}

/** The marks of rules that do not mark the page as they did; those that nearly all rules leave as they are cost little. */
function ofOtherRules(
  before: readonly Mark[],
  after: readonly Mark[],
  isOther: (rule: SiteRule) => boolean,
): readonly [readonly Mark[], readonly Mark[]] {
  const [gone, came]: [Mark[], Mark[]] = [[], []]
  const compare = (rule: SiteRule, a: readonly Mark[], b: readonly Mark[]): void => {
    if (!isOther(rule) && a.length === b.length && a.every((mark, n) => isSameMark(mark, b[n] as Mark))) return
    gone.push(...a)
    came.push(...b)
  }
  let [i, j] = [0, 0]
  // Marks come rule by rule, before as after: most often of the same rules.
  while (i < before.length && j < after.length) {
    const { rule } = before[i] as Mark
    if (after[j]?.rule !== rule) break
    const [a, b] = [endOfRule(before, i), endOfRule(after, j)]
    compare(rule, before.slice(i, a), after.slice(j, b))
    ;[i, j] = [a, b]
  }
  const [old, now] = [listsBy(before.slice(i), ruleOf), listsBy(after.slice(j), ruleOf)]
  for (const rule of new Set([...old.keys(), ...now.keys()])) compare(rule, old.get(rule) ?? [], now.get(rule) ?? [])
  return [gone, came]
}

/** Where the marks of the rule of one of them end. */
function endOfRule(marks: readonly Mark[], from: number): number {
  let end = from
  while (marks[end]?.rule === marks[from]?.rule && end < marks.length) end++
  return end
}

const isSameMark = (a: Mark, b: Mark): boolean =>
  a.key === b.key && a.value === b.value && (a.detail === b.detail || equal(a.detail, b.detail))

const ruleOf = ({ rule }: Mark): SiteRule => rule

/** Marks by rule, key and value; as one text these would be long. */
class MarksByName {
  readonly #byRule = new Map<Rule, Map<string, Map<string, Mark[]>>>()

  constructor(marks: readonly Mark[]) {
    for (const mark of marks) {
      const { rule, key, value } = mark
      let byKey = this.#byRule.get(rule)
      if (!byKey) this.#byRule.set(rule, (byKey = new Map<string, Map<string, Mark[]>>()))
      let byValue = byKey.get(key)
      if (!byValue) byKey.set(key, (byValue = new Map<string, Mark[]>()))
      addToList(byValue, value, mark)
    }
  }

  of({ rule, key, value }: Mark): readonly Mark[] | undefined {
    return this.#byRule.get(rule)?.get(key)?.get(value)
  }

  drop({ rule, key, value }: Mark): void {
    this.#byRule.get(rule)?.get(key)?.delete(value)
  }

  *all(): Iterable<readonly Mark[]> {
    for (const byKey of this.#byRule.values()) for (const byValue of byKey.values()) yield* byValue.values()
  }
}

export const renamedMark = (mark: Mark, renamed: Renumbering): Mark => {
  const [key, detail] = [renamed.text(mark.key), renamed.value(mark.detail)]
  return key === mark.key && detail === mark.detail ? mark : { ...mark, key, detail }
}

export function renamedFact(each: RuleFact, renamed: Renumbering): RuleFact {
  if (renamed.isEmpty) return each
  const [fact, cases] = [renamed.value(each.fact), renamed.value(each.cases)]
  return fact === each.fact && cases === each.cases ? each : { ...each, fact, cases }
}

export function renamedLook(look: Look, renamed: Renumbering, core: Look['core']): Look {
  const marks = look.marks.map((mark) => renamedMark(mark, renamed))
  return { ...look, core, facts: look.facts.map((fact) => renamedFact(fact, renamed)), marks }
}

export function renamedMap<V>(map: LayeredMap<V>, renamed: Renumbering, rename: (value: V) => V): LayeredMap<V> {
  if (renamed.isEmpty) return map
  return LayeredMap.of(new Map(map.keys.map((key) => [renamed.text(key), rename(map.get(key) as V)])))
}

/** Two lists as one, by a number of each entry; `a` is in order, and no number is in both. */
export function mergedInOrder<T>(a: readonly T[], b: readonly T[], numberOf: (each: T) => number): readonly T[] {
  if (b.length === 0) return a
  const fresh = [...b].sort((x, y) => numberOf(x) - numberOf(y))
  const merged: T[] = []
  let n = 0
  for (const each of a) {
    const number = numberOf(each)
    while (n < fresh.length && numberOf(fresh[n] as T) < number) merged.push(fresh[n++] as T)
    merged.push(each)
  }
  while (n < fresh.length) merged.push(fresh[n++] as T)
  return merged
}
