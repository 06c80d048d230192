import { getLocation, parseTree, type Node as JsonNode } from '#vendor/jsonc-parser.js'
import { isAlias, isMap, isNode, isPair, isScalar, isSeq, type Node as YamlNode } from 'yaml'
import { parseYaml } from '../model/yaml-text.js'

/** Part of a text, by offsets. */
export interface Range {
  readonly from: number
  readonly to: number
}

/** What stands at an offset of a site file. */
export interface Spot extends Range {
  /** The keys and numbers that lead to it, in its file. */
  readonly path: readonly string[]
  readonly on: 'key' | 'value'
  /** The key or value as it is read; empty for maps, lists and what is not there. */
  readonly word: string
}

/** Where something could be written. */
export interface Gap extends Range {
  /** Of a key: the map that it would be in; of a value: the value itself. */
  readonly path: readonly string[]
  /** `either`: in block YAML what stands alone on its line may become a key. */
  readonly on: 'key' | 'value' | 'either'
  /** What is written already, up to the cursor. */
  readonly typed: string
  /** Keys that are in the map already. */
  readonly known: readonly string[]
  /** Whether a key is written as JSON has it. */
  readonly isQuoted: boolean
}

/** A node of a tree as far as it could be read, whatever its syntax. */
interface TreeNode extends Range {
  readonly word: string
  readonly entries?: readonly Entry[]
  readonly items?: readonly (TreeNode | undefined)[]
}

interface Entry {
  readonly key: Range & { readonly word: string }
  readonly value: TreeNode | undefined
}

const isJson = (file: string): boolean => /\.(nd)?json$/.test(file)

/** What stands at an offset of a site file; `undefined` between things. */
export function spotAt(text: string, file: string, offset: number): Spot | undefined {
  if (file.endsWith('.ndjson')) {
    const line = lineAround(text, offset)
    return moved(spotAt(line.text, 'line.json', offset - line.from), line)
  }
  let node = treeOf(text, file)
  const path: string[] = []
  const holds = ({ from, to }: Range): boolean => from <= offset && offset <= to
  while (node) {
    const entry: Entry | undefined = node.entries?.find(
      ({ key, value }) => holds(key) || (value !== undefined && holds(value)),
    )
    if (entry) {
      path.push(entry.key.word)
      if (holds(entry.key)) return { path, on: 'key', ...entry.key }
      node = entry.value
      continue
    }
    const n: number = node.items?.findIndex((item) => item !== undefined && holds(item)) ?? -1
    if (n < 0) {
      const isLeaf = !node.entries && !node.items
      return isLeaf && holds(node) ? { path, on: 'value', from: node.from, to: node.to, word: node.word } : undefined
    }
    path.push(String(n))
    node = node.items?.[n]
  }
  return undefined
}

/** The range of a key or value, by its path; `undefined` where the file does not have it. */
export function rangeOf(text: string, file: string, path: readonly string[], what: 'key' | 'value'): Range | undefined {
  let node = treeOf(text, file)
  let found: Range | undefined = node
  for (const step of path) {
    const entry: Entry | undefined = node?.entries?.find(({ key }) => key.word === step)
    node = entry ? entry.value : node?.items?.[Number(step)]
    found = entry && what === 'key' ? entry.key : node
    if (!found) return undefined
  }
  return found && { from: found.from, to: found.to }
}

/** What is listed by keys in a file, down to a depth: for an outline. */
export interface Outlined {
  readonly name: string
  readonly path: readonly string[]
  readonly key: Range
  readonly whole: Range
  readonly children: readonly Outlined[]
}

export function outlineOf(text: string, file: string, depth: number): readonly Outlined[] {
  const below = (node: TreeNode | undefined, path: readonly string[], left: number): readonly Outlined[] =>
    left === 0
      ? []
      : (node?.entries ?? []).map(({ key, value }) => {
          const here = [...path, key.word]
          const whole = { from: key.from, to: Math.max(key.to, value?.to ?? 0) }
          return { name: key.word, path: here, key, whole, children: below(value, here, left - 1) }
        })
  return file.endsWith('.ndjson') ? [] : below(treeOf(text, file), [], depth)
}

/** The last tree of each kind of text: questions about a text come one after the other. */
let last: { readonly text: string; readonly file: string; readonly tree: TreeNode | undefined } | undefined

function treeOf(text: string, file: string): TreeNode | undefined {
  if (last?.text !== text || last.file !== file)
    last = {
      text,
      file,
      tree: isJson(file) ? jsonTree(parseTree(text)) : yamlTree(parseYaml(text).document.contents),
    }
  return last.tree
}

function jsonTree(node: JsonNode | undefined): TreeNode | undefined {
  if (!node) return undefined
  const range = { from: node.offset, to: node.offset + node.length }
  const children = node.children ?? []
  if (node.type === 'object')
    return {
      ...{ ...range, word: '' },
      entries: children.flatMap((member): Entry[] => {
        const [key, value] = member.children ?? []
        return key ? [{ key: leaf(key), value: jsonTree(value) }] : []
      }),
    }
  if (node.type === 'array') return { ...range, word: '', items: children.map(jsonTree) }
  return leaf(node)
}

