import { expect } from 'chai'
import { assignedPages, diffFacets, groupLayouts, groupPages, kindsNamed, mapSite, neededStyles } from 'wembra'
import { siteOf } from '../support/site.js'

// What each page gets is worked out by hand from these lines.
const SITE = siteOf(`
surrounds:
  top: { as: header, height: 96px, rows: [ { items: [ { text: Tarn } ] } ] }
  low: { as: footer, rows: [ { items: [ { text: Low } ] } ] }
  rail: { as: sidebar, items: [ { gap: 50px } ] }
theme: { layout: { header: { use: top }, footer: absent, sidebar: none } }
templates:
  wide: { label: Wide pages, layout: { width: full } }
  plain: {}
assign:
  - { template: wide, where: [ { tag: big } ] }
  - { layout: { title: absent }, where: [ { under: news } ] }
  - { layout: { title: hidden }, where: [ { tag: never } ] }
pages:
  home: { path: /, title: Home }
  news: { path: /news, title: News }
  a: { path: /news/a, title: A, parent: news, tags: [ big ] }
  b: { path: /news/b, title: B, parent: news }
  c: { path: /c, title: C, tags: [ big ], template: plain }
  d: { path: /d, title: D, layout: { header: absent } }`)

describe('what many pages get', () => {
  it('is, of each assign entry, which pages it means, whether it decides there or not', () => {
    expect(assignedPages(SITE)).to.deep.equal([['a', 'c'], ['a', 'b'], []])
  })

  it('is told by groups of pages that get the same, most pages first, with what the nearest differ in', () => {
    const groups = groupLayouts(SITE)
    expect(groups.map(({ pages }) => pages)).to.deep.equal([['home', 'news', 'c'], ['a'], ['b'], ['d']])
    expect(groups.map(({ templates }) => templates)).to.deep.equal([['none', 'plain'], ['wide'], ['none'], ['none']])
    expect(groups[2]?.nearest).to.deep.equal({ group: 0, differ: ['title.presence'] })
  })

  it('could be had without templates, where these arrange and ground pages as pages without one are', () => {
    const { used, fewest, groups } = groupPages(SITE)
    expect([used, fewest, groups.length]).to.deep.equal([2, 0, 4])
  })

  it('is, of each template and surround, who gets it and for whom another wins', () => {
    const things = new Map(mapSite(SITE).map((thing) => [`${thing.as} ${thing.id}`, thing]))
    expect([...things.keys()]).to.have.members([
      'template wide',
      'template plain',
      'header top',
      'footer low',
      'sidebar rail',
    ])
    expect(things.get('template wide'))
      .to.include({ label: 'Wide pages' })
      .and.deep.include({ wins: ['a'] })
    expect(things.get('template wide')?.overridden.map(({ page }) => page)).to.deep.equal(['c'])
    expect(things.get('template plain')).to.deep.include({ wins: ['c'], overridden: [] })
    expect(things.get('header top')?.wins).to.deep.equal(['home', 'news', 'a', 'b', 'c'])
    expect(things.get('header top')?.overridden.map(({ page }) => page)).to.deep.equal(['d'])
    expect(things.get('footer low')).to.deep.include({ wins: [], overridden: [] })
  })

  it('is, after a change, told by pages that change alike', () => {
    const changed = SITE.with([
      { op: 'replace', path: '/theme/layout/header', value: { use: 'top', position: 'sticky' } },
      { op: 'remove', path: '/assign/1' },
    ])
    const groups = diffFacets(SITE, changed).map(({ pages, facets }) => [
      pages.join(' '),
      facets.map(({ property, before, after }) => `${property} ${String(before)} ${String(after)}`).join('; '),
    ])
    expect(groups).to.have.deep.members([
      ['home news c d', 'header.position flow sticky'],
      ['a b', 'header.position flow sticky; title.presence absent shown'],
    ])
    expect(diffFacets(SITE, SITE.with([]))).to.deep.equal([])
  })

  it('is named by the sorts of things that have a name', () => {
    expect([kindsNamed(SITE, 'wide'), kindsNamed(SITE, 'top'), kindsNamed(SITE, 'nobody')]).to.deep.equal([
      ['template'],
      ['surround'],
      [],
    ])
  })

  it('is, where settings do not give it, needed in exact px: the room under a fixed header', () => {
    const fixed = siteOf(`
surrounds: { top: { as: header, height: 96px, rows: [ { items: [ { text: Tarn } ] } ] } }
theme: { layout: { header: { use: top, position: fixed }, footer: absent, sidebar: none } }
pages:
  visit: { path: /visit, title: Visit }
  people: { path: /people, title: People, layout: { header: absent } }`)
    const room = neededStyles(fixed).filter(({ property }) => property === 'padding-top')
    expect(room.map(({ value, pages, viewports }) => [value, pages, viewports])).to.deep.equal([
      ['96px', ['visit'], ['desk', 'tablet', 'phone']],
    ])
    expect(neededStyles(fixed, ['people']).filter(({ property }) => property === 'padding-top')).to.deep.equal([])
  })
})
