import { h } from 'hastscript'
import { toHtml } from 'hast-util-to-html'
import type { Element } from 'hast'
import type { PageMeasure } from '../measure/page-measure.js'
import { isNamed, nameOf } from './box-names.js'
import type { Area } from './finding-places.js'
import { renderHtml, renderTree } from './render-html.js'
import { asXml, writableInXml } from './xml.js'

/** What is laid over a preview. */
export interface PreviewOptions {
  /** Every named box with its size. */
  readonly boxes?: boolean
  /** Areas to point at, such as those of a finding. */
  readonly areas?: readonly Area[]
}

/** What is in a preview that is HTML. */
export interface PreviewHtmlOptions extends PreviewOptions {
  /** Whether the site's font is put into the page; default true. Without it `fontFace` gives the font by itself. */
  readonly font?: boolean
}

/**
 * A page as a visitor would see it, in HTML for a sandboxed frame as wide as its viewport: nothing in it runs, and
 * nothing is fetched.
 *
 * @example
 * previewHtml(measurePage(resolved.page('visit'), 'phone')).startsWith('<!doctype html>') // => true
 */
export const previewHtml = (measure: PageMeasure, { font = true, ...options }: PreviewHtmlOptions = {}): string =>
  renderHtml(measure, { font, over: overlay(measure, options) })

/** How a picture of a page is taken. */
export interface PictureOptions extends PreviewOptions {
  /** Px of the page's height that are in it; default: the viewport's, the first screen. */
  readonly height?: number
}

/**
 * The top of a page as a visitor would see it, as an SVG picture of the viewport's width: light enough to show many. It
 * is laid out by whoever draws it, for the page is HTML inside the SVG; no font is in it.
 */
export function previewSvg(measure: PageMeasure, options: PictureOptions = {}): string {
  const { width, height } = measure.viewport
  const tall = options.height ?? height
  const page = renderTree(measure, { font: false, still: true, over: overlay(measure, options) })
  const elements = page.children.filter((child) => child.type === 'element')
  const [head, body] = [elements.find(({ tagName }) => tagName === 'head'), elements.at(-1)]
  if (!body) return ''
  const sheet = head?.children.find((child) => child.type === 'element' && child.tagName === 'style')
  const css =
    sheet?.type === 'element' ? sheet.children.map((text) => (text.type === 'text' ? text.value : '')).join('') : ''
  // The window's own ground reaches below a page that is shorter.
  body.properties['style'] = `min-height:${tall}px`
  const content = asXml(
    toHtml(
      { ...body, properties: { ...body.properties, xmlns: XHTML } },
      { closeSelfClosing: true, allowDangerousCharacters: false },
    ),
  )
  const style = `<style xmlns="${XHTML}"><![CDATA[${writableInXml(css).replaceAll(']]>', '')}]]></style>`
  const box = `width="${width}" height="${tall}"`
  return `<svg xmlns="http://www.w3.org/2000/svg" ${box} viewBox="0 0 ${width} ${tall}"><foreignObject x="0" y="0" ${box}>${style}${content}</foreignObject></svg>`
}

const XHTML = 'http://www.w3.org/1999/xhtml'

function overlay(measure: PageMeasure, { boxes = false, areas = [] }: PreviewOptions): Element[] {
  const named = boxes
    ? measure.boxes
        .filter((box) => isNamed(box) && box.height > 0)
        .map((box) =>
          layer(
            box,
            'outline:2px solid #2f5fd0;outline-offset:-2px',
            '#2f5fd0',
            `${nameOf(box, measure)} · ${size(box)}`,
          ),
        )
    : []
  return [...named, ...areas.map((area) => layer(area, LOOKS[area.look], '#a31515', area.label))]
}

const size = ({ width, height }: Pick<Area, 'width' | 'height'>): string =>
  `${Math.round(width * 10) / 10} × ${Math.round(height * 10) / 10}`

/** Frame and fill differ in pattern as well as in color, and each has its label. */
const LOOKS: Readonly<Record<Area['look'], string>> = {
  frame: 'outline:4px solid #a31515;outline-offset:-2px',
  covered:
    'outline:3px solid #a31515;outline-offset:-3px;background:repeating-linear-gradient(45deg,rgb(163 21 21/.6) 0 6px,rgb(255 255 255/.35) 6px 12px)',
  empty:
    'outline:3px dashed #a31515;outline-offset:-3px;background:repeating-linear-gradient(90deg,rgb(163 21 21/.18) 0 2px,rgb(255 255 255/.5) 2px 10px)',
}

function layer(box: Pick<Area, 'x' | 'y' | 'width' | 'height'>, look: string, color: string, label: string): Element {
  const place = `position:absolute;z-index:20;pointer-events:none;left:${box.x}px;top:${box.y}px;width:${box.width}px;height:${box.height}px`
  const tag = `position:absolute;left:0;top:0;background:${color};color:#fff;font:600 16px/1.4 system-ui,sans-serif;padding:1px 8px;white-space:nowrap`
  return h('div', { ariaHidden: 'true', style: `${place};${look}` }, [h('span', { style: tag }, label)])
}
