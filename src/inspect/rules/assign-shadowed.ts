import { plural } from '../words.js'
import type { PageSight } from '../page-sight.js'
import { siteRule } from '../rule.js'
import { rememberedWith } from '../../model/remembered.js'
import type { AssignData } from '../../model/schema.js'
import type { Viewport } from '../../model/site.js'
import type { Assignments } from '../../resolve/assignments.js'
import type { Contribution } from '../../resolve/contribution.js'
import type { Layout } from '../../resolve/layout.js'
import type { ResolvedPage } from '../../resolve/page.js'
import type { ResolvedSite } from '../../resolve/resolve-site.js'
import { compileWhere, selectorsOf } from '../../select/selector.js'
import { WhereIndex } from '../../select/where-index.js'

/** An entry that decides nothing. */
export const assignShadowed = siteRule({
  id: 'assign-shadowed',
  severity: 'note',
  upkeep: 'other',
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
      ? `it matches ${plural(worst.numbers['pages'], 'page')} and decides nothing: stronger entries decide everywhere`
      : `its selector ${worst.words['selector']} matches ${plural(worst.numbers['pages'], 'page')}, and its except excludes every match`,
  advice: 'remove it, or make it more specific than those that win',
  marks(sight, mark) {
    const { matched, deciding, selectors } = entriesOn(sight)
    for (const { data } of matched)
      mark(sight.resolved.pointerTo('assign', data), deciding.includes(data) ? DECIDES : IDLE)
    for (const { data, at, isShut, words } of selectors)
      mark(sight.resolved.pointerTo('assign', data) + at, isShut ? SHUT : OPEN, words)
  },
  judge(tally, _survey, report, at) {
    const isEntry = at.split('/').length === 3
    const idle = isEntry ? IDLE : SHUT
    if (tally.count(isEntry ? DECIDES : OPEN) > 0) return
    const marks = tally.marks(idle)
    const pages = marks.map(({ page }) => page)
    const words = isEntry ? {} : { words: { selector: marks[0]?.detail as string } }
    report({ at, pages, numbers: { pages: pages.length }, ...words })
  },
  propose: ({ at, worst }, { site }) => {
    const list = at.split('/').length > 3
    const where = site.data.assign?.[Number(at.split('/')[2])]?.where
    if (worst.words?.['selector'] !== undefined && (!list || selectorsOf(where).length < 2))
      return [{ title: 'remove the entry', patch: [{ op: 'remove', path: at.split('/').slice(0, 3).join('/') }] }]
    return [{ title: list ? 'remove the selector' : 'remove the entry', patch: [{ op: 'remove', path: at }] }]
  },
})

/** An entry on a page that it matches; a selector of one with `except` on a page that it means. */
const [DECIDES, IDLE, OPEN, SHUT] = ['decides', 'idle', 'open', 'shut'] as const

interface Excepting {
  readonly data: AssignData
  /** Pointer of the selector in the entry. */
  readonly at: string
  readonly words: string
  readonly isShut: (page: ResolvedPage) => boolean
}

const excepting = new WeakMap<Assignments, WhereIndex<Excepting>>()

/** The selectors of entries that have an `except`, to be asked page by page. */
function exceptingIn({ assignments, site }: ResolvedSite): WhereIndex<Excepting> {
  let known = excepting.get(assignments)
  if (!known) {
    const selectors = assignments.entries.flatMap(({ data }) => {
      if (data.except === undefined) return []
      const except = compileWhere(site, data.except)
      const isShut = (page: ResolvedPage): boolean =>
        except.match(page.facts, page.core.template?.id ?? null) !== undefined
      return selectorsOf(data.where).map((selector, n) => {
        const at = Array.isArray(data.where) ? `/where/${n}` : '/where'
        return { entry: { data, at, words: JSON.stringify(selector), isShut }, where: compileWhere(site, selector) }
      })
    })
    excepting.set(assignments, (known = new WhereIndex(selectors)))
  }
  return known
}

/** The entries of a layout that decide something at some viewport. */
const decidersIn = rememberedWith<Layout, ReadonlySet<object | undefined>>(1)

function findDeciders(layout: Layout, viewports: readonly Viewport[]): ReadonlySet<object | undefined> {
  const decides = ({ settings }: Contribution, index: number): boolean =>
    settings.locks.size > 0 ||
    [...settings.values.keys()].some((path) => viewports.some(({ name }) => layout.decide(path, name).winner === index))
  const deciding = layout.contributions.filter((each, index) => each.layer === 'assign' && decides(each, index))
  return new Set(deciding.map(({ entry }) => entry))
}

/** Which assign entries match a page, which of them decide something there, and what their excepts shut out. */
function entriesOn({ page, resolved }: PageSight) {
  const { site } = page
  const templates = resolved.assignments.templatesFor(page.facts)
  const settings = resolved.assignments.settingsFor(page.facts, page.choice.template?.id ?? null)
  const winning = page.choice.winner?.entry
  const chosen = templates.filter(({ entry }) => winning === entry.data)
  const deciders = decidersIn(page.layout, [site.viewports], () => findDeciders(page.layout, site.viewports))
  const deciding = settings.filter(({ entry }) => deciders.has(entry.data))
  const excepted = exceptingIn(resolved).match(page.facts, page.core.template?.id ?? null)
  return {
    selectors: excepted.map(({ entry }) => ({ ...entry, isShut: entry.isShut(page) })),
    matched: [...templates, ...settings].map(({ entry }) => entry),
    deciding: [...chosen, ...deciding].map(({ entry }) => entry.data),
  }
}
