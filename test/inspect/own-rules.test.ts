import { expect } from 'chai'
import { inspect, pageRule, UnknownNameError, viewRule, type Rule } from 'wembra'
import { NOW, siteOf } from '../support/site.js'

const WORDS = {
  ...{ summary: 'A header is low.', matters: 'It is overlooked.', holds: 'Its height is below 100 px.' },
  ...{ example: 'theme: {}', advice: 'make it higher' },
}

/** A rule of somebody's own, which is broken below 100 px and proposes 120 px. */
const lowHeader = viewRule({
  ...{ ...WORDS, id: 'header-low', severity: 'warning', facet: 'header', numbers: ['height'] },
  message: ({ worst }) => `the header is ${worst.numbers['height']} px tall`,
  propose: () => [
    { title: 'leave it', patch: [{ op: 'replace', path: '/surrounds/top/height', value: '97px' }] },
    { title: 'make it 120 px', patch: [{ op: 'replace', path: '/surrounds/top/height', value: '120px' }] },
  ],
  check({ measure }, report) {
    const height = measure.box('header')?.height
    if (height !== undefined && height < 100) report({ at: '/surrounds/top/height', numbers: { height } })
  },
})

const longTitle = pageRule({
  ...{ ...WORDS, id: 'title-long', severity: 'note', facet: 'title', numbers: ['letters'] },
  message: ({ pages }) => `${pages.length} titles are long`,
  check(sight, report) {
    const letters = sight.page.data.title.length
    if (letters > 5) report({ at: sight.pointer('title'), numbers: { letters } })
  },
})

const SITE = siteOf(`
surrounds: { top: { as: header, height: 96px, rows: [ { items: [ { text: Tarn } ] } ] } }
theme: { layout: { header: { use: top }, footer: absent, sidebar: none } }
pages:
  visit: { path: /visit, title: Visit }
  people: { path: /people, title: People }
  bare: { path: /bare, title: A page without, layout: { header: absent } }`)

const found = (rules: readonly Rule[], more: object = {}) => inspect(SITE, { now: NOW, rules, ...more })

describe('rules of one’s own', () => {
  it('are asked about each page at each viewport, and told as others are', () => {
    const [finding, ...others] = found([lowHeader])
    expect(others).to.deep.equal([])
    expect(finding).to.deep.include({
      ...{ rule: 'header-low', key: 'header-low@/surrounds/top/height', severity: 'warning', facet: 'header' },
      ...{ pages: ['visit', 'people'], viewports: ['desk', 'tablet', 'phone'], numbers: { height: 96 } },
      ...{ message: 'the header is 96 px tall', advice: 'make it higher', certainty: 'computed', fixes: [] },
    })
    expect(finding?.cases).to.have.length(6)
    expect(finding?.at).to.include({ file: 'test.site.yaml', pointer: '/surrounds/top/height' })
  })

  it('are asked about each page, whatever the viewport: one finding for each place', () => {
    expect(found([longTitle]).map(({ at, numbers, pages }) => [at.pointer, numbers, pages])).to.deep.equal([
      ['/pages/bare/title', { letters: 14 }, ['bare']],
      ['/pages/people/title', { letters: 6 }, ['people']],
    ])
  })

  it('have their proposals tried: those after which they see less are fixes, others are refused', () => {
    const [first] = found([lowHeader], { fixes: true })
    expect(first?.fixes.map(({ title }) => title)).to.deep.equal(['make it 120 px'])
    expect(first?.fixes[0]?.pages).to.deep.equal(['visit', 'people'])
  })

  it('stand beside the rules that there are, under the same filters', () => {
    const both = [lowHeader, longTitle]
    expect(found(both).map(({ rule }) => rule)).to.deep.equal(['header-low', 'title-long', 'title-long'])
    expect(found(both, { severity: 'warning' }).map(({ rule }) => rule)).to.deep.equal(['header-low'])
    expect(found(both, { pages: ['bare'] }).map(({ rule }) => rule)).to.deep.equal(['title-long'])
    expect(found([...both, { ...lowHeader, id: 'again' }], { max: 1 })).to.have.length(1)
    expect(() => inspect(SITE, { rules: ['header-lo' as never] })).to.throw(UnknownNameError, 'header-lo')
  })

  it('share what they ask of a page: some work is done once at each viewport, and the items that print text are listed', () => {
    const site = siteOf(`
surrounds: { top: { as: header, rows: [ { items: [ { text: Tarn }, { text: ' ' }, { gap: 8px } ] } ] } }
theme: { layout: { header: { use: top }, footer: absent, sidebar: none } }
pages: { visit: { path: /visit, title: Visit, body: [ { section: s, items: [ { heading: 2, text: Hours }, { button: Buy } ] } ] } }`)
    const listed: (readonly string[])[] = []
    const words = ({ texts }: Parameters<typeof lowHeader.check>[0]): readonly string[] => {
      listed.push(texts.map(({ item }) => item.text ?? item.button ?? ''))
      return listed.at(-1) ?? []
    }
    const asking = (id: string): Rule =>
      viewRule({
        ...{ ...WORDS, id, severity: 'note', facet: 'header', numbers: ['texts'], message: () => 'seen' },
        check: (sight, report) => report({ at: '/theme', numbers: { texts: sight.once(words).length } }),
      })
    const findings = inspect(site, { now: NOW, rules: [asking('one'), asking('other')] })
    expect(findings.map(({ rule, numbers }) => [rule, numbers['texts']])).to.deep.equal([
      ['one', 3],
      ['other', 3],
    ])
    // Once for both rules at each of three viewports.
    expect(listed).to.deep.equal(new Array(3).fill(['Tarn', 'Hours', 'Buy']))
  })

  it('are turned off, and their severity set, by the site as that of others', () => {
    const quiet = siteOf(`severity: { title-missing: none }\n`)
    expect(inspect(quiet, { now: NOW, rules: ['title-missing'] })).to.deep.equal([])
  })
})
