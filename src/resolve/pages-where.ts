import type { Where } from '../model/site-data.js'
import { compileWhere } from '../select/selector.js'
import { WhereIndex } from '../select/where-index.js'
import type { ResolvedPage } from './page.js'
import type { ResolvedSite } from './resolve-site.js'

/**
 * The pages that selectors mean; several mean any of them.
 *
 * @example
 * pagesWhere(resolved, parseSelector('kind=page')).map(({ id }) => id) // => ['visit']
 */
export function pagesWhere(resolved: ResolvedSite, where: Where): readonly ResolvedPage[] {
  const compiled = compileWhere(resolved.site, where)
  return [...resolved.pages()].filter(
    (page) => compiled.match(page.facts, page.choice.template?.id ?? null) !== undefined,
  )
}

/**
 * The pages that each entry of `assign` means, entries and pages in the order of the file. Whether the entry decides
 * anything on them is not asked.
 *
 * @example
 * assignedPages(resolved) // => []
 */
export function assignedPages(resolved: ResolvedSite): readonly (readonly string[])[] {
  const { entries } = resolved.assignments
  const index = new WhereIndex(entries.map(({ index, where }) => ({ entry: index, where })))
  const pages = entries.map((): string[] => [])
  for (const page of resolved.pages())
    for (const { entry } of index.match(page.facts, page.choice.template?.id ?? null)) pages[entry]?.push(page.id)
  return pages
}
