import { expect } from 'chai'
import { heightLadder, measurePage, resolveSite, widthLadder, type WidthStep } from 'wembra'
import { loadSite } from 'wembra/node'
import { siteOf } from '../support/site.js'

const of = (text: string, box: string, viewport = 'desk'): readonly (readonly [number, number, string])[] =>
  widthLadder(measurePage(siteOf(text).page('visit'), viewport), box).map(({ px, x, because }) => [px, x, because])

const page = (rest: string): string => `pages: { visit: { path: /visit, title: Visit, ${rest} } }\n`
const words = 'items: [ { text: words } ]'

describe('the width ladder', () => {
  it('goes from the window through gutter, max, padding, sidebar, gap and cap to the column', () => {
    // 1280 − 2·24 = 1232, at most 1000 and centered: x 24 + 116 = 140; padding 20 a side; sidebar 200 + 40 on the left.
    const site = `surrounds: { rail: { as: sidebar, items: [ { text: words } ] } }
theme: { layout: { width: { max: 1000px, padding: 0 20px, columnMax: 700px }, sidebar: { side: left, use: rail, width: 200px, gap: 40px } } }
${page(`body: [ { section: s, ${words} } ]`)}`
    expect(of(site, 'column')).to.deep.equal([
      [1280, 0, 'the window at desk'],
      [-48, 24, 'width.gutter on both sides'],
      [-232, 116, 'width.max, centered'],
      [-40, 20, 'width.padding'],
      [-200, 200, 'sidebar.width'],
      [-40, 40, 'sidebar.gap'],
      [-20, 0, 'width.columnMax'],
    ])
    expect(of(site, 'sidebar').at(-1)).to.deep.equal([-760, 0, 'sidebar.width on the left'])
    expect(of(site, 'nothing')).to.deep.equal([])
  })

  it('goes on through bands, margins, paddings, maxWidth and columns to an item', () => {
    const site = `theme: { layout: { width: full } }
${page('body: [ { section: s, margin: 0 30px, padding: 0 50px, maxWidth: 800px, gap: 40px, stackAt: 0, columns: [ { share: 3, items: [ { text: a } ] }, { items: [ { image: dome, width: 100px } ] } ] } ]')}`
    // 1280 − 60 − 100 = 1120, at most 800 and centered: 160 more on either side; columns share 760 as 3 to 1.
    expect(of(site, 'item:s/1')).to.deep.equal([
      [1280, 0, 'the window at desk'],
      [0, 0, 'width.mode: full'],
      [-60, 30, 'margin'],
      [-100, 50, 'padding of s'],
      [-320, 160, 'maxWidth of s, centered'],
      [-610, 610, 'column 2 of 2'],
      [-90, 0, 'width of the image'],
    ])
  })

  it('names the way out of a box, and settings by their places', () => {
    const site = siteOf(`theme: { layout: { width: { max: 1000px } } }
${page(`body: [ { section: s, breakout: true, ${words} } ]`)}`)
    const steps = widthLadder(measurePage(site.page('visit'), 'desk'), 'section:s')
    expect(steps.map(({ px, pointer }) => [px, pointer])).to.deep.equal([
      [1280, undefined],
      [-48, undefined],
      [-232, '/theme/layout/width/max'],
      [280, '/pages/visit/body/0/breakout'],
    ])
  })

  for (const folder of ['examples/quillmere', 'examples/quillmere-clean'])
    it(`adds up to x and width of every box of ${folder}`, () => {
      const resolved = resolveSite(loadSite(folder))
      const sum = (steps: readonly WidthStep[], of: 'px' | 'x'): number => steps.reduce((n, step) => n + step[of], 0)
      const off: string[] = []
      for (const page of resolved.pages()) {
        if (page.dormant) continue
        for (const { name } of resolved.site.viewports) {
          const measure = measurePage(page, name)
          for (const { id, x, width } of measure.boxes) {
            const steps = widthLadder(measure, id)
            if (Math.abs(sum(steps, 'px') - width) > 0.01 || Math.abs(sum(steps, 'x') - x) > 0.01)
              off.push(`${page.id} ${name} ${id}`)
          }
        }
      }
      expect(off).to.deep.equal([])
    })
})

describe('the height of a bar', () => {
  const site = (surround: string): string => `assets: { mark: { width: 80, height: 40 } }
surrounds: { top: { as: header, ${surround} rows: [ { id: a, padding: 10px 0, items: [ { id: logo, logo: mark }, { text: words, height: 20px } ] }, { id: b, items: [ { text: words, height: 30px } ] } ] } }
theme: { layout: { header: { use: top } } }
${page(`body: [ { section: s, ${words} } ]`)}`
  const steps = (surround: string, box: string): readonly (readonly [number, string])[] =>
    heightLadder(measurePage(siteOf(site(surround)).page('visit'), 'desk'), box).map(({ px, because }) => [px, because])

  it('is explained by its rows, and a row by its tallest item and its padding', () => {
    expect(steps('', 'header')).to.deep.equal([
      [60, 'row a'],
      [30, 'row b'],
    ])
    expect(steps('', 'row:a')).to.deep.equal([
      [40, 'logo logo, its tallest item'],
      [20, 'padding above and below'],
    ])
    expect(steps('', 'column')).to.deep.equal([])
  })

  it('or by what is declared or was measured', () => {
    expect(steps('height: 100px,', 'header')).to.deep.equal([[100, 'the height that is declared for the header']])
    expect(steps('measured: { desk: 97px },', 'header')).to.deep.equal([[97, 'measured on the real page']])
  })
})
