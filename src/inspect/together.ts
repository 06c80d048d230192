import { fromPointer } from '../model/json.js'
import { addToList } from '../model/lists.js'
import type { Operation, Patch } from '../model/patch.js'
import type { Step } from './step.js'

/** What was tried for all pages of a group together, which need not be tried again for each of them. */
export class Together {
  readonly #useless = new Set<string>()
  /** Steps that override layouts of pages and do nothing else, by each page with what they do there. */
  readonly #steps = new Map<string, Step>()

  /** Notes a patch that holds for none of the pages alone, or changes others. */
  addUseless(patch: Patch): void {
    this.#useless.add(JSON.stringify(patch))
  }

  isUseless(patch: Patch): boolean {
    return this.#useless.has(JSON.stringify(patch))
  }

  addStep(patch: Patch, step: Step): void {
    for (const [page, operations] of overriddenBy(patch)) this.#steps.set(keyOf(page, operations), step)
  }

  /** A step that makes of a page what a patch for that page alone does; other pages' layouts are overridden by it too. */
  stepLike(page: string, patch: Patch): Step | undefined {
    return this.#steps.get(keyOf(page, patch))
  }
}

const keyOf = (page: string, patch: Patch): string => JSON.stringify([page, patch])

/** The operations of a patch by the page whose layout they override; none where one of them does anything else. */
export function overriddenBy(patch: Patch): ReadonlyMap<string, Patch> {
  const pages = new Map<string, Operation[]>()
  for (const operation of patch) {
    const [section, page, key] = fromPointer(operation.path)
    if (section !== 'pages' || page === undefined || key !== 'layout') return new Map()
    addToList(pages, page, operation)
  }
  return pages
}
