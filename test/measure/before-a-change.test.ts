import { expect } from 'chai'
import { measurePage, readSite, resolveSite, setPath, type Json, type PageMeasure, type ResolvedSite } from 'wembra'
import { siteOf } from '../support/site.js'

const site = siteOf(`
surrounds:
  top: { as: header, rows: [ { items: [ { gap: 60px } ] } ] }
  low: { as: footer, rows: [ { items: [ { menu: legal } ] } ] }
  rail: { as: sidebar, items: [ { use: card } ] }
  card: { as: sidebar, items: [ { gap: 40px } ] }
menus: { legal: [ { label: Imprint, page: visit } ] }
assets: { dome: { width: 400, height: 200 } }
inserts: [ { id: notice, at: after-header, where: {}, items: [ { gap: 24px } ] } ]
theme: { layout: { header: { use: top }, footer: { use: low }, sidebar: { side: right, use: rail, width: 200px, gap: 0 }, spacing: 0, title: { height: 50px } } }
pages:
  visit:
    path: /visit
    title: Visit
    body: [ { section: first, items: [ { gap: 100px } ] }, { section: second, items: [ { image: dome, width: 400px } ] } ]
`)

/** A page before and after a change, measured with what was known of it. */
function both(
  from: ResolvedSite,
  path: string,
  value: Json,
): { readonly before: PageMeasure; readonly after: PageMeasure } {
  const before = measurePage(from.page('visit'), 'desk')
  const page = from.with(setPath(from.site, path, value)).page('visit')
  const after = measurePage(page, 'desk', { before })
  expect(after).to.deep.equal(measurePage(page, 'desk'))
  return { before, after }
}

describe('a page that is measured with what is known of it before a change', () => {
  it('takes bars, inserts and sections as they are where nothing that they rest on changes', () => {
    const { before, after } = both(site, 'pages.visit.layout.spacing.after', '80px')
    expect(after.box('page')?.height).to.equal((before.box('page')?.height ?? 0) + 80)
    expect(after.header).to.equal(before.header)
    expect(after.box('section:second')).to.equal(before.box('section:second'))
    expect(after.box('insert:notice')).to.equal(before.box('insert:notice'))
  })

  it('moves what is below what grew, with the steps that lead there', () => {
    const { before, after } = both(site, 'pages.visit.layout.spacing.before', '10px')
    expect(after.box('insert:notice')).to.equal(before.box('insert:notice'))
    // 60 the header, 24 the insert, 10 spacing, 50 the title, 100 the first section.
    expect(after.box('section:second')?.y).to.equal(244)
    expect(after.box('section:second')?.ledger.map(({ px }) => px)).to.deep.equal([60, 24, 10, 50, 100])
  })

  it('tells two ways down of the same length apart', () => {
    const flowing = site.with(setPath(site.site, 'theme.layout.header.height', '60px'))
    const before = measurePage(site.page('visit'), 'desk')
    const covering = flowing.with([
      ...setPath(flowing.site, 'theme.layout.header.position', 'fixed'),
      ...setPath(flowing.site, 'theme.layout.header.clearance', '60px'),
    ])
    const after = measurePage(covering.page('visit'), 'desk', { before })
    expect(after.box('section:first')?.y).to.equal(before.box('section:first')?.y)
    expect(after.box('section:first')?.ledger[0]?.because).to.equal('header.clearance')
  })

  for (const [what, path, value, box, height] of [
    ['a picture of other proportions', 'assets.dome.height', 300, 'section:second', 300],
    ['a menu that is empty', 'menus.legal', [], 'footer', 0],
    ['a surround inside a sidebar', 'surrounds.card.items', [{ gap: '70px' }], 'sidebar', 70],
    ['a row of the header', 'surrounds.top.rows', [{ padding: '5px', items: [{ gap: '60px' }] }], 'header', 70],
    ['a header of the page’s own height', 'pages.visit.layout.header.height', '90px', 'header', 90],
    ['a narrower column', 'pages.visit.layout.width.columnMax', '300px', 'column', 350],
    [
      'an insert',
      'inserts',
      [{ id: 'notice', at: 'after-header', where: {}, items: [{ gap: '30px' }] }],
      'insert:notice',
      30,
    ],
    ['a text size', 'typography.base', '20px', 'footer', 30],
  ] as const)
    it(`works out again what rests on ${what}`, () => {
      expect(both(site, path, value).after.box(box)?.height).to.equal(height)
    })

  it('works out everything again at another window, and in a site that is read anew', () => {
    const before = measurePage(site.page('visit'), 'desk')
    const phone = measurePage(site.page('visit'), 'phone', { before })
    expect(phone).to.deep.equal(measurePage(site.page('visit'), 'phone'))
    const anew = resolveSite(
      readSite(JSON.stringify({ ...site.site.data, assets: { dome: { width: 400, height: 90 } } })),
    )
    const after = measurePage(anew.page('visit'), 'desk', { before })
    expect(after.box('section:second')?.height).to.equal(90)
  })

  it('is measured alike where no change will follow, and by whoever takes that for what was before one', () => {
    const last = measurePage(site.page('visit'), 'desk', { isLast: true })
    expect(last).to.deep.equal(measurePage(site.page('visit'), 'desk'))
    for (const [path, value] of [
      ['pages.visit.layout.spacing.before', '10px'],
      ['surrounds.top.rows.0.items.0.gap', '70px'],
      ['pages.visit.layout.sidebar', 'none'],
    ] as const) {
      const page = site.with(setPath(site.site, path, value)).page('visit')
      for (const isLast of [false, true])
        expect(measurePage(page, 'desk', { before: last, isLast }), path).to.deep.equal(measurePage(page, 'desk'))
    }
  })

  it('lets go of measures that came before: of many in a row each knows the last one only', () => {
    let here = site
    let measure = measurePage(here.page('visit'), 'desk')
    for (let n = 1; n <= 200; n++) {
      here = here.with(setPath(here.site, 'pages.visit.layout.spacing.after', `${n}px`))
      measure = measurePage(here.page('visit'), 'desk', { before: measure })
    }
    expect(measure).to.deep.equal(measurePage(here.page('visit'), 'desk'))
    expect(measure.box('section:first')).to.equal(
      measurePage(here.page('visit'), 'desk', { before: measure }).box('section:first'),
    )
  })
})
