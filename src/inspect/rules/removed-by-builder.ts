import { pathOf } from '../../model/facets.js'
import type { Deciding } from '../deciding.js'
import { own } from '../../model/json.js'
import type { PageSight } from '../page-sight.js'
import { giveTo } from '../propose.js'
import { siteRule } from '../rule.js'
import { SHOWN_BY_MOST } from '../thresholds.js'

const BARS = ['header', 'footer'] as const
type Bar = (typeof BARS)[number]

/** A header or footer that only the builder's default took away. */
export const removedByBuilder = siteRule({
  id: 'removed-by-builder',
  severity: 'warning',
  facet: 'template',
  summary: 'A header or footer is absent only because of what the builder does by itself.',
  matters: 'The page looks as if it were not part of the site, by accident.',
  holds:
    'The header or footer is absent, decided by the builder’s layout or by a template that is the builder’s default, and at least half of the other pages of the kind show it. share is that share.',
  example: `surrounds: { top: { as: header, height: 60px } }
theme: { layout: { header: { use: top } } }
builders: { stave: { layout: { header: absent } } }
pages: { visit: { path: /visit, title: Visit, built: { with: stave }, body: [ { section: s, items: [ { text: words } ] } ] }, hours: { path: /hours, title: Hours } }
`,
  numbers: ['share'],
  message: ({ worst }) =>
    `the builder removes the ${worst.words?.['bar'] ?? ''}, which ${Math.round((worst.numbers['share'] ?? 0) * 100)} % of the other pages of this kind show`,
  advice: 'show it again, or set it absent on the page itself',
  marks(sight, mark) {
    for (const { key, value, removed } of barsOf(sight)) mark(key, value, removed)
  },
  judge(tally, _survey, report) {
    const all = tally.count()
    const share = all > 1 ? tally.count(SHOWN) / (all - 1) : 0
    if (share < SHOWN_BY_MOST) return
    for (const { page, detail } of tally.marks(REMOVED)) {
      const { decider, viewport, bar } = detail as Removed
      report({ pages: [page], viewports: [viewport], numbers: { share }, words: { bar }, ...decider })
    }
  },
  propose: ({ worst, pages }, resolved) => {
    const bar = worst.words?.['bar'] ?? 'header'
    return giveTo(resolved, pages, pathOf(bar, 'presence'), 'shown', (where) => `show the ${bar} ${where}`)
  },
})

const [SHOWN, REMOVED, ELSE] = ['shown', 'removed', 'else'] as const

interface Removed {
  readonly viewport: string
  readonly bar: Bar
  /** Where it is absent by the builder's doing. */
  readonly decider: Deciding
}

interface BarView {
  /** One for each kind, bar and viewport. */
  readonly key: string
  readonly value: typeof SHOWN | typeof REMOVED | typeof ELSE
  readonly removed?: Removed
}

function barsOf({ page, sights, resolved }: PageSight): readonly BarView[] {
  // Without builders there is none that removes anything.
  if (!resolved.site.data.builders) return NO_BARS
  return sights.flatMap((sight) =>
    BARS.map((bar): BarView => {
      const viewport = sight.view.viewport.name
      const presence = sight.view.presence(pathOf(bar, 'presence'))
      const decider = presence === 'absent' ? byBuilder(sight, bar) : undefined
      const key = `${page.facts.kind} ${bar} ${viewport}`
      if (decider) return { key, value: REMOVED, removed: { viewport, bar, decider } }
      return { key, value: presence === 'shown' ? SHOWN : ELSE }
    }),
  )
}

const NO_BARS: readonly BarView[] = []

function byBuilder({ view, page, resolved }: PageSight['sights'][number], bar: Bar): Deciding | undefined {
  const entry = view.decidedBy(pathOf(bar, 'presence'))
  if (!entry || entry.pointer === '') return undefined
  const chosenBy = page.choice.winner?.layer
  const builder = own(resolved.site.data.builders, page.facts.builder ?? '')
  const isDefault =
    entry.layer === 'template' && chosenBy === 'builder' && builder?.template === page.choice.template?.id
  return entry.layer === 'builder' || isDefault ? { at: entry.pointer } : undefined
}
