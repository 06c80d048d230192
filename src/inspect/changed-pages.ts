import equal from 'fast-deep-equal'
import { facetRecord } from '../measure/facet-record.js'
import type { PageMeasure } from '../measure/page-measure.js'
import type { Step } from './step.js'

/**
 * The pages of which a visitor gets something else after a step, at any viewport, in the order of the site; some of them
 * need not be asked.
 */
export function changedPages(step: Step, but: readonly string[] = []): readonly string[] {
  const changed = new Set(othersOf(step, but).filter((id) => isChanged(step, id)))
  return changed.size === 0 ? [] : step.base.resolved.pageIds.filter((id) => changed.has(id))
}

/** The pages that a step affects, but for some, and for those that it brings. */
export function othersOf({ affected, base }: Step, but: readonly string[]): readonly string[] {
  const named = new Set(but)
  return [...affected].filter((id) => !named.has(id) && base.resolved.site.pageData(id))
}

/** Whether a visitor gets something else of a page that was there before a step: other boxes or other facets. */
export function isChanged(step: Step, id: string): boolean {
  const { base } = step
  const sight = step.glance(id)?.sight
  if (!sight) return true
  const [old, now] = [base.resolved.page(id), sight.page]
  if (old.dormant || now.dormant) return old.dormant !== now.dormant
  const before = [...base.measures.of(id).values()]
  const after = sight.sights.map(({ measure }) => measure)
  const laterAt = new Map(after.map((measure) => [measure.viewport.name, measure]))
  if (before.some((measure) => hasOtherBoxes(measure, laterAt.get(measure.viewport.name)))) return true
  const [was, is] = [facetRecord(old, before), facetRecord(now, after)]
  return before.some(({ viewport: { name } }) => !equal(was[name], is[name]))
}

function hasOtherBoxes({ boxes }: PageMeasure, now: PageMeasure | undefined): boolean {
  if (boxes.length !== now?.boxes.length) return true
  return boxes.some((box, n) => {
    const other = now.boxes[n]
    if (box === other) return false
    return !(
      other &&
      box.id === other.id &&
      box.x === other.x &&
      box.y === other.y &&
      box.width === other.width &&
      box.height === other.height
    )
  })
}
