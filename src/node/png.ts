import type * as Resvgs from '@resvg/resvg-js'
import { createRequire } from 'node:module'
import { fileURLToPath } from 'node:url'

const require = createRequire(import.meta.url)
/** The weights that drawings are set in; the build puts them here. */
const FONTS = [400, 600, 700].map((weight) => fileURLToPath(new URL(`../../dist/type/${weight}.ttf`, import.meta.url)))

/**
 * A PNG of an SVG drawing, its text set in the open font that comes with the package.
 *
 * @param scale - Pixels of the PNG to one px of the drawing.
 */
export function svgToPng(svg: string, scale = 1): Uint8Array {
  const font = { fontFiles: FONTS, loadSystemFonts: false, defaultFontFamily: 'Source Sans 3' }
  const { Resvg } = require('@resvg/resvg-js') as typeof Resvgs
  return new Resvg(svg, { font, fitTo: { mode: 'zoom', value: scale } }).render().asPng()
}
