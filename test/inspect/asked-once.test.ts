import { expect } from 'chai'
import { inspect, measurePage, readSite, resolveSite, type Finding } from 'wembra'
import { loadSite } from 'wembra/node'
import { makeSite } from '../../bench/make-site.js'
import { NOW, findingsOf, siteOf } from '../support/site.js'

const pagesOf = (findings: readonly Finding[]): string[] => findings.flatMap(({ pages }) => pages)

describe('a site that is inspected for the last time', () => {
  it('has the same findings, and so has what a change makes of it', () => {
    const quillmere = () => resolveSite(loadSite('examples/quillmere'))
    const site = quillmere()
    const all = inspect(quillmere(), { now: NOW })
    expect(inspect(site, { now: NOW, isLast: true })).to.deep.equal(all)
    expect(inspect(site, { now: NOW, isLast: true, max: 5 })).to.deep.equal(all.slice(0, 5))
    // Nothing was noted of what these rest on; whoever asks again is told all the same.
    const change = [{ op: 'add', path: '/pages/visit/access', value: 'members' }] as const
    expect(inspect(site.with(change), { now: NOW })).to.deep.equal(inspect(quillmere().with(change), { now: NOW }))
  })

  it('has the same fixes, where they are asked for all the same', () => {
    const site = () =>
      siteOf(
        'surrounds: { top: { as: header, height: 96px } }\ntheme: { layout: { header: { use: top, position: fixed } } }',
      )
    const fixed = inspect(site(), { now: NOW, fixes: true })
    expect(fixed.filter(({ fixes }) => fixes.length > 0)).not.to.deep.equal([])
    expect(inspect(site(), { now: NOW, fixes: true, isLast: true })).to.deep.equal(fixed)
  })

  it('has them also where there are more pages than measures are kept of', () => {
    const site = () => resolveSite(readSite(makeSite(240, 20, 50), { file: 'bench.site.json' }))
    const [once, again] = [inspect(site(), { now: NOW, isLast: true }), inspect(site(), { now: NOW })]
    expect(once).to.deep.equal(again)
    expect(once.length).to.be.above(100)
  })
})

describe('a page of which one is odd', () => {
  it('is told at its viewport, whatever the viewports are called and in whichever order they are', () => {
    // Names that are numbers come first in a JavaScript object, and not in their order here.
    const site =
      siteOf(`viewports: { wide: { width: 1280, height: 800 }, "390": { width: 390, height: 844 }, "100": { width: 768, height: 1024 } }
kinds: { event: {} }
assign: [ { layout: { spacing: { before: { "390": 40px } } }, where: { tag: old } } ]
pages: { ${['a', 'b', 'c', 'd', 'e', 'f'].map((id) => `${id}: { path: /${id}, title: ${id}, kind: event${id === 'f' ? ', tags: [ old ]' : ''} }`).join(', ')} }`)
    const [odd, ...others] = findingsOf(site, 'odd-one-out')
    expect(others).to.deep.equal([])
    // Five of the six pages, that is five sixths.
    expect(odd).to.deep.include({ pages: ['f'], viewports: ['390'], numbers: { share: 0.833 } })
  })
})

describe('words of a title', () => {
  const doubled = (heading: string, title = 'Opening hours'): boolean => {
    const items = JSON.stringify([{ heading: 2, text: heading }])
    const page = `{ path: /visit, title: ${JSON.stringify(title)}, body: [ { section: s, items: ${items} } ] }`
    return pagesOf(findingsOf(siteOf(`pages: { visit: ${page} }`), 'title-doubled')).length > 0
  }

  for (const [heading, title] of [
    ['Opening hours'],
    ['OPENING hours'],
    ['  Opening\n\t hours '],
    ['Opening hours', 'Opening  hours '],
    ['Öffnung', 'öffnung'],
    // The Kelvin sign is a k in lower case.
    ['\u212aelvin', 'kelvin'],
    ['caf\u00c9', 'Caf\u00e9'],
  ] as const)
    it(`${JSON.stringify(heading)} are those of ${JSON.stringify(title ?? 'Opening hours')}`, () => {
      expect(doubled(heading, title)).to.equal(true)
    })

  for (const [heading, title] of [
    ['Opening hour'],
    ['Opening hours today'],
    ['Openinghours'],
    ['Opening-hours'],
    // Signs of which one bit differs, as between small and capital letters.
    ['a[b', 'a{b'],
    ['a@', 'a`'],
    ['Cafe', 'Café'],
  ] as const)
    it(`${JSON.stringify(heading)} are not those of ${JSON.stringify(title ?? 'Opening hours')}`, () => {
      expect(doubled(heading, title)).to.equal(false)
    })
})

describe('the boxes of a page', () => {
  it('are found by their ids, few or many', () => {
    for (const count of [2, 60]) {
      const sections = Array.from({ length: count }, (_, n) => ({ section: `s${n}`, items: [{ text: 'words' }] }))
      const site = siteOf(`pages: { visit: { path: /visit, title: Visit, body: ${JSON.stringify(sections)} } }`)
      const measure = measurePage(site.page('visit'), 'desk')
      // Of each section its band, its inside and its item; and page, header, main, container, column, title and footer.
      expect(measure.boxes).to.have.length(3 * count + 7)
      for (const box of measure.boxes) expect(measure.box(box.id), box.id).to.equal(box)
      expect(measure.box('section:none')).to.equal(undefined)
    }
  })
})