const leaf = ({ offset, length, value }: JsonNode): Range & { readonly word: string } => ({
  from: offset,
  to: offset + length,
  word: String(value),
})

function yamlTree(node: unknown): TreeNode | undefined {
  if (!isNode(node) || !node.range) return undefined
  const range = { from: node.range[0], to: node.range[1] }
  if (isMap(node))
    return {
      ...{ ...range, word: '' },
      entries: node.items.flatMap((pair): Entry[] => {
        const key = pair.key as YamlNode | null
        if (!isPair(pair) || !isScalar(key) || !key.range) return []
        const at = { from: key.range[0], to: key.range[1], word: String(key.value) }
        return [{ key: at, value: yamlTree(pair.value) }]
      }),
    }
  if (isSeq(node)) return { ...range, word: '', items: node.items.map(yamlTree) }
  if (isAlias(node)) return { ...range, word: '' }
  return { ...range, word: isScalar(node) && node.value !== null ? String(node.value) : '' }
}

/** The line around an offset. */
function lineAround(text: string, offset: number): Range & { readonly text: string } {
  const from = text.lastIndexOf('\n', offset - 1) + 1
  const end = text.indexOf('\n', offset)
  const to = end === -1 ? text.length : end
  return { from, to, text: text.slice(from, to) }
}

/** A spot of one line of pages as one of their file: its page is named by its `id`. */
function moved(spot: Spot | undefined, line: { readonly from: number; readonly text: string }): Spot | undefined {
  if (!spot) return undefined
  const id = pageOf(line.text)
  return { ...spot, path: ['pages', id, ...spot.path], from: spot.from + line.from, to: spot.to + line.from }
}

const pageOf = (line: string): string =>
  treeOf(line, 'line.json')?.entries?.find((e) => e.key.word === 'id')?.value?.word ?? ''

/** A word that stands for what is still to be written. */
const MARK = 'wembra0here'
/** What ends a word that is being written. */
const WORD = /[^\s,[\]{}"':#&*!|>]*$/
const REST = /^[^\s,[\]{}"':#&*!|>]*/

/** What could be written at an offset: the text is read with a word in the place of what is being typed. */
export function gapAt(text: string, file: string, offset: number): Gap | undefined {
  const typed = WORD.exec(text.slice(Math.max(0, offset - MOST_TYPED), offset))?.[0] ?? ''
  const rest = REST.exec(text.slice(offset, offset + MOST_TYPED))?.[0] ?? ''
  const range = { from: offset - typed.length, to: offset + rest.length }
  if (isJson(file)) return jsonGap(text, file, offset, typed, range)
  const around = lineAround(text, offset)
  const read = (word: string): TreeNode | undefined =>
    yamlTree(parseYaml(text.slice(0, range.from) + word + text.slice(range.to)).document.contents)
  const isAlone = /^\s*(- +)*$/.test(text.slice(around.from, range.from))
  const find = (node: TreeNode | undefined, path: readonly string[]): Gap | undefined => {
    if (!node) return undefined
    const known = (node.entries ?? []).map(({ key }) => key.word).filter((word) => word !== MARK)
    const common = { ...range, typed, isQuoted: false }
    for (const { key, value } of node.entries ?? []) {
      if (key.word === MARK) return { ...common, path, on: 'key', known }
      const found = find(value, [...path, key.word])
      if (found) return found
    }
    for (const [n, item] of (node.items ?? []).entries()) {
      const found = find(item, [...path, String(n)])
      if (found) return found
    }
    if (node.entries || node.items || !node.word.includes(MARK)) return undefined
    // Words before it belong to the same text.
    if (node.word !== MARK && !node.word.startsWith('{')) return undefined
    return { ...common, path, on: isAlone ? 'either' : 'value', known: [] }
  }
  // Before other keys a word by itself would be taken for the beginning of a longer one.
  return find(read(MARK), []) ?? (isAlone ? find(read(`${MARK}:`), []) : undefined)
}

/** No word that is being typed is longer. */
const MOST_TYPED = 200

function jsonGap(text: string, file: string, offset: number, typed: string, range: Range): Gap | undefined {
  const line = file.endsWith('.ndjson') ? lineAround(text, offset) : undefined
  const { path, isAtPropertyKey, previousNode } = getLocation(line?.text ?? text, offset - (line?.from ?? 0))
  const inside = path.map(String)
  const whole = line ? ['pages', pageOf(line.text), ...inside] : inside
  const quoted = previousNode?.type === 'property' || previousNode?.type === 'string'
  // With its quotes, where it has some.
  const from = quoted ? previousNode.offset + (line?.from ?? 0) : range.from
  const to = quoted ? from + previousNode.length : range.to
  const at = { from: Math.min(from, range.from), to: Math.max(to, range.to), typed, isQuoted: true, known: [] }
  return isAtPropertyKey ? { ...at, path: whole.slice(0, -1), on: 'key' } : { ...at, path: whole, on: 'value' }
}
