import {
  isCollection,
  isNode,
  isPair,
  isScalar,
  type Node,
  type Pair,
  type Scalar,
  type YAMLMap,
  type YAMLSeq,
} from 'yaml'
import { EditError } from './edit-text.js'

/** Whether a pair has a key. */
export const isKey = (pair: Pair, key: string): boolean => isScalar(pair.key) && String(pair.key.value) === key
const indexed = new WeakMap<YAMLMap, Map<string, Pair>>()
/** Maps of more entries are asked through an index. */
const FEW = 16

/** The pair of a key in a map. */
export function pairOf(map: YAMLMap, key: string): Pair | undefined {
  if (map.items.length <= FEW) return map.items.find((pair) => isKey(pair, key))
  let known = indexed.get(map)
  if (!known) {
    const named = map.items.filter((pair) => isScalar(pair.key))
    indexed.set(map, (known = new Map(named.map((pair) => [String((pair.key as Scalar).value), pair]))))
  }
  return known.get(key)
}

/** Where a node begins and ends in the text. @throws {EditError} When it has no place of its own. */
export function rangeOf(node: Node): [number, number] {
  if (!isNode(node) || !node.range) throw new EditError('this part has no place of its own in the text')
  return [node.range[0], node.range[1]]
}

/** Where a pair ends: with its value, or its key where it has none. */
export function endOfPair({ key, value }: Pair): number {
  const node = value as Node | null
  if (!node?.range) return rangeOf(key as Node)[1] + 1
  return isCollection(node) && !node.flow ? lastEnd(node) : node.range[1]
}

/** The end of a block collection's content, without the comments and blank lines that follow. */
function lastEnd(collection: YAMLMap | YAMLSeq): number {
  const last = collection.items.at(-1)
  if (isPair(last)) return endOfPair(last)
  const node = last as Node | undefined
  if (!node) return rangeOf(collection)[1]
  return isCollection(node) && !node.flow ? lastEnd(node as YAMLMap) : rangeOf(node)[1]
}

/** Where the line of a place begins. */
export const lineStart = (text: string, at: number): number => text.lastIndexOf('\n', at - 1) + 1
/** How far into its line a place is; a byte order mark takes no room. */
export function columnOf(text: string, at: number): number {
  const start = lineStart(text, at)
  return at - start - (start === 0 && text.startsWith('\uFEFF') ? 1 : 0)
}

/** The end of a part without white space after it. */
export function trimmedEnd(text: string, end: number): number {
  let at = end
  while (at > 0 && /\s/.test(text[at - 1] as string)) at -= 1
  return at
}
