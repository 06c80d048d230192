import { ValueError } from '../model/unknown-name.js'
import { fromByteArray, toByteArray } from 'base64-js'
import { isEqual as equal } from 'es-toolkit'
import { referencesIn, type Named } from '../inspect/references.js'
import { isObject, own, toPointer, type Json, type JsonObject } from '../model/json.js'
import { applyOperation } from '../model/edited-document.js'
import type { Operation, Patch } from '../model/patch.js'
import type { SiteData } from '../model/schema.js'
import type { Site } from '../model/site.js'
import { tokenName, type Tokens } from '../model/tokens.js'
import { resolveSite, type ResolvedSite } from '../resolve/resolve-site.js'
import { diffFacets, diffWhole, type SiteDiff } from './diff.js'
import { editJson } from './edit-json.js'
import { EditError } from './edit-text.js'
import { freeName } from './free-name.js'
import { bytesOf, SECTION_OF, withExtensions } from './pack.js'
import { type Pack, type PackEntry, type PackFile, type PackSection } from './pack-format.js'
import { rewriteSite, type Rewritten } from './rewrite.js'
import { usesOf } from './uses.js'
import { writtenValue } from './written-value.js'

/** What to do where the site has something else under the same name. */
export type CollisionChoice = 'keep' | 'replace' | 'rename'

/** How a pack is added to a site. */
export interface UnpackOptions {
  /** By `section/id`; `rename` finds a free name, an object gives one. */
  readonly choices?: Readonly<Record<string, CollisionChoice | { readonly rename: string }>>
  /** For every collision that `choices` does not name; without it such a collision stays open. */
  readonly otherwise?: CollisionChoice
  /** The site's name for a viewport of the pack that the site does not have. */
  readonly viewports?: Readonly<Record<string, string>>
  /** The clock, for findings that come and go. */
  readonly now?: Date
}

/** One thing of a pack, and what becomes of it. */
export interface UnpackedEntry {
  readonly section: PackSection
  readonly id: string
  /** `new` is not there yet, `same` is there as it is in the pack, `differs` is a collision. */
  readonly state: 'new' | 'same' | 'differs'
  /** What was chosen for a collision; `undefined` while that is open. */
  readonly choice?: CollisionChoice
  /** The name it gets. */
  readonly as: string
  /** Of a collision: the pages of this site that change when it is replaced. */
  readonly replaceChanges?: readonly string[]
}

/** A name in the pack that the site does not define. */
export interface MissingReference {
  readonly to: Named
  readonly name: string
  /** `section/id` of what names it. */
  readonly by: string
}

/** What taking a pack in would do. */
export interface Unpacking {
  readonly entries: readonly UnpackedEntry[]
  /** Viewports that the pack's values name and the site does not have, with the site's nearest in width. */
  readonly viewports: readonly { readonly name: string; readonly nearest: string }[]
  readonly missing: readonly MissingReference[]
  /** What it adds to the site; tokens, which are in a file of their own, are not in it. */
  readonly patch: Patch
  /** The files that would be written, by path: texts of the site, its tokens, and pictures. */
  readonly texts: ReadonlyMap<string, string>
  readonly pictures: ReadonlyMap<string, Uint8Array>
  /** Whether nothing is left open: every collision has its choice, every viewport its name. */
  readonly isReady: boolean
  /** What the site's pages get otherwise; `undefined` while something is open. */
  readonly changes: SiteDiff | undefined
}

/**
 * Works out what taking a pack into a site does; nothing is written.
 *
 * @throws {EditError} Where it cannot be written in place.
 * @throws {ValueError} For a choice about something that is not in the pack, or a name that is taken.
 */
