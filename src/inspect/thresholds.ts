/**
 * Numbers that rules compare with, each in this one place.
 */

/** Comparisons of px allow this much: half a CSS pixel, which is what the geometry claims (contract, section 5). */
export const TOLERANCE_PX = 0.5
