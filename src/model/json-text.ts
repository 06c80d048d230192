import { parseTree, printParseErrorCode, type Node, type ParseError } from '#vendor/jsonc-parser.js'
import { LineCounter } from 'yaml'
import { fromPointer } from './json.js'

/** A place in a text; both counted from 1. */
export interface TextPlace {
  readonly line: number
  readonly column: number
}

/** Why a text is no JSON, in words, and where. */
export interface JsonFault extends TextPlace {
  readonly message: string
}

/** JSON as RFC 8259 has it. */
const STRICT = { disallowComments: true, allowTrailingComma: false, allowEmptyContent: false }

/** What is wrong with a text that `JSON.parse` refused; the engine's own message does not always tell the place. */
export function jsonFault(text: string): JsonFault {
  const faults: ParseError[] = []
  parseTree(text, faults, STRICT)
  const [first] = faults
  if (!first) return { message: 'this is not JSON', line: 1, column: 1 }
  return { message: inWords(text, first), ...lineCounter(text)(first.offset) }
}

/** `CommaExpected` is reported as "comma expected before "2"". */
function inWords(text: string, { error, offset, length }: ParseError): string {
  const words = printParseErrorCode(error)
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .toLowerCase()
  const there = text.slice(offset, offset + Math.max(1, Math.min(length, MOST_QUOTED))).trim()
  const what = there === '' ? 'the end of the text' : JSON.stringify(there)
  return words.endsWith('expected') ? `${words} before ${what}` : `${words}: ${what}`
}

const MOST_QUOTED = 20

/** Where each part of a JSON text is. */
export class JsonPlaces {
  readonly #tree: Node | undefined
  readonly #at: (offset: number) => TextPlace
  readonly #members = new WeakMap<Node, ReadonlyMap<string, Node>>()

  /** @param text - JSON that `JSON.parse` accepts. */
  constructor(text: string) {
    this.#tree = parseTree(text, [], STRICT)
    this.#at = lineCounter(text)
  }

  /** Where a pointer's key or list entry is, or the value behind it; the nearest part above that is there. */
  locate(pointer: string, what: 'key' | 'value'): TextPlace {
    let node = this.#tree
    let at = node?.offset ?? 0
    for (const key of fromPointer(pointer)) {
      if (node?.type === 'object') {
        const member = this.#member(node, key)
        if (!member) continue // shorthand was expanded: what is inside it may be in the file
        at = member.offset
        node = member.children?.[1]
      } else if (node?.type === 'array') {
        const element: Node | undefined = node.children?.[Number(key)]
        if (!element) break
        node = element
        at = node.offset
      } else break
    }
    return this.#at(what === 'key' ? at : (node?.offset ?? at))
  }

  #member(object: Node, key: string): Node | undefined {
    let known = this.#members.get(object)
    if (!known) {
      const named = (object.children ?? []).map((member) => [String(member.children?.[0]?.value), member] as const)
      this.#members.set(object, (known = new Map(named)))
    }
    return known.get(key)
  }
}

/** Lines and columns of a text by offsets. */
export function lineCounter(text: string): (offset: number) => TextPlace {
  const counter = new LineCounter()
  counter.addNewLine(0)
  for (let at = text.indexOf('\n'); at !== -1; at = text.indexOf('\n', at + 1)) counter.addNewLine(at + 1)
  return (offset) => {
    const { line, col } = counter.linePos(offset)
    return { line, column: col }
  }
}
