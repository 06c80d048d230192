import {
  isAlias,
  isCollection,
  isMap,
  isPair,
  isScalar,
  isSeq,
  Lexer,
  parseDocument,
  stringify,
  type Document,
  type Node,
  type Pair,
  type YAMLMap,
  type YAMLSeq,
} from 'yaml'
import { fromPointer, type Json } from '../model/json.js'
import { EditError, type EditedText, type TextOperation } from './edit-text.js'
import { isKey, pairOf, rangeOf, endOfPair, lineStart, columnOf, trimmedEnd } from './yaml-places.js'

/**
 * Changes one thing in a YAML text and leaves every other character as it is: comments, order, quoting,
 * anchors and line endings.
 *
 * @throws {EditError} Where the place cannot be found, or is behind an alias.
 */
export const editYaml = (text: string, operation: TextOperation): string => new YamlText(text).apply(operation).text

/** A part of a text to be replaced. */
interface Splice {
  readonly start: number
  readonly end: number
  readonly replacement: string
}

/**
 * A YAML text that is edited operation by operation. It is parsed again only where an operation rests on what
 * one before it has changed; the edits between are put into the text together.
 */
export class YamlText implements EditedText {
  #text: string
  #editor: Editor | undefined
  #splices: { readonly splice: Splice; readonly holder: unknown }[] = []
  /** What of the parsed document is not as it was parsed: keys of maps, and lists of another length. */
  #changed = new Map<unknown, Set<string>>()

  constructor(text: string) {
    this.#text = text
  }

  get text(): string {
    this.#settle()
    return this.#text
  }

  apply(operation: TextOperation): this {
    const path = fromPointer(operation.path)
    // Removing the last entry of a collection takes another edit, so the text is parsed again to know which one is.
    const isLastUnsure = operation.op === 'remove' && this.#changed.has(this.#parsed.holderOf(path))
    if (isLastUnsure || !this.#isAsParsed(path)) this.#settle()
    const holder = this.#parsed.holderOf(path)
    let splice = this.#parsed.withComments(this.#parsed.apply(operation))
    if (!this.#isApart(splice, holder)) {
      this.#settle()
      splice = this.#parsed.withComments(this.#parsed.apply(operation))
    }
    const here = this.#parsed.holderOf(path)
    this.#splices.push({ splice, holder: here })
    const keys = this.#changed.get(here) ?? new Set<string>()
    this.#changed.set(here, keys.add(path.at(-1) ?? ''))
    return this
  }

  get #parsed(): Editor {
    return (this.#editor ??= new Editor(this.#text))
  }

  /** Whether nothing on the way to a place has changed since the text was parsed. */
  #isAsParsed(path: readonly string[]): boolean {
    if (this.#splices.length === 0) return true
    for (let depth = 0; depth < path.length; depth++) {
      const node = this.#parsed.nodeAt(path.slice(0, depth))
      if (node === undefined) return false
      const keys = this.#changed.get(node)
      if (keys && (isSeq(node) || keys.has(path[depth] as string) || (keys.size > 0 && this.#hasLost(node))))
        return false
    }
    return true
  }

  /** Whether something was taken out of a map: where one entry ends is known by the next. */
  #hasLost(node: unknown): boolean {
    return this.#splices.some(({ splice, holder }) => holder === node && splice.replacement === '')
  }

  /** Whether an edit touches no other; several things may be added at one place of one collection. */
  #isApart({ start, end }: Splice, holder: unknown): boolean {
    return this.#splices.every(({ splice: other, holder: its }) => {
      if (start > other.end || end < other.start) return true
      const areAdded = start === end && other.start === other.end
      return areAdded && start === other.start && its === holder
    })
  }

