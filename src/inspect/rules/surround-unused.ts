import { toPointer, type Json } from '../../model/json.js'
import { remembered } from '../../model/remembered.js'
import type { Item } from '../../model/site-data.js'
import type { Layout } from '../../resolve/layout.js'
import type { PageSight } from '../page-sight.js'
import { removeAt } from '../propose.js'
import { allOf } from '../engine/reads.js'
import { siteRule } from '../rule.js'

const USED = 'used'
const FACETS = ['header', 'footer', 'sidebar'] as const

/** A surround that nothing prints. */
export const surroundUnused = siteRule({
  id: 'surround-unused',
  severity: 'note',
  upkeep: 'unused',
  facet: 'template',
  summary: 'No page prints the surround, or would print it without a stronger setting.',
  matters: 'It has to be maintained although no visitor sees it, and editing it changes nothing.',
  holds:
    'No setting that reaches a page names the surround, whether or not a stronger one overrides it, and no other surround, template, insert or body uses it.',
  example: `surrounds: { spare: { as: footer, height: 40px } }
`,
  numbers: [],
  message: ({ worst }) => `no page prints the surround "${worst.words?.['surround'] ?? ''}"`,
  advice: 'use it, or remove it',
  seesDormant: true,
  marks(sight, mark) {
    for (const id of namedOn(sight)) mark(USED, id)
  },
  keys: [USED],
  judge(tally, { site }, report) {
    const { data } = site
    const [surrounds, templates] = [allOf(data.surrounds) ?? {}, allOf(data.templates) ?? {}]
    const used = new Set(tally.values())
    for (const [id, surround] of Object.entries(surrounds))
      for (const name of usedIn([
        ...(surround.items ?? []),
        ...(surround.rows ?? []).flatMap((row) => row.items ?? []),
      ]))
        if (name !== id) used.add(name)
    for (const template of Object.values(templates)) {
      for (const facet of FACETS) for (const name of wordsIn(template.layout?.[facet]?.use as Json)) used.add(name)
      for (const name of usedIn((template.arrange ?? []).filter((entry): entry is Item => typeof entry !== 'string')))
        used.add(name)
    }
    for (const insert of data.inserts ?? []) for (const name of usedIn([insert as unknown as Item])) used.add(name)
    for (const id of Object.keys(surrounds))
      if (!used.has(id)) report({ at: toPointer(['surrounds', id]), pages: [], numbers: {}, words: { surround: id } })
  },
  propose: ({ at, worst }, { site }) => {
    // What a file underneath brings is that file's business, and something may still be copied from this one.
    const isCopied = Object.values(site.data.surrounds ?? {}).some((s) => s.copyOf === worst.words?.['surround'])
    return site.nearness(at) === 0 && !isCopied
      ? [{ title: 'remove the surround', patch: removeAt(site, at), choice: true }]
      : []
  },
})

/** Surrounds that a page's settings name, at any viewport and whatever overrides them, or that its body uses. */
function namedOn({ page }: PageSight): ReadonlySet<string> {
  const used = usedIn((page.data.body ?? []) as readonly Item[])
  if (page.dormant) return new Set(used)
  const set = namedIn(page.layout)
  return used.length === 0 ? set : new Set([...used, ...set])
}

/** Surrounds that the settings of a layout name. */
const namedIn = remembered(
  ({ contributions }: Layout): ReadonlySet<string> =>
    new Set(
      contributions.flatMap(({ settings }) =>
        FACETS.flatMap((facet) => wordsIn(settings.values.get(`${facet}.use`)?.value)),
      ),
    ),
)

/** A name, or the names of a map by viewport. */
const wordsIn = (value: Json | undefined): readonly string[] =>
  typeof value === 'string'
    ? [value]
    : value !== null && typeof value === 'object'
      ? Object.values(value).filter((each): each is string => typeof each === 'string')
      : []

function usedIn(items: readonly Item[]): readonly string[] {
  const open = [...items]
  const found: string[] = []
  for (let next = open.pop(); next; next = open.pop()) {
    if (next.use !== undefined) found.push(next.use)
    open.push(...(next.items ?? []), ...(next.columns ?? []).flatMap((column) => column.items ?? []))
  }
  return found
}
