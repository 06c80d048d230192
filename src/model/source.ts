import {
  isAlias,
  isCollection,
  isMap,
  isNode,
  isPair,
  isScalar,
  isSeq,
  visit,
  type Document,
  type Node,
  type Pair,
  type Scalar,
  type YAMLError,
  type YAMLMap,
} from 'yaml'
import { duplicateKeys, keysIn } from './json-duplicates.js'
import { jsonFault, JsonPlaces, lineCounter } from './json-text.js'
import { fromPointer, isObject, toPointer, traitsOf, type Json } from './json.js'
import type { Place, Problem, ProblemCode } from './problem.js'
import { parseYaml } from './yaml-text.js'

/** Deeper nesting than this is no page builder's; it would only exhaust the stack. */
export const DEEPEST = 100

/** A file that was read: its value, and where each part of it is. */
export interface Source {
  readonly file: string
  readonly text: string
  readonly value: Json
  /**
   * Where a pointer's key (or list entry) is; of the value behind it with `value`.
   * Where the file sets less than the pointer, the nearest part above it that is there.
   */
  readonly locate: (pointer: string, what?: 'key' | 'value') => Place
}

export interface ReadSource {
  readonly source: Source | undefined
  readonly problems: readonly Problem[]
}

/** Reads a YAML 1.2 or JSON text (by its first character and the file's ending) with positions. */
export function readSource(text: string, file: string): ReadSource {
  const problem = (code: ProblemCode, message: string, line = 1, column = 1): ReadSource => ({
    source: undefined,
    problems: [{ code, message, file, line, column }],
  })
  if (text.includes('\0') || text.includes('�'))
    return problem('unreadable', 'this is not UTF-8 text; a site file is YAML or JSON')
  if (text.trim() === '') return problem('empty', 'the file is empty; begin with "wembra: 1", or see `wembra new`')
  try {
    const read = file.endsWith('.json') ? readJson(text, file) : readYaml(text, file)
    const place = read.source && tooDeep(read.source.value, DEEPEST)
    if (!read.source || place === undefined) return read
    const at = read.source.locate(place)
    return problem('too-deep', TOO_DEEP, at.line, at.column)
  } catch (error) {
    if (error instanceof RangeError) return problem('too-deep', TOO_DEEP)
    throw error
  }
}

/** The pointer at which a value goes deeper than `limit`; without recursion, for the stack's sake. */
function tooDeep(value: Json, limit: number): string | undefined {
  if (traitsOf(value).deepest <= limit) return undefined
  const open: { value: Json; pointer: string; depth: number }[] = [{ value, pointer: '', depth: 0 }]
  for (let next = open.pop(); next; next = open.pop()) {
    if (typeof next.value !== 'object' || next.value === null) continue
    if (next.depth > limit) return next.pointer
    for (const [key, child] of Object.entries(next.value)) {
      if (typeof child === 'object')
        open.push({ value: child, pointer: `${next.pointer}/${key}`, depth: next.depth + 1 })
    }
  }
  return undefined
}

function readYaml(text: string, file: string): ReadSource {
  const { document, lines } = parseYaml(text)
  const place = (offset: number): Place => {
    const { line, col } = lines.linePos(offset)
    return { file, line: Math.max(1, line), column: Math.max(1, col) }
  }
  const unknownTags = document.warnings.filter(({ code }) => code === 'TAG_RESOLVE_FAILED')
  const problems: Problem[] = [...document.errors, ...unknownTags].map((e) => ({
    ...place(e.pos[0]),
    ...explainYaml(e),
  }))
  for (const { offset, ...fault } of faultsIn(document)) problems.push({ ...place(offset), ...fault })
  if (problems.length > 0) return { source: undefined, problems }
  let value: Json
  try {
    value = document.toJS({ maxAliasCount: 1000 }) as Json
  } catch (error) {
    if (!(error instanceof ReferenceError)) throw error
    const message = 'aliases that repeat aliases would make the file enormous; write the content out'
    return { source: undefined, problems: [{ ...place(0), code: 'too-large', message }] }
  }
  const locate = (pointer: string, what: 'key' | 'value' = 'key'): Place => place(yamlOffset(document, pointer, what))
  return { source: { file, text, value, locate }, problems }
}

const DUPLICATE_KEY = 'this key is in the same map twice; keep one of them'
const SELF_REFERENCE = {
  code: 'circle',
  message: 'this alias refers to the anchor it is in; write the content out instead',
} as const

const COMPOUND_KEY = {
  code: 'bad-syntax',
  message: 'a map or list is no key; write a word before the colon',
} as const

const TOO_DEEP = `nested more than ${DEEPEST} deep; flatten this part`

/** The parser's error in our words, without its own position and picture. */
function explainYaml({ code, message }: Pick<YAMLError, 'code' | 'message'>): { code: ProblemCode; message: string } {
  if (code === 'MULTIPLE_DOCS')
    return {
      code: 'bad-syntax',
      message: 'a second YAML document begins here; a site file is one: remove the ---, or use include',
    }
  if (code === 'TAG_RESOLVE_FAILED')
    return {
      code: 'bad-syntax',
      message: `${message.split(/ at line /)[0] ?? message}; write a plain value without a tag`,
    }
  if (code === 'RESOURCE_EXHAUSTION') return { code: 'too-deep', message: TOO_DEEP }
  const sentence = (message.split(/ at line \d+/)[0] ?? message).replace(/:$/, '').trim()
  return { code: 'bad-syntax', message: `${sentence}; see YAML 1.2` }
}

type Fault = { readonly offset: number; readonly code: ProblemCode; readonly message: string }

