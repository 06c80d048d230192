import { rememberedWith } from '../../model/remembered.js'
import type { Layout } from '../../resolve/layout.js'
import { sameValue } from '../../resolve/page.js'
import { compareSpecificity } from '../../select/selector.js'
import type { Matched } from '../../select/where-index.js'
import type { AssignData } from '../../model/schema.js'
import type { Assignment } from '../../resolve/assignments.js'
import { atViewport, settingFor } from '../../resolve/settings.js'
import type { PageSight } from '../page-sight.js'
import { pageRule, type Fact } from '../rule.js'

/** Two entries that mean a page equally, and differ. */
export const assignTie = pageRule({
  id: 'assign-tie',
  severity: 'warning',
  facet: 'assignment',
  summary: 'Two assign entries match a page equally well and set different values; only their order decides.',
  matters: 'Which header a visitor gets hangs on which line was typed first.',
  holds:
    'Beside the entry that decides a value (or the template) of a page, another of the same specificity matches and would give a different one.',
  example: `surrounds: { a: { as: header, height: 60px }, b: { as: header, height: 60px } }
assign:
  - { use: a, where: { tag: old } }
  - { use: b, where: { tag: new } }
pages: { visit: { path: /visit, title: Visit, tags: [ old, new ] } }
`,
  numbers: [],
  message: ({ worst }) =>
    `${worst.words?.['winner'] ?? ''} and ${worst.words?.['loser'] ?? ''} tie over ${worst.words?.['what'] ?? ''}; the order of the file decides`,
  advice: 'make one more specific, or name the pages of the other in its except',
  check(sight, report) {
    for (const tie of [...templateTie(sight), ...settingTies(sight)]) report(factOf(tie, sight))
  },
  propose: ({ worst, pages, at }) => {
    const winner = at.split('/').slice(0, 3).join('/')
    const loser = worst.related?.[0]?.pointer ?? ''
    return [
      {
        title: 'keep things as they are: take these pages out of the entry that loses',
        patch: [{ op: 'add', path: `${loser}/except`, value: [{ page: [...pages] }] }],
        choice: true,
      },
      {
        title: 'the other way round: take these pages out of the entry that wins',
        patch: [{ op: 'add', path: `${winner}/except`, value: [{ page: [...pages] }] }],
        choice: true,
      },
    ]
  },
})

interface Tie {
  readonly winner: AssignData
  readonly loser: AssignData
  /** Pointer of the value that wins, in its entry. */
  readonly at: string
  readonly what: string
}

function factOf({ winner, loser, at, what }: Tie, { resolved }: PageSight): Fact {
  const { pointerTo } = resolved
  return {
    at: pointerTo('assign', winner) + at,
    numbers: {},
    words: { what },
    entries: { winner, loser },
    related: [{ pointer: pointerTo('assign', loser), because: 'ties with it' }],
  }
}

const isTied = (a: Matched<Assignment>, b: Matched<Assignment>): boolean =>
  a !== b && compareSpecificity(a.selector.specificity, b.selector.specificity) === 0

function templateTie({ page, resolved }: PageSight): readonly Tie[] {
  const winning = page.choice.winner
  if (winning?.layer !== 'assign') return []
  const matched = resolved.assignments.templatesFor(page.facts)
  const winner = matched.find(({ entry }) => winning.entry === entry.data)
  const loser = winner && matched.find((m) => isTied(m, winner) && m.entry.data.template !== winning.value)
  return winner && loser
    ? [{ winner: winner.entry.data, loser: loser.entry.data, at: '/template', what: 'the template' }]
    : []
}

/** For how many ways in which a layout's entries mean pages their ties are held. */
const MOST_HELD = 16
/** Pages of one layout that are meant by the same selectors have the same ties. */
const tiesOf = rememberedWith<Layout, readonly Tie[]>(MOST_HELD)

function settingTies(sight: PageSight): readonly Tie[] {
  const { page, resolved } = sight
  const matched = resolved.assignments.settingsFor(page.facts, page.choice.template?.id ?? null)
  // They come weakest first: two that mean the page equally well are neighbors, and most pages have none.
  if (!matched.some((each, n) => n > 0 && isTied(each, matched[n - 1] as Matched<Assignment>))) return []
  const others: unknown[] = []
  for (const { entry, selector } of matched) others.push(entry, selector)
  return tiesOf(page.layout, others, () => findTies(sight, matched))
}

function findTies({ page, resolved, sights }: PageSight, matched: readonly Matched<Assignment>[]): readonly Tie[] {
  const found = new Map<string, Tie>()
  const paths = new Set(matched.flatMap(({ entry }) => [...(entry.contribution?.settings.values.keys() ?? [])]))
  for (const { view } of sights)
    for (const path of paths) {
      const decision = page.layout.decide(path, view.viewport.name)
      const deciding = typeof decision.winner === 'number' ? page.layout.contributions[decision.winner] : undefined
      const winner = deciding?.entry && matched.find(({ entry }) => entry.data === deciding.entry)
      if (!winner) continue
      const loser = matched.find((m) => {
        const setting = m.entry.contribution && settingFor(m.entry.contribution.settings, path)
        const value = setting && atViewport(setting.value, view.viewport.name)
        const isSet = value !== undefined && value !== 'inherit' && value !== 'revert'
        return isTied(m, winner) && isSet && !sameValue(value, decision.value, view.viewport, resolved.rem)
      })
      const at = winner.entry.contribution?.settings.values.get(path)?.pointer
      if (!loser || at === undefined) continue
      const key = `${matched.indexOf(winner)} ${at}`
      if (!found.has(key)) found.set(key, { winner: winner.entry.data, loser: loser.entry.data, at, what: path })
    }
  return [...found.values()]
}
