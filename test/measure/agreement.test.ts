import { expect } from 'chai'
import { readFileSync } from 'node:fs'
import { measurePage, resolveSite } from 'wembra'
import { renderHtml } from 'wembra/report'
import { loadSite } from 'wembra/node'
import { disagreements } from '../../scripts/agree.js'
import { useBrowser } from '../support/browser.js'
import { Random } from '../support/random-site.js'
import { siteOf } from '../support/site.js'

/** One page of each template and kind; `npm run agree` takes them all. */
const SAMPLE = [
  ...['home', 'getting-here', 'support-us', 'whats-on', 'shop', 'perseids'],
  ...['lecture-dust', 'star-party', 'star-party-thanks', 'rota', 'cocoa'],
]

describe('boxes that a browser agrees with', () => {
  const browser = useBrowser()

  it(`to half a px, on ${SAMPLE.length} pages of Quillmere at five widths`, async () => {
    const { found, boxes } = await disagreements(browser(), resolveSite(loadSite('examples/quillmere')), {
      pages: SAMPLE,
    })
    expect(found).to.deep.equal([])
    expect(boxes).to.be.greaterThan(600)
  })

  it('where everything is at its most awkward', async () => {
    const site = siteOf(`
surrounds:
  top: { as: header, measured: { desk: 101.5px }, rows: [ { id: a, padding: 1vw 3%, items: [ { gap: 30px } ] }, { id: b, items: [ { gap: 12.25px } ] } ] }
  rail: { as: sidebar, items: [ { gap: 333px } ] }
assets: { wide: { width: 1600, height: 900 } }
inserts:
  - { id: strip, at: before-header, where: { all: true }, padding: 5px, margin: 3px 0 7px, items: [ { gap: 20px } ] }
  - { id: more, at: before-header, where: { all: true }, padding: 5px, margin: 9px 5% -2px, items: [ { gap: 20px } ] }
  - { id: end, at: after-content, where: { all: true }, breakout: true, maxWidth: 60%, items: [ { image: wide } ] }
theme:
  layout:
    header: { use: top, position: { desk: overlay, tablet: sticky, phone: fixed }, clearance: { phone: auto, else: 4.5px } }
    title: { place: band, padding: 5% 2vw 1rem, height: 99px }
    leadImage: { presence: shown, place: { phone: content, else: band } }
    sidebar: { side: { tablet: left, else: right }, use: rail, width: 25%, gap: 2.5%, stackAt: 600px }
    width: { max: 80vw, gutter: 3vw, padding: 0 2%, columnMax: 70% }
    spacing: 3vh 7.5px
    comments: { presence: shown, maxWidth: 55%, height: 77px }
pages:
  visit:
    path: /visit
    title: Visit
    image: wide
    body:
      - { section: a, margin: 20px 10px -15px, padding: 10% 5px, items: [ { section: b, margin: 30px 0, minHeight: 50vh, align: center, items: [ { gap: 10px }, { section: c, margin: -8px 0 12px, height: 40px, padding: 15px, items: [ { gap: 100px } ] }, { gap: 3px } ] } ] }
      - { section: d, margin: -10px 0 0, breakout: true, maxWidth: 300px, align: end, height: 200px, items: [ { image: wide } ] }
      - { section: e, gap: 13px, stackAt: 700px, columns: [ { share: 3, items: [ { image: wide } ] }, { items: [ { section: f, padding: 4%, items: [ { gap: 50px } ] } ] }, { share: 2.5, items: [ { gap: 5px } ] } ] }`)
    expect((await disagreements(browser(), site)).found).to.deep.equal([])
  })

  it('wherever words break, with the glyphs of the site’s own font', async () => {
    const random = new Random(7)
    const words = [
      'a',
      'of',
      'AVATAR',
      'To',
      'observatory',
      'co-operate',
      'night/day',
      'fjord',
      'well–lit',
      'Wave,',
      '“quoted”',
      'naïve',
      '1,024',
      'x–y',
      'Tyne',
      'office',
      '(see',
      'below)',
      'e.g.',
      'half-way-house',
      'why?yes',
      'a|b',
      '{x};',
      'a+b',
      '50%',
      '$5',
      "it's",
      '10:30',
      'a_b',
      'www.x.example/z?q=1',
      'end.Next',
      '[1]',
      'star—party',
      'λ=3',
      '12-13',
      '-5',
    ]
    // Browsers keep lengths in 64ths of a px; lines that are whole in these let errors of breaking stand alone.
    const exact = JSON.stringify(Object.fromEntries([1, 2, 3, 4, 5, 6].map((n) => [n, { line: 1.25 }])))
    const text = (length: number): string => Array.from({ length }, () => random.pick(words)).join(' ')
    const sections = Array.from({ length: 40 }, (_, n) => ({
      section: `s${n}`,
      maxWidth: `${120 + random.below(700)}px`,
      items: [
        { text: text(1 + random.below(60)) },
        { heading: 1 + random.below(6), text: text(1 + random.below(12)) },
        { text: text(3), width: '90px' },
      ],
    }))
    const site = siteOf(
      `typography: { file: text.ttf, headings: ${exact} }\npages: { visit: { path: /visit, title: ${JSON.stringify(text(14))}, body: ${JSON.stringify(sections)} } }`,
      { 'text.ttf': new Uint8Array(readFileSync('examples/quillmere/fonts/text.ttf')) },
    )
    expect(measurePage(site.page('visit'), 'phone').box('inside:s0')?.certainty).to.equal('computed')
    expect((await disagreements(browser(), site)).found).to.deep.equal([])
  })

  it('on pages that are rendered without a script, whatever their words', () => {
    const hostile = '</title><script>alert(1)</script><img src=x onerror=alert(1)>'
    const site = siteOf(
      `pages: { visit: { path: /visit, title: ${JSON.stringify(hostile)}, body: [ { section: "\\"><script>", items: [ { text: ${JSON.stringify(hostile)} } ] } ] } }`,
    )
    const html = renderHtml(measurePage(site.page('visit'), 'desk')).replace(/="[^"]*"/g, '')
    expect(html).to.not.match(/<script|<img/)
    expect(html).to.contain('&#x3C;script>alert(1)')
  })
})
