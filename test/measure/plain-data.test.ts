import { expect } from 'chai'
import { inspect, measurePage, type Box, type PageMeasure, type PlainMeasure } from 'wembra'
import { chainDocument, pageDocument } from 'wembra/report'
import { NOW, siteOf } from '../support/site.js'

const site = siteOf(`
surrounds: { top: { as: header, height: 96px, rows: [ { items: [ { text: Tarn } ] } ] } }
theme: { layout: { header: { use: top }, spacing: 40px, footer: absent } }
pages: { visit: { path: /visit, title: Visit, body: [ { section: s, padding: 10px, items: [ { text: Come } ] } ] } }
`)
const measure = measurePage(site.page('visit'), 'desk')

/** The ways in which data leaves a program or a worker. */
const COPIES: readonly (readonly [string, (measure: PageMeasure) => PlainMeasure])[] = [
  ['structuredClone', (m) => structuredClone(m) as PlainMeasure],
  ['JSON', (m) => JSON.parse(JSON.stringify(m)) as PlainMeasure],
]

describe('a measure that is sent elsewhere', () => {
  for (const [how, copy] of COPIES) {
    it(`by ${how} has its boxes, with every step of their ledgers`, () => {
      const section = copy(measure).boxes.find((box) => box.id === 'section:s') as Box
      expect({ x: section.x, y: section.y, width: section.width }).to.deep.equal({ x: 60, y: 184, width: 1160 })
      expect(section.ledger.map(({ px, because }) => `${px} ${because}`)).to.deep.equal([
        '96 the header',
        '40 spacing.before',
        '48 the title',
      ])
      expect(section.ledger.reduce((sum, { px }) => sum + px, 0)).to.equal(section.y)
    })

    it(`by ${how} has all else that is plain, and nothing that is not`, () => {
      const sent = copy(measure)
      expect(sent.boxes).to.have.length(measure.boxes.length)
      expect(sent.viewport).to.deep.equal({ name: 'desk', width: 1280, height: 800 })
      expect(sent).to.include({ clearance: 0, afterClearance: 96, room: 1160, sidebarBeside: false })
      expect(Object.keys(sent)).to.not.include.members(['view', 'box'])
    })
  }

  it('is still asked for its boxes and its view where it was made', () => {
    expect(measure.box('header')?.height).to.equal(96)
    expect(measure.box('nothing')).to.equal(undefined)
    expect(measure.view.viewport.name).to.equal('desk')
  })
})

describe('what else is sent elsewhere', () => {
  it('keeps its chain: a property, and a document', () => {
    const { position } = site.page('visit').at('desk').header
    expect(structuredClone(position)).to.deep.equal(position)
    const document = chainDocument(site.page('visit'), 'spacing.before', 'desk')
    expect(JSON.parse(JSON.stringify(document))).to.deep.equal(structuredClone(document))
    expect(document.chain[0]?.at?.line).to.be.above(1)
  })

  it('keeps its findings and its page', () => {
    const findings = inspect(site, { now: NOW, fixes: 'first' })
    expect(structuredClone(findings)).to.deep.equal(findings)
    const page = pageDocument(site, site.page('visit'), ['desk', 'phone'])
    expect(structuredClone(page)).to.deep.equal(JSON.parse(JSON.stringify(page)))
  })
})
