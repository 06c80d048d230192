import { Frame } from '../measure/frame.js'
import { fontPath } from '../measure/font.js'
import type { PageMeasure } from '../measure/page-measure.js'
import { dataAddress } from './data-address.js'

/**
 * The rule of a style sheet that gives a written page the site's font, with the file in it.
 *
 * @returns `undefined` where texts are estimated: then the page was worked out without a font.
 */
export function fontFace(measure: PageMeasure): string | undefined {
  const { page } = measure.view
  const path = new Frame(measure.view).text.certainty === 'estimated' ? undefined : fontPath(page.site)
  const address = path === undefined ? undefined : dataAddress(page.site, path, 'font/ttf')
  return address === undefined ? undefined : `@font-face{font-family:site;src:url(${address})}`
}
