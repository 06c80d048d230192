import { jsonpath, type JSONValue } from 'json-p3'
import picomatch from 'picomatch'
import { isObject, own, type Json, type JsonObject } from '../model/json.js'
import { SiteError } from '../model/problem.js'
import { isTable, type Mapping, type MappingField, type MappingRecord } from './mapping.js'

/** A file of an export, as JSON: rows of a table, or a document. */
export interface ExportFile {
  readonly name: string
  readonly value: Json
}

/** Something that a mapping did not settle, and how often. */
export interface Remark {
  readonly what: string
  readonly times: number
  /** One place where it is so. */
  readonly example: string
}

/** An imported site, with what was guessed and left out. */
export interface ImportedSite {
  /** The site file. */
  readonly document: JsonObject
  /** Records that were taken, by where they went. */
  readonly taken: Readonly<Record<string, number>>
  /** What of the export nothing asked for. */
  readonly unmapped: readonly Remark[]
  /** Words that the mapping does not know: what was set instead. */
  readonly guessed: readonly Remark[]
  /** What the export does not set, and the mapping's default does. */
  readonly defaulted: readonly Remark[]
}

interface Place {
  readonly file: string
  readonly location: readonly (string | number)[]
}

/** Makes a site file from an export. @throws {SiteError} Where a JSONPath is none, or two records go to one place. */
export function importSite(mapping: Mapping, files: readonly ExportFile[], mappingFile: string): ImportedSite {
  return new Importer(mapping, files, mappingFile).run()
}

type MutableObject = { [key: string]: MutableValue }
type MutableValue = Json | MutableObject | MutableValue[]

class Importer {
  readonly #mapping: Mapping
  readonly #files: readonly ExportFile[]
  readonly #mappingFile: string
  readonly #document: MutableObject
  readonly #taken: Record<string, number> = {}
  readonly #read = new Set<string>()
  readonly #guessed = new Remarks()
  readonly #defaulted = new Remarks()

