import { expect } from 'chai'
import { measurePage, setPath, type ResolvedSite } from 'wembra'
import { siteOf } from '../support/site.js'

/** A header whose title is the page's own: one line of heading 1 is 40 px * 1.2 = 48 px high, between paddings of 1vw. */
const SITE = `
viewports: { desk: { width: 1280, height: 800 }, phone: { width: 400, height: 800 } }
surrounds:
  top: { as: header, rows: [ { padding: 1vw 0, items: [ { title: true }, { id: tall, gap: 60px, hide: [ phone ] } ] } ] }
theme: { layout: { header: { use: top, items: { tall: absent } } } }
templates: { tall: { layout: { header: { items: { tall: shown } } } } }
pages:
  first: { path: /first, title: First }
  second: { path: /second, title: Second }
  blank: { path: /blank, title: " " }
  tall: { path: /tall, title: Tall, template: tall }
`

const header = (site: ResolvedSite, page: string, viewport: Parameters<typeof measurePage>[1] = 'desk') =>
  measurePage(site.page(page), viewport).header

describe('the bars of pages with one layout', () => {
  it('print the page’s title between their paddings', () => {
    const site = siteOf(SITE)
    expect(header(site, 'first').rows[0]?.items.map(({ kind }) => kind)).to.deep.equal(['title'])
    expect(header(site, 'first').height).to.be.closeTo(48 + 2 * 12.8, 1e-9)
  })

  it('are of a page’s own where they print something of the page', () => {
    const site = siteOf(SITE)
    expect(header(site, 'second').height).to.be.closeTo(48 + 2 * 12.8, 1e-9)
    expect(header(site, 'blank').height).to.be.closeTo(2 * 12.8, 1e-9)
    expect(header(site, 'first').height).to.be.closeTo(48 + 2 * 12.8, 1e-9)
  })

  it('are others with another layout, viewport or window', () => {
    const site = siteOf(SITE)
    expect(header(site, 'first').height).to.be.closeTo(48 + 2 * 12.8, 1e-9)
    expect(header(site, 'tall').height).to.be.closeTo(60 + 2 * 12.8, 1e-9)
    expect(header(site, 'tall', 'phone').height).to.be.closeTo(48 + 2 * 4, 1e-9)
    expect(header(site, 'first', { width: 1600, height: 800 }).height).to.be.closeTo(48 + 2 * 16, 1e-9)
    expect(header(site, 'first', { width: 1400, height: 800 }).height).to.be.closeTo(48 + 2 * 14, 1e-9)
    expect(header(site, 'first').height).to.be.closeTo(48 + 2 * 12.8, 1e-9)
  })

  it('are worked out again after a change of what they print, and as they were in the state before it', () => {
    const before = siteOf(SITE)
    const pages = ['first', 'second', 'blank']
    const heights = (site: ResolvedSite): readonly number[] =>
      pages.map((page) => Math.round(header(site, page).height))
    expect(heights(before)).to.deep.equal([74, 74, 26])
    const path = 'surrounds.top.rows'
    const after = before.with(setPath(before.site, path, [{ items: [{ title: true }, { gap: '50px' }] }]))
    expect(heights(after)).to.deep.equal([50, 50, 50])
    expect(heights(before)).to.deep.equal([74, 74, 26])
    const renamed = before.with(setPath(before.site, 'pages.first.title', ' '))
    expect(heights(renamed)).to.deep.equal([26, 74, 26])
  })

  it('are others where a style sheet gives some pages another height', () => {
    const site = siteOf(`${SITE}styles: [ { css: ".page-second #top { height: 200px }" } ]\n`)
    const heights = ['first', 'second', 'blank'].map((page) => Math.round(header(site, page).height))
    expect(heights).to.deep.equal([74, 200, 26])
  })
})
