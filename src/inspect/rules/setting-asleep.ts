import type { SettingPath } from '../../model/facets.js'
import { remembered } from '../../model/remembered.js'
import type { Contribution } from '../../resolve/contribution.js'
import type { Layout } from '../../resolve/layout.js'
import { isAwakeAt } from '../own-settings.js'
import { removeAt } from '../propose.js'
import { siteRule } from '../rule.js'

const [AWAKE, ASLEEP] = ['awake', 'asleep'] as const
const LAYERS = new Set(['template', 'assign', 'builder', 'page'])

/** A setting for something that is not printed. */
export const settingAsleep = siteRule({
  id: 'setting-asleep',
  severity: 'note',
  upkeep: 'other',
  facet: 'override',
  summary: 'A setting is for something that none of the pages it reaches prints.',
  matters: 'It has no effect now, and takes effect unexpectedly when the template changes.',
  holds:
    'A setting of a template, an assign entry, a builder or a page is for a facet that is printed on no page it reaches, at any viewport. Presence itself sleeps only behind a template’s arrange.',
  example: `pages: { visit: { path: /visit, title: Visit, layout: { sidebar: { width: 240px } }, body: [ { section: s, items: [ { text: words } ] } ] } }
`,
  numbers: [],
  message: ({ worst, pages }) =>
    `${worst.words?.['path'] ?? 'it'} is set for ${pages.length === 1 ? 'a page' : `${pages.length} pages`} on which there is nothing of the kind to see`,
  advice: 'remove it, or show what it is for',
  marks({ page, sights }, mark) {
    for (const { path, pointer, contribution } of settingsOf(page.layout)) {
      const isAwake = sights.some((sight) => isAwakeAt(sight, path))
      mark(page.pointerOf(contribution, pointer), isAwake ? AWAKE : ASLEEP, path)
    }
  },
  judge(tally, _survey, report, at) {
    if (tally.count(AWAKE) > 0) return
    const marks = tally.marks(ASLEEP)
    report({ at, pages: marks.map(({ page }) => page), numbers: {}, words: { path: marks[0]?.detail as string } })
  },
  // It would take effect again when what it is for is shown: only a person knows whether it is wanted then.
  propose: ({ at }, { site }) => [{ title: 'remove it; no page changes', patch: removeAt(site, at), choice: true }],
})

/** A setting that reaches all pages of a layout. */
interface Reaching {
  readonly path: SettingPath
  readonly contribution: Contribution
  /** Relative to the contribution. */
  readonly pointer: string
}

const settingsOf = remembered((layout: Layout): readonly Reaching[] =>
  layout.contributions
    .filter(({ layer }) => LAYERS.has(layer))
    .flatMap((contribution) =>
      [...contribution.settings.values].map(([path, { pointer }]) => ({ path, pointer, contribution })),
    ),
)
