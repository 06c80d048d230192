import type { Viewport } from '../model/site.js'

/** Viewports at which pages of a site are looked at that was not described yet. */
export const USUAL_VIEWPORTS: readonly Viewport[] = [
  { name: 'desk', width: 1280, height: 800 },
  { name: 'tablet', width: 768, height: 1024 },
  { name: 'phone', width: 390, height: 844 },
]
