import { expect } from 'chai'
import type { Page } from 'playwright-core'
import { measurePage, styleOut, type ResolvedSite } from 'wembra'
import { renderHtml } from 'wembra/report'
import { useBrowser } from '../support/browser.js'
import { findingsOf, siteOf } from '../support/site.js'

const BODY =
  'body: [ { section: s, items: [ { text: words, links: [ "#tickets" ] } ] }, { section: tickets, padding: 10px 0 900px, items: [ { text: more } ] } ]'
const site = (header: string, more = '', position = 'fixed'): string => `assets: { mark: { width: 100, height: 40 } }
surrounds: { top: { as: header, ${header} } }
theme: { layout: { header: { use: top, position: ${position} }, title: absent, spacing: 0 } }
${more}
pages: { visit: { path: /visit, title: Visit, ${BODY} } }
`

/** The header's heights at desk, tablet and phone, by what is said of its logo, padding and rows. */
const HEADERS: readonly (readonly [string, string, readonly [number, number, number]])[] = [
  ['one row', 'rows: [ { padding: 10px, items: [ { logo: mark } ] } ]', [60, 60, 60]],
  ['a larger logo', 'rows: [ { padding: 10px, items: [ { logo: mark, height: 64px } ] } ]', [84, 84, 84]],
  [
    'padding by viewport',
    'rows: [ { padding: { phone: 4px 0, tablet: 6px, else: 20px }, items: [ { logo: mark } ] } ]',
    [80, 52, 48],
  ],
  [
    'a row that phones lack',
    'rows: [ { padding: 5px, hide: [ phone ], items: [ { gap: 20px } ] }, { items: [ { logo: mark } ] } ]',
    [70, 70, 40],
  ],
  [
    'a measured height',
    'measured: { desk: 97.5px, else: 61px }, rows: [ { items: [ { logo: mark } ] } ]',
    [97.5, 61, 61],
  ],
]

describe('the style sheet of exact offsets', () => {
  const browser = useBrowser()
  let tab: Page

  before(async () => {
    tab = await browser().newPage()
  })

  const gaps = async (resolved: ResolvedSite, css: string): Promise<number[]> => {
    const found: number[] = []
    for (const { name, width, height } of resolved.site.viewports) {
      await tab.setViewportSize({ width, height })
      await tab.setContent(renderHtml(measurePage(resolved.page('visit'), name)))
      await tab.addStyleTag({ content: css })
      const [top = 0, bottom = 0] = await tab.evaluate(() =>
        ['section:s', 'header'].map((box, n) => {
          const rectangle = document.querySelector(`[data-box="${box}"]`)?.getBoundingClientRect()
          return (n === 0 ? rectangle?.top : rectangle?.bottom) ?? NaN
        }),
      )
      found.push(top - bottom)
    }
    return found
  }

  for (const [what, header, heights] of HEADERS)
    it(`follows the header at every viewport: ${what}`, async () => {
      const resolved = siteOf(site(header))
      const [finding] = findingsOf(resolved, 'header-covers-content')
      expect(finding?.cases.map((c) => c.numbers)).to.deep.equal(
        heights.map((height) => ({ covered: height, room: 0, needed: height })),
      )
      const css = styleOut(resolved)
      for (const height of new Set(heights)) expect(css).to.contain(`padding-top: ${height}px`)
      // In Chromium the overlap is there without the style sheet, and gone with it, to the last px.
      expect(await gaps(resolved, '/* nothing */')).to.deep.equal(heights.map((height) => -height))
      expect(await gaps(resolved, css)).to.deep.equal([0, 0, 0])
      // Read back as a style of the site it removes the findings that it is for.
      const styled = siteOf(site(header, `styles: [ { css: ${JSON.stringify(css)} } ]`))
      expect(findingsOf(styled, 'header-covers-content')).to.deep.equal([])
      expect(findingsOf(styled, 'clearance-wrong')).to.deep.equal([])
    })

  it('gives the targets of links a scroll margin, so that Chromium shows them whole', async () => {
    const resolved = siteOf(site('height: 80px', '', 'sticky'))
    const css = styleOut(resolved)
    expect(css).to.contain('body.page-visit #tickets').and.to.contain('scroll-margin-top: 80px')
    const top = async (): Promise<number> => {
      await tab.evaluate(() => document.querySelector('#tickets')?.scrollIntoView())
      return tab.evaluate(() => document.querySelector('#tickets')?.getBoundingClientRect().top ?? NaN)
    }
    await tab.setViewportSize({ width: 1280, height: 300 })
    await tab.setContent(renderHtml(measurePage(resolved.page('visit'), 'desk')))
    expect(await top()).to.be.lessThan(80)
    await tab.addStyleTag({ content: css })
    expect(await top()).to.equal(80)
  })

  it('is empty where nothing is needed', () => {
    expect(styleOut(siteOf(''))).to.match(/^\/\*.*\*\/\n$/)
  })

  it('escapes ids that are no plain names', () => {
    const css = styleOut(
      siteOf(
        'surrounds: { top: { as: header, height: 80px } }\ntheme: { layout: { header: { use: top, position: fixed }, spacing: 0 } }\npages: { "a/b {c}": { path: /a, title: A, body: [ { section: s, items: [ { text: words } ] } ] } }',
      ),
    )
    expect(css).to.contain('body.page-a\\/b\\ \\{c\\} {')
  })
})
