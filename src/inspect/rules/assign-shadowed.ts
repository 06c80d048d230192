import type { PageSight } from '../page-sight.js'
import { siteRule } from '../rule.js'
import { compileWhere, selectorsOf } from '../../select/selector.js'

/** An entry that decides nothing. */
export const assignShadowed = siteRule({
  id: 'assign-shadowed',
  severity: 'note',
  facet: 'assignment',
  summary: 'An assign entry matches pages and decides nothing on any of them.',
  matters: 'Whoever changes it waits for something to happen.',
  holds:
    'The entry matches pages and wins on none, for no property at any viewport and not for the template; or all pages of one selector of its `where` are in its `except`. pages counts those it matches.',
  example: `surrounds: { a: { as: header, height: 60px }, b: { as: header, height: 60px } }
assign:
  - { use: a, where: { kind: page } }
  - { use: b, where: { path: /visit } }
pages: { visit: { path: /visit, title: Visit } }
`,
  numbers: ['pages'],
  message: ({ worst }) =>
    worst.words?.['selector'] === undefined
      ? `it matches ${worst.numbers['pages']} pages and decides nothing on any: stronger ones take them all`
      : `its selector ${worst.words['selector']} means ${worst.numbers['pages']} pages, which are all in its except`,
  advice: 'take it away, or make it stronger than those that win',
  digests: [entriesOn],
  check(survey, report) {
    const { resolved } = survey
    const matched = new Map<number, string[]>()
    const deciding = new Set<number>()
    for (const page of survey.pages) {
      const found = survey.digest(entriesOn, page)
      for (const index of found.matched) matched.set(index, [...(matched.get(index) ?? []), page.id])
      for (const index of found.deciding) deciding.add(index)
    }
    for (const [index, pages] of matched)
      if (!deciding.has(index)) report({ at: `/assign/${index}`, pages, numbers: { pages: pages.length } })
    for (const { index, data } of resolved.assignments.entries) {
      if (data.except === undefined) continue
      const except = compileWhere(resolved.site, data.except)
      selectorsOf(data.where).forEach((selector, n) => {
        const asked = compileWhere(resolved.site, selector)
        const template = (id: string): string | null => resolved.page(id).choice.template?.id ?? null
        const pages = survey.pages.filter((page) => asked.match(page.facts, template(page.id)))
        if (pages.length === 0 || !pages.every((page) => except.match(page.facts, template(page.id)))) return
        report({
          at: Array.isArray(data.where) ? `/assign/${index}/where/${n}` : `/assign/${index}/where`,
          pages: pages.map((page) => page.id),
          numbers: { pages: pages.length },
          words: { selector: JSON.stringify(selector) },
        })
      })
    }
  },
  propose: ({ at, worst }, { site }) => {
    const list = at.split('/').length > 3
    const where = site.data.assign?.[Number(at.split('/')[2])]?.where
    if (worst.words?.['selector'] !== undefined && (!list || selectorsOf(where).length < 2))
      return [{ title: 'take the entry away', patch: [{ op: 'remove', path: at.split('/').slice(0, 3).join('/') }] }]
    return [{ title: list ? 'take the selector away' : 'take the entry away', patch: [{ op: 'remove', path: at }] }]
  },
})

/** Which assign entries match a page, and which of them decide something there. */
function entriesOn({ page, resolved, sights }: PageSight) {
  const templates = resolved.assignments.templatesFor(page.facts)
  const settings = resolved.assignments.settingsFor(page.facts, page.choice.template?.id ?? null)
  const winning = page.choice.chain.find((voice) => voice.outcome === 'wins')?.pointer
  const chosen = templates.filter(({ entry }) => winning === `/assign/${entry.index}/template`)
  const deciding = settings.filter(({ entry }) => {
    const { contribution } = entry
    const paths = [...(contribution?.settings.values.keys() ?? [])]
    const locks = (contribution?.settings.locks.size ?? 0) > 0
    return (
      locks ||
      paths.some((path) =>
        sights.some(({ view }) => {
          const { winner } = page.layout.decide(path, view.viewport.name)
          return typeof winner === 'number' && page.layout.contributions[winner]?.name === contribution?.name
        }),
      )
    )
  })
  return {
    matched: [...templates, ...settings].map(({ entry }) => entry.index),
    deciding: [...chosen, ...deciding].map(({ entry }) => entry.index),
  }
}
