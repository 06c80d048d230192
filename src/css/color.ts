import { rgb } from 'culori/css'
import { blend, parse, wcagContrast, type Rgb } from 'culori/fn'
import { rememberedText } from './remembered-text.js'

/** A color in sRGB; channels and alpha from 0 to 1. */
export interface Color {
  readonly r: number
  readonly g: number
  readonly b: number
  readonly alpha: number
}

/** The library stumbles over some texts that are no colors. */
function parsed(source: string): ReturnType<typeof parse> {
  try {
    return parse(source)
  } catch {
    return undefined
  }
}

/** How many colors are held: a site has few, and rules ask for them on every page. */
const MOST_KEPT = 500

/** Reads any CSS color; `null` where the text is not one. */
export const parseColor = rememberedText(MOST_KEPT, readColor)

function readColor(source: string): Color | null {
  const found = parsed(source.trim())
  if (!found) return null
  const { r, g, b, alpha = 1 } = rgb(found)
  return { r, g, b, alpha }
}

/** Blend modes of W3C Compositing and Blending Level 1, section 10, that are separable. */
export const BLEND_MODES = [
  'normal',
  'multiply',
  'screen',
  'overlay',
  'darken',
  'lighten',
  'color-dodge',
  'color-burn',
  'hard-light',
  'soft-light',
  'difference',
  'exclusion',
] as const
export type BlendMode = (typeof BLEND_MODES)[number]

const asRgb = (c: Color): Rgb => ({ mode: 'rgb', r: c.r, g: c.g, b: c.b, alpha: c.alpha })

const screen = (b: number, s: number): number => b + s - b * s
const hardLight = (b: number, s: number): number => (s <= 0.5 ? b * 2 * s : screen(b, 2 * s - 1))

/** Modes that the color library has otherwise than sections 10.1.4 and 10.1.9 of the standard. */
const OWN_MODES: Partial<Readonly<Record<BlendMode, (b: number, s: number) => number>>> = {
  'hard-light': hardLight,
  overlay: (b, s) => hardLight(s, b),
}

/** `top` laid over `bottom`, as W3C Compositing and Blending Level 1 defines. */
export function composite(bottom: Color, top: Color, mode: BlendMode = 'normal'): Color {
  // What lets nothing through is itself, whatever lies beneath.
  if (mode === 'normal' && top.alpha === 1) return top
  const { r, g, b, alpha = 1 } = blend([asRgb(bottom), asRgb(top)], OWN_MODES[mode] ?? mode, 'rgb')
  return { r, g, b, alpha }
}

/** Contrast ratio by WCAG 2.2, from 1 to 21, of two opaque colors. */
export function contrast(a: Color, b: Color): number {
  return wcagContrast(asRgb(a), asRgb(b))
}
