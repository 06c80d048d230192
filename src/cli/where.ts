import { didYouMean } from '../model/did-you-mean.js'
import type { Selector } from '../model/site-data.js'
import type { ResolvedPage } from '../resolve/page.js'
import type { ResolvedSite } from '../resolve/resolve-site.js'
import { compileWhere } from '../select/selector.js'
import { UsageError } from './io.js'

const KEYS = ['kind', 'page', 'path', 'under', 'tag', 'purpose', 'builder', 'template']

/** Reads `kind=article,tag=meteors`; several values with a bar between: `kind=article|listing`. */
function parseSelector(text: string): Selector {
  if (text === 'all') return { all: true }
  const entries = text.split(',').map((part) => {
    const [key = '', ...value] = part.trim().split('=')
    if (!KEYS.includes(key) || value.length === 0) {
      const meant = didYouMean(key, KEYS)
      throw new UsageError(
        `"${part}" is no selector; ${meant && meant !== key ? `did you mean "${meant}="?` : `write for example kind=article,tag=meteors (keys: ${KEYS.join(', ')})`}`,
      )
    }
    const values = value.join('=').split('|')
    return [key, values.length === 1 ? values[0] : values]
  })
  return Object.fromEntries(entries) as Selector
}

/** Whether a word is meant as a selector: `all`, or begins with a selector's key. */
export const isSelector = (word: string): boolean => word === 'all' || KEYS.includes(word.split('=')[0] ?? '')

/** The selectors that `--where` says; several mean any of them. */
export const parseSelectors = (selectors: readonly string[]): readonly Selector[] => selectors.map(parseSelector)

/** The pages that `--where` means; several selectors mean any of them. */
export function pagesWhere(resolved: ResolvedSite, selectors: readonly string[] | undefined): readonly ResolvedPage[] {
  const pages = [...resolved.pages()]
  if (!selectors) return pages
  const where = compileWhere(resolved.site, parseSelectors(selectors))
  return pages.filter((page) => where.match(page.facts, page.choice.template?.id ?? null) !== undefined)
}
