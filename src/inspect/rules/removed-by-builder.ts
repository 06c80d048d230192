import type { Deciding } from '../deciding.js'
import { own } from '../../model/json.js'
import type { PageSight } from '../page-sight.js'
import { overridePages, pagesInWords } from '../propose.js'
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
  matters: 'The page drops out of the site, and nobody asked for it.',
  holds:
    'The header or footer is absent, decided by the builder’s layout or by a template that is the builder’s default, and at least half of the other pages of the kind show it. share is that share.',
  example: `surrounds: { top: { as: header, height: 60px } }
theme: { layout: { header: { use: top } } }
builders: { stave: { layout: { header: absent } } }
pages: { visit: { path: /visit, title: Visit, built: { with: stave }, body: [ { section: s, items: [ { text: words } ] } ] }, hours: { path: /hours, title: Hours } }
`,
  numbers: ['share'],
  message: ({ worst }) =>
    `the builder took the ${worst.words?.['bar'] ?? ''} away, which ${Math.round((worst.numbers['share'] ?? 0) * 100)} % of the other pages of this kind show`,
  advice: 'show it again, or say on the page that it is meant to go',
  digests: [barsOf],
  check(survey, report) {
    const views = survey.pages.flatMap((page) => survey.digest(barsOf, page))
    const counts = new Map<string, { shown: number; all: number }>()
    for (const { key, isShown } of views) {
      const { shown, all } = counts.get(key) ?? { shown: 0, all: 0 }
      counts.set(key, { shown: shown + (isShown ? 1 : 0), all: all + 1 })
    }
    for (const { key, page, viewport, bar, decider } of views) {
      if (!decider) continue
      const { shown = 0, all = 1 } = counts.get(key) ?? {}
      const share = all > 1 ? shown / (all - 1) : 0
      if (share >= SHOWN_BY_MOST)
        report({ ...decider, pages: [page], viewports: [viewport], numbers: { share }, words: { bar } })
    }
  },
  propose: ({ worst, pages }, { site }) => {
    const bar = worst.words?.['bar'] ?? 'header'
    return [
      {
        title: `show the ${bar} on ${pagesInWords(pages)}`,
        patch: overridePages(site, pages, `${bar}.presence`, 'shown'),
      },
    ]
  },
})

interface BarView {
  /** One for each kind, bar and viewport. */
  readonly key: string
  readonly page: string
  readonly viewport: string
  readonly bar: Bar
  readonly isShown: boolean
  /** Where it is absent by the builder's doing. */
  readonly decider: Deciding | undefined
}

function barsOf({ page, sights }: PageSight): readonly BarView[] {
  return sights.flatMap((sight) =>
    BARS.map((bar): BarView => {
      const viewport = sight.view.viewport.name
      const presence = sight.view.presence(`${bar}.presence`)
      const decider = presence === 'absent' ? byBuilder(sight, bar) : undefined
      return {
        key: `${page.facts.kind} ${bar} ${viewport}`,
        page: page.id,
        viewport,
        bar,
        isShown: presence === 'shown',
        decider,
      }
    }),
  )
}

function byBuilder({ view, page, resolved }: PageSight['sights'][number], bar: Bar): Deciding | undefined {
  const entry = view.decider(`${bar}.presence`)
  if (!entry?.at) return undefined
  const chosenBy = page.choice.chain.find((voice) => voice.outcome === 'wins')?.layer
  const builder = own(resolved.site.data.builders, page.facts.builder ?? '')
  const isDefault =
    entry.layer === 'template' && chosenBy === 'builder' && builder?.template === page.choice.template?.id
  return entry.layer === 'builder' || isDefault ? { at: entry.at.pointer } : undefined
}
