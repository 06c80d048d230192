import { isEqual as equal } from 'es-toolkit'
import { listsBy } from '../../model/lists.js'
import type { Look, Mark } from '../seen.js'
import type { SiteRule } from '../rule.js'
import type { Tally } from '../tally.js'

/** Marks of one rule under one key, in the order of the site's pages. */
export type Marks = readonly Mark[]

/** Tallies the marks under a key for a rule. */
export function tallyOf(marks: Marks): Tally {
  let lists: ReadonlyMap<string, Marks> | undefined
  const byValue = (): ReadonlyMap<string, Marks> => (lists ??= listsBy(marks, ({ value }) => value))
  return {
    count: (value) => (value === undefined ? marks.length : (byValue().get(value)?.length ?? 0)),
    values: () => [...byValue().keys()],
    marks: (value) => (value === undefined ? marks : (byValue().get(value) ?? [])),
  }
}

/** Replaces the marks of some pages. */
export function withMarks(
  marks: Marks,
  pages: ReadonlySet<string>,
  came: Marks,
  position: (page: string) => number,
): Marks {
  const stay = marks.filter(({ page }) => !pages.has(page))
  return [...stay, ...came].sort((a, b) => position(a.page) - position(b.page))
}

/** The keys by rule under which a page has other marks than before. */
export function changedKeys(before: Look | undefined, after: Look | undefined): ReadonlyMap<SiteRule, Set<string>> {
  const changed = new Map<SiteRule, Set<string>>()
  const isOtherCore = before?.core !== after?.core
  const [old, now] = [listsBy(before?.marks ?? [], ruleOf), listsBy(after?.marks ?? [], ruleOf)]
  for (const rule of new Set([...old.keys(), ...now.keys()])) {
    const [a, b] = [old.get(rule) ?? [], now.get(rule) ?? []]
    const mustJudge = rule.looksAgain === true && isOtherCore
    if (!mustJudge && areSame(a, b)) continue
    const [was, is] = [listsBy(a, keyOf), listsBy(b, keyOf)]
    const keys = [...new Set([...was.keys(), ...is.keys()])]
    const others = mustJudge ? keys : keys.filter((key) => !areSame(was.get(key) ?? [], is.get(key) ?? []))
    changed.set(rule, new Set(others))
  }
  return changed
}

const ruleOf = ({ rule }: Mark): SiteRule => rule
const keyOf = ({ key }: Mark): string => key

const areSame = (a: Marks, b: Marks): boolean =>
  a.length === b.length && a.every((mark, n) => isSame(mark, b[n] as Mark))

const isSame = (a: Mark, b: Mark): boolean =>
  a.key === b.key && a.value === b.value && (a.detail === b.detail || equal(a.detail, b.detail))
