import { composite, contrast, parseColor, type BlendMode, type Color } from '../css/color.js'
import type { Frame } from '../measure/frame.js'
import type { PageMeasure } from '../measure/page-measure.js'
import type { MeasuredSection } from '../measure/section.js'
import type { Box as BoxData } from '../model/site-data.js'
import { isInside } from './sight.js'

/**
 * The colors that something can have behind it, opaque: one, or the darkest and lightest of a picture.
 * `null` where there is a picture of unknown colors.
 */
export type Grounds = readonly Color[] | null

/** The page's own ground. */
export function pageGround(measure: PageMeasure): Grounds {
  const color = parseColor(measure.view.ground.color)
  const paper = { r: 1, g: 1, b: 1, alpha: 1 }
  return [color ? composite(paper, color) : paper]
}

/** A color laid over grounds. */
export function withColor(grounds: Grounds, color: string | undefined): Grounds {
  const top = color === undefined ? null : parseColor(color)
  if (!top || top.alpha === 0) return grounds
  if (top.alpha === 1) return [top]
  return grounds && grounds.map((ground) => composite(ground, top))
}

/** A picture laid over grounds, by its `range`, else its `color`. One that is not there prints nothing. */
export function withPicture(frame: Frame, grounds: Grounds, asset: string | undefined, mode: BlendMode): Grounds {
  const picture = frame.asset(asset)
  if (!picture) return grounds
  const tones = (picture.range ?? (picture.color === undefined ? [] : [picture.color])).flatMap(
    (tone) => parseColor(tone) ?? [],
  )
  if (tones.length === 0 || !grounds) return null
  return grounds.flatMap((ground) => tones.map((tone) => composite(ground, tone, mode)))
}

/** A box's own background over grounds: its color, then its picture, blended with what is beneath. */
export function withBackground(frame: Frame, grounds: Grounds, { background }: BoxData): Grounds {
  if (!background) return grounds
  const colored = withColor(grounds, frame.at(background.color))
  return withPicture(frame, colored, background.image, frame.at(background.blend) ?? 'normal')
}

/** The sections around a section, outermost first, itself last. */
export function nestOf(measure: PageMeasure, section: MeasuredSection): readonly MeasuredSection[] {
  return [...measure.sections.filter((s) => isInside(section.pointer, s.pointer)), section]
}

/** What lies behind a section's words. */
export function groundsOf(frame: Frame, measure: PageMeasure, section: MeasuredSection): Grounds {
  return nestOf(measure, section).reduce<Grounds>(
    (grounds, { data }) => withBackground(frame, grounds, data),
    pageGround(measure),
  )
}

/** The least contrast of an ink with any of several grounds (WCAG 2.2); `undefined` where these are unknown. */
export function leastContrast(ink: string, grounds: Grounds): number | undefined {
  const color = parseColor(ink)
  if (!color || !grounds) return undefined
  return Math.min(...grounds.map((ground) => contrast(composite(ground, color), ground)))
}

/** Whether a section has a background of its own: a picture, or a color that is not fully transparent. */
export function hasBackground(frame: Frame, data: BoxData): boolean {
  if (data.background?.image !== undefined && frame.asset(data.background.image)) return true
  const color = frame.at(data.background?.color)
  return color !== undefined && (parseColor(color)?.alpha ?? 0) > 0
}
