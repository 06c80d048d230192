import { pathOf } from '../../model/facets.js'
import { own, toPointer } from '../../model/json.js'
import { removeAt } from '../propose.js'
import { viewRule, type Fact, type Proposal } from '../rule.js'
import { surroundOf } from '../../resolve/extensions.js'
import type { PrintedItem } from '../../measure/box.js'
import type { Site } from '../../model/site.js'
import type { Item } from '../../model/site-data.js'
import type { Sight } from '../sight.js'

/** An item with nothing to print, or with a link without an address. */
export const itemPrintsNothing = viewRule({
  id: 'item-prints-nothing',
  severity: 'warning',
  facet: 'body',
  summary: 'A thing was placed whose most important part is missing: an address, entries, a recipient, items.',
  matters: 'The visitor sees an icon that does nothing, a form that is lost, or a hole.',
  holds:
    'A social link without url, a menu without entries, a form without `to`, a surround without items, or a header or footer that is shown without a surround. items counts them. A surround with a height of its own is not asked what it holds, and counts as filled.',
  example: `surrounds: { top: { as: header, height: 60px }, foot: { as: footer, height: 60px } }
theme: { layout: { header: { use: top }, footer: { use: foot } } }
pages: { visit: { path: /visit, title: Visit, body: [ { section: s, items: [ { form: letter } ] } ] } }
`,
  numbers: ['items'],
  message: ({ worst }) => worst.words?.['what'] ?? 'an item prints nothing',
  advice: 'fill it, or remove it',
  check(sight, report) {
    for (const printed of sight.items) {
      const fact = nothingOf(sight, printed)
      if (fact) report(fact)
    }
    for (const facet of ['header', 'footer'] as const) {
      const fact = emptyBar(sight, facet)
      if (fact) report(fact)
    }
  },
  propose: ({ at, worst }, { site }): readonly Proposal[] => {
    const remove = worst.words?.['remove']
    const filled = filling(site, at, worst.words ?? {})
    if (remove === undefined) return filled
    return [
      ...filled,
      {
        title: worst.words?.['fix'] ?? 'remove it',
        patch: removeAll(site, at, remove),
        choice: true,
      },
    ]
  },
})

/** An entry for an empty menu, and for a form the recipient of another one: only a person knows whether they are meant. */
function filling(site: Site, at: string, { menu, form }: Readonly<Record<string, string>>): Proposal[] {
  const { front } = site.data.purposes ?? {}
  const page = front === undefined ? undefined : site.pageData(front)
  if (menu !== undefined && front !== undefined && page) {
    const path = toPointer(['menus', menu, '-'])
    const value = { label: page.title, page: front }
    return [{ title: `add "${page.title}" to the menu`, patch: [{ op: 'add', path, value }], choice: true }]
  }
  if (form === undefined) return []
  return [...recipientsOf(site)].slice(0, MOST_RECIPIENTS).map((to) => ({
    title: `send it to ${to}, as other forms do`,
    patch: [{ op: 'add' as const, path: `${at}/to`, value: to }],
    choice: true,
  }))
}

/** Offered recipients of a form. */
const MOST_RECIPIENTS = 3

/** Recipients of the forms in the bodies of a site. */
function recipientsOf(site: Site): ReadonlySet<string> {
  const found = new Set<string>()
  for (const id of site.pageIds) {
    const open = [...((site.pageData(id)?.body ?? []) as readonly Item[])]
    for (let next = open.pop(); next; next = open.pop()) {
      if (next.form !== undefined && (next.to ?? '').trim() !== '') found.add(next.to ?? '')
      open.push(...(next.items ?? []), ...(next.columns ?? []).flatMap((column) => column.items ?? []))
    }
  }
  return found
}

function removeAll(site: Parameters<typeof removeAt>[0], at: string, indices: string): Proposal['patch'] {
  if (indices === '') return removeAt(site, at)
  return indices
    .split(',')
    .reverse()
    .map((index) => ({ op: 'remove' as const, path: `${at}/${index}` }))
}

/** What is missing of an item; `undefined` where nothing is. */
function nothingOf({ resolved }: Sight, { item, pointer }: PrintedItem): Fact | undefined {
  const { data } = resolved.site
  if (item.social !== undefined) {
    const empty = item.social.flatMap(({ url }, n) => (url === undefined || url.trim() === '' ? [n] : []))
    if (empty.length === 0) return undefined
    const all = empty.length === item.social.length
    const labels = empty.map((n) => `"${item.social?.[n]?.label ?? ''}"`).join(', ')
    return {
      at: all ? pointer : `${pointer}/social`,
      numbers: { items: empty.length },
      words: {
        what: `${labels} ${empty.length === 1 ? 'has' : 'have'} no address`,
        remove: all ? '' : empty.join(),
        fix: 'remove what has no address',
      },
    }
  }
  if (item.menu !== undefined && own(data.menus, item.menu)?.length === 0)
    return {
      at: `${pointer}/menu`,
      numbers: { items: 1 },
      words: { what: `the menu "${item.menu}" has no entries`, menu: item.menu },
      related: [{ pointer: toPointer(['menus', item.menu]), because: 'the menu' }],
    }
  if (item.form !== undefined && (item.to ?? '').trim() === '')
    return {
      at: pointer,
      numbers: { items: 1 },
      words: {
        what: `the form${typeof item.form === 'string' ? ` "${item.form}"` : ''} has no recipient`,
        form: 'yes',
      },
    }
  const used = surroundOf(data, item.use)
  if (used && isBare(used))
    return { at: `${pointer}/use`, numbers: { items: 1 }, words: { what: `"${item.use ?? ''}" has no items` } }
  return undefined
}

type Surround = NonNullable<ReturnType<typeof surroundOf>>

const isBare = ({ rows, items, height, measured }: Surround): boolean =>
  height === undefined &&
  measured === undefined &&
  !(items ?? []).length &&
  !(rows ?? []).some((row) => (row.items ?? []).length > 0)

/** A header or footer that is shown and has no surround, or one without items. */
function emptyBar(sight: Sight, facet: 'header' | 'footer'): Fact | undefined {
  if (!sight.isShown(facet)) return undefined
  const id = sight.view.value(pathOf(facet, 'use')) as string | null
  const surround = surroundOf(sight.resolved.site.data, id)
  const hasHeight = facet === 'header' && sight.view.value('header.height') !== null
  if (hasHeight || (surround && !isBare(surround))) return undefined
  if (surround && id !== null)
    return {
      at: toPointer(['surrounds', id]),
      numbers: { items: 1 },
      words: { what: `the ${facet} "${id}" has no items` },
    }
  const spoken = sight.decider(pathOf(facet, 'use')).at
  return {
    at: spoken === '/theme' ? sight.decider(pathOf(facet, 'presence')).at : spoken,
    numbers: { items: 1 },
    words: { what: `a ${facet} is shown, and no surround is chosen for it` },
  }
}