  constructor(mapping: Mapping, files: readonly ExportFile[], mappingFile: string) {
    this.#mapping = mapping
    this.#files = files
    this.#mappingFile = mappingFile
    this.#document = {
      wembra: 1,
      site: { name: 'ImportedSite' },
      theme: {},
      pages: {},
      ...structuredClone(mapping.give ?? {}),
    } as MutableObject
  }

  run(): ImportedSite {
    for (const [index, record] of this.#mapping.records.entries())
      for (const { file, value, location } of this.#recordsOf(record, index)) {
        if (!isAsked(record, value)) continue
        const place = { file: file.name, location }
        for (const key of Object.keys(record.where ?? {})) this.#note({ ...place, location: [...location, key] })
        this.#put(record, index, value, place)
        this.#taken[record.to] = (this.#taken[record.to] ?? 0) + 1
      }
    return {
      document: this.#document as JsonObject,
      taken: this.#taken,
      unmapped: this.#unmapped(),
      guessed: this.#guessed.all(),
      defaulted: this.#defaulted.all(),
    }
  }

  *#recordsOf(
    record: MappingRecord,
    index: number,
  ): Generator<{ file: ExportFile; value: Json; location: readonly (string | number)[] }> {
    for (const from of [record.from ?? {}].flat()) {
      const isMeant = picomatch(from.file ?? '**', { contains: false })
      for (const file of this.#files) {
        if (!isMeant(file.name)) continue
        const path = from.at ?? (isTable(file.value) ? '$[*]' : '$')
        for (const { value, location } of this.#query(path, file.value, `/records/${index}/from`))
          yield { file, value, location }
      }
    }
  }

  #query(path: string, value: Json, where: string): readonly { value: Json; location: readonly (string | number)[] }[] {
    try {
      return [...jsonpath.query(path, value as JSONValue)].map((node) => ({
        value: node.value as Json,
        location: node.location,
      }))
    } catch (error) {
      throw this.#error(where, `"${path}" is not a JSONPath (RFC 9535): ${(error as Error).message}`)
    }
  }

  #error(where: string, message: string): SiteError {
    return new SiteError([
      { code: 'wrong-value', file: this.#mappingFile, line: 1, column: 1, message: `${where}: ${message}` },
    ])
  }

  #put(record: MappingRecord, index: number, source: Json, place: Place): void {
    const where = `/records/${index}`
    const path = record.to
      .split('/')
      .slice(1)
      .map((step) => step.replace(/\{([^}]+)\}/g, (_, name: string) => this.#idOf(name, source, place, where)))
    const value =
      record.value === undefined
        ? this.#fields(record, index, source, place)
        : this.#value(record.value, source, place, `${where}/value`)
    if (value !== undefined) this.#set(path, value, where)
  }

  #idOf(name: string, source: Json, place: Place, where: string): string {
    const found = this.#look(name, source, place, where, false)
    if (typeof found === 'string' || typeof found === 'number') return String(found)
    throw this.#error(where, `the record at ${placeText(place)} has no "${name}" to be named by`)
  }

  #fields(record: MappingRecord, index: number, source: Json, place: Place): MutableObject {
    const out: MutableObject = {}
    for (const [name, spec] of Object.entries(record.fields ?? {})) {
      const value = this.#value(spec, source, place, `/records/${index}/fields/${name}`)
      if (value === undefined) continue
      if (name === '...') Object.assign(out, isObject(value) ? value : {})
      else setIn(out, name.split('.'), value)
    }
    return out
  }

  #value(spec: MappingField, source: Json, place: Place, where: string): Json | undefined {
    const said = typeof spec === 'string' ? { at: spec } : spec
    if (said.value !== undefined) return said.value
    const what = `${where.replace(/^\/records\/\d+\/(fields\/)?/, '')} of ${this.#mapping.records[Number(where.split('/')[2])]?.to ?? ''}`
    let value = this.#look(said.at ?? '$', source, place, where, said.list ?? false)
    if (value === '' || value === null) value = undefined
    if (value !== undefined && said.parse !== undefined && typeof value === 'string')
      value =
        parseText(value, said.parse) ??
        (said.split === undefined ? this.#unread(what, value, said.parse, place) : value)
    if (value !== undefined && said.split !== undefined && typeof value === 'string') {
      const { split } = said
      value = value
        .split(split)
        .map((each) => each.trim())
        .filter(Boolean)
    }
    if (value === undefined) {
      if (said.default === undefined) return undefined
      this.#defaulted.add(`${what} is ${JSON.stringify(said.default)}`, placeText(place))
      return said.default
    }
    if (said.keys || said.wordsIn || said.words) value = this.#inWords(value, said, what, place)
    return value === null ? undefined : value
  }

  /** A text that is not what it should be is ignored and reported. */
  #unread(what: string, text: string, as: string, place: Place): undefined {
    this.#guessed.add(`${what} is left out: "${text.slice(0, 40)}" is no ${as}`, placeText(place))
    return undefined
  }

  #look(at: string, source: Json, place: Place, where: string, isList: boolean): Json | undefined {
    if (!at.startsWith('$')) {
      this.#note({ ...place, location: [...place.location, at] })
      return isObject(source) && Object.hasOwn(source, at) ? source[at] : undefined
    }
    const found = this.#query(at, source, where)
    for (const { location } of found) this.#note({ ...place, location: [...place.location, ...location] })
    return isList ? (found.length > 0 ? found.map(({ value }) => value) : undefined) : found[0]?.value
  }

  #inWords(value: Json, said: Exclude<MappingField, string>, what: string, place: Place): Json | undefined {
    if (isObject(value) || Array.isArray(value))
      return renamed(value, said.keys ?? {}, said.wordsIn ?? {}, said.words ?? {})
    const key = String(value)
    if (!said.words || Object.hasOwn(said.words, key)) return said.words?.[key] ?? (said.words ? undefined : value)
    if (said.else === undefined) {
      this.#guessed.add(`${what} is left out: the mapping has no word for "${key}"`, placeText(place))
      return undefined
    }
    this.#guessed.add(`${what} is ${JSON.stringify(said.else)} where the export has "${key}"`, placeText(place))
    return said.else
  }

  #set(path: readonly string[], value: Json | MutableObject, where: string): void {
    let here: MutableValue = this.#document
    for (const [depth, key] of path.entries()) {
      const isLast = depth === path.length - 1
      if (Array.isArray(here)) throw this.#error(where, `${path.join('/')} leads into a list`)
      if (!isObject(here)) throw this.#error(where, `${path.join('/')} leads into a value`)
      const map = here as MutableObject
      if (isLast && key !== '-') {
        if (isObject(ownOf(map, key)) && isObject(value) && Object.keys(ownOf(map, key) as MutableObject).length > 0)
          throw this.#error(where, `two records go to /${path.join('/')}`)
        define(map, key, value)
      } else if (path[depth + 1] === '-' && depth === path.length - 2) {
        const list = ownOf(map, key) ?? []
        if (!Array.isArray(list)) throw this.#error(where, `${path.join('/')} leads into a value`)
        define(map, key, [...list, value])
        return
      } else {
        if (!isObject(ownOf(map, key))) define(map, key, {})
        here = ownOf(map, key) as MutableObject
      }
    }
  }

  #note({ file, location }: Place): void {
    this.#read.add(`${file} ${JSON.stringify(location)}`)
  }

  /** Leaves of the export that nothing asked for, numbers of lists left out. */
  #unmapped(): readonly Remark[] {
    const found = new Remarks()
    const look = (file: string, value: Json, location: readonly (string | number)[]): void => {
      if (this.#read.has(`${file} ${JSON.stringify(location)}`)) return
      const inside: readonly (readonly [string | number, Json])[] = Array.isArray(value)
        ? (value as readonly Json[]).map((each, n) => [n, each] as const)
        : isObject(value)
          ? Object.entries(value)
          : []
      if (inside.length === 0) {
        if (value !== null && value !== '')
          found.add(`${file} ${patternOf(location)}`, JSON.stringify(value)?.slice(0, 60) ?? '')
        return
      }
      for (const [key, each] of inside) look(file, each, [...location, key])
    }
    for (const { name, value } of this.#files) look(name, value, [])
    return found.all()
  }
}

