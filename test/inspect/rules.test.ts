import { expect } from 'chai'
import { RULES } from 'wembra'
import { describeRule } from '../support/rule-cases.js'
import { findingsOf, siteOf } from '../support/site.js'
import { CASES } from './rule-cases.js'

const HEADER =
  'surrounds: { top: { as: header, height: 100px }, rail: { as: sidebar, items: [ { text: words } ] }, bare: { as: sidebar } }\n'
const page = (rest: string): string => `pages: { visit: { path: /visit, title: Visit, ${rest} } }\n`
const TEXT = 'body: [ { section: s, items: [ { text: words } ] } ]'
const HERO = 'body: [ { section: s, band: full, background: { color: "#123" }, height: 80px } ]'

describe('rules', () => {
  it('every rule of the list has a case here', () => {
    expect(CASES.map((c) => c.rule).sort()).to.deep.equal(
      RULES.filter((rule) => rule.scope !== 'reality')
        .map((rule) => rule.id)
        .sort(),
    )
  })
  for (const testCase of CASES) describeRule(testCase)
})

describe('header-covers-content, further', () => {
  const site = (header: string, body: string) =>
    siteOf(
      `${HEADER}theme: { layout: { header: { use: top, ${header} }, title: absent, spacing: 0 } }\nassets: { dome: { width: 100, height: 50 } }\n${page(body)}`,
    )
  const picture = 'body: [ { section: s, items: [ { image: dome }, { text: words } ] } ]'

  it('a picture may lie under a header that lets it show through, not under an opaque one', () => {
    expect(findingsOf(site('position: overlay', picture), 'header-covers-content')).to.deep.equal([])
    expect(
      findingsOf(site('position: fixed, background: "#ffffff80"', picture), 'header-covers-content'),
    ).to.deep.equal([])
    expect(findingsOf(site('position: fixed', picture), 'header-covers-content')).to.have.lengthOf(1)
  })

  it('names the worst case first and lists the others', () => {
    const [finding] = findingsOf(
      siteOf(
        `${HEADER}theme: { layout: { header: { use: top, position: fixed }, spacing: { phone: 10px, else: 40px } } }\n${page(TEXT)}`,
      ),
      'header-covers-content',
    )
    expect(finding?.numbers).to.deep.equal({ covered: 90, room: 10, needed: 100 })
    expect(finding?.cases.map((c) => [c.viewport, c.numbers['covered']])).to.deep.equal([
      ['desk', 60],
      ['tablet', 60],
      ['phone', 90],
    ])
  })

  it('offers no fix for an overlay header, which is meant to lie over the band', () => {
    const [finding] = findingsOf(site('position: overlay', TEXT), 'header-covers-content')
    expect(finding?.fixes).to.deep.equal([])
  })
})

describe('title-doubled, further', () => {
  it('a heading of any level with the title’s words counts', () => {
    const [finding] = findingsOf(
      siteOf(page('body: [ { section: a }, { section: s, items: [ { heading: 3, text: "visit " } ] } ]')),
      'title-doubled',
    )
    expect(finding?.numbers).to.deep.equal({ titles: 2 })
    expect(finding?.related[0]?.pointer).to.equal('/pages/visit/body/1/items/0')
  })

  it('only where both are seen', () => {
    const body = 'body: [ { section: s, hide: [ phone ], items: [ { heading: 1, text: Hello } ] } ]'
    expect(findingsOf(siteOf(page(body)), 'title-doubled')[0]?.viewports).to.deep.equal(['desk', 'tablet'])
  })
})

describe('title-missing, further', () => {
  for (const [what, rest] of [
    ['a draft', `status: draft, ${TEXT}`],
    ['a page without a body', 'tags: [ a ]'],
  ] as const)
    it(`says nothing of ${what}`, () => {
      expect(findingsOf(siteOf(`theme: { layout: { title: absent } }\n${page(rest)}`), 'title-missing')).to.deep.equal(
        [],
      )
    })

  it('says nothing of the front page', () => {
    const text = `theme: { layout: { title: absent } }\npurposes: { front: visit }\n${page(TEXT)}`
    expect(findingsOf(siteOf(text), 'title-missing')).to.deep.equal([])
  })
})

describe('gap-left-behind, further', () => {
  const gaps = (arrange: string, layout: string, body = TEXT) =>
    findingsOf(
      siteOf(`templates: { t: { arrange: [ ${arrange} ], layout: { ${layout} } } }\n${page(`template: t, ${body}`)}`),
      'gap-left-behind',
    ).map((f) => [f.at.pointer, f.numbers['px']])

  it('between two gaps the smaller counts', () => {
    expect(gaps('title, { gap: 30px }, byline, { gap: 50px }, content', '')).to.deep.equal([
      ['/templates/t/arrange/1', 30],
    ])
  })

  it('a gap before comments that are not there', () => {
    expect(gaps('content, { gap: 40px }, comments', '')).to.deep.equal([['/templates/t/arrange/1', 40]])
  })

  it('a first gap above a section with a background, but not above text', () => {
    expect(gaps('{ gap: 40px }, content', '', HERO)).to.deep.equal([['/templates/t/arrange/0', 40]])
    expect(gaps('{ gap: 40px }, content', '')).to.deep.equal([])
  })
})
