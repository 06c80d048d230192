import { toPointer } from '../../model/json.js'
import { isAwakeAt } from '../own-settings.js'
import type { PageSight } from '../page-sight.js'
import { removeAt } from '../propose.js'
import { siteRule } from '../rule.js'

const [AWAKE, ASLEEP] = ['awake', 'asleep'] as const
const LAYERS = new Set(['template', 'assign', 'builder', 'page'])

/** A setting for something that is not printed. */
export const settingAsleep = siteRule({
  id: 'setting-asleep',
  severity: 'note',
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
  marks(sight, mark) {
    for (const { pointer, path, isAwake } of settingsOn(sight)) mark(pointer, isAwake ? AWAKE : ASLEEP, path)
  },
  judge(tally, _survey, report, at) {
    if (tally.count(AWAKE) > 0) return
    const marks = tally.marks(ASLEEP)
    report({ at, pages: marks.map(({ page }) => page), numbers: {}, words: { path: marks[0]?.detail as string } })
  },
  propose: ({ at }, { site }) => [{ title: 'remove it; no page changes', patch: removeAt(site, at) }],
})

/** The settings that reach a page, and whether anything of them can be seen there. */
function settingsOn({ page, sights }: PageSight) {
  const awake = new Map<string, boolean>()
  const isAwake = (path: string): boolean => {
    let known = awake.get(path)
    if (known === undefined) awake.set(path, (known = sights.some((sight) => isAwakeAt(sight, path))))
    return known
  }
  const own = toPointer(['pages', page.id, 'layout'])
  return page.layout.contributions
    .filter(({ layer }) => LAYERS.has(layer))
    .flatMap(({ layer, settings }) =>
      [...settings.values].map(([path, setting]) => ({
        path,
        pointer: layer === 'page' ? own + setting.pointer : setting.pointer,
        isAwake: isAwake(path),
      })),
    )
}
