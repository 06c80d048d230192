import { isEqual as equal } from 'es-toolkit'
import type { Template } from '../../resolve/templates.js'
import { ownSettings } from '../own-settings.js'
import { removeAt } from '../propose.js'
import { pageRule } from '../rule.js'
import type { PageSight } from '../page-sight.js'

/** An override that sets what would hold anyway. */
export const overrideRedundant = pageRule({
  id: 'override-redundant',
  severity: 'note',
  upkeep: 'cleared',
  facet: 'override',
  summary: 'A page’s own setting equals what the page gets without it.',
  matters: 'It is one more thing to remember, and it will block the next change to the site.',
  holds:
    'A setting (or the template choice) of the page wins somewhere, is not asleep, and removing it changes no value at any viewport; of a template, nothing that its settings and `arrange` decide.',
  example: `pages: { visit: { path: /visit, title: Visit, layout: { title: shown } } }
`,
  numbers: [],
  message: ({ worst }) => `${worst.words?.['path'] ?? 'it'} would be the same without this`,
  advice: 'remove it',
  check(sight, report) {
    for (const { path, pointer, views, isAwake } of ownSettings(sight)) {
      const wins = views.some(({ entry }) => entry.outcome === 'wins')
      if (wins && isAwake && views.every((view) => view.isIdle)) report({ at: pointer, numbers: {}, words: { path } })
    }
    if (isTemplateIdle(sight)) report({ at: sight.pointer('template'), numbers: {}, words: { path: 'the template' } })
  },
  propose: ({ at }, { site }) => [{ title: 'remove it; no page changes', patch: removeAt(site, at) }],
})

/** Whether the page's own choice of a template has the effect of what the next in line chooses. */
function isTemplateIdle({ page, resolved }: PageSight): boolean {
  if (page.data.template === undefined) return false
  const [winner, ...others] = page.choice.chain.filter((entry) => entry.outcome !== 'skipped')
  const next = others.find((entry) => entry.layer !== 'page')
  if (winner?.layer !== 'page') return false
  if (winner.value === 'none' || next === undefined) return (winner.value ?? 'none') === (next?.value ?? 'none')
  // Where no other template would be used, a named one is a choice: what is set in it later reaches the page.
  const [own, without] = [winner.value, next.value].map((id) => resolved.templates.get(String(id)))
  return own === without || (own !== undefined && without !== undefined && equal(effectOf(own), effectOf(without)))
}

/** What a template prints and sets, whatever its name. */
const effectOf = ({ arrange, ground, settings }: Template): unknown => [
  arrange,
  ground,
  Object.fromEntries([...settings.values].map(([path, { value }]) => [path, value])),
  [...settings.locks.keys()].sort(),
]
