import type { Item } from './site-data.js'

const COMMON = ['id', 'height', 'width', 'hide', 'links']
const BOX = [
  ...['role', 'band', 'breakout', 'maxWidth', 'padding', 'margin', 'height', 'minHeight', 'align', 'background', 'ink'],
  ...['hide', 'columns', 'gap', 'stackAt', 'items'],
]

/** Every kind of item, with all the keys it may have. Order settles what an item with two of them is. */
export const ITEM_KINDS = {
  section: ['section', ...BOX, 'width', 'id', 'links'],
  heading: ['heading', 'text', ...COMMON],
  text: ['text', ...COMMON],
  image: ['image', ...COMMON],
  button: ['button', 'url', 'page', ...COMMON],
  form: ['form', 'fields', 'to', ...COMMON],
  search: ['search', ...COMMON],
  account: ['account', ...COMMON],
  logo: ['logo', 'page', ...COMMON],
  menu: ['menu', ...COMMON],
  use: ['use', ...COMMON],
  gap: ['gap', 'id', 'hide'],
  embed: ['embed', ...COMMON],
  social: ['social', ...COMMON],
  countdown: ['countdown', ...COMMON],
  title: ['title', ...COMMON],
  byline: ['byline', ...COMMON],
  listing: ['listing', 'count', ...COMMON],
  comments: ['comments', ...COMMON],
} as const satisfies Record<string, readonly string[]>

export type ItemKind = keyof typeof ITEM_KINDS

const KINDS = Object.keys(ITEM_KINDS) as readonly ItemKind[]
const ORDER: ReadonlyMap<string, number> = new Map(KINDS.map((kind, n) => [kind, n]))

/** What an item is; `undefined` when nothing in it shows that. */
export function itemKindOf(item: Item): ItemKind | undefined {
  // An item has a few of many keys: those that it has are looked at.
  let first = KINDS.length
  for (const key in item) {
    const order = ORDER.get(key)
    if (order !== undefined && order < first && item[key as keyof Item] !== undefined) first = order
  }
  return KINDS[first]
}
