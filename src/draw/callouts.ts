/** A label that wants to be beside a box. */
export interface Callout {
  /** Where the box is. */
  readonly y: number
  readonly lines: readonly string[]
  readonly alarm?: boolean
}

export interface PlacedCallout extends Callout {
  /** Top of the label. */
  readonly top: number
  readonly height: number
}

/**
 * Places labels in a column so that none overlaps another: each as near its box as those above it allow.
 *
 * @param lineHeight - Px a line takes.
 * @param gap - Px between labels.
 */
export function placeCallouts(callouts: readonly Callout[], lineHeight: number, gap: number): PlacedCallout[] {
  let free = 0
  return [...callouts]
    .sort((a, b) => a.y - b.y)
    .map((callout) => {
      const height = callout.lines.length * lineHeight
      const top = Math.max(free, callout.y)
      free = top + height + gap
      return { ...callout, top, height }
    })
}
