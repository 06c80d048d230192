import { expect } from 'chai'
import { BLEND_MODES, composite, contrast, parseColor, type Color } from '../../src/css/color.js'

const of = (source: string): Color => {
  const color = parseColor(source)
  if (!color) throw new Error(source)
  return color
}
const bytes = ({ r, g, b }: Color): number[] => [r, g, b].map((n) => Math.round(n * 255))

describe('a CSS color', () => {
  for (const [source, expected] of [
    ['#fff', [255, 255, 255]],
    ['#12324a', [18, 50, 74]],
    ['rebeccapurple', [102, 51, 153]],
    ['rgb(18 50 74)', [18, 50, 74]],
    ['rgb(18, 50, 74)', [18, 50, 74]],
    ['hsl(120 100% 25%)', [0, 128, 0]],
    ['hwb(120 0% 50%)', [0, 128, 0]],
    ['lab(100 0 0)', [255, 255, 255]],
    ['oklch(0 0 0)', [0, 0, 0]],
    ['color(srgb 0 0.5 0)', [0, 128, 0]],
    [' #FFF ', [255, 255, 255]],
  ] as const)
    it(`${source} is read`, () => {
      expect(bytes(of(source))).to.deep.equal(expected)
    })

  it('may be translucent', () => {
    expect(of('transparent').alpha).to.equal(0)
    expect(of('#00000080').alpha).to.be.closeTo(0.5, 0.01)
    expect(of('rgb(0 0 0 / 25%)').alpha).to.equal(0.25)
  })

  it('is not any text', () => {
    for (const text of ['', 'bluee', '#12', '#ggg', 'rgb(1 2)', 'var(--x)', 'url(#a)'])
      expect(parseColor(text), text).to.equal(null)
  })
})

// Ratios by WCAG 2.2, "contrast ratio"; the gray is the usual example of one that just passes.
describe('contrast', () => {
  it('is 21 of black on white, 1 of a color on itself, and the same both ways', () => {
    expect(contrast(of('#000'), of('#fff'))).to.be.closeTo(21, 1e-9)
    expect(contrast(of('#12324a'), of('#12324a'))).to.be.closeTo(1, 1e-9)
    expect(contrast(of('#767676'), of('#fff'))).to.be.closeTo(4.54, 0.005)
    expect(contrast(of('#fff'), of('#767676'))).to.be.closeTo(4.54, 0.005)
  })
})

// Formulas of Compositing and Blending Level 1, sections 5 and 10, worked out by hand for one channel.
describe('one color over another', () => {
  const gray = (n: number, alpha = 1): Color => ({ r: n, g: n, b: n, alpha })
  const channel = (bottom: Color, top: Color, mode?: (typeof BLEND_MODES)[number]): number =>
    composite(bottom, top, mode).r

  it('is the upper one where that is opaque, and the lower one where it is not there', () => {
    expect(channel(gray(0.2), gray(0.8))).to.be.closeTo(0.8, 1e-9)
    expect(channel(gray(0.2), gray(0.8, 0))).to.be.closeTo(0.2, 1e-9)
  })

  it('is mixed by its alpha', () => {
    expect(channel(gray(0), gray(1, 0.25))).to.be.closeTo(0.25, 1e-9)
    expect(composite(gray(0, 0.5), gray(1, 0.5)).alpha).to.be.closeTo(0.75, 1e-9)
  })

  for (const [mode, expected] of [
    ['multiply', 0.4 * 0.5],
    ['screen', 1 - 0.6 * 0.5],
    ['darken', 0.4],
    ['lighten', 0.5],
    ['difference', 0.1],
    ['exclusion', 0.4 + 0.5 - 2 * 0.4 * 0.5],
    ['overlay', 2 * 0.4 * 0.5],
    ['hard-light', 2 * 0.5 * 0.4],
    ['color-dodge', 0.4 / (1 - 0.5)],
    ['color-burn', 0], // 1 - min(1, 0.6 / 0.5)
  ] as const)
    it(`${mode} is the formula of its section`, () => {
      expect(channel(gray(0.4), gray(0.5), mode)).to.be.closeTo(expected, 1e-6)
    })

  it('has every mode that the format names', () => {
    for (const mode of BLEND_MODES) expect(channel(gray(0.4), gray(0.5), mode), mode).to.be.within(0, 1)
  })
})

describe('the two modes that depend on what is darker', () => {
  const gray = (n: number): Color => ({ r: n, g: n, b: n, alpha: 1 })
  // Above one half both are Screen(b, 2s - 1), which for 0.6 and 0.8 is 0.6 + 0.6 - 0.36.
  it('screen the lighter half', () => {
    expect(composite(gray(0.6), gray(0.8), 'hard-light').r).to.be.closeTo(0.84, 1e-9)
    expect(composite(gray(0.8), gray(0.6), 'overlay').r).to.be.closeTo(0.84, 1e-9)
  })
})