export function unpackInto(resolved: ResolvedSite, pack: Pack, options: UnpackOptions = {}): Unpacking {
  const { site } = resolved
  checkChoices(pack, options)
  const viewports = Object.keys(pack.viewports).filter((name) => !site.viewports.some((v) => v.name === name))
  const unnamed = viewports.filter((name) => own(options.viewports, name) === undefined)
  const renamedViewports = new Map(Object.entries(options.viewports ?? {}))
  const local = pack.entries.map((entry) => ({ ...entry, value: withViewports(entry.value as Json, renamedViewports) }))
  const plans = planAll(site, local, pack.files, options)
  const open = plans.some((plan) => plan.state === 'differs' && plan.choice === undefined)
  const missing = missingIn(site, local, plans)
  const isReady = !open && unnamed.length === 0
  const shown = plans.map((plan): UnpackedEntry => {
    const { value: _value, ...entry } = plan
    if (plan.state !== 'differs' || unnamed.length > 0) return entry
    return { ...entry, replaceChanges: pagesReplaced(resolved, pack, plan) }
  })
  const written = isReady ? write(site, pack, plans) : undefined
  return {
    entries: shown,
    viewports: unnamed.map((name) => ({ name, nearest: nearest(site, pack.viewports[name]?.width ?? 0) })),
    missing,
    patch: written?.patch ?? [],
    texts: written?.texts ?? new Map(),
    pictures: written?.pictures ?? new Map(),
    isReady,
    changes: written && diffWhole(resolved, resolveSite(written.site), options),
  }
}

interface Plan extends UnpackedEntry {
  readonly value: Json
}

function checkChoices(pack: Pack, { choices = {} }: UnpackOptions): void {
  const known = pack.entries.map(({ section, id }) => `${section}/${id}`)
  for (const key of Object.keys(choices))
    if (!known.includes(key)) throw new ValueError(`the pack has no ${key}; it has: ${known.join(', ')}`)
}

/** Where a thing is in this site, and what is there. */
function present(site: Site, section: PackSection, id: string): Json | undefined {
  if (section === 'tokens') return site.tokens.get(id)
  const things = site.data[section] as Readonly<Record<string, unknown>> | undefined
  return own(things, id) === undefined ? undefined : writtenValue(site, toPointer([section, id]))
}

/** What becomes of each thing. Names come first, for what is compared refers to them. */
function planAll(
  site: Site,
  entries: readonly LocalEntry[],
  files: readonly PackFile[],
  options: UnpackOptions,
): readonly Plan[] {
  const taken = new Set<string>()
  const plans = entries.map(({ section, id, value }): Plan => {
    const there = present(site, section, id)
    const isSame = equal(there, value) && (section !== 'assets' || !isOtherPicture(site, id, files))
    const state = there === undefined ? 'new' : isSame ? 'same' : 'differs'
    if (state !== 'differs') return { section, id, state, as: id, value }
    const said = own(options.choices, `${section}/${id}`) ?? options.otherwise
    const choice = typeof said === 'object' ? 'rename' : said
    if (choice !== 'rename') return { section, id, state, ...(choice && { choice }), as: id, value }
    const isTaken = (name: string): boolean =>
      present(site, section, name) !== undefined || taken.has(`${section}/${name}`)
    const as = typeof said === 'object' ? said.rename : freeName(id, isTaken)
    if (isTaken(as))
      throw new ValueError(`${section}/${as} exists in this site; choose another name for ${section}/${id}`)
    taken.add(`${section}/${as}`)
    return { section, id, state, choice, as, value }
  })
  const names = new Map(plans.flatMap(({ section, id, as }) => (as === id ? [] : [[`${section}/${id}`, as] as const])))
  return names.size === 0 ? plans : plans.map((plan) => ({ ...plan, value: renamedIn(plan, entries, names) }))
}

/** Whether the site's asset of this id has a file of other content. */
function isOtherPicture(site: Site, id: string, files: readonly PackFile[]): boolean {
  const mine = files.find(({ asset }) => asset === id)
  return mine !== undefined && isAnother(site, site.files.resolve(site.origin('/assets').file, mine.path), mine.content)
}

type LocalEntry = Omit<PackEntry, 'value'> & { readonly value: Json }

/** The pack's things as a site of their own, so that what they name can be asked. */
function siteOfPack(site: Site, entries: readonly LocalEntry[]): Site {
  const of = (section: PackSection): JsonObject =>
    Object.fromEntries(entries.flatMap((e) => (e.section === section ? [[e.id, e.value]] : [])))
  const froms = entries.flatMap(({ value }) =>
    isObject(value) && typeof value['from'] === 'string' ? [value['from']] : [],
  )
  const data = {
    ...{ wembra: 1, site: { name: '' }, theme: {}, pages: {} },
    ...{ assets: of('assets'), menus: of('menus'), surrounds: of('surrounds'), templates: of('templates') },
  }
  const bare = { ...site, data: data as unknown as SiteData, pageIds: [], pageData: () => undefined }
  return withExtensions(bare, froms)
}

