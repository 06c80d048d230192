import { expect } from 'chai'
import { measurePage } from 'wembra'
import { siteOf } from '../support/site.js'

const typed = (text: string, width: string, font?: Uint8Array) =>
  measurePage(
    siteOf(
      `${font ? 'typography: { file: f.ttf }\n' : ''}pages: { visit: { path: /visit, title: Visit, body: [ { section: s, items: [ { text: ${JSON.stringify(text)}, width: ${width} } ] } ] } }`,
      font ? { 'f.ttf': font } : {},
    ).page('visit'),
    'desk',
  ).box('item:s/0')

describe('text without a font file', () => {
  it('is estimated at half its size a character, and marked so', () => {
    // 8 px a character at 16 px: "ten chars " and "ten chars" in 80 px.
    expect(typed('ten chars ten chars', '80px')).to.include({ height: 48, certainty: 'estimated' })
    expect(typed('ten chars ten chars', '160px')).to.include({ height: 24 })
  })

  it('collapses white space, and lets a long word stick out', () => {
    expect(typed('  a\n\t b  ', '24px')).to.include({ height: 24 })
    expect(typed('incomprehensibilities', '24px')).to.include({ height: 24 })
    expect(typed('', '24px')).to.include({ height: 0 })
  })

  it('a broken font is an estimate too, never an error', () => {
    expect(typed('words', '200px', new Uint8Array([1, 2, 3]))).to.include({ height: 24, certainty: 'estimated' })
  })
})
