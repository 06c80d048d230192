import { expect } from 'chai'
import { inspect, measurePage, type Finding, type Numbers, type ResolvedSite } from 'wembra'
import { findingsOf, siteOf } from './site.js'

/** What every rule is tested with: where it holds, the nearest site where it does not, and its mend. */
export interface RuleCase {
  readonly rule: string
  readonly holds: string
  readonly nearest: string
  readonly numbers: Numbers
  readonly at: string
  /** The pointer of the place, where the deciding thing is no part of the site document. */
  readonly place?: string
  readonly pages?: readonly string[]
  readonly viewports?: readonly string[]
  /** False where a person has to decide, and no mend is offered. */
  readonly mendable: boolean
}

/** Declares the tests that every rule passes. */
export function describeRule(testCase: RuleCase): void {
  const {
    rule,
    holds,
    nearest,
    numbers,
    at,
    place = at,
    pages = ['visit'],
    viewports = ['desk', 'tablet', 'phone'],
  } = testCase
  describe(rule, () => {
    it('holds, with its numbers and the place that decides', () => {
      const [finding, ...more] = findingsOf(siteOf(holds), rule)
      expect(more).to.deep.equal([])
      expect(finding).to.deep.include({ key: `${rule}@${at}`, numbers, pages, viewports })
      expect(finding?.at.pointer).to.equal(place)
      expect(finding?.message).to.match(/^[^.]{20,}$/)
    })

    it('does not hold on the nearest site without the trouble', () => {
      expect(findingsOf(siteOf(nearest), rule)).to.deep.equal([])
    })

    it(
      testCase.mendable
        ? 'its mend removes it and changes no other page'
        : 'offers no mend, for a person has to decide',
      () => {
        const site = siteOf(holds)
        const [finding] = findingsOf(site, rule)
        if (!testCase.mendable) expect(finding?.mends).to.deep.equal([])
        else expectMended(site, finding as Finding)
      },
    )
  })
}

function expectMended(site: ResolvedSite, finding: Finding): void {
  const [mend] = finding.mends
  if (!mend) throw new Error(`${finding.rule} offers no mend`)
  const after = site.with(mend.patch)
  const left = inspect(after).map((f) => f.key)
  const before = inspect(site).map((f) => f.key)
  expect(left).to.not.include(finding.key)
  expect(left.filter((key) => !before.includes(key))).to.deep.equal([])
  for (const id of site.pageIds.filter((page) => !mend.pages.includes(page)))
    for (const { name } of site.site.viewports) expect(boxesOf(after, id, name)).to.deep.equal(boxesOf(site, id, name))
}

const boxesOf = (site: ResolvedSite, page: string, viewport: string) =>
  measurePage(site.page(page), viewport).boxes.map(({ id, x, y, width, height }) => [id, x, y, width, height])
