import { isEqual as equal } from 'es-toolkit'
import { FACETS, isFacet, type Facet } from '../model/facets.js'
import type { Files } from '../model/files.js'
import { fromPointer, isObject, own, toPointer, valueAt, type Json, type JsonObject } from '../model/json.js'
import { EditedDocument } from '../model/edited-document.js'
import { measuredAside, patchSite, type Operation, type Patch } from '../model/patch.js'
import { placeAt, placeIn, writeOrigins, type Origin } from '../model/origin.js'
import { expandLayout, expandSite } from '../model/shorthand.js'
import { readSite } from '../model/read-site.js'
import { SiteError } from '../model/problem.js'
import { siteOf, sitePartsOf, type Site } from '../model/site.js'
import type { Source } from '../model/source.js'
import type { Tokens } from '../model/tokens.js'
import { JsonText, PageLines } from './edit-json.js'
import { EditError, type EditedText, type TextOperation } from './edit-text.js'
import { YamlText } from './edit-yaml.js'
import { documentUnderneath, isUnderneath, overlayOf, withoutOverlay, withParents } from './own-file.js'

/** A site with a patch written into the texts it was read from. */
export interface Rewritten {
  /** The texts that changed, by file. */
  readonly texts: ReadonlyMap<string, string>
  /** The site as it is read from them. */
  readonly site: Site
}

/** Files that change along with a patch and are no part of the site's document. */
export interface Beside {
  readonly texts?: ReadonlyMap<string, string>
  /** The tokens that hold with them. */
  readonly tokens?: Tokens
  /** Whether values are written as they are given; else as shorthand where there is one. */
  readonly isVerbatim?: boolean
  /** Whether values of extended files are changed there, for all sites that extend them; default in the site's own files. */
  readonly base?: boolean
}

/**
 * Writes a patch into the files of a site: each place where it was written, so that comments, order and quoting of all
 * else stay. What was written is read again and checked against the patched site.
 *
 * @throws {EditError} Where that cannot be done without touching more than was asked.
 * @throws {PatchError} When the patch does not apply.
 * @throws {SiteError} When the result is no valid site.
 * @example
 * const { texts } = rewriteSite(resolved.site, fixSite(resolved).patch)
 * texts.get('site.yaml')?.includes('clearance: auto') // => true
 */
export function rewriteSite(site: Site, patch: Patch, beside: Beside = {}): Rewritten {
  const base = beside.texts && beside.texts.size > 0 ? readAgain(site, beside.texts) : site
  const written = new WrittenSite(base, beside)
  for (const operation of [...patch, ...measuredAside(site, patch)]) written.apply(operation)
  const texts = written.texts()
  const read = readWritten(site, texts)
  const meant = patchSite(siteOf({ ...sitePartsOf(base), tokens: beside.tokens ?? base.tokens }), patch).site
  if (!equal(plain(read), plain(meant)))
    throw new EditError('written in place it would not give what the patch gives; change it by hand')
  return { texts, site: read }
}

/** A site's document without keys without a value. */
const plain = ({ data }: Site): unknown => JSON.parse(JSON.stringify(data))

/** @throws {EditError} Where what was written cannot be read. */
function readWritten(site: Site, texts: ReadonlyMap<string, string>): Site {
  try {
    return readAgain(site, texts)
  } catch (error) {
    if (!(error instanceof SiteError)) throw error
    throw new EditError(
      `written in place it could not be read (${error.problems[0]?.message ?? ''}); change it by hand`,
    )
  }
}

/** The site read anew, with some texts in the place of its files. */
function readAgain(site: Site, texts: ReadonlyMap<string, string>): Site {
  const files: Files = {
    ...site.files,
    read: (path) => texts.get(path) ?? site.files.read(path),
    lines: linesOf(site, texts),
  }
  return readSite(texts.get(site.file) ?? textOf(site, site.file), { file: site.file, files })
}

const linesOf =
  (site: Site, texts: ReadonlyMap<string, string>): Files['lines'] =>
  (path) =>
    texts.get(path)?.split('\n') ?? site.files.lines(path)

function textOf(site: Site, file: string): string {
  const source = site.sources.find((s) => s.file === file)
  if (source && source.text !== '') return source.text
  const text = site.files.read(file)
  if (text === undefined) throw new EditError(`${file} cannot be read again`)
  return text
}

