import { fromPointer, toPointer, type Json } from '../model/json.js'
import { membersIn } from '../model/json-text.js'
import { EditError, type EditedText, type TextOperation } from './edit-text.js'

/** A value as it is written; what nobody asks for is not read. */
type Written = string | Collection

/** An object or a list in parts: what is between them is kept as it is. */
interface Collection {
  readonly isObject: boolean
  readonly entries: Entry[]
  /** By key, where there are many. */
  byKey?: Map<string, Entry>
  /** White space before the closing bracket. */
  tail: string
}

interface Entry {
  /** White space before the key, or before the value of a list. */
  before: string
  /** With its quotes; nothing in a list. */
  readonly key: string
  /** The colon, with the white space around it. */
  readonly colon: string
  value: Written
  /** White space before the comma. */
  after: string
}

/** Objects of more entries are asked through an index. */
const FEW = 16

/**
 * A JSON text that is edited operation by operation, every other character of it kept: order, white space and line
 * endings. An operation costs what it reaches, however long the text is.
 */
export class JsonText implements EditedText {
  readonly #head: string
  readonly #foot: string
  #root: Written
  /** What is written between a comma and an entry, and around a colon, where nothing near tells. */
  readonly #gap: string

  /** @param text - JSON that `JSON.parse` accepts. */
  constructor(text: string) {
    const inner = text.trim()
    const start = text.indexOf(inner)
    this.#head = text.slice(0, start)
    this.#foot = text.slice(start + inner.length)
    this.#root = inner
    this.#gap = inner.includes('": ') ? ' ' : ''
  }

  get text(): string {
    return this.#head + written(this.#root) + this.#foot
  }

  apply(operation: TextOperation): this {
    const path = fromPointer(operation.path)
    const key = path.pop()
    if (key === undefined) throw new EditError('the whole file cannot be replaced')
    const around = this.#collectionAt(path)
    if (around === undefined) {
      // A key with nothing behind it becomes an object.
      if (operation.op === 'remove' || path.length === 0) throw notThere(path)
      return this.apply({ op: 'replace', path: toPointer(path), value: { [key]: operation.value } })
    }
    if (operation.op === 'remove') remove(around, indexOf(around, key))
    else if (around.isObject) this.#setKey(around, key, operation.value)
    else this.#setItem(around, key, operation)
    return this
  }

  /** The object or list at a path; `undefined` where a `null` is. */
  #collectionAt(path: readonly string[]): Collection | undefined {
    let here = opened(this.#root, (made) => (this.#root = made))
    for (const [n, key] of path.entries()) {
      const entry = here && entryAt(here, key)
      if (!entry) throw notThere(path.slice(0, n + 1))
      if (entry.value === 'null' && n === path.length - 1) return undefined
      here = opened(entry.value, (made) => (entry.value = made))
    }
    if (!here) throw notThere(path)
    return here
  }

  #setKey(object: Collection, key: string, value: Json): void {
    const known = entryAt(object, key)
    if (known) known.value = JSON.stringify(value)
    else this.#insert(object, object.entries.length, value, key)
  }

  #setItem(list: Collection, key: string, { op, value }: { readonly op: string; readonly value: Json }): void {
    if (op === 'add') return this.#insert(list, key === '-' ? list.entries.length : Number(key), value)
    const entry = entryAt(list, key)
    if (!entry) throw new EditError(`the list has no entry ${key}`)
    entry.value = JSON.stringify(value)
  }

  /** A new entry is on a line of its own where the others are. */
  #insert(into: Collection, index: number, value: Json, key?: string): void {
    const { entries } = into
    if (!(index >= 0 && index <= entries.length)) throw new EditError(`the list has no entry ${index}`)
    const [first, second] = entries
    const line = first && /\r?\n[^\n]*$/.exec(first.before)?.[0]
    const between = line ?? second?.before ?? this.#gap
    const entry: Entry = {
      before: between,
      key: key === undefined ? '' : JSON.stringify(key),
      colon: key === undefined ? '' : (first?.colon ?? `:${this.#gap}`),
      value: JSON.stringify(value),
      after: '',
    }
    if (!first) {
      into.tail = this.#gap
    } else if (index === 0) {
      entry.before = first.before
      first.before = between
    } else if (index === entries.length) {
      const last = entries[index - 1] as Entry
      if (last.after !== '') {
        into.tail = last.after + into.tail
        last.after = ''
      }
    }
    entries.splice(index, 0, entry)
    if (key !== undefined) into.byKey?.set(key, entry)
  }
}