  #settle(): void {
    if (this.#splices.length === 0) return
    const inOrder = this.#splices
      .map(({ splice }, n) => ({ ...splice, n }))
      .sort((a, b) => a.start - b.start || a.n - b.n)
    const parts: string[] = []
    let at = 0
    for (const { start, end, replacement } of inOrder) {
      parts.push(this.#text.slice(at, start), replacement)
      at = end
    }
    this.#text = parts.join('') + this.#text.slice(at)
    this.#splices = []
    this.#changed = new Map()
    this.#editor = undefined
  }
}

interface Comment {
  readonly start: number
  readonly text: string
}

/** Finds the comments of a text with the lexer, since `#` inside a scalar starts none. */
function commentsIn(text: string): readonly Comment[] {
  const comments: Comment[] = []
  let at = 0
  let isScalar = false
  for (const lexeme of new Lexer().lex(text)) {
    if (LEXER_MARKS.has(lexeme)) {
      isScalar = lexeme === SCALAR_FOLLOWS
      continue
    }
    if (lexeme.startsWith('#') && !isScalar) comments.push({ start: at, text: lexeme.trimEnd() })
    at += lexeme.length
    isScalar = false
  }
  return comments
}

/** Control characters that the lexer adds to the text: document start, error in a flow collection, and scalar. */
const SCALAR_FOLLOWS = '\u001f'
const LEXER_MARKS: ReadonlySet<string> = new Set(['\u0002', '\u0018', SCALAR_FOLLOWS])

/** Longest indentation that is looked for. */
const MOST_INDENT = 1000
/** Number of characters before a key in which a question mark is looked for. */
const LOOK_BACK = 200

/** Longer entries are written over several lines. */
const LINE_WIDTH = 120

class Editor {
  readonly #text: string
  readonly #document: Document
  readonly #eol: string
  #allComments: readonly Comment[] | undefined

  constructor(text: string) {
    this.#text = text
    this.#document = parseDocument(text, { version: '1.2', uniqueKeys: false })
    this.#eol = text.includes('\r\n') ? '\r\n' : '\n'
  }

