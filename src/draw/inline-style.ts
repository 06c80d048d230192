import type { Frame } from '../measure/frame.js'

/** Properties of CSS with their values; numbers are px. */
export type Style = Readonly<Record<string, string | number | undefined>>

export const px = (n: number): string => `${Math.round(n * 1000) / 1000}px`

/** Inline CSS; properties without a value are left out. */
export const css = (style: Style): string =>
  Object.entries(style)
    .filter(([, value]) => value !== undefined)
    .map(([property, value]) => `${property}:${typeof value === 'number' ? px(value) : String(value)}`)
    .join(';')

/** Four sides as CSS has them: top, right, bottom, left. */
export function cssSides(
  frame: Frame,
  value: Parameters<Frame['sides']>[0],
  percentOf: number,
  negative = false,
): string {
  const { top, right, bottom, left } = frame.sides(value, percentOf, negative)
  return [top, right, bottom, left].map(px).join(' ')
}
