import { expect } from 'chai'
import { longhandsOf } from '../../src/css/longhands.js'
import { mediaHolds } from '../../src/css/media.js'
import { readStylesheet } from '../../src/css/stylesheet.js'

describe('a style sheet', () => {
  const rules = (css: string): string[] =>
    readStylesheet(css).rules.map(
      ({ selector, specificity, media, declarations }) =>
        `${media.map((query) => `@${query} `).join('')}${selector} (${specificity.join(',')}) ${declarations.map((d) => `${d.property}:${d.value}${d.important ? '!' : ''}`).join(';')}`,
    )

  it('is its rules, one for each selector, with specificity', () => {
    expect(rules('a, .b > c { color: red; COLOR: blue !important }')).to.deep.equal([
      'a (0,0,1) color:red;color:blue!',
      '.b>c (0,1,1) color:red;color:blue!',
    ])
  })

  // Specificities by Selectors 4, section 17, counted by hand.
  for (const [selector, expected] of [
    ['*', '0,0,0'],
    ['li::before', '0,0,2'],
    ['#top .nav a[href]:hover', '1,3,1'],
    [':is(#a, b) c', '1,0,1'],
    [':where(#a) c', '0,0,1'],
    [':not(.a, b)', '0,1,0'],
    ['li:nth-child(2n + 1 of .x)', '0,2,1'],
  ] as const)
    it(`${selector} has the specificity ${expected}`, () => {
      expect(readStylesheet(`${selector} { margin: 0 }`).rules[0]?.specificity.join(',')).to.equal(expected)
    })

  it('keeps the media queries around a rule, nested ones as well', () => {
    expect(
      rules(
        '@media (min-width: 600px) { a { top: 0 } @media print { b { top: 0 } } } @supports (top: 0) { c { top: 0 } } d { top: 0 }',
      ),
    ).to.deep.equal([
      '@(min-width:600px) a (0,0,1) top:0',
      '@(min-width:600px) @print b (0,0,1) top:0',
      'c (0,0,1) top:0',
      'd (0,0,1) top:0',
    ])
  })

  it('has line and column of each declaration', () => {
    const [rule] = readStylesheet('a {\n  top: 0;\n  left: 1px\n}').rules
    expect(rule?.declarations.map(({ line, column }) => [line, column])).to.deep.equal([
      [2, 3],
      [3, 3],
    ])
  })

  it('reports what it does not follow, and goes on behind it', () => {
    const { rules: read, unread } = readStylesheet(
      '@import "x.css";\n@layer base { a { top: 0 } }\n@container (width > 1px) { b { top: 0 } }\nc { top: 0 }\n@font-face { src: url(x) }',
    )
    expect(unread.map(({ what, line }) => `${what} ${line}`)).to.deep.equal([
      '@import is not followed 1',
      '@layer is not followed 2',
      '@container is not followed 3',
    ])
    expect(read.map((rule) => rule.selector)).to.deep.equal(['c'])
  })

  it('is read as far as it goes when it is broken', () => {
    const { rules: read, unread } = readStylesheet('a { top: 0; } b { } } c { left: 0 ')
    expect(read.map((rule) => rule.selector)).to.include('a')
    expect(unread.every(({ line, column }) => line >= 1 && column >= 1)).to.equal(true)
    expect(readStylesheet('').rules).to.deep.equal([])
  })
})

describe('a shorthand', () => {
  for (const [property, value, expected] of [
    ['padding', '1px 2px', 'padding-top 1px, padding-right 2px, padding-bottom 1px, padding-left 2px'],
    ['margin', '0 auto', 'margin-top 0, margin-right 0px, margin-bottom 0, margin-left 0px'],
    ['padding-inline', '1px 2px', 'padding-left 1px, padding-right 2px'],
    ['margin-block', '3px', 'margin-top 3px, margin-bottom 3px'],
    ['inset', '1px', 'top 1px, right 1px, bottom 1px, left 1px'],
    ['background', 'url(a.png) no-repeat #fff', 'background-color #fff'],
    ['background', 'rgb(1 2 3 / 50%) url(a.png)', 'background-color rgb(1 2 3 / 50%)'],
    ['background', 'url(a.png)', 'background-color transparent'],
    ['padding-inline-start', '4px', 'padding-left 4px'],
    ['max-inline-size', '40rem', 'max-width 40rem'],
    ['padding', 'wide', 'padding wide'],
    ['color', 'red', 'color red'],
  ] as const)
    it(`${property}: ${value} sets ${expected}`, () => {
      expect(
        longhandsOf(property, value)
          .map((each) => each.join(' '))
          .join(', '),
      ).to.equal(expected)
    })
})

describe('a media query', () => {
  const phone = { width: 390, height: 844 }
  const desk = { width: 1280, height: 800 }
  for (const [query, onPhone, onDesk] of [
    ['all', true, true],
    ['screen', true, true],
    ['print', false, false],
    ['(min-width: 600px)', false, true],
    ['(max-width: 37.5em)', true, false],
    ['(600px <= width < 1281px)', false, true],
    ['(orientation: portrait)', true, false],
    ['(min-width: 600px) and (max-height: 700px)', false, false],
    ['(max-width: 400px), (min-width: 1200px)', true, true],
    ['not all and (min-width: 600px)', true, false],
    ['(prefers-color-scheme: dark)', false, false],
    ['(hover: hover)', true, true],
    ['(((', false, false],
  ] as const)
    it(`${query} holds ${onPhone ? 'on a phone' : 'not on a phone'} and ${onDesk ? 'on a desk' : 'not on a desk'}`, () => {
      expect([mediaHolds(query, phone), mediaHolds(query, desk)]).to.deep.equal([onPhone, onDesk])
    })
})
