import type { Json, JsonObject } from '../model/json.js'
import type { ObservedBox } from './observation.js'

/** How much of the pages a draft shows: their bands, or all that was seen. */
export const DRAFT_DETAILS = ['bands', 'full'] as const
/** `bands`: a few lines a page; `full`: all that was seen. */
export type DraftDetail = (typeof DRAFT_DETAILS)[number]

/** A name that is free among some. */
export function freshName(wanted: string, taken: (name: string) => boolean): string {
  if (!taken(wanted)) return wanted
  for (let n = 2; ; n++) if (!taken(`${wanted}-${n}`)) return `${wanted}-${n}`
}

export const slug = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/[^\p{L}\p{N}]+/gu, '-')
    .replace(/^-+|-+$/g, '')
    .toLowerCase() || 'page'

/** Pictures that were seen, by where they come from. */
export class AssetDrafts {
  readonly found = new Map<string, { id: string; width?: number; height?: number }>()

  of(source: string | undefined, box: ObservedBox | undefined): string {
    const key = source ?? `${box?.width}x${box?.height}`
    const known = this.found.get(key)
    if (known) return known.id
    const name = slug(/([^/?#]+?)(\.\w+)?([?#].*)?$/.exec(source ?? '')?.[1] ?? 'picture')
    const ids = new Set([...this.found.values()].map(({ id }) => id))
    const id = freshName(name, (each) => ids.has(each))
    this.found.set(key, { id, ...(box && box.width > 0 && box.height > 0 && { width: box.width, height: box.height }) })
    return id
  }
}

/** Things that are the same on many pages, each once: by their content. */
export class Shared<T extends Json> {
  readonly found = new Map<string, { readonly id: string; readonly value: T; readonly pages: Set<string> }>()

  /** @param page - The address of a page that has it. */
  of(value: T, wanted: string, page?: string): string {
    const key = JSON.stringify(value)
    const known = this.found.get(key)
    if (known) {
      if (page !== undefined) known.pages.add(page)
      return known.id
    }
    const ids = new Set([...this.found.values()].map(({ id }) => id))
    const id = freshName(wanted, (each) => ids.has(each))
    this.found.set(key, { id, value, pages: new Set(page === undefined ? [] : [page]) })
    return id
  }
}

/** All that pages have in common. */
export interface Drafts {
  readonly assets: AssetDrafts
  readonly menus: Shared<readonly Json[]>
  readonly surrounds: Shared<JsonObject>
  /** A page's id by its path. */
  readonly idOf: (path: string) => string | undefined
  /** The kind of the page at a path. */
  readonly kindOf: (path: string) => string | undefined
}
