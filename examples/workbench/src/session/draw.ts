import type { Remote } from 'comlink'
import type { Patch, ResolvedPage } from 'wembra'
import type { Work } from '../worker/site.worker.ts'
import type { Pictures } from './pictures.ts'

/** Draws pages of the open site, or of what a change would make of it, at a viewport. */
export type DrawPage = (page: ResolvedPage, viewport: string, change?: Patch) => Promise<string>

const states = new WeakMap<object, number>()
let count = 0

function stateOf(page: ResolvedPage): number {
  let known = states.get(page)
  if (known === undefined) states.set(page, (known = ++count))
  return known
}

/** Each page of a state of the site is drawn once for a viewport. */
export const drawingWith =
  (pictures: Pictures, ask: () => Promise<Remote<Work>>): DrawPage =>
  (page, viewport, change) =>
    pictures.get(`${stateOf(page)} ${viewport}`, async () => (await ask()).picture(page.id, viewport, change))