/** A thing's value with the new names of what it names. */
function renamedIn(
  { section, id, value }: Plan,
  entries: readonly LocalEntry[],
  names: ReadonlyMap<string, string>,
): Json {
  const mine = entries.filter((entry) => entry.section === section && entry.id === id)
  let renamed = withTokenNames(value, names)
  for (const { to, name, pointer } of referencesIn(siteOfPack(NO_SITE, mine))) {
    const as = names.get(`${SECTION_OF[to] ?? ''}/${name}`)
    const within = pointer.slice(toPointer([section, id]).length)
    if (as !== undefined && within !== '')
      renamed = applyOperation(renamed, { op: 'replace', path: within, value: as }, 0)
  }
  return renamed
}

const NO_SITE = {} as Site

function withTokenNames(value: Json, names: ReadonlyMap<string, string>): Json {
  const token = tokenName(value)
  if (token !== undefined) return `{${names.get(`tokens/${token}`) ?? token}}`
  if (Array.isArray(value)) return (value as readonly Json[]).map((each) => withTokenNames(each, names))
  if (!isObject(value)) return value
  return Object.fromEntries(Object.entries(value).map(([key, each]) => [key, withTokenNames(each, names)]))
}

/** A value in which viewports have the site's names: as keys of a map, and in `hide`. */
function withViewports(value: Json, names: ReadonlyMap<string, string>, key?: string): Json {
  if (names.size === 0) return value
  if (Array.isArray(value))
    return (value as readonly Json[]).map((each) =>
      key === 'hide' && typeof each === 'string' ? (names.get(each) ?? each) : withViewports(each, names),
    )
  if (!isObject(value)) return value
  return Object.fromEntries(
    Object.entries(value).map(([inner, each]) => [names.get(inner) ?? inner, withViewports(each, names, inner)]),
  )
}

function nearest(site: Site, width: number): string {
  const byDistance = [...site.viewports].sort((a, b) => Math.abs(a.width - width) - Math.abs(b.width - width))
  return byDistance[0]?.name ?? ''
}

/** Names that the site, with what the pack adds, does not define. */
function missingIn(site: Site, entries: readonly LocalEntry[], plans: readonly Plan[]): readonly MissingReference[] {
  const kept = new Set(
    plans.filter((p) => p.choice === 'keep' || p.state === 'same').map((p) => `${p.section}/${p.id}`),
  )
  const brought = new Set(entries.map(({ section, id }) => `${section}/${id}`))
  const found = new Map<string, MissingReference>()
  for (const { to, name, pointer } of referencesIn(siteOfPack(site, entries))) {
    const [, section, id] = pointer.split('/') as [string, PackSection, string]
    const by = `${section}/${id}`
    const inPack = SECTION_OF[to] !== undefined && brought.has(`${SECTION_OF[to]}/${name}`)
    if (kept.has(by) || inPack || isThere(site, to, name)) continue
    found.set(`${to} ${name} ${by}`, { to, name, by })
  }
  return [...found.values()]
}

function isThere({ data, pageData }: Site, to: Named, name: string): boolean {
  const section = SECTION_OF[to]
  if (section !== undefined) return own(data[section as 'templates'], name) !== undefined
  switch (to) {
    case 'page':
      return pageData(name) !== undefined
    case 'kind':
      return name === 'page' || own(data.kinds, name) !== undefined
    case 'builder':
      return own(data.builders, name) !== undefined
    case 'extension':
      return own(data.extensions, name) !== undefined
    default:
      return true
  }
}

/** The pages that change when the pack's thing is in the place of the site's. */
function pagesReplaced(resolved: ResolvedSite, pack: Pack, plan: Plan): readonly string[] {
  const { site } = resolved
  const alone: Plan = { ...plan, as: plan.id, choice: 'replace' }
  const after = resolveSite(write(site, { ...pack, files: [] }, [...tokenPlans(pack, site), alone]).site)
  const differ = diffFacets(resolved, after).flatMap(({ pages }) => pages)
  const shown = plan.section === 'tokens' ? [] : usesOf(resolved, SHARED[plan.section], plan.id).changes
  const changed = new Set([...differ, ...shown])
  return site.pageIds.filter((id) => changed.has(id))
}

const SHARED = { assets: 'asset', menus: 'menu', surrounds: 'surround', templates: 'template' } as const

