import { WembraError } from '../model/wembra-error.js'
import { fromByteArray } from 'base64-js'
import { didYouMean } from '../model/did-you-mean.js'
import { isObject, own, toPointer, type Json, type JsonObject } from '../model/json.js'
import type { Site } from '../model/site.js'
import { tokenName } from '../model/tokens.js'
import { referencesIn, type Named } from '../inspect/references.js'
import {
  entryHash,
  fileHash,
  isInside,
  PACK_SECTIONS,
  sealed,
  type Pack,
  type PackEntry,
  type PackFile,
  type PackSection,
} from './pack-format.js'
import { writtenValue } from './written-value.js'

/** Thrown for a template that is not there to be packed. */
export class PackError extends WembraError {
  override readonly name = 'PackError'
  readonly code = 'pack'
}

/** Where the things that a name can mean are; what is not here is not carried. */
export const SECTION_OF: Readonly<Partial<Record<Named, PackSection>>> = {
  template: 'templates',
  surround: 'surrounds',
  header: 'surrounds',
  footer: 'surrounds',
  sidebar: 'surrounds',
  menu: 'menus',
  asset: 'assets',
}

/**
 * Takes templates out of a site with the bases, surrounds, menus, assets and tokens that they need, and nothing else.
 *
 * @throws {PackError} When the site has no such template.
 */
export function packTemplates(site: Site, templates: readonly string[]): Pack {
  const { data } = site
  const known = Object.keys(data.templates ?? {})
  for (const id of templates)
    if (!known.includes(id)) {
      const meant = didYouMean(id, known)
      throw new PackError(
        `there is no template "${id}"; ${meant ? `did you mean "${meant}"?` : `there are: ${known.join(', ')}`}`,
      )
    }
  const things = gather(site, templates)
  const entries = [...tokensOf(site, things), ...things].sort(
    (a, b) => PACK_SECTIONS.indexOf(a.section) - PACK_SECTIONS.indexOf(b.section),
  )
  return sealed({
    wembra: 1,
    report: 'pack',
    site: data.site.name,
    templates: [...templates],
    viewports: viewportsIn(site, entries),
    entries,
    files: filesOf(site, entries),
  })
}

/** What is asked for, and what that needs, and so on. */
function gather(site: Site, templates: readonly string[]): PackEntry[] {
  const needs = referencesByThing(site)
  const found = new Map<string, PackEntry>()
  const open = templates.map((id) => ({ section: 'templates' as PackSection, id, because: 'asked for' }))
  for (let next = open.shift(); next; next = open.shift()) {
    const { section, id, because } = next
    const at = toPointer([section, id])
    const value = writtenValue(site, at)
    if (found.has(at) || value === undefined) continue
    found.set(at, entryOf(section, id, value, because))
    for (const need of needs.get(at) ?? []) open.push({ ...need, because: `${section}/${id} uses it` })
  }
  // `copyOf` is kept only where its source comes along.
  return [...found.values()].map((entry) => withoutSource(entry, found))
}

function withoutSource(entry: PackEntry, found: ReadonlyMap<string, PackEntry>): PackEntry {
  const { section, id, value, because } = entry
  const source = isObject(value) ? value['copyOf'] : undefined
  if (typeof source !== 'string' || found.has(toPointer([section, source]))) return entry
  const { copyOf: _copyOf, own: _own, ...rest } = value as JsonObject
  return entryOf(section, id, rest, because)
}

const entryOf = (section: PackSection, id: string, value: Json, because: string): PackEntry => ({
  ...{ section, id, value: value as PackEntry['value'], because },
  hash: entryHash({ section, id, value: value as PackEntry['value'] }),
})

interface Need {
  readonly section: PackSection
  readonly id: string
}

/** What each thing that can be packed names, from an extension that is off as well. */
function referencesByThing(site: Site): ReadonlyMap<string, readonly Need[]> {
  const { surrounds, templates } = site.data
  const froms = [...Object.values(surrounds ?? {}), ...Object.values(templates ?? {})].flatMap(({ from }) => from ?? [])
  const needs = new Map<string, Need[]>()
  for (const { to, name, pointer } of referencesIn(withExtensions(site, froms))) {
    const section = SECTION_OF[to]
    const [, of, id] = pointer.split('/') as [string, PackSection, string]
    if (!section || !PACK_SECTIONS.includes(of) || pointer.endsWith('/copyOf')) continue
    const at = `/${of}/${id}`
    needs.set(at, [...(needs.get(at) ?? []), { section, id: name }])
  }
  return needs
}

/** A site in which these extensions are on. */
export const withExtensions = (site: Site, ids: readonly string[]): Site => ({
  ...site,
  data: { ...site.data, extensions: Object.fromEntries(ids.map((id) => [id, { enabled: true }])) },
})

/** The tokens that things are written with, and those that these are aliases of. */
function tokensOf(site: Site, things: readonly PackEntry[]): PackEntry[] {
  const found = new Map<string, PackEntry>()
  const take = (value: Json, user: string): void => {
    for (const name of tokenNames(value)) {
      const token = site.tokens.get(name)
      if (found.has(name) || !token) continue
      found.set(name, entryOf('tokens', name, token, `${user} uses it`))
      take(token, `tokens/${name}`)
    }
  }
  for (const { section, id, value } of things) take(value as Json, `${section}/${id}`)
  return [...found.values()]
}

function tokenNames(value: Json): readonly string[] {
  const name = tokenName(value)
  if (name !== undefined) return [name]
  return typeof value === 'object' && value !== null
    ? Object.values(value).flatMap((each) => tokenNames(each as Json))
    : []
}

/** The viewports that some value names, in a map by viewport or a list of where to hide. */
function viewportsIn(site: Site, entries: readonly PackEntry[]): Pack['viewports'] {
  const named = new Set<string>()
  const look = (value: Json, key: string | undefined): void => {
    if (Array.isArray(value) && key === 'hide') for (const name of value as string[]) named.add(name)
    if (typeof value !== 'object' || value === null) return
    for (const [inner, each] of Object.entries(value)) {
      named.add(inner)
      look(each as Json, inner)
    }
  }
  for (const { value } of entries) look(value as Json, undefined)
  const used = site.viewports.filter(({ name }) => named.has(name))
  return Object.fromEntries(used.map(({ name, width, height }) => [name, { width, height }]))
}

function filesOf(site: Site, entries: readonly PackEntry[]): PackFile[] {
  return entries.flatMap(({ section, id }): PackFile[] => {
    const path = section === 'assets' ? own(site.data.assets, id)?.file : undefined
    if (path === undefined || !isInside(path)) return []
    const bytes = bytesOf(site, site.files.resolve(site.origin(toPointer(['assets', id, 'file'])).file, path))
    if (!bytes) return []
    const content = fromByteArray(bytes)
    return [{ asset: id, path, content, hash: fileHash({ content }) }]
  })
}

/** A file's bytes, however it is held. */
export function bytesOf({ files }: Site, path: string): Uint8Array | undefined {
  const bytes = files.bytes(path)
  if (bytes) return bytes
  const text = files.read(path)
  return text === undefined ? undefined : new TextEncoder().encode(text)
}
