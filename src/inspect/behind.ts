import { composite, contrast, parseColour, type BlendMode, type Colour } from '../css/colour.js'
import type { Frame } from '../measure/frame.js'
import type { PageMeasure } from '../measure/page.js'
import type { MeasuredSection } from '../measure/section.js'
import type { Box as BoxData } from '../model/site-data.js'
import { isInside } from './sight.js'

/**
 * The colours that something can have behind it, opaque: one, or the darkest and lightest of a picture.
 * `null` where a picture is there and nobody knows its colours.
 */
export type Grounds = readonly Colour[] | null

/** The page's own ground. */
export function pageGround(measure: PageMeasure): Grounds {
  const colour = parseColour(measure.view.ground.colour)
  const paper = { r: 1, g: 1, b: 1, alpha: 1 }
  return [colour ? composite(paper, colour) : paper]
}

/** A colour laid over grounds. */
export function withColour(grounds: Grounds, colour: string | undefined): Grounds {
  const top = colour === undefined ? null : parseColour(colour)
  if (!top || top.alpha === 0) return grounds
  if (top.alpha === 1) return [top]
  return grounds && grounds.map((ground) => composite(ground, top))
}

/** A picture laid over grounds, by its `range`, else its `colour`. One that is not there prints nothing. */
export function withPicture(frame: Frame, grounds: Grounds, asset: string | undefined, mode: BlendMode): Grounds {
  const picture = frame.asset(asset)
  if (!picture) return grounds
  const tones = (picture.range ?? (picture.colour === undefined ? [] : [picture.colour])).flatMap(
    (tone) => parseColour(tone) ?? [],
  )
  if (tones.length === 0 || !grounds) return null
  return grounds.flatMap((ground) => tones.map((tone) => composite(ground, tone, mode)))
}

/** A box's own background over grounds: its colour, then its picture, blended with what is beneath. */
export function withBackground(frame: Frame, grounds: Grounds, { background }: BoxData): Grounds {
  if (!background) return grounds
  const coloured = withColour(grounds, frame.at(background.colour))
  return withPicture(frame, coloured, background.image, frame.at(background.blend) ?? 'normal')
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

/** The least contrast of an ink with any of several grounds (WCAG 2.2); `undefined` where nobody knows these. */
export function leastContrast(ink: string, grounds: Grounds): number | undefined {
  const colour = parseColour(ink)
  if (!colour || !grounds) return undefined
  return Math.min(...grounds.map((ground) => contrast(composite(ground, colour), ground)))
}

/** Whether a section has a background of its own: a picture, or a colour that is not fully transparent. */
export function hasBackground(frame: Frame, data: BoxData): boolean {
  if (data.background?.image !== undefined && frame.asset(data.background.image)) return true
  const colour = frame.at(data.background?.colour)
  return colour !== undefined && (parseColour(colour)?.alpha ?? 0) > 0
}