/** The files of a site while operations are written into them: each is read once, whatever is written. */
class WrittenSite {
  readonly #site: Site
  readonly #isVerbatim: boolean
  readonly #texts: Map<string, string>
  readonly #edited = new Map<string, EditedText>()
  /** What each file contains by now. */
  readonly #values = new Map<string, EditedDocument>()
  readonly #document: EditedDocument
  #origin: Origin

  readonly #isInBase: boolean
  #underneath: { readonly document: Json | undefined } | undefined

  constructor(site: Site, { texts = new Map(), isVerbatim = false, base = false }: Beside) {
    this.#site = site
    this.#texts = new Map(texts)
    this.#isVerbatim = isVerbatim
    this.#isInBase = base
    this.#document = new EditedDocument(site.data as unknown as Json)
    this.#origin = sitePartsOf(site).origin
  }

  /** The texts that changed, by file. */
  texts(): ReadonlyMap<string, string> {
    return new Map([...this.#texts, ...[...this.#edited].map(([file, edited]) => [file, edited.text] as const)])
  }

  apply(operation: Operation): void {
    if (operation.op === 'test') return
    if (operation.op !== 'add' && operation.op !== 'replace' && operation.op !== 'remove')
      throw new EditError(`"${operation.op}" is not written in place; use add, replace and remove`)
    const path = fromPointer(operation.path)
    const { source, pointer } = placeIn(this.#origin, path)
    if (!this.#isInBase && this.#isOverlaid(operation, source)) return this.#overlay(operation)
    const written = this.#values.get(source.file) ?? new EditedDocument(source.value)
    this.#values.set(source.file, written)
    const given = { ...(operation as TextOperation), path: pointer }
    const local =
      this.#removalOf(written.value, operation, pointer) ??
      (this.#isVerbatim ? given : inShorthand(this.#site, written.value, given))
    this.#open(source.file).apply(local)
    this.#document.expect(operation, 0)
    written.expect(local as Operation, 0)
    this.#origin = writeOrigins(this.#origin, this.#document.value, operation, written.value)
    written.apply(local as Operation, 0)
    this.#document.apply(operation, 0)
    this.#expand(path)
  }

  /** Whether an operation changes a value of an extended file, or would reveal one by removing what overrides it. */
  #isOverlaid({ op, path }: Operation, source: Source): boolean {
    if (isUnderneath(this.#site, source)) return true
    return op === 'remove' && this.#below !== undefined && valueAt(this.#below, path) !== undefined && !isInList(path)
  }

  /** The document of the extended files, if there are any. */
  get #below(): Json | undefined {
    const isAlone = sitePartsOf(this.#site).nearness.size < 2
    return (this.#underneath ??= { document: isAlone ? undefined : documentUnderneath(this.#site) }).document
  }

  /** The removal of an own value, if the value of the extended files is the wanted one. */
  #removalOf(root: Json, operation: Operation, pointer: string): TextOperation | undefined {
    const below = this.#isInBase || isInList(operation.path) ? undefined : this.#below
    const value = 'value' in operation ? (operation.value as Json) : undefined
    return below === undefined ? undefined : withoutOverlay(below, root, { path: operation.path, value }, pointer)
  }

  /** Writes an operation on a value of an extended file into the site's own files. */
  #overlay(operation: Operation): void {
    const overlay = overlayOf(this.#site, this.#document.value, this.#origin, operation)
    const { source, pointer, path, value } = overlay
    const written = this.#values.get(source.file) ?? new EditedDocument(source.value)
    this.#values.set(source.file, written)
    const set = { op: 'add' as const, path: pointer, value }
    const local = withParents(
      written.value,
      this.#removalOf(written.value, set, pointer) ??
        (value === null ? set : inShorthand(this.#site, written.value, set)),
    )
    this.#open(source.file).apply(local)
    written.expect(local as Operation, 0)
    written.apply(local as Operation, 0)
    this.#document.expect(operation, 0)
    this.#origin = placeAt(this.#origin, fromPointer(path), { source, pointer: overlay.origin ?? pointer })
    this.#document.apply(operation, 0)
    this.#expand(fromPointer(operation.path))
  }

  /** Writes shorthand out in what changed. */
  #expand([section, id]: readonly string[]): void {
    const document = this.#document.value
    const things = isObject(document) && section !== undefined ? own(document, section) : undefined
    if (section === undefined || things === undefined) return
    const names = this.#site.viewports.map((v) => v.name)
    const isMap = isObject(things) && id !== undefined && section !== 'theme'
    if (isMap && !Object.hasOwn(things, id)) return
    const part = isMap ? { [id]: things[id] as Json } : things
    const full = expandSite({ [section]: part }, names)[section] as Json
    const value = isMap ? ((full as JsonObject)[id] as Json) : full
    this.#document.apply({ op: 'replace', path: toPointer(isMap ? [section, id] : [section]), value }, 0)
  }

  #open(file: string): EditedText {
    let edited = this.#edited.get(file)
    if (!edited) {
      const text = this.#texts.get(file) ?? textOf(this.#site, file)
      edited = editing(file, text)
      this.#edited.set(file, edited)
    }
    return edited
  }
}

/** Whether a pointer is to an entry of a list, or into one. */
const isInList = (path: string): boolean => fromPointer(path).some((key) => key === '-' || /^\d+$/.test(key))

function editing(file: string, text: string): EditedText {
  if (file.endsWith('.ndjson')) return new PageLines(text)
  return file.endsWith('.json') ? new JsonText(text) : new YamlText(text)
}

/**
 * An operation on expanded settings, as one on the shorthand that is in the file: `title: absent` has
 * no `presence` to change.
 */
function inShorthand(site: Site, root: Json, operation: TextOperation): TextOperation {
  const path = fromPointer(operation.path)
  const at = path.indexOf('layout')
  const facet = path[at + 1]
  if (at < 0 || facet === undefined || !isFacet(facet)) return withShorthand(operation, path, at)
  const holder = path.slice(0, at + 2)
  const raw = valueAt(root, toPointer(holder))
  const viewports = site.viewports.map((v) => v.name)
  const written = raw === undefined ? undefined : (expandLayout({ [facet]: raw }, viewports) as JsonObject)[facet]
  const property = path[at + 2]
  if (property === undefined || !isObject(written) || (isObject(raw) && Object.hasOwn(raw, property)))
    return shortFacet(operation, facet, property)
  if (isObject(raw) && equal(raw, written)) return operation
  if (path.length > at + 3) throw new EditError('a shorthand by viewport is not changed entry by entry; write it out')
  const others = Object.entries(written).filter(([key]) => key !== property)
  const order = Object.keys(FACETS[facet])
  const kept = operation.op === 'remove' ? others : [...others, [property, operation.value] as const]
  const rest = Object.fromEntries([...kept].sort(([a], [b]) => order.indexOf(a) - order.indexOf(b))) as JsonObject
  const place = toPointer(holder)
  if (Object.keys(rest).length === 0) return { op: 'remove', path: place }
  return { op: 'replace', path: place, value: shortened(facet, rest) }
}

/** Values of whole layouts and facets, as people would write them. */
function withShorthand(operation: TextOperation, path: readonly string[], at: number): TextOperation {
  if (operation.op === 'remove' || !isObject(operation.value)) return operation
  const isLayout = at >= 0 && path.length === at + 1
  const layout = isLayout ? operation.value : operation.value['layout']
  if (!isObject(layout)) return operation
  const short = Object.fromEntries(
    Object.entries(layout).map(([facet, settings]) => [
      facet,
      isFacet(facet) && isObject(settings) ? shortened(facet, settings) : settings,
    ]),
  )
  return { ...operation, value: isLayout ? short : { ...operation.value, layout: short } }
}

function shortFacet(operation: TextOperation, facet: Facet, property: string | undefined): TextOperation {
  if (property !== undefined || operation.op === 'remove' || !isObject(operation.value)) return operation
  return { ...operation, value: shortened(facet, operation.value) }
}

/** The one property that a facet's shorthand stands for. */
const SHORT: Readonly<Partial<Record<Facet, string>>> = { sidebar: 'side', width: 'mode' }

function shortened(facet: Facet, settings: JsonObject): Json {
  const [only, ...more] = Object.entries(settings)
  if (!only || more.length > 0) return settings
  const [property, value] = only
  const short = SHORT[facet] ?? ('presence' in FACETS[facet] ? 'presence' : undefined)
  // In place of a facet these two stand for all its properties.
  const isWord = typeof value === 'string' && value !== 'inherit' && value !== 'revert'
  return property === short && isWord ? value : settings
}
