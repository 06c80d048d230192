import { isEqual as equal } from 'es-toolkit'
import { listsBy } from '../../model/lists.js'
import type { Look, Mark } from '../seen.js'
import type { SiteRule } from '../rule.js'
import type { Tally } from '../tally.js'

/** Marks of one rule under one key, in the order of the site's pages. */
export type Marks = readonly Mark[]

/** What a rule is given of the marks under a key. */
export function tallyOf(marks: Marks): Tally {
  let lists: ReadonlyMap<string, Marks> | undefined
  const byValue = (): ReadonlyMap<string, Marks> => (lists ??= listsBy(marks, ({ value }) => value))
  return {
    count: (value) => (value === undefined ? marks.length : (byValue().get(value)?.length ?? 0)),
    values: () => [...byValue().keys()],
    marks: (value) => (value === undefined ? marks : (byValue().get(value) ?? [])),
  }
}

/** Marks with those of some pages replaced. */
export function withMarks(
  marks: Marks,
  pages: ReadonlySet<string>,
  came: Marks,
  position: (page: string) => number,
): Marks {
  const stay = marks.filter(({ page }) => !pages.has(page))
  return [...stay, ...came].sort((a, b) => position(a.page) - position(b.page))
}

/** The keys under which a page has other marks of a rule than before. */
export function changedKeys(before: Look | undefined, after: Look | undefined, rule: SiteRule): ReadonlySet<string> {
  const [a, b] = [marksOf(before, rule), marksOf(after, rule)]
  const mustJudge = rule.looksAgain === true && before?.core !== after?.core
  if (!mustJudge && areSame(a, b)) return NO_KEYS
  const [was, is] = [listsBy(a, keyOf), listsBy(b, keyOf)]
  const keys = [...new Set([...was.keys(), ...is.keys()])]
  return new Set(mustJudge ? keys : keys.filter((key) => !areSame(was.get(key) ?? [], is.get(key) ?? [])))
}

const NO_KEYS: ReadonlySet<string> = new Set()

const marksOf = (look: Look | undefined, rule: SiteRule): Marks =>
  look?.marks.filter((mark) => mark.rule === rule) ?? []
const keyOf = ({ key }: Mark): string => key

const areSame = (a: Marks, b: Marks): boolean =>
  a.length === b.length && a.every((mark, n) => isSame(mark, b[n] as Mark))

const isSame = (a: Mark, b: Mark): boolean =>
  a.key === b.key && a.value === b.value && (a.detail === b.detail || equal(a.detail, b.detail))
