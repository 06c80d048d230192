import { setPath, PatchError, PathError, SiteError, type Json, type Patch, type ResolvedSite } from 'wembra'
import type { Random } from './random-site.js'

/** What may be set of a layout, at any layer. */
const SETTINGS: readonly (readonly [string, Json])[] = [
  ['spacing.before', '71px'],
  ['spacing.after', 0],
  ['width.max', 555],
  ['width.mode', 'full'],
  ['header.position', 'fixed'],
  ['header.clearance', 'auto'],
  ['header.presence', 'absent'],
  ['footer.presence', 'shown'],
  ['title.presence', 'hidden'],
  ['title.place', 'band'],
  ['sidebar.side', 'left'],
  ['findable.web', false],
  ['comments.presence', 'shown'],
]

type Make = (site: ResolvedSite, r: Random) => Patch | undefined

/** Lists of the document to which every file adds. */
const LISTS = ['assign', 'inserts', 'policies', 'allow', 'styles'] as const

/** An entry for a list; its texts look like pointers and names of other entries. */
function newEntry(list: (typeof LISTS)[number], site: ResolvedSite, r: Random): Json {
  const where = r.pick<Json>([{ all: true }, { page: r.pick(site.pageIds) }, { kind: 'page' }])
  switch (list) {
    case 'assign':
      return { layout: { spacing: { before: `${r.below(90)}px` } }, where: [where] }
    case 'inserts':
      return {
        ...{ id: `assign entry ${1 + r.below(9)} ${r.below(1000)}`, at: r.pick(['before-content', 'before-header']) },
        ...{ where: [where], items: [{ text: '/inserts/12 and /assign/3', links: ['https://example.net/assign/1'] }] },
      }
    case 'policies':
      return { name: `assign entry ${r.below(4)}`, where: [where], require: { title: r.pick(['shown', 'absent']) } }
    case 'allow':
      return { rule: r.pick(['nav-lost', 'title-missing', 'content-at-edge']), where: [where], reason: '/assign/0' }
    case 'styles':
      return { css: r.pick(['.page-title { display: none }', '#top { position: fixed }']), where: [where] }
  }
}

const keys = (things: object | undefined): readonly string[] => Object.keys(things ?? {})
const at = (...path: readonly (string | number)[]): string => path.map((key) => `/${key}`).join('')

