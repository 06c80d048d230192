import type { Where } from '../model/site-data.js'
import { compileWhere } from '../select/selector.js'
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