  /** Extends a splice so that comments inside the replaced text move above its first line. */
  withComments(splice: Splice): Splice {
    const lost = this.#comments.filter(({ start }) => start >= splice.start && start < splice.end)
    if (lost.length === 0) return splice
    const start = lineStart(this.#text, splice.start)
    const before = this.#text.slice(start, splice.start)
    const indent = /^[ \t]*/.exec(this.#text.slice(start, start + MOST_INDENT))?.[0] ?? ''
    // At the end of a file without a final line break, the removal includes the preceding line break.
    if (splice.replacement === '' && start < splice.start && this.#text.startsWith(this.#eol, splice.start))
      return this.#splice(splice.start, splice.end, lost.map(({ text }) => `${this.#eol}${text}`).join(''))
    const lines = lost.map(({ text }) => `${indent}${text}${this.#eol}`).join('')
    // If whole lines are removed, their indentation is removed too.
    const isWhole = before.trim() === '' && splice.replacement === '' && this.#text[splice.end - 1] === '\n'
    return this.#splice(start, splice.end, lines + (isWhole ? '' : before) + splice.replacement)
  }

  get #comments(): readonly Comment[] {
    return (this.#allComments ??= commentsIn(this.#text))
  }

  apply(operation: TextOperation): Splice {
    const path = fromPointer(operation.path)
    const key = path.pop()
    if (key === undefined) throw new EditError('the whole file cannot be replaced')
    const parent = this.#find(path)
    this.#expectPlainKeys(parent)
    if (operation.op === 'remove') return this.#remove(parent, path, key)
    if (isMap(parent)) {
      const pair = pairOf(parent, key)
      return pair ? this.#replacePair(pair, operation.value) : this.#addPair(parent, path, key, operation.value)
    }
    if (isSeq(parent)) return this.#setItem(parent, key, operation)
    // A key with nothing behind it becomes a map.
    return this.#replaceAt(path, { [key]: operation.value })
  }

  /** @throws {EditError} For a map with explicit keys (`? key`), whose entries cannot be located. */
  #expectPlainKeys(parent: unknown): void {
    if (!isMap(parent)) return
    for (const { key } of parent.items)
      if (/(^|[\s{,-])\?\s+$/.test(this.#text.slice(0, rangeOf(key as Node)[0]).slice(-LOOK_BACK)))
        throw new EditError('a key beside it is written with "?"; change it by hand')
  }

  /** The collection that an operation at a path changes. */
  holderOf(path: readonly string[]): unknown {
    return this.nodeAt(path.slice(0, -1))
  }

  /** What is at a path; `undefined` where nothing does. */
  nodeAt(path: readonly string[]): unknown {
    let node: unknown = this.#document.contents
    for (const key of path) {
      if (isMap(node)) node = pairOf(node, key)?.value
      else if (isSeq(node)) node = node.items[Number(key)]
      else return undefined
    }
    return node
  }

  #find(path: readonly string[]): unknown {
    let node: unknown = this.#document.contents
    for (const key of path) {
      if (isAlias(node)) throw new EditError('it is behind an alias whose anchor is used elsewhere')
      if (isMap(node)) node = pairOf(node, key)?.value
      else if (isSeq(node)) node = node.items[Number(key)]
      else throw new EditError(`path does not exist: ${path.join('/')}`)
    }
    if (isAlias(node)) throw new EditError('it is behind an alias whose anchor is used elsewhere')
    return node
  }

  /** Replaces what is at a path whose value is empty. */
  #replaceAt(path: readonly string[], value: Json): Splice {
    const key = path.at(-1)
    const around = this.#find(path.slice(0, -1))
    const pair = isMap(around) && key !== undefined ? pairOf(around, key) : undefined
    if (!pair) throw new EditError(`path does not exist: ${path.join('/')}`)
    return this.#replacePair(pair, value)
  }

  #splice(start: number, end: number, replacement: string): Splice {
    return { start, end, replacement }
  }

  /** A value on one line, as it may be in a flow collection or behind a key. */
  #inline(value: Json, inFlow: boolean): string {
    if (typeof value === 'string' && /[\n\r]/.test(value)) return JSON.stringify(value)
    const style = { collectionStyle: 'flow', flowCollectionPadding: true, lineWidth: 0 } as const
    if (!inFlow || typeof value === 'object') return stringify(value, style).trim()
    // Within a flow collection commas and brackets are not plain.
    return stringify([value], style).trim().slice(2, -2)
  }

  #key(key: string): string {
    return this.#inline(key, true)
  }

  #replacePair(pair: Pair, value: Json): Splice {
    const node = pair.value as Node | null
    const [keyEnd] = [rangeOf(pair.key as Node)[1]]
    if (node && isScalar(node) && typeof value !== 'object') return this.#replaceScalar(node, value)
    if (!node || !node.range || node.range[0] === node.range[1]) {
      const colon = this.#text.indexOf(':', keyEnd) + 1
      return this.#splice(colon, colon, ` ${this.#inline(value, false)}`)
    }
    const isFlow = !isCollection(node) || node.flow === true
    const start = isFlow ? node.range[0] : this.#text.indexOf(':', keyEnd) + 1
    const end = trimmedEnd(this.#text, node.range[1])
    return this.#splice(start, end, `${isFlow ? '' : ' '}${this.#inline(value, this.#isInFlow(node))}`)
  }

  /** A scalar keeps its quotes. */
  #replaceScalar(node: Node, value: Json): Splice {
    const [start, end] = rangeOf(node)
    const quote = this.#text[start]
    if (typeof value === 'string' && quote === '"') return this.#splice(start, end, JSON.stringify(value))
    if (typeof value === 'string' && quote === "'" && !value.includes('\n'))
      return this.#splice(start, end, `'${value.replaceAll("'", "''")}'`)
    // A block of text ends with the line break after it.
    if (quote === '|' || quote === '>')
      return this.#splice(start, trimmedEnd(this.#text, end), this.#inline(value, false))
    if (start === end) return this.#splice(start, end, ` ${this.#inline(value, false)}`)
    return this.#splice(start, end, this.#inline(value, this.#isInFlow(node)))
  }

