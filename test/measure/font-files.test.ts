import { expect } from 'chai'
import { create, type Font } from 'fontkit'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { pathToFileURL } from 'node:url'
import { fontMeasurer } from 'wembra/fonts'
import { diskFiles } from 'wembra/node'
import { asWoff, asWoff2 } from '../support/woff.js'

const TTF = readFileSync('examples/quillmere/fonts/text.ttf')
const FILES = { 'text.ttf': TTF, 'text.woff': asWoff(TTF), 'text.woff2': asWoff2(TTF) }

/** Words of many scripts, for which other tables are asked; of some this font has no letters. */
const WORDS = [
  'Tonight',
  'AVATAR',
  'flüssig',
  'Ωμέγα',
  'созвездие',
  'عربي',
  'नमस्ते',
  'မြန်မာ',
  '한국어',
  '１２３',
  'e\u0301a',
]

describe('fonts in files of any format', () => {
  const font = create(TTF) as Font
  let folder: string
  let packed: typeof fontMeasurer
  before(async () => {
    folder = mkdtempSync(join(tmpdir(), 'wembra-fonts-'))
    for (const [name, bytes] of Object.entries(FILES)) writeFileSync(join(folder, name), bytes)
    const module = pathToFileURL(resolve('dist/packaged/fonts.js')).href
    packed = ((await import(module)) as { fontMeasurer: typeof fontMeasurer }).fontMeasurer
  })
  after(() => rmSync(folder, { recursive: true, force: true }))

  for (const [name, bytes] of Object.entries(FILES))
    it(`${name} measures as the font library says of the plain one: in Node, in the package, in the sources`, () => {
      const measurers = [diskFiles.font?.(join(folder, name)), packed(bytes), fontMeasurer(bytes)]
      for (const word of WORDS) {
        const px = (font.layout(word).advanceWidth / font.unitsPerEm) * 16
        for (const measurer of measurers) expect(measurer?.width(word, 16), word).to.be.closeTo(px, 1e-9)
      }
      for (const measurer of measurers) expect(measurer?.certainty).to.equal('computed')
    })

  it('a packed one that is cut off or damaged measures nothing, and is no error', () => {
    for (const name of ['text.woff', 'text.woff2'] as const) {
      const damaged = Buffer.from(FILES[name])
      damaged.fill(0x55, damaged.length >> 1)
      const broken = { 'cut.bin': FILES[name].subarray(0, 2000), 'bad.bin': damaged }
      for (const [file, bytes] of Object.entries(broken)) {
        writeFileSync(join(folder, file), bytes)
        for (const measurer of [diskFiles.font?.(join(folder, file)), packed(bytes)])
          expect(() => measurer?.width('words', 16), `${name} ${file}`).not.to.throw()
      }
    }
  })

  it('one that breaks off at a letter estimates texts with that letter, and says so of who has one alone', () => {
    // Of each glyph the width takes four bytes; A is the second of this font, € the 2118th.
    const bytes = asWoff(TTF, { hmtx: 4 * 1400 })
    const [one, other] = [fontMeasurer(bytes), fontMeasurer(new Uint8Array(bytes))]
    expect(one?.width('A€', 16)).to.equal(16)
    expect(one?.certainty).to.equal('estimated')
    expect(other?.width('A', 16)).to.be.closeTo((font.layout('A').advanceWidth / font.unitsPerEm) * 16, 1e-9)
    expect(other?.certainty).to.equal('computed')
    expect(other?.width('€€€', 16)).to.equal(24)
    expect(other?.certainty).to.equal('estimated')
  })

  it('is read by what was given, whatever is written over it later', () => {
    const bytes = new Uint8Array(TTF)
    const measurer = fontMeasurer(bytes)
    bytes.fill(0)
    expect(fontMeasurer(bytes)).to.equal(undefined)
    for (const word of WORDS)
      expect(measurer?.width(word, 16)).to.be.closeTo((font.layout(word).advanceWidth / font.unitsPerEm) * 16, 1e-9)
  })
})
