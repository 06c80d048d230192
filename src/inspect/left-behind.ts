import type { ArrangedSlot } from '../measure/page-measure.js'
import { hasBackground } from './behind.js'
import type { Sight } from './sight.js'
import { TOLERANCE_PX } from './thresholds.js'

const isGap = ({ entry }: ArrangedSlot): boolean => typeof entry === 'object' && entry.gap !== undefined
const names = (run: readonly ArrangedSlot[]): string =>
  run.map(({ entry }) => (typeof entry === 'string' ? entry : 'item')).join(' and ')

/** A gap of the template that separates nothing, and where it is. */
export interface GapLeft {
  readonly slot: ArrangedSlot
  readonly where: string
}

/** Runs of entries between gaps that print nothing; of the gaps at a run's two sides the smaller is left behind. */
export function leftBehind(sight: Sight): readonly GapLeft[] {
  const slots = sight.measure.arranged
  const gaps = slots.filter((slot) => isGap(slot) && slot.height > TOLERANCE_PX)
  if (gaps.length === 0) return []
  const found = new Map<number, GapLeft>()
  const runs = [undefined, ...gaps].map((above, n) => {
    const below = gaps[n]
    const inner = slots.filter(
      (s) => s.index > (above?.index ?? -1) && s.index < (below?.index ?? slots.length) && !isGap(s),
    )
    return { above, below, inner }
  })
  for (const { above, below, inner } of runs) {
    if (inner.length === 0 || inner.some((slot) => slot.printed)) continue
    const sides = [above, below].filter((slot) => slot !== undefined)
    const smaller = sides.reduce<ArrangedSlot | undefined>((a, b) => (a && a.height <= b.height ? a : b), undefined)
    if (!smaller) continue
    const where =
      above && below
        ? `beside ${names(inner)}, which is gone`
        : `${above ? 'above' : 'below'} ${names(inner)}, which is gone`
    found.set(smaller.index, { slot: smaller, where })
  }
  const first = gaps[0]
  if (first && !found.has(first.index) && opensOnBand(first, slots, sight))
    found.set(first.index, { slot: first, where: 'above a first section with a background' })
  return [...found.values()]
}

/** Whether nothing is printed above a gap, and a section with a background comes after it. */
function opensOnBand(gap: ArrangedSlot, slots: readonly ArrangedSlot[], sight: Sight): boolean {
  if (slots.some((slot) => slot.index < gap.index && slot.printed)) return false
  const next = slots.find((slot) => slot.index > gap.index && !isGap(slot) && slot.printed)
  const section = sight.firstSection
  if (next?.entry !== 'content' || !section || !hasBackground(sight.frame, section.data)) return false
  const top = sight.measure.box('column')?.y ?? 0
  const bands = ['title', 'leadImage'].some((id) => {
    const box = sight.measure.box(id)
    return box !== undefined && box.height > 0 && box.y < top
  })
  return !bands && !sight.measure.sections.some((s) => s.band.of === 'insert' && s.band.y < top && s.band.height > 0)
}
