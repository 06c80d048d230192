import { expect } from 'chai'
import { LARGEST_PX, parseLength, parseLengths, parseSides } from '../../src/css/length.js'

const AT = { width: 390, height: 844, rem: 16, percentOf: 200 }
const px = (source: string | number): number | null => parseLength(source)?.px(AT) ?? null

// Expected values are worked out by hand from CSS Values 4, section 6.
describe('a CSS length', () => {
  for (const [source, expected] of [
    [24, 24],
    ['0', 0],
    ['24px', 24],
    ['-24px', -24],
    ['1.5rem', 24],
    ['2em', 32],
    ['1in', 96],
    ['2.54cm', 96],
    ['25.4mm', 96],
    ['101.6q', 96],
    ['72pt', 96],
    ['6pc', 96],
    ['10vw', 39],
    ['10svw', 39],
    ['50vh', 422],
    ['50dvh', 422],
    ['10vmin', 39],
    ['10vmax', 84.4],
    ['25%', 50],
    ['calc(100vw - 2rem)', 358],
    ['calc(10px + 2 * (3px + 1px))', 18],
    ['calc(50% - 10px)', 90],
    ['min(50vw, 300px)', 195],
    ['max(50vw, 300px)', 300],
    ['clamp(100px, 50vw, 150px)', 150],
    ['clamp(100px, 10vw, 150px)', 100],
    [' 24PX ', 24],
  ] as const)
    it(`${JSON.stringify(source)} is ${expected} px on a phone of 390 x 844`, () => {
      expect(px(source)).to.be.closeTo(expected, 1e-9)
    })

  for (const source of [
    '',
    'wide',
    '24',
    '24xx',
    '1px 2px',
    'calc(1px',
    'calc(1s)',
    'url(x)',
    '#fff',
    '1e999px',
    'auto',
  ])
    it(`${JSON.stringify(source)} is ${source === '24' ? 'a number, taken as px' : 'not one'}`, () => {
      expect(px(source)).to.equal(source === '24' ? 24 : null)
    })

  it('knows whether it needs to know what 100 % is', () => {
    expect(parseLength('calc(100% - 1px)')?.usesPercent).to.equal(true)
    expect(parseLength('calc(100vw - 1px)')?.usesPercent).to.equal(false)
    expect(parseLength('50%')?.px({ ...AT, percentOf: undefined })).to.equal(0)
  })

  it('is never infinite, however large it is written', () => {
    expect(px('99999999999px')).to.equal(LARGEST_PX)
    expect(px('calc(99999999px * -99999)')).to.equal(-LARGEST_PX)
    expect(parseLength(Infinity)).to.equal(null)
    expect(parseLength(NaN)).to.equal(null)
  })

  it('means the same each time, whatever was asked before', () => {
    const length = parseLength('calc(10vw + 1rem)')
    expect(length?.px(AT)).to.equal(55)
    expect(length?.px({ ...AT, width: 1000 })).to.equal(116)
    expect(length?.px({ ...AT, rem: 20 })).to.equal(59)
    expect(length?.px(AT)).to.equal(55)
  })
})

describe('lengths of four sides', () => {
  const sides = (source: string | number): (number | undefined)[] | null => {
    const four = parseSides(source)
    return four && [four.top, four.right, four.bottom, four.left].map((length) => length.px(AT))
  }

  it('are one to four, as padding has them', () => {
    expect(sides('1px')).to.deep.equal([1, 1, 1, 1])
    expect(sides(7)).to.deep.equal([7, 7, 7, 7])
    expect(sides('1px 2px')).to.deep.equal([1, 2, 1, 2])
    expect(sides('1px 2px 3px')).to.deep.equal([1, 2, 3, 2])
    expect(sides('1px 2px 3px 4px')).to.deep.equal([1, 2, 3, 4])
    expect(sides('calc(1px + 1px)  10%')).to.deep.equal([2, 20, 2, 20])
  })

  it('are none for five, for words, and for what is broken', () => {
    for (const source of ['', '1px 2px 3px 4px 5px', '1px auto', '1px / 2px', 'calc(1px'])
      expect(sides(source), source).to.equal(null)
  })

  it('are a list of any number where that is asked', () => {
    expect(parseLengths('1px 2px 3px 4px 5px')?.map((l) => l.px(AT))).to.deep.equal([1, 2, 3, 4, 5])
    expect(parseLengths('1px, 2px')).to.equal(null)
  })
})