/** One change of each kind that people make; `undefined` where the site has nothing to make it on. */
export const PATCHES: Readonly<Record<string, Make>> = {
  'a setting of a layer': ({ site }, r) => {
    const { templates, kinds, builders } = site.data
    const holders = [
      'theme',
      ...keys(templates).map((id) => `templates.${id}`),
      ...keys(kinds).map((id) => `kinds.${id}`),
      ...keys(builders).map((id) => `builders.${id}`),
      ...site.pageIds.map((id) => `pages.${id}`),
    ]
    const [property, value] = r.pick(SETTINGS)
    return setPath(site, `${r.pick(holders)}.layout.${property}`, value)
  },
  'a setting of an entry': ({ site }, r) => {
    const entries = (site.data.assign ?? []).flatMap((entry, n) => (entry.layout ? [n] : []))
    const [property, value] = r.pick(SETTINGS)
    return entries.length > 0
      ? setPath(site, `/assign/${r.pick(entries)}/layout/${property.replace('.', '/')}`, value)
      : undefined
  },
  'a page of its own': ({ site }, r) => {
    const kind = r.pick(['page', ...keys(site.data.kinds)])
    const value = {
      ...{ path: '/brand-new', title: 'Brand new', kind, tags: ['a', 'tight'] },
      ...(r.chance(0.5) && { parent: r.pick(site.pageIds) }),
      body: [
        {
          section: 'one',
          items: [
            { heading: 1, text: 'Brand new' },
            { listing: kind, count: 3 },
          ],
        },
      ],
    }
    return [{ op: 'add', path: '/pages/brand-new', value }]
  },
  'a page less': ({ site }, r) => [{ op: 'remove', path: at('pages', r.pick(site.pageIds)) }],
  'a kind for a page': ({ site }, r) =>
    setPath(site, `/pages/${r.pick(site.pageIds)}/kind`, r.pick(['page', ...keys(site.data.kinds)])),
  'a parent for a page': ({ site }, r) => setPath(site, `/pages/${r.pick(site.pageIds)}/parent`, r.pick(site.pageIds)),
  'a path for a page': ({ site }, r) =>
    setPath(site, `/pages/${r.pick(site.pageIds)}/path`, r.pick(['/x/moved', '/moved', '/'])),
  'members only': ({ site }, r) =>
    setPath(site, `/pages/${r.pick(site.pageIds)}/access`, r.pick(['members', 'public'])),
  'a draft': ({ site }, r) => setPath(site, `/pages/${r.pick(site.pageIds)}/status`, r.pick(['draft', 'published'])),
  'a template for a page': ({ site }, r) =>
    setPath(site, `/pages/${r.pick(site.pageIds)}/template`, r.pick(['none', 'ghost', ...keys(site.data.templates)])),
  'an entry less': ({ site }, r) => {
    const count = site.data.assign?.length ?? 0
    return count > 0 ? [{ op: 'remove', path: at('assign', r.below(count)) }] : undefined
  },
  'an entry more': ({ site }, r) => {
    const count = site.data.assign?.length ?? 0
    const where = r.pick<Json>([
      { kind: 'article' },
      { page: r.pick(site.pageIds) },
      { under: r.pick(site.pageIds) },
      { all: true },
    ])
    const value = { layout: { spacing: { before: '13px' }, title: { presence: 'hidden' } }, where: [where] }
    const index = r.below(count + 1)
    if (count === 0) return [{ op: 'add', path: '/assign', value: [value] }]
    return [{ op: 'add', path: index === count ? '/assign/-' : at('assign', index), value }]
  },
  'a menu’s entry less': ({ site }, r) => {
    const menus = Object.entries(site.data.menus ?? {}).filter(([, entries]) => entries.length > 0)
    if (menus.length === 0) return undefined
    const [id, entries] = r.pick(menus)
    return [{ op: 'remove', path: at('menus', id, r.below(entries.length)) }]
  },
  'a menu’s entry more': ({ site }, r) => {
    const menus = keys(site.data.menus)
    const value = { label: 'More', page: r.pick([...site.pageIds, 'ghost']) }
    return menus.length > 0 ? [{ op: 'add', path: at('menus', r.pick(menus), '-'), value }] : undefined
  },
  'a surround’s look': ({ site }, r) => {
    const ids = keys(site.data.surrounds)
    const [key, value] = r.pick<readonly [string, Json]>([
      ['height', '77px'],
      ['background', '#fffe'],
      ['ink', '#999'],
    ])
    return ids.length > 0 ? setPath(site, `/surrounds/${r.pick(ids)}/${key}`, value) : undefined
  },
  'a surround less': ({ site }, r) => {
    const ids = keys(site.data.surrounds)
    return ids.length > 0 ? [{ op: 'remove', path: at('surrounds', r.pick(ids)) }] : undefined
  },
  'an extension off or on': ({ site }, r) => {
    const ids = keys(site.data.extensions)
    return ids.length > 0 ? setPath(site, `/extensions/${r.pick(ids)}/enabled`, r.chance(0.5)) : undefined
  },
  'a purpose': ({ site }, r) =>
    setPath(site, `/purposes/${r.pick(['front', 'signIn', 'search', 'listing/article'])}`, r.pick(site.pageIds)),
  'a template off': ({ site }, r) => {
    const ids = keys(site.data.templates)
    return ids.length > 0 ? setPath(site, `/templates/${r.pick(ids)}/enabled`, false) : undefined
  },
  'a template less': ({ site }, r) => {
    const ids = keys(site.data.templates)
    return ids.length > 0 ? [{ op: 'remove', path: at('templates', r.pick(ids)) }] : undefined
  },
  'a permission': ({ site }, r) => {
    const value = {
      rule: r.pick(['share-image-missing', 'nav-lost', 'empty-page-live', 'override-redundant']),
      reason: 'Meant.',
    }
    return [{ op: 'add', path: site.data.allow ? '/allow/-' : '/allow', value: site.data.allow ? value : [value] }]
  },
  'a list’s entry more': (site, r) => {
    const list = r.pick(LISTS)
    const count = site.site.data[list]?.length ?? 0
    const value = newEntry(list, site, r)
    return count === 0
      ? [{ op: 'add', path: `/${list}`, value: [value] }]
      : [{ op: 'add', path: at(list, r.below(count + 1)), value }]
  },
  'a list’s entry less': ({ site }, r) => {
    const lists = LISTS.filter((list) => (site.data[list]?.length ?? 0) > 0)
    if (lists.length === 0) return undefined
    const list = r.pick(lists)
    return [{ op: 'remove', path: at(list, r.below(site.data[list]?.length ?? 0)) }]
  },
  'a list’s entry moved': ({ site }, r) => {
    const list = r.pick(LISTS)
    const entries = (site.data[list] ?? []) as unknown as readonly Json[]
    // Entries of files underneath stay where they are: their file is part of what decides ties.
    const own = entries.flatMap((_, n) => (site.nearness(at(list, n)) === 0 ? [n] : []))
    if (own.length < 2) return undefined
    const [from, path] = [r.pick(own), r.pick(own)]
    // A move is not written into files; removing and adding the entry is.
    return own.length === entries.length && r.chance(0.5)
      ? [{ op: 'move', from: at(list, from), path: at(list, path) }]
      : [
          { op: 'remove', path: at(list, from) },
          { op: 'add', path: at(list, path), value: entries[from] as Json },
        ]
  },
  'words like entries': ({ site }, r) => {
    const id = r.pick(site.pageIds)
    const value = [
      {
        section: `assign entry ${1 + r.below(6)}`,
        ...{ band: 'full', background: { color: '#123' }, padding: 0 },
        items: [
          { heading: 1, text: `/assign/${r.below(6)}` },
          { button: 'On', url: `/inserts/${r.below(4)}` },
        ],
      },
    ]
    return [{ op: 'add', path: at('pages', id, 'body'), value }]
  },
  'two changes at once': (site, r) => {
    const names = Object.keys(PATCHES).filter((name) => name !== 'two changes at once')
    const first = PATCHES[r.pick(names)]?.(site, r)
    const second = first && PATCHES[r.pick(names)]?.(site.with(first), r)
    return first && second ? [...first, ...second] : undefined
  },
  'a ground': ({ site }) => setPath(site, '/theme/ground', { color: '#eee', ink: '#777' }),
}

/** A random change of a kind; `undefined` where it cannot be made. */
export function randomPatch(kind: string, site: ResolvedSite, r: Random): Patch | undefined {
  try {
    return PATCHES[kind]?.(site, r)
  } catch (error) {
    if (error instanceof PathError || error instanceof PatchError || error instanceof SiteError) return undefined
    throw error
  }
}