  /** Whether a node is inside a flow collection, by the collections that enclose it. */
  #isInFlow(node: Node): boolean {
    const [start] = rangeOf(node)
    const open: unknown[] = [this.#document.contents]
    for (let next = open.pop(); next !== undefined; next = open.pop()) {
      if (!isCollection(next) || !next.range) continue
      const [from, to] = next.range
      if (start < from || start >= to) continue
      if (next.flow && next !== node) return true
      for (const item of next.items) open.push(isPair(item) ? item.value : item)
    }
    return false
  }

  #addPair(map: YAMLMap, path: readonly string[], key: string, value: Json): Splice {
    const [start, end] = rangeOf(map)
    const last = map.items.at(-1)
    const entry = `${this.#key(key)}: ${this.#inline(value, map.flow === true)}`
    if (map.flow) {
      if (!last) return this.#splice(start, end, `{ ${entry} }`)
      const at = endOfPair(last)
      return this.#splice(at, at, this.#separator(map) + entry)
    }
    if (!last) return this.#replaceAt(path, { [key]: value })
    const indent = columnOf(this.#text, rangeOf(map.items[0]?.key as Node)[0])
    return this.#insertLine(endOfPair(last), this.#blockLines({ [key]: value }, indent).join(this.#eol))
  }

  /** A value in block style, with everything that fits on a line of its own left on that line. */
  #blockLines(value: Json, indent: number): readonly string[] {
    const pad = ' '.repeat(indent)
    const isShort = (line: string, each: Json): boolean =>
      typeof each !== 'object' || each === null || line.length <= LINE_WIDTH || Object.keys(each).length === 0
    if (Array.isArray(value))
      return (value as readonly Json[]).flatMap((each) => {
        const line = `${pad}- ${this.#inline(each, false)}`
        if (isShort(line, each)) return [line]
        const [first = '', ...rest] = this.#blockLines(each, indent + 2)
        return [`${pad}- ${first.slice(indent + 2)}`, ...rest]
      })
    return Object.entries(value as Record<string, Json>).flatMap(([key, each]) => {
      const line = `${pad}${this.#key(key)}: ${this.#inline(each, false)}`
      return isShort(line, each) ? [line] : [`${pad}${this.#key(key)}:`, ...this.#blockLines(each, indent + 2)]
    })
  }

