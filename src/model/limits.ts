/**
 * How much a site file may hold of what is worked on for each page, or compared with each other: more is refused when it is
 * read, with the limit. Real sites stay far below; the numbers keep every answer within seconds.
 */
export const LIMITS = {
  /** Each page is worked out at every one. */
  viewports: 40,
  /** Sections and items in one list. */
  list: 1000,
  /** Sections and items of a page, at any depth. */
  body: 2000,
  /** Items that a surround prints, those of surrounds in it included. */
  surround: 1000,
  /** Items of all inserts together, those of surrounds in them included. */
  inserted: 500,
  /** Rows of a header or footer. */
  rows: 100,
  assign: 2000,
  /** Entries of a menu. */
  menu: 1000,
  inserts: 200,
  policies: 200,
  allow: 2000,
  styles: 500,
  /** Characters of a pattern of `include`. */
  pattern: 1000,
  /** Files that extend or include each other, templates based on each other, pages under each other, tokens that stand for others. */
  nesting: 100,
} as const

/** How many sections and items there are in a list, at any depth; counting stops past a number. */
export function countItems(items: readonly unknown[], most: number): number {
  let count = 0
  const open = [items]
  for (let list = open.pop(); list; list = open.pop()) {
    count += list.length
    if (count > most) return count
    for (const item of list as readonly { readonly items?: unknown; readonly columns?: unknown }[]) {
      if (Array.isArray(item?.items)) open.push(item.items)
      if (!Array.isArray(item?.columns)) continue
      for (const column of item.columns as readonly { readonly items?: unknown }[])
        if (Array.isArray(column?.items)) open.push(column.items)
    }
  }
  return count
}
