import type { Deciding } from '../deciding.js'
import type { PageSight } from '../page-sight.js'
import { firstBand, placedTexts, topEdge } from '../page-start.js'
import { overridePages, pagesInWords } from '../propose.js'
import { siteRule } from '../rule.js'
import type { Sight } from '../sight.js'
import { TOLERANCE_PX } from '../thresholds.js'

/** One template for pages that begin with a band and pages that begin with words. */
export const mixedPageStarts = siteRule({
  id: 'mixed-page-starts',
  severity: 'warning',
  facet: 'spacing',
  summary: 'Some pages of a template begin with a band, others with text: any space it sets is wrong for some.',
  matters: 'Fixing the strip above one page glues the words of another to the header.',
  holds:
    'Of one template, pages whose space before the content is decided at one place: bands begin with a band and nothing above it, texts with text and nothing but that space above it. Some of either, and removing the space (where there is some) or adding it would do to the others what it fixes.',
  example: `surrounds: { top: { as: header, height: 60px } }
templates: { t: { layout: { header: { use: top }, title: absent, width: full, spacing: 48px } } }
pages:
  visit: { path: /visit, title: Visit, template: t, body: [ { section: s, band: full, background: { color: "#123" }, padding: 40px, ink: "#fff", items: [ { heading: 1, text: words } ] } ] }
  hours: { path: /hours, title: Hours, template: t, body: [ { section: s, padding: 0 24px, items: [ { heading: 1, text: words } ] } ] }
`,
  numbers: ['bands', 'texts'],
  message: ({ worst }) =>
    `of the pages of the template ${worst.words?.['template'] ?? ''} ${worst.numbers['bands']} begin with a band and ${worst.numbers['texts']} with text, under one setting of the space before`,
  advice: 'use two templates, or pad the first section of the pages that begin with text',
  marks(sight, mark) {
    for (const start of startsOf(sight))
      mark(`${start.template} ${start.viewport} ${start.decider.at}`, start.begins, start)
  },
  judge(tally, _survey, report) {
    const [bands, texts] = [tally.count('band'), tally.count('text')]
    if (bands === 0 || texts === 0) return
    const first = tally.marks('band')[0]?.detail as Start
    const isSpaced = first.space > TOLERANCE_PX
    report({
      // The others look as they should, until the one setting is changed for these.
      pages: tally.marks(isSpaced ? 'band' : 'text').map(({ page }) => page),
      viewports: [first.viewport],
      numbers: { bands, texts },
      words: { template: first.template, instead: isSpaced ? '0' : 'revert' },
      ...first.decider,
    })
  },
  propose: ({ pages, worst }, { site }) => {
    const without = worst.words?.['instead'] === '0'
    return [
      {
        title: without
          ? `no space before the content on ${pagesInWords(pages)}`
          : `the space before the content that theme and kind set, on ${pagesInWords(pages)}`,
        patch: overridePages(site, pages, 'spacing.before', without ? 0 : 'revert'),
      },
    ]
  },
})

interface Start {
  readonly template: string
  readonly viewport: string
  readonly decider: Deciding
  readonly begins: 'band' | 'text'
  /** Px of space before the content. */
  readonly space: number
}

function startsOf({ page, sights }: PageSight): readonly Start[] {
  const template = page.choice.template?.id
  if (template === undefined) return []
  return sights.flatMap((sight): readonly Start[] => {
    const begins = beginningOf(sight)
    if (!begins) return []
    return [
      {
        template,
        viewport: sight.view.viewport.name,
        decider: sight.decider('spacing.before'),
        begins,
        space: sight.frame.property('spacing.before') ?? 0,
      },
    ]
  })
}

/** Whether a page begins with a band, or with text that only the space before the content holds off the edge. */
function beginningOf(sight: Sight): Start['begins'] | undefined {
  if (firstBand(sight)) return 'band'
  const space = sight.frame.property('spacing.before') ?? 0
  const edge = topEdge(sight) + sight.measure.clearance
  return placedTexts(sight).some(({ top }) => Math.abs(top - edge - space) <= TOLERANCE_PX) ? 'text' : undefined
}
