import { expect } from 'chai'
import { catalogOf, measurePage, stepOf, STEPS } from 'wembra'
import { placesOf, previewHtml, surroundInWords, templateInWords, valueInWords } from 'wembra/report'
import { siteOf } from '../support/site.js'

const SITE = siteOf(`
surrounds:
  top: { as: header, height: 96px, rows: [ { id: bar, items: [ { text: Tarn } ] } ] }
  rail: { as: sidebar, items: [] }
theme:
  layout:
    header: { use: top, position: fixed, clearance: 0 }
    footer: absent
    title: absent
    sidebar: { side: right, use: rail, width: 200px }
    width: { max: 800px, gutter: 0 }
    spacing: { before: 0, after: 0 }
templates: { story: { label: A story, layout: { width: { max: 600px }, title: hidden } } }
pages:
  visit: { path: /visit, title: Visit, layout: { sidebar: none }, body: [ { section: hero, band: full, height: 300px, items: [ { text: words } ] } ] }
  tale: { path: /tale, title: Tale, template: story }
  rails: { path: /rails, title: Rails, body: [ { section: s, height: 100px } ] }`)

const placesAt = (page: string, rule: string, facet: string, pointer = '') =>
  placesOf(measurePage(SITE.page(page), 'desk'), {
    ...{ rule, facet: facet as never, related: [] },
    at: { file: 'test.site.yaml', line: 1, column: 1, pointer },
  })

describe('where a finding is on its page', () => {
  it('is what the header covers', () => {
    const [area, ...others] = placesAt('visit', 'header-covers-content', 'header')
    expect(others).to.deep.equal([])
    expect(area).to.include({ y: 0, height: 96, label: '96 px covered', look: 'covered' })
  })

  it('is what a band leaves free on either side', () => {
    // (1280 − 800) / 2 = 240 on the left, as much on the right.
    const areas = placesAt('visit', 'boxed-in', 'width')
    expect(areas.map(({ x, width, label }) => [x, width, label])).to.deep.equal([
      [0, 240, '240 px'],
      [1040, 240, '240 px'],
    ])
  })

  it('is the column of a sidebar that holds nothing', () => {
    expect(placesAt('rails', 'sidebar-empty', 'sidebar')[0]).to.include({ width: 200, label: '200 px empty' })
  })

  it('is the section that a pointer names, or the box of its facet, or nowhere', () => {
    expect(placesAt('visit', 'any', 'body', '/pages/visit/body/0')[0]).to.include({
      label: 'hero',
      look: 'frame',
      height: 300,
    })
    expect(placesAt('visit', 'any', 'header')[0]).to.include({ label: 'header', height: 96, width: 1280 })
    expect(placesAt('visit', 'any', 'footer')).to.deep.equal([])
  })

  it('is laid over the preview, with its words', () => {
    const measure = measurePage(SITE.page('visit'), 'desk')
    const plain = previewHtml(measure)
    const over = previewHtml(measure, { areas: placesAt('visit', 'header-covers-content', 'header') })
    expect(plain)
      .to.match(/^<!doctype html>/)
      .and.not.contain('96 px covered')
    expect(over).to.contain('96 px covered')
    expect(plain).not.to.match(/<script|javascript:|https?:\/\/(?!www\.w3\.org)/)
  })
})

describe('the step of work of a finding', () => {
  for (const [pointer, step] of [
    ['/theme/layout/header', 'Theme'],
    ['/kinds/article', 'Theme'],
    ['/surrounds/top/rows/0', 'Surrounds'],
    ['/menus/main/0', 'Surrounds'],
    ['/templates/story', 'Templates'],
    ['/builders/stave/layout', 'Templates'],
    ['/assign/3/layout', 'Assignment'],
    ['/pages/visit/layout/title', 'Page overrides'],
    ['/pages/visit/template', 'Page overrides'],
    ['/pages/visit/body/0', 'Content'],
    ['/pages/visit/image', 'Content'],
    ['/pages/visit', 'Site'],
    ['/purposes/front', 'Site'],
    ['', 'Site'],
  ] as const)
    it(`of what is set at ${pointer === '' ? 'the whole file' : pointer} is ${step}`, () => {
      expect(stepOf({ at: { file: 'f', line: 1, column: 1, pointer } })).to.equal(step)
      expect(STEPS).to.include(step)
    })
})

describe('in words', () => {
  for (const [value, words] of [
    [undefined, '–'],
    [null, '–'],
    [12, '12'],
    ['auto', 'auto'],
    [['title', 'content'], 'title content'],
    [{ desk: 'fixed', else: 'flow' }, 'desk fixed / else flow'],
  ] as const)
    it(`the value ${JSON.stringify(value)} is ${words}`, () => expect(valueInWords(value)).to.equal(words))

  it('a template is what it prints, sets and who gets it', () => {
    const [story] = catalogOf(SITE).templates
    const lines = Object.fromEntries(story ? templateInWords(story) : [])
    expect(lines).to.deep.include({ width: 'width.max 600px', 'for kinds': 'all', pages: '1 page: tale' })
    expect(lines['chrome']).to.equal('title.presence hidden')
  })

  it('a surround is its rows with what they print, and who gets it', () => {
    const lines = Object.fromEntries(catalogOf(SITE).surrounds.map((each) => [each.id, surroundInWords(each)]))
    expect(lines['top']?.[0]).to.deep.equal(['row bar', 'text Tarn'])
    expect(lines['rail']?.[0]).to.deep.equal(['items', 'nothing'])
    expect(lines['top']?.at(-1)).to.deep.equal(['pages', '3 pages: visit, tale, rails'])
  })
})