/** The pack's tokens that the site does not have, so that a thing that is tried alone can be read. */
const tokenPlans = (pack: Pack, site: Site): readonly Plan[] =>
  pack.entries.flatMap(({ section, id, value }) =>
    section === 'tokens' && !site.tokens.has(id)
      ? [{ section, id, state: 'new' as const, as: id, value: value as Json }]
      : [],
  )

interface Written extends Rewritten {
  readonly patch: Patch
  readonly pictures: ReadonlyMap<string, Uint8Array>
}

/** Writes what is planned into texts, and reads the site that comes of it. */
function write(site: Site, pack: Pack, plans: readonly Plan[]): Written {
  const taken = plans.filter((plan) => plan.state === 'new' || plan.choice === 'replace' || plan.choice === 'rename')
  const ofTokens = taken.filter(({ section }) => section === 'tokens')
  const things = taken.filter(({ section }) => section !== 'tokens')
  const beside = new Map<string, string>()
  const patch: Operation[] = []
  if (ofTokens.length > 0) {
    const { file, text, isNew } = tokenFile(site)
    beside.set(file, ofTokens.reduce(withToken, text))
    if (isNew) patch.push({ op: 'add', path: '/tokens', value: `./${TOKENS_FILE}` })
  }
  const { pictures, paths } = picturesOf(site, pack, things)
  const sections = new Set(things.map(({ section }) => section))
  for (const section of sections)
    if (site.data[section as 'templates'] === undefined)
      patch.push({ op: 'add', path: toPointer([section]), value: {} })
  for (const { section, id, as, value, choice } of things) {
    const path = section === 'assets' ? paths.get(id) : undefined
    const placed = path === undefined ? value : { ...(value as JsonObject), file: path }
    patch.push({ op: choice === 'replace' ? 'replace' : 'add', path: toPointer([section, as]), value: placed })
  }
  const known: Tokens = new Map([
    ...site.tokens,
    ...ofTokens.map(({ as, value }) => [as, value as JsonObject] as const),
  ])
  const rewritten = rewriteSite(site, patch, { texts: beside, tokens: known, isVerbatim: true })
  return { ...rewritten, patch, pictures }
}

const TOKENS_FILE = 'tokens.json'

/** The file that the site's tokens are in, or will. */
function tokenFile(site: Site): { readonly file: string; readonly text: string; readonly isNew: boolean } {
  const named = site.data.tokens
  if (named === undefined) return { file: site.files.resolve(site.file, TOKENS_FILE), text: '{}\n', isNew: true }
  const file = site.files.resolve(site.origin('/tokens').file, named)
  const text = site.files.read(file)
  if (text === undefined) throw new EditError(`${file} cannot be read again`)
  return { file, text, isNew: false }
}

/** Puts a token under the groups of its dotted name. */
function withToken(text: string, { as, value }: Plan): string {
  const keys = as.split('.')
  let group = JSON.parse(text) as Json
  let depth = 0
  for (; depth < keys.length; depth++) {
    const next = isObject(group) ? own(group, keys[depth] as string) : undefined
    if (next === undefined) break
    group = next
  }
  if (depth === keys.length) return editJson(text, { op: 'replace', path: toPointer(keys), value })
  const inside = keys.slice(depth + 1).reduceRight<Json>((held, key) => ({ [key]: held }), value)
  return editJson(text, { op: 'add', path: toPointer(keys.slice(0, depth + 1)), value: inside })
}

/** Where the pictures of assets go: to the path they had, or, where another file lies there, beside it. */
function picturesOf(site: Site, pack: Pack, things: readonly Plan[]) {
  const pictures = new Map<string, Uint8Array>()
  const paths = new Map<string, string>()
  for (const { asset, path, content } of pack.files) {
    const plan = things.find(({ section, id }) => section === 'assets' && id === asset)
    if (!plan) continue
    const home = site.origin('/assets').file
    const at = (name: string): string => site.files.resolve(home, name)
    let name = path
    for (let n = 2; isAnother(site, at(name), content) && plan.choice !== 'replace'; n++)
      name = path.replace(/(\.[^./]*)?$/, (ending) => `-${n}${ending}`)
    if (name !== path) paths.set(asset, name)
    if (bytesOf(site, at(name)) === undefined || plan.choice === 'replace') pictures.set(at(name), toByteArray(content))
  }
  return { pictures, paths }
}

/** Whether another file lies at a path. */
function isAnother(site: Site, path: string, content: string): boolean {
  const bytes = bytesOf(site, path)
  return bytes !== undefined && fromByteArray(bytes) !== content
}
