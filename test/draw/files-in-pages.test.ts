import { expect } from 'chai'
import { readFileSync } from 'node:fs'
import { measurePage, type ResolvedSite } from 'wembra'
import { fontFace, previewHtml, renderHtml } from 'wembra/report'
import { siteOf } from '../support/site.js'

const FONT = readFileSync('examples/quillmere/fonts/text.ttf')
const [RED, BLUE] = ['red', 'blue'].map(
  (color) =>
    `<svg xmlns="http://www.w3.org/2000/svg" width="8" height="8"><rect width="8" height="8" fill="${color}"/></svg>`,
) as [string, string]
const base64 = (bytes: string | Uint8Array): string => Buffer.from(bytes).toString('base64')

const site = siteOf(
  `typography: { file: text.ttf }
assets: { dot: { file: red.svg, width: 8, height: 8 } }
surrounds: { top: { as: header, rows: [ { items: [ { logo: dot } ] } ] } }
theme: { layout: { header: { use: top } } }
`,
  { 'red.svg': RED, 'blue.svg': BLUE, 'text.ttf': FONT },
)
const page = (state: ResolvedSite): string => renderHtml(measurePage(state.page('visit'), 'desk'))

describe('a page that is written out', () => {
  it('holds its pictures and its font itself, as Node encodes them', () => {
    const html = page(site)
    expect(html).to.contain(`data:image/svg+xml;base64,${base64(RED)}`)
    expect(html).to.contain(`src:url(data:font/ttf;base64,${base64(FONT)})`)
    expect(html.match(/base64,/g)).to.have.length(2)
  })

  it('holds the other picture once a change in memory names another file, and the first again without it', () => {
    expect(page(site)).to.contain(base64(RED))
    const changed = site.with([{ op: 'replace', path: '/assets/dot/file', value: 'blue.svg' }])
    expect(page(changed)).to.contain(base64(BLUE)).and.not.contain(base64(RED))
    expect(page(site)).to.contain(base64(RED)).and.not.contain(base64(BLUE))
  })

  it('has its font in a rule that is the same for all its states, and may be given apart', () => {
    const face = fontFace(measurePage(site.page('visit'), 'desk'))
    expect(face).to.equal(`@font-face{font-family:site;src:url(data:font/ttf;base64,${base64(FONT)})}`)
    const other = site.with([{ op: 'add', path: '/theme/layout/spacing', value: '40px' }])
    const measure = measurePage(other.page('visit'), 'phone')
    expect(fontFace(measure)).to.equal(face)
    const whole = previewHtml(measure, { boxes: true })
    expect(whole).to.contain(`<style>${face}</style>`)
    expect(previewHtml(measure, { boxes: true, font: false })).to.equal(whole.replace(`<style>${face}</style>`, ''))
  })

  it('has none where texts were worked out without one', () => {
    const measure = measurePage(siteOf('typography: { file: missing.ttf }\n', {}).page('visit'), 'desk')
    expect(fontFace(measure)).to.equal(undefined)
    expect(previewHtml(measure)).not.to.contain('@font-face')
  })
})
