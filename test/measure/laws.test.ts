import { expect } from 'chai'
import fc from 'fast-check'
import { measurePage } from 'wembra'
import { randomSiteAt } from '../../scripts/agree.js'
import { siteOf } from '../support/site.js'

describe('laws of the geometry', () => {
  it('the ledger of any box adds up to where it stands, and each step names a place of the site', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1_000_000 }), (seed) => {
        const site = randomSiteAt(2 * seed + 1, 2)
        for (const page of site.pages())
          for (const { name } of site.site.viewports)
            for (const box of measurePage(page, name).boxes) {
              const sum = box.ledger.reduce((total, step) => total + step.px, 0)
              expect(sum, `${page.id} ${name} ${box.id}`).to.be.closeTo(box.y, 1e-6)
              expect(box.ledger.every((step) => step.px !== 0 && step.because !== '')).to.equal(true)
            }
      }),
      { numRuns: 60 },
    )
  })

  it('every number of a box is finite, and no size is below 0', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1_000_000 }), fc.integer({ min: 1, max: 4000 }), (seed, width) => {
        const site = randomSiteAt(2 * seed + 1, 1)
        for (const box of measurePage(site.page('p0'), { width, height: 700 }).boxes) {
          expect([box.x, box.y, box.width, box.height].every(Number.isFinite), box.id).to.equal(true)
          expect(Math.min(box.width, box.height)).to.be.at.least(0)
        }
      }),
      { numRuns: 60 },
    )
  })
})

describe('lengths and pictures that make no sense', () => {
  const absurd = (length: string) =>
    measurePage(
      siteOf(
        `theme: { layout: { spacing: ${length}, width: { max: ${length} } } }\npages: { visit: { path: /visit, title: Visit, body: [ { section: s, padding: ${length}, maxWidth: ${length}, items: [ { gap: ${length} }, { text: words, width: ${length} } ] } ] } }`,
      ).page('visit'),
      'desk',
    )

  for (const length of [
    '"-1px"',
    '.inf',
    '.nan',
    '"NaNpx"',
    '"calc(1px / 0px)"',
    '"calc(infinity * 1px)"',
    'calc(1px / 0)',
  ])
    it(`${length} is an error with a place`, () => {
      expect(() => absurd(length)).to.throw(/test\.site\.yaml:\d+:\d+: wrong-(value|type): /)
    })

  for (const length of ['1e300px', '999999999999rem', 'calc(1e30vw + 1e30px)'])
    it(`${length} is laid out within what a browser knows`, () => {
      for (const box of absurd(length).boxes) expect(Number.isFinite(box.y + box.height + box.width)).to.equal(true)
    })

  it('a viewport without a size is an error with a place', () => {
    for (const size of ['width: 0, height: 800', 'width: 400, height: -1', 'width: .inf, height: 1'])
      expect(() => siteOf(`viewports: { desk: { ${size} } }`)).to.throw(/test\.site\.yaml:\d+:\d+: wrong-/)
  })

  it('ten thousand nested sections are an error, not a crash', () => {
    const open = Array.from({ length: 10_000 }, (_, n) => `{ section: s${n}, items: [ `).join('')
    const text = `pages: { visit: { path: /visit, title: Visit, body: [ ${open}${' ] }'.repeat(10_000)} ] } }`
    expect(() => siteOf(text)).to.throw(/too-deep/)
  })

  it('thirty nested sections are laid out', () => {
    const open = Array.from(
      { length: 30 },
      (_, n) => `{ section: s${n}, align: center, minHeight: 10px, items: [ `,
    ).join('')
    const site = siteOf(
      `pages: { visit: { path: /visit, title: Visit, body: [ ${open}{ gap: 5px }${' ] }'.repeat(30)} ] } }`,
    )
    expect(measurePage(site.page('visit'), 'desk').box('section:s0')?.height).to.equal(10)
  })

  it('a broken picture or font is estimated, and marked so', () => {
    const site = siteOf(
      'typography: { file: bad.ttf }\nassets: { bad: { file: bad.png } }\npages: { visit: { path: /visit, title: Visit, body: [ { section: s, items: [ { image: bad }, { text: words } ] } ] } }',
      { 'bad.ttf': new Uint8Array([1, 2, 3]), 'bad.png': new Uint8Array([137, 80, 78, 71, 0, 0]) },
    )
    const measure = measurePage(site.page('visit'), 'desk')
    expect(['item:s/0', 'item:s/1'].map((id) => measure.box(id)?.certainty)).to.deep.equal(['estimated', 'estimated'])
  })
})
