import type { Selector } from '../model/site-data.js'
import type { ResolvedPage } from '../resolve/page.js'
import { pagesWhere as pagesMeant } from '../resolve/pages-where.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { parseSelector } from '../select/parse-selector.js'

/** The selectors of `--where`; several mean any of them. */
export const parseSelectors = (selectors: readonly string[]): readonly Selector[] => selectors.map(parseSelector)

/** The pages that match `--where`; without it, all. */
export const pagesWhere = (resolved: ResolvedSite, selectors: readonly string[] | undefined): readonly ResolvedPage[] =>
  selectors ? pagesMeant(resolved, parseSelectors(selectors)) : [...resolved.pages()]
