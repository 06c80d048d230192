import equal from 'fast-deep-equal'
import { facetsInPx } from '../measure/facets.js'
import { measurePage } from '../measure/page.js'
import type { PageMeasure } from '../measure/page-measure.js'
import type { ResolvedPage } from '../resolve/page.js'
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

/** Whether a visitor gets something else of a page that was there before a step. */
export function isChanged(step: Step, id: string): boolean {
  const { base, after } = step
  const glance = step.glance(id)
  if (!glance) return true
  return looksDifferent(base.resolved.page(id), after.page(id), {
    before: (name) => base.measures.of(id).get(name),
    after: (name) => glance.sight.sights.find((s) => s.view.viewport.name === name)?.measure,
  })
}

/** A page's measures that are known, before and after a change. */
interface KnownMeasures {
  readonly before: (viewport: string) => PageMeasure | undefined
  readonly after: (viewport: string) => PageMeasure | undefined
}

/** Whether a visitor gets something else of a page: other facets or other boxes. */
function looksDifferent(old: ResolvedPage, now: ResolvedPage, known: KnownMeasures): boolean {
  if (old.dormant || now.dormant) return old.dormant !== now.dormant
  return old.site.viewports.some(({ name }) => {
    if (!now.site.viewports.some((v) => v.name === name)) return true
    const [a, b] = [known.before(name) ?? measurePage(old, name), known.after(name) ?? measurePage(now, name)]
    if (a.boxes.length !== b.boxes.length) return true
    const isMoved = a.boxes.some((box, n) => {
      const other = b.boxes[n]
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
    return isMoved || !equal(facetsInPx(a), facetsInPx(b))
  })
}
