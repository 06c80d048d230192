import type * as Resvgs from '@resvg/resvg-js'
import { createRequire } from 'node:module'
import { fileURLToPath } from 'node:url'
import { ValueError } from '../model/unknown-name.js'

const require = createRequire(import.meta.url)
/** The weights that drawings are set in; the build puts them here. */
const FONTS = [400, 600, 700].map((weight) => fileURLToPath(new URL(`../../dist/type/${weight}.ttf`, import.meta.url)))

/** So many points take 400 MB while they are drawn; the longest pages at three viewports are a tenth of it. */
const MOST_POINTS = 100_000_000

/**
 * A PNG of an SVG drawing, its text set in the open font that comes with the package.
 *
 * @param scale - Pixels of the PNG to one px of the drawing.
 * @throws {ValueError} For a drawing of more points than there is memory for.
 */
export function svgToPng(svg: string, scale = 1): Uint8Array {
  const font = { fontFiles: FONTS, loadSystemFonts: false, defaultFontFamily: 'Source Sans 3' }
  const { Resvg } = require('@resvg/resvg-js') as typeof Resvgs
  const drawing = new Resvg(svg, { font, fitTo: { mode: 'zoom', value: scale } })
  const { width, height } = drawing
  if (width * height * scale ** 2 > MOST_POINTS)
    throw new ValueError(
      `the drawing is ${Math.round(width)} × ${Math.round(height)} px, and a PNG may have ${MOST_POINTS / 1e6} million points; write an SVG instead, such as -o page.svg`,
    )
  return drawing.render().asPng()
}
