import { isEqual as equal } from 'es-toolkit'
import type { Json } from './json.js'
import { loadSite, type Merged } from './load.js'
import { carryPaths } from './paths.js'
import { isWellFormed, printedAfter, type Patched } from './patch.js'
import { locateOrigin, type Origin } from './origin.js'
import { siteFrom } from './read-site.js'
import type { PageData } from './schema.js'
import { shared } from './share.js'
import { siteOf, sitePartsOf, type Site, type SiteParts } from './site.js'

/**
 * A site read again after some of its files changed: other files are not read, and what is as it was is the same
 * object, and not checked again. `undefined` as the pages where anything may be another.
 *
 * @param text - The site's own file as it is now.
 * @param changed - The files of the site that may have changed: site files, tokens and style sheets. A changed picture or
 *   font is told by a site that is read anew.
 * @throws {SiteError} Every problem found.
 */
export function rereadSite(before: Site, text: string, changed: ReadonlySet<string>): Reread {
  const { file, files } = before
  const sources = new Map(before.sources.map((source) => [source.file, source]))
  const loaded = loadSite(text, file, files, { sources, changed })
  return nearly(before, loaded, changed) ?? { site: siteFrom(loaded, file, files), pages: undefined }
}

/** A site that was read again, and the pages that may have changed, come or gone; `undefined`: all may be others. */
export type Reread = Patched | { readonly site: Site; readonly pages: undefined }

/** The site by what of it is as it was, where it is made of the same files and nothing is wrong with it. */
function nearly(before: Site, loaded: Merged, changed: ReadonlySet<string>): Patched | undefined {
  const { part, problems, nearness } = loaded
  const parts = sitePartsOf(before)
  if (!part || problems.length > 0 || !equal([...nearness], [...parts.nearness])) return undefined
  const { pages: given, ...others } = part.value as unknown as Site['data']
  if ((given as unknown) === undefined) return undefined
  const rest = shared(parts.rest as unknown as Json, others as unknown as Json) as unknown as SiteParts['rest']
  if (rest.viewports !== parts.rest.viewports) return undefined
  const changes = new Map<string, PageData | undefined>()
  const keys = Object.keys(given)
  for (const id of keys) {
    const page = parts.pages.get(id)
    const now = shared(page as unknown as Json, given[id] as unknown as Json) as unknown as PageData
    if (now !== page) changes.set(id, now)
  }
  const kept = new Set(keys)
  for (const id of parts.pages.keys) if (!kept.has(id)) changes.set(id, undefined)
  const isInOrder = keys.length === parts.pages.keys.length && keys.every((id, n) => id === parts.pages.keys[n])
  const isRestyled = restyled(before, part.origin, rest.styles ?? [], changed)
  const made = siteOf({
    ...parts,
    rest: isRestyled ? { ...rest, styles: [...(rest.styles ?? [])] } : rest,
    pages: parts.pages.with(changes, isInOrder ? parts.pages.keys : keys),
    ...{ sources: loaded.sources, nearness, origin: part.origin, tokens: loaded.tokens },
    printed: printedAfter(parts, rest),
  })
  if (!isWellFormed(before, made, changes)) return undefined
  carryPaths(before, made, changes.keys())
  return { site: made, pages: new Set(changes.keys()) }
}

/** Whether a style sheet is another, or in another place of its file, though what the site says of it is the same. */
function restyled(
  { files }: Site,
  origin: Origin,
  styles: NonNullable<Site['data']['styles']>,
  changed: ReadonlySet<string>,
): boolean {
  return styles.some(({ file }, n) => {
    const from = locateOrigin(origin, ['styles', String(n)], 'key').file
    return changed.has(file === undefined ? from : files.resolve(from, file))
  })
}
