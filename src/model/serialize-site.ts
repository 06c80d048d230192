import type { Files } from './files.js'
import type { Json } from './json.js'
import { LayeredMap } from './layered-map.js'
import type { Origin } from './origin.js'
import { carryPaths } from './paths.js'
import { printedAfter, type Patched } from './patch.js'
import type { PageData } from './schema.js'
import { shared } from './share.js'
import { siteOf, sitePartsOf, type Site, type SiteParts, type Viewport } from './site.js'
import { readPageLines, readSource, type Source } from './source.js'
import type { Tokens } from './tokens.js'

/**
 * A site that was read, as plain data which can be posted to another thread (structured clone), so that only one of them
 * reads files; of a site that came out of another, what is not as it was.
 */
export interface SerializedSite {
  readonly file: string
  /** Everything but the pages. */
  readonly rest: SiteParts['rest']
  /** By id, in the order of the file; of a change only those that differ, `undefined` where one went. */
  readonly pages: readonly (readonly [id: string, page: PageData | undefined])[]
  readonly viewports: readonly Viewport[]
  readonly tokens: Tokens
  /** The files it was put together from. */
  readonly sources: readonly string[]
  readonly nearness: ReadonlyMap<string, number>
  readonly origin: SerializedOrigin
  /** Of a change: how it differs beside its pages. */
  readonly change?: {
    /** All ids, where others are there now or in another order. */
    readonly pageIds: readonly string[] | undefined
    /** Whether a style sheet is another one. */
    readonly isRestyled: boolean
  }
}

/** An origin, with its source by number. */
export interface SerializedOrigin {
  readonly source: number
  readonly pointer: string
  readonly children?: ReadonlyMap<string, SerializedOrigin>
}

/**
 * The site as plain data.
 *
 * @param since - A state that it came out of, and the pages that may differ; default none: all of it.
 */
export function serializeSite(
  site: Site,
  since?: { readonly before: Site; readonly pages: Iterable<string> },
): SerializedSite {
  const { file, rest, pages, viewports, tokens, sources, nearness, origin } = sitePartsOf(site)
  const numbers = new Map(sources.map((source, n) => [source, n]))
  const serialized = {
    ...{ file, rest, viewports, tokens, nearness, sources: sources.map((source) => source.file) },
    origin: serializeOrigin(origin, numbers),
  }
  if (!since) return { ...serialized, pages: pages.keys.map((id) => [id, pages.get(id)]) }
  const before = sitePartsOf(since.before)
  const isInOrder =
    pages.keys.length === before.pages.keys.length && pages.keys.every((id, n) => id === before.pages.keys[n])
  return {
    ...serialized,
    pages: [...since.pages].map((id) => [id, pages.get(id)]),
    change: {
      pageIds: isInOrder ? undefined : pages.keys,
      isRestyled: rest.styles !== before.rest.styles,
    },
  }
}

function serializeOrigin(
  { source, pointer, children }: Origin,
  numbers: ReadonlyMap<Source, number>,
): SerializedOrigin {
  return {
    ...{ source: numbers.get(source) ?? 0, pointer },
    ...(children && {
      children: new Map([...children].map(([key, child]) => [key, serializeOrigin(child, numbers)])),
    }),
  }
}

function deserializeOrigin({ source, pointer, children }: SerializedOrigin, sources: readonly Source[]): Origin {
  return {
    ...{ source: sources[source] as Source, pointer },
    ...(children && {
      children: new Map([...children].map(([key, child]) => [key, deserializeOrigin(child, sources)])),
    }),
  }
}

/**
 * A site as `resolved.serialize()` gave it, in this thread or another. Nothing is read or checked again: the site's files
 * are read when somebody asks where something is written.
 *
 * @param files - How the same files are reached here, the site's own among them.
 */
export function deserializeSite(serialized: SerializedSite, files: Files): Site {
  const { pages, origin, sources: names, change: _change, ...same } = serialized
  const sources = names.map((name) => new UnreadSource(name, files))
  return siteOf({
    ...same,
    ...{ files, sources, origin: deserializeOrigin(origin, sources) },
    pages: LayeredMap.of(new Map(pages as readonly (readonly [string, PageData])[])),
    ...{ load: {}, printed: {} },
  })
}

/** A site after a change that was serialized; what is as it was is the same object. */
export function deserializeChange(before: Site, serialized: SerializedSite): Patched {
  const parts = sitePartsOf(before)
  const { files } = parts
  const { pages, sources: names, change, ...now } = serialized
  const given = shared(parts.rest as unknown as Json, now.rest as unknown as Json) as unknown as SiteParts['rest']
  const rest = change?.isRestyled && given.styles ? { ...given, styles: [...given.styles] } : given
  const known = new Map(parts.sources.map((source) => [source.file, source]))
  const sources = names.map((name) => {
    const old = known.get(name)
    return old instanceof UnreadSource && old.isAsIn(files) ? old : new UnreadSource(name, files)
  })
  const changes = new Map(
    pages.map(([id, page]) => [
      id,
      page && (shared(parts.pages.get(id) as unknown as Json, page as unknown as Json) as unknown as PageData),
    ]),
  )
  const site = siteOf({
    ...parts,
    ...{ rest, sources, tokens: now.tokens, nearness: now.nearness, origin: deserializeOrigin(now.origin, sources) },
    pages: parts.pages.with(changes, change?.pageIds ?? parts.pages.keys),
    printed: printedAfter(parts, rest),
  })
  carryPaths(before, site, changes.keys())
  return { site, pages: new Set(changes.keys()) }
}

const isLines = (file: string): boolean => file.endsWith('.ndjson')

/** A file that was read elsewhere: here it is read when somebody asks for more than its text. */
class UnreadSource implements Source {
  readonly file: string
  readonly #whole: string
  #read: Source | undefined

  constructor(file: string, files: Files) {
    this.file = file
    this.#whole = files.read(file) ?? ''
  }

  /** Whether the file is as it was. */
  isAsIn(files: Files): boolean {
    return (files.read(this.file) ?? '') === this.#whole
  }

  /** Of a file whose lines are read one by one there is none, as `readPageLines` has it. */
  get text(): string {
    return isLines(this.file) ? '' : this.#whole
  }

  get value(): Json {
    return this.#source.value
  }

  readonly locate: Source['locate'] = (pointer, what) => this.#source.locate(pointer, what)

  get #source(): Source {
    const { file } = this
    const text = this.#whole
    // What was read elsewhere and is gone here has no places but its beginning.
    return (this.#read ??= (isLines(file) ? readPageLines(text.split('\n'), file) : readSource(text, file)).source ?? {
      ...{ file, text, value: {} },
      locate: () => ({ file, line: 1, column: 1 }),
    })
  }
}
