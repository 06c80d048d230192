import { expect } from 'chai'
import { create, type Font } from 'fontkit'
import { readFileSync } from 'node:fs'
import { measurePage } from 'wembra'
import { fontMeasurer } from 'wembra/fonts'
import { Random } from '../support/random-site.js'
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

  it('counts a character beyond the basic plane as one', () => {
    // Seven characters are 56 px; the thirteen code units that they are would be 104.
    expect(typed('🌑🌒🌓 🌔🌕🌖', '60px')).to.include({ height: 24 })
    expect(typed('🌑🌒🌓 🌔🌕🌖', '48px')).to.include({ height: 48 })
  })

  it('takes one text at several sizes and widths', () => {
    const page = measurePage(
      siteOf(
        `pages: { visit: { path: /visit, title: Visit, body: [ { section: s, items: [ { text: ten chars ten, width: 110px }, { text: ten chars ten, width: 80px }, { heading: 2, text: ten chars ten, width: 110px }, { heading: 2, text: ten chars ten, width: 208px } ] } ] } }`,
      ).page('visit'),
      'desk',
    )
    // 13 characters: 104 px at 16 px; at the 32 px of a heading 2, whose lines are 38.4 px high, 208 px.
    const heights = [0, 1, 2, 3].map((n) => page.box(`item:s/${n}`)?.height)
    expect(heights).to.deep.equal([24, 48, 3 * 38.4, 38.4])
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

describe('text in a font of its own', () => {
  const bytes = readFileSync('examples/quillmere/fonts/text.ttf')
  const font = create(bytes) as Font
  const px = (line: string): number => (font.layout(line).advanceWidth / font.unitsPerEm) * 16
  // Letters that move together over a space (T o, V A), marks, digits, a sign of its own width.
  const WORDS = [
    'To',
    'AVA',
    'We',
    'Yard',
    'T',
    'o',
    '1,000',
    '(open)',
    'fjord',
    'office',
    'P.',
    '“Tarn”',
    'Äther',
    '…',
  ]

  /** Lines as they fill up one after another, each measured whole by the font itself. */
  function linesOf(words: readonly string[], width: number): number {
    let lines = 1
    let line = ''
    for (const word of words) {
      const longer = line === '' ? word : `${line} ${word}`
      if (line !== '' && px(longer) > width + 1e-3) {
        lines += 1
        line = word
      } else line = longer
    }
    return lines
  }

  for (let seed = 1; seed <= 6; seed++)
    it(`breaks where whole lines are full, to the last bit, whatever letters meet (${seed})`, () => {
      const r = new Random(seed)
      const words = Array.from({ length: 30 }, () => r.pick(WORDS))
      const first = px(words.slice(0, 7).join(' '))
      for (const width of [first, first - 0.01, first + 0.01, 40 + r.below(600), 90.5]) {
        const height = typed(words.join(' '), `${width}px`, bytes)?.height
        expect(height, `${width} px: ${words.join(' ')}`).to.equal(linesOf(words, width) * 24)
      }
    })

  const LETTERS = [
    ...'abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789 .,;:!?’“”–…()/&-%éÄßøŁfiffiflij\u00a0',
  ]
  for (const weight of ['400', '600', '700'])
    it(`is as wide as the font library lays it out, whatever Latin letters meet (${weight})`, () => {
      const file = readFileSync(`dist/type/${weight}.ttf`)
      // One is asked word by word, the other was told of the words before, some and some.
      const [mine, told, theirs] = [fontMeasurer(file), fontMeasurer(file), create(file) as Font]
      const r = new Random(Number(weight))
      const words = Array.from({ length: 400 }, () =>
        Array.from({ length: 1 + r.below(9) }, () => r.pick(LETTERS)).join(''),
      )
      for (let n = 0; n < words.length; n += 20) told?.expect?.(words.slice(n, n + 15).join(' '))
      for (const word of words) {
        const px = (theirs.layout(word).advanceWidth / theirs.unitsPerEm) * 1000
        expect([mine?.width(word, 1000), told?.width(word, 1000)], word).to.deep.equal([px, px])
      }
    })

  it('takes a word in pieces of no Latin script whole', () => {
    const words = ['Ελλάδα', 'и', 'север,', 'नमस्ते', 'e\u0301te\u0301']
    for (const width of [60, 90.25, 140])
      expect(typed(words.join(' '), `${width}px`, bytes)?.height).to.equal(linesOf(words, width) * 24)
  })

  /** The font with one byte other than it was. */
  const damaged = (at: number, byte: number): Uint8Array => {
    const copy = new Uint8Array(bytes)
    copy[at] = byte
    return copy
  }
  for (const [what, file] of [
    // The directory's entry of GSUB, the fourth table, ends at byte 71: its tables would be looked for beside themselves.
    ['with a table that is looked for beside its place', damaged(71, (bytes[71] ?? 0) ^ 0xb0)],
    ['with one glyph’s outline changed', damaged(100_000, (bytes[100_000] ?? 0) ^ 1)],
    ['with more tables than it has', damaged(5, 200)],
    ['cut off in its directory', bytes.subarray(0, 100)],
    ['cut off in its last table', bytes.subarray(0, bytes.length - 3)],
    ['cut off in the middle', bytes.subarray(0, 60_000)],
    ['of which only the first bytes are there', bytes.subarray(0, 4)],
  ] as const)
    it(`a font ${what} is no font: the text is estimated`, () => {
      expect(typed('words', '200px', file)).to.include({ height: 24, certainty: 'estimated' })
    })

  it('a font that is whole measures', () => {
    expect(typed('words', '200px', bytes)).to.include({ height: 24, certainty: 'computed' })
  })
})