class Remarks {
  readonly #found = new Map<string, { times: number; example: string }>()

  add(what: string, example: string): void {
    const known = this.#found.get(what)
    if (known) known.times += 1
    else this.#found.set(what, { times: 1, example })
  }

  all(): readonly Remark[] {
    return [...this.#found].map(([what, rest]) => ({ what, ...rest })).sort((a, b) => b.times - a.times)
  }
}

const placeText = ({ file, location }: Place): string =>
  `${file} $${location.map((step) => `[${JSON.stringify(step)}]`).join('')}`
const patternOf = (location: readonly (string | number)[]): string =>
  `$${location.map((step) => (typeof step === 'number' ? '[*]' : `.${step}`)).join('')}`

function isAsked({ where }: MappingRecord, value: Json): boolean {
  return Object.entries(where ?? {}).every(
    ([key, wanted]) => isObject(value) && String(own(value, key) ?? null) === String(wanted),
  )
}

/** A key of the export may be any word, `__proto__` as well: what every object has is not read, and not written to. */
const ownOf = (map: MutableObject, key: string): MutableValue | undefined =>
  Object.hasOwn(map, key) ? map[key] : undefined

function define(map: MutableObject, key: string, value: MutableValue): void {
  Object.defineProperty(map, key, { value, enumerable: true, configurable: true, writable: true })
}

function setIn(map: MutableObject, path: readonly string[], value: Json): void {
  const [key = '', ...rest] = path
  if (rest.length === 0) define(map, key, value)
  else {
    if (!isObject(ownOf(map, key))) define(map, key, {})
    setIn(ownOf(map, key) as MutableObject, rest, value)
  }
}

function parseText(text: string, as: 'json' | 'number' | 'boolean'): Json | undefined {
  if (as === 'boolean')
    return ({ true: true, false: false, '1': true, '0': false, yes: true, no: false } as Record<string, boolean>)[
      text.trim().toLowerCase()
    ]
  if (as === 'number') return Number.isFinite(Number(text)) && text.trim() !== '' ? Number(text) : undefined
  try {
    return JSON.parse(text) as Json
  } catch {
    return undefined
  }
}

type Words = Readonly<Record<string, string | number | boolean | null>>

/** Keys and words of a value in the names of a site file, at any depth. */
function renamed(
  value: Json,
  keys: Readonly<Record<string, string>>,
  wordsIn: Readonly<Record<string, Words>>,
  words: Words,
): Json {
  if (Array.isArray(value)) return (value as readonly Json[]).map((each) => renamed(each, keys, wordsIn, words))
  if (isObject(value))
    return Object.fromEntries(
      Object.entries(value).map(([key, each]) => [
        Object.hasOwn(keys, key) ? (keys[key] as string) : key,
        renamed(each, keys, wordsIn, Object.hasOwn(wordsIn, key) ? { ...words, ...wordsIn[key] } : words),
      ]),
    )
  return Object.hasOwn(words, String(value)) ? (words[String(value)] as Json) : value
}
