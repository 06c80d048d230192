import type * as Resvgs from '@resvg/resvg-js'
import { createRequire } from 'node:module'

const require = createRequire(import.meta.url)
const FONTS = [
  '400Regular/SourceSans3_400Regular.ttf',
  '600SemiBold/SourceSans3_600SemiBold.ttf',
  '700Bold/SourceSans3_700Bold.ttf',
]

/**
 * A PNG of an SVG drawing, its text set in the open font that comes with the package.
 *
 * @param scale - Pixels of the PNG to one px of the drawing.
 */
export function svgToPng(svg: string, scale = 1): Uint8Array {
  const fontFiles = FONTS.map((file) => require.resolve(`@expo-google-fonts/source-sans-3/${file}`))
  const font = { fontFiles, loadSystemFonts: false, defaultFontFamily: 'Source Sans 3' }
  const { Resvg } = require('@resvg/resvg-js') as typeof Resvgs
  return new Resvg(svg, { font, fitTo: { mode: 'zoom', value: scale } }).render().asPng()
}
