import type { Item } from '../model/site-data.js'
import { countWords } from './links.js'
import type { PageSight } from './page-sight.js'

export interface ContentUnseen {
  /** The `arrange` that has no place for it. */
  readonly at: string
  /** Whether the template lists other pages instead. */
  readonly replaced: boolean
  readonly numbers: { readonly words: number; readonly items: number }
}

/** The part of a page's body that its template does not print; `undefined` where it prints it or there is none. */
export function contentUnseen({ page }: PageSight): ContentUnseen | undefined {
  const { template } = page.choice
  const body = page.data.body ?? []
  if (!template || template.arrangePointer === undefined || template.arrange.includes('content')) return undefined
  const items = countItems(body)
  if (items === 0) return undefined
  const replaced = template.arrange.some((entry) => typeof entry !== 'string' && entry.listing !== undefined)
  return { at: template.arrangePointer, replaced, numbers: { words: countWords(body), items } }
}

const countItems = (items: readonly Item[]): number =>
  items.reduce(
    (sum, item) =>
      sum +
      (item.section === undefined
        ? 1
        : countItems([...(item.items ?? []), ...(item.columns ?? []).flatMap((column) => column.items ?? [])])),
    0,
  )
