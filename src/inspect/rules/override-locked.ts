import { ownSettings } from '../own-settings.js'
import { removeAt } from '../propose.js'
import { pageRule } from '../rule.js'

/** An override that a lock shuts out. */
export const overrideLocked = pageRule({
  id: 'override-locked',
  severity: 'warning',
  facet: 'override',
  summary: 'A page’s own setting has no effect, for the property is locked.',
  matters: 'What was asked for this page does not happen.',
  holds: 'The setting wins at no viewport where it has a value, because a weaker layer locks the property.',
  example: `templates: { t: { layout: { title: shown, lock: [ title ] } } }
pages: { visit: { path: /visit, title: Visit, template: t, layout: { title: visually-hidden }, body: [ { section: s, items: [ { text: words } ] } ] } }
`,
  numbers: [],
  message: ({ worst }) => `${worst.words?.['path'] ?? 'it'} has no effect: ${worst.words?.['why'] ?? 'it is locked'}`,
  advice: 'remove the lock, or remove the setting',
  check(sight, report) {
    for (const { path, pointer, views } of ownSettings(sight)) {
      const locked = views.filter(({ entry, sight: { view, page } }) => {
        const isGate = page.layout.decide(path, view.viewport.name).winner === 'gate'
        return entry.outcome === 'locked' && !isGate
      })
      const [first] = locked
      if (!first || locked.length < views.length) continue
      const { locker, reason } = first.entry
      const why = locker ? `locked by ${sight.page.nameOf(locker)}` : reason
      report({ at: pointer, numbers: {}, words: { path, why } })
    }
  },
  propose: ({ at }, { site }) => [{ title: 'remove it; no page changes', patch: removeAt(site, at), choice: true }],
})
