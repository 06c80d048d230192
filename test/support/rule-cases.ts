import { expect } from 'chai'
import {
  inspect,
  measurePage,
  resolveSite,
  RULES,
  type Finding,
  type Fix,
  type Numbers,
  type ResolvedSite,
  type Rule,
} from 'wembra'
import { findingsOf, NOW, siteOf } from './site.js'

/** What every rule is tested with: where it holds, the nearest site where it does not, and its fix. */
export interface RuleCase {
  readonly rule: string
  /** Default: the rule's own example. */
  readonly holds?: string
  readonly nearest: string
  readonly numbers: Numbers
  readonly at: string
  /** The pointer of the place, where the deciding thing is no part of the site document. */
  readonly place?: string
  readonly pages?: readonly string[]
  readonly viewports?: readonly string[]
  /** How many more findings of the rule the site gives. */
  readonly also?: number
  /** `choice`: what can be done is offered for a person to choose; `none`: a person has to do it by hand. */
  readonly fix: 'certain' | 'choice' | 'none'
}

/** Declares the tests that every rule passes. */
export function describeRule(testCase: RuleCase): void {
  const { rule, nearest, numbers, at, place = at, pages = ['visit'], also = 0, fix } = testCase
  const { viewports = ['desk', 'tablet', 'phone'] } = testCase
  const holds = testCase.holds ?? (RULES.find(({ id }) => id === rule) as Rule).example
  describe(rule, () => {
    it('holds, with its numbers and the place that decides', () => {
      const found = findingsOf(siteOf(holds), rule)
      const finding = found.find((f) => f.key === `${rule}@${at}`)
      expect(found).to.have.lengthOf(1 + also)
      expect(finding).to.deep.include({ numbers, pages, viewports })
      expect(finding?.at.pointer).to.equal(place)
      expect(finding?.message).to.match(/^[^\n]{12,}$/)
    })

    it('does not hold on the nearest site without the trouble', () => {
      expect(findingsOf(siteOf(nearest), rule)).to.deep.equal([])
    })

    it(FIX_TITLES[fix], () => {
      const site = siteOf(holds)
      const finding = findingsOf(site, rule, true).find((f) => f.key === `${rule}@${at}`) as Finding
      const isCertain = finding.fixes.some((m) => !m.choice && !m.others)
      expect([isCertain, finding.fixes.length > 0]).to.deep.equal([fix === 'certain', fix !== 'none'])
      for (const each of finding.fixes) expectFixed(site, finding, each)
    })
  })
}

const FIX_TITLES = {
  certain: 'its fix removes it and changes no other page',
  choice: 'offers choices, each of which removes it and changes no other page',
  none: 'offers no fix, for it has to be done by hand',
}

function expectFixed(site: ResolvedSite, finding: Finding, fix: Fix): void {
  const after = site.with(fix.patch)
  // Both are looked at afresh, without what is known of the other.
  const left = inspect(resolveSite(after.site), { now: NOW })
  const before = inspect(resolveSite(site.site), { now: NOW })
  const count = (all: readonly Finding[], rule: string): number => all.filter((f) => f.rule === rule).length
  expect(count(left, finding.rule)).to.be.lessThan(count(before, finding.rule))
  // What is used no more by choice or in housekeeping may be left unused.
  const mayCome = fix.choice || finding.severity === 'note' ? ['surround-unused', 'template-unused'] : []
  for (const { rule } of left)
    if (!mayCome.includes(rule)) expect(count(left, rule), rule).to.be.at.most(count(before, rule))
  const named = [...fix.pages, ...(fix.others ?? [])]
  for (const id of site.pageIds.filter((page) => !named.includes(page)))
    for (const { name } of site.site.viewports) expect(boxesOf(after, id, name)).to.deep.equal(boxesOf(site, id, name))
}

const boxesOf = (site: ResolvedSite, page: string, viewport: string) =>
  measurePage(site.page(page), viewport).boxes.map(({ id, x, y, width, height }) => [id, x, y, width, height])