/**
 * What YAML allows, and no site has a use for: aliases inside what they refer to, keys that are maps or lists, and the
 * same key twice, which the parser compares with every other one.
 */
function faultsIn(document: Document): readonly Fault[] {
  const faults: Fault[] = []
  const offsetOf = (node: unknown): number => (isNode(node) ? (node.range?.[0] ?? 0) : 0)
  visit(document, {
    Alias(_key, alias, path) {
      if (path.some((node) => isCollection(node) && node.anchor === alias.source))
        faults.push({ offset: offsetOf(alias), ...SELF_REFERENCE })
    },
    Map(_key, { items }) {
      const seen = new Set<string>()
      for (const { key } of items) {
        const meant = isAlias(key) ? key.resolve(document) : key
        if (isCollection(meant)) {
          faults.push({ offset: offsetOf(key), ...COMPOUND_KEY })
          continue
        }
        const name = isScalar(meant) && meant.value !== null ? String(meant.value) : ''
        if (seen.has(name)) faults.push({ offset: offsetOf(key), code: 'duplicate-id', message: DUPLICATE_KEY })
        seen.add(name)
      }
    },
  })
  return faults
}

/** Maps of more entries are asked through an index. */
const FEW = 16
const pairs = new WeakMap<YAMLMap, ReadonlyMap<string, Pair>>()

function pairOf(map: YAMLMap, key: string): Pair | undefined {
  const isKey = (pair: Pair): boolean => isScalar(pair.key) && String(pair.key.value) === key
  if (map.items.length <= FEW) return map.items.find((pair) => isPair(pair) && isKey(pair))
  let known = pairs.get(map)
  if (!known) {
    const named = map.items.filter((pair) => isPair(pair) && isScalar(pair.key))
    pairs.set(map, (known = new Map(named.map((pair) => [String((pair.key as Scalar).value), pair]))))
  }
  return known.get(key)
}

function yamlOffset(document: Document, pointer: string, what: 'key' | 'value'): number {
  let node: unknown = document.contents
  let offset = (document.contents as Node | null)?.range?.[0] ?? 0
  for (const key of fromPointer(pointer)) {
    if (isAlias(node)) node = node.resolve(document)
    if (isMap(node)) {
      const pair = pairOf(node, key)
      if (!pair) continue // shorthand was expanded: what it expands to is not in the file, what is inside may be
      offset = (pair.key as Node).range?.[0] ?? offset
      node = pair.value
    } else if (isSeq(node)) {
      const item: unknown = node.items[Number(key)]
      if (item === undefined) break
      node = item
      offset = (item as Node).range?.[0] ?? offset
    } else break
  }
  if (what === 'key') return offset
  return (node as Node | null)?.range?.[0] ?? offset
}

function readJson(text: string, file: string): ReadSource {
  let value: Json
  try {
    value = JSON.parse(text) as Json
  } catch {
    return { source: undefined, problems: [{ ...jsonProblem(text), file }] }
  }
  const repeated = keysIn(text) === traitsOf(value).keys ? [] : duplicateKeys(text)
  if (repeated.length > 0) {
    const at = lineCounter(text)
    const problems = repeated.map((offset): Problem => ({
      ...{ code: 'duplicate-id', message: DUPLICATE_KEY, file },
      ...at(offset),
    }))
    return { source: undefined, problems }
  }
  // The tree with positions costs many times what JSON.parse does, so it is built when a place is asked for.
  let places: JsonPlaces | undefined
  const locate = (pointer: string, what: 'key' | 'value' = 'key'): Place => {
    places ??= new JsonPlaces(text)
    return { file, ...places.locate(pointer, what) }
  }
  return { source: { file, text, value, locate }, problems: [] }
}

function jsonProblem(text: string): Omit<Problem, 'file'> {
  const { message, ...at } = jsonFault(text)
  return { code: 'bad-syntax', message: `${message}; the file is read as JSON (RFC 8259)`, ...at }
}

/**
 * Reads pages from newline-delimited JSON, one page a line with its `id`, without holding more than a line's tree.
 * A broken line is a problem of its own; the others are read.
 */
export function readPageLines(lines: Iterable<string>, file: string): ReadSource {
  const problems: Problem[] = []
  const pages: Record<string, Json> = {}
  const lineOf = new Map<string, { line: number; text: string }>()
  let line = 0
  for (const text of lines) {
    line += 1
    if (text.trim() === '') continue
    const complain = (code: ProblemCode, message: string, column = 1): void =>
      void problems.push({ code, message, file, line, column })
    let value: Json
    try {
      value = JSON.parse(text) as Json
    } catch {
      const { column, message } = jsonProblem(text)
      complain('bad-syntax', message, column)
      continue
    }
    if (!isObject(value) || typeof value['id'] !== 'string') {
      complain('missing-key', 'each line is one page with its id: {"id":"visit","path":"/visit","title":"…"}')
      continue
    }
    const { id, ...page } = value
    if (Object.hasOwn(pages, id as string)) {
      complain('duplicate-id', `the page "${String(id)}" is on line ${lineOf.get(id as string)?.line} already`)
      continue
    }
    Object.defineProperty(pages, id as string, { value: page, enumerable: true, writable: true, configurable: true })
    lineOf.set(id as string, { line, text })
  }
  const locate = (pointer: string, what: 'key' | 'value' = 'key'): Place => {
    const [, id = '', ...rest] = fromPointer(pointer)
    const found = lineOf.get(id)
    if (!found) return { file, line: 1, column: 1 }
    return { file, line: found.line, column: new JsonPlaces(found.text).locate(toPointer(rest), what).column }
  }
  return { source: { file, text: '', value: { pages }, locate }, problems }
}