/** Changes one thing in a JSON text. @throws {EditError} Where the place cannot be found. */
export const editJson = (text: string, operation: TextOperation): string => new JsonText(text).apply(operation).text

/** Newline-delimited JSON, one page a line, that is edited operation by operation. */
export class PageLines implements EditedText {
  readonly #lines: (string | JsonText)[]
  readonly #lineOf = new Map<string, number>()

  constructor(text: string) {
    this.#lines = text.split('\n')
    this.#lines.forEach((line, n) => {
      if (typeof line === 'string' && line.trim() !== '')
        this.#lineOf.set(String((JSON.parse(line) as { id?: unknown }).id), n)
    })
  }

  get text(): string {
    return this.#lines.map((line) => (typeof line === 'string' ? line : line.text)).join('\n')
  }

  apply(operation: TextOperation): this {
    const [, id = '', ...inside] = fromPointer(operation.path)
    const index = this.#lineOf.get(id)
    if (inside.length === 0)
      throw new EditError('a page of such a file comes and goes with its line; change it by hand')
    if (index === undefined) throw new EditError(`no line has the page "${id}"`)
    const line = this.#lines[index] as string | JsonText
    const page = typeof line === 'string' ? new JsonText(line) : line
    this.#lines[index] = page.apply({ ...operation, path: toPointer(inside) })
    return this
  }
}

const notThere = (path: readonly string[]): EditError => new EditError(`path does not exist: ${path.join('/')}`)

function written(value: Written): string {
  if (typeof value === 'string') return value
  const { isObject, entries, tail } = value
  const inner = entries.map(
    ({ before, key, colon, value: inside, after }) => before + key + colon + written(inside) + after,
  )
  const text = inner.join(',') + tail
  return isObject ? `{${text}}` : `[${text}]`
}

/** A collection in its parts; `undefined` where another value is. */
function opened(value: Written, keep: (made: Collection) => void): Collection | undefined {
  if (typeof value !== 'string') return value
  const isObject = value.startsWith('{')
  if (!isObject && !value.startsWith('[')) return undefined
  const entries: Entry[] = []
  let at = 1
  for (const { at: start, keyEnd, value: begins, end, next } of membersIn(value, 0)) {
    const key = isObject ? value.slice(start, keyEnd) : ''
    entries.push({
      ...{ before: value.slice(at, start), key, colon: isObject ? value.slice(keyEnd, begins) : '' },
      ...{ value: value.slice(begins, end), after: value.slice(end, next) },
    })
    at = next + 1
  }
  const last = entries.at(-1)
  const made: Collection = { isObject, entries, tail: last ? last.after : value.slice(1, -1) }
  if (last) last.after = ''
  keep(made)
  return made
}

function entryAt(collection: Collection, key: string): Entry | undefined {
  const { isObject, entries } = collection
  if (!isObject) return entries[Number(key)]
  if (entries.length <= FEW) return entries.find((entry) => JSON.parse(entry.key) === key)
  collection.byKey ??= new Map(entries.map((entry) => [JSON.parse(entry.key) as string, entry]))
  return collection.byKey.get(key)
}

function indexOf(collection: Collection, key: string): number {
  const entry = entryAt(collection, key)
  if (!entry) throw new EditError(collection.isObject ? `there is no ${key}` : `the list has no entry ${key}`)
  return collection.entries.indexOf(entry)
}

function remove(from: Collection, index: number): void {
  const { entries } = from
  const [gone] = entries.splice(index, 1)
  if (gone && from.isObject) from.byKey?.delete(JSON.parse(gone.key) as string)
  const [first] = entries
  if (!first) from.tail = ''
  else if (index === 0 && gone) first.before = gone.before
  else if (index === entries.length) (entries[index - 1] as Entry).after = ''
}