  /** What goes between the last entry of a flow collection and a new one: a new line where each has its own. */
  #separator(collection: YAMLMap | YAMLSeq): string {
    const [start] = rangeOf(collection)
    const first = collection.items[0]
    const begins = rangeOf((isPair(first) ? first.key : first) as Node)[0]
    const between = this.#text.slice(start + 1, begins)
    if (!between.includes('\n')) return ', '
    return `,${this.#eol}${' '.repeat(columnOf(this.#text, begins))}`
  }

  /** Adds a line below the one in which something ends. */
  #insertLine(end: number, line: string): Splice {
    if (end > 0 && this.#text[end - 1] === '\n') return this.#splice(end, end, line + this.#eol)
    const newline = this.#text.indexOf('\n', end)
    if (newline < 0) return this.#splice(this.#text.length, this.#text.length, this.#eol + line)
    return this.#splice(newline + 1, newline + 1, line + this.#eol)
  }

  #setItem(
    list: YAMLSeq,
    key: string,
    { op, value }: { readonly op: 'add' | 'replace'; readonly value: Json },
  ): Splice {
    const index = key === '-' ? list.items.length : Number(key)
    const item = list.items[index] as Node | undefined
    if (op === 'replace') {
      if (!item) throw new EditError(`the list has no entry ${index}`)
      if (isScalar(item) && typeof value !== 'object') return this.#replaceScalar(item, value)
      const [start, end] = rangeOf(item)
      return this.#splice(start, trimmedEnd(this.#text, end), this.#inline(value, list.flow === true))
    }
    const entry = this.#inline(value, list.flow === true)
    if (list.flow) {
      if (list.items.length === 0) return this.#splice(...rangeOf(list), `[ ${entry} ]`)
      if (item) return this.#splice(rangeOf(item)[0], rangeOf(item)[0], `${entry}, `)
      const at = trimmedEnd(this.#text, rangeOf(list.items.at(-1) as Node)[1])
      return this.#splice(at, at, this.#separator(list) + entry)
    }
    const first = list.items[0] as Node | undefined
    if (!first) throw new EditError('an empty list in block style cannot be added to')
    const dash = this.#text.lastIndexOf('-', rangeOf(first)[0])
    const line = this.#blockLines([value], columnOf(this.#text, dash)).join(this.#eol)
    if (!item) return this.#insertLine(trimmedEnd(this.#text, rangeOf(list.items.at(-1) as Node)[1]), line)
    const before = lineStart(this.#text, this.#text.lastIndexOf('-', rangeOf(item)[0]))
    return this.#splice(before, before, line + this.#eol)
  }

  #remove(parent: unknown, path: readonly string[], key: string): Splice {
    if (isMap(parent)) {
      const index = parent.items.findIndex((pair) => isKey(pair, key))
      if (index < 0) throw new EditError(`there is no ${key}`)
      const spans = parent.items.map((pair) => ({ start: rangeOf(pair.key as Node)[0], end: endOfPair(pair) }))
      return this.#removeEntry(parent, spans, index, path)
    }
    if (isSeq(parent)) {
      const spans = parent.items.map((item) => {
        const [start, end] = rangeOf(item as Node)
        const from = parent.flow ? start : this.#text.lastIndexOf('-', start)
        return { start: from, end: trimmedEnd(this.#text, end) }
      })
      return this.#removeEntry(parent, spans, Number(key), path)
    }
    throw new EditError('path does not exist')
  }

  #removeEntry(
    parent: YAMLMap | YAMLSeq,
    spans: readonly { readonly start: number; readonly end: number }[],
    index: number,
    path: readonly string[],
  ): Splice {
    const mine = spans[index]
    if (!mine) throw new EditError(`the list has no entry ${index}`)
    const [before, after] = [spans[index - 1], spans[index + 1]]
    if (parent.flow) {
      if (after) return this.#splice(mine.start, after.start, '')
      if (before) return this.#splice(before.end, mine.end, '')
      return this.#splice(...rangeOf(parent), isSeq(parent) ? '[]' : '{}')
    }
    if (spans.length === 1) {
      const empty: Json = isSeq(parent) ? [] : {}
      if (path.length === 0) throw new EditError('the file would be empty')
      const around = this.#find(path.slice(0, -1))
      this.#expectPlainKeys(around)
      if (isMap(around)) return this.#replaceAt(path, empty)
      const [start, end] = rangeOf(parent)
      return this.#splice(start, trimmedEnd(this.#text, end), isSeq(parent) ? '[]' : '{}')
    }
    const start = lineStart(this.#text, mine.start)
    // The first key of a list's entry is behind its dash, which has to stay.
    if (this.#text.slice(start, mine.start).trim() !== '' && after) return this.#splice(mine.start, after.start, '')
    const newline = this.#text.indexOf('\n', Math.max(mine.end - 1, mine.start))
    const end = this.#text[mine.end - 1] === '\n' ? mine.end : newline < 0 ? this.#text.length : newline + 1
    // A file that does not end with a line break still does not.
    const isLast = newline < 0 && end === this.#text.length && start > 0
    return this.#splice(isLast ? start - this.#eol.length : start, end, '')
  }
}
