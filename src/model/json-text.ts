import { parseTree, printParseErrorCode, type ParseError } from '#vendor/jsonc-parser.js'
import { LineCounter } from 'yaml'
import { fromPointer } from './json.js'
import { endOfString } from './json-duplicates.js'

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

/** A member of an object, or an entry of a list: where it begins, and where its value does. */
interface Member {
  readonly at: number
  readonly value: number
}

/** Where each part of a JSON text is; what nobody asks for is not read. */
export class JsonPlaces {
  readonly #text: string
  readonly #at: (offset: number) => TextPlace
  /** Members of objects and lists by where these begin. */
  readonly #members = new Map<number, ReadonlyMap<string, Member>>()

  /** @param text - JSON that `JSON.parse` accepts. */
  constructor(text: string) {
    this.#text = text
    this.#at = lineCounter(text)
  }

  /** Where a pointer's key or list entry is, or the value behind it; the nearest part above that is there. */
  locate(pointer: string, what: 'key' | 'value'): TextPlace {
    const start = afterSpace(this.#text, 0)
    let here: Member = { at: start, value: start }
    for (const key of fromPointer(pointer)) {
      const member = this.#membersAt(here.value)?.get(key)
      if (member) here = member
      // Shorthand was expanded: what is inside it may be in the file.
      else if (this.#text[here.value] !== '{') break
    }
    return this.#at(what === 'key' ? here.at : here.value)
  }

  #membersAt(offset: number): ReadonlyMap<string, Member> | undefined {
    const opening = this.#text[offset]
    if (opening !== '{' && opening !== '[') return undefined
    const known = this.#members.get(offset)
    if (known) return known
    const found = new Map<string, Member>()
    let n = 0
    for (const { at, keyEnd, value } of membersIn(this.#text, offset)) {
      const key = opening === '{' ? (JSON.parse(this.#text.slice(at, keyEnd)) as string) : String(n++)
      found.set(key, { at, value })
    }
    this.#members.set(offset, found)
    return found
  }
}

/** Where a member of an object or list is, all as offsets: from `at` to `keyEnd` its key, from `value` to `end` its value. */
export interface MemberPlace {
  /** Of the key, or of an entry of a list. */
  readonly at: number
  /** Behind the key's quotes; in a list the same as `at`. */
  readonly keyEnd: number
  readonly value: number
  readonly end: number
  /** Of the comma or bracket that follows. */
  readonly next: number
}

/** The members of the object or list that begins at an offset. */
export function* membersIn(text: string, offset: number): Generator<MemberPlace> {
  const isObject = text[offset] === '{'
  let at = afterSpace(text, offset + 1)
  while (text[at] !== '}' && text[at] !== ']') {
    const keyEnd = isObject ? endOfString(text, at) + 1 : at
    const value = isObject ? afterSpace(text, afterSpace(text, keyEnd) + 1) : at
    const inside = endOfValue(text, value)
    const next = afterSpace(text, inside)
    yield { at, keyEnd, value, end: trimmed(text, inside), next }
    at = text[next] === ',' ? afterSpace(text, next + 1) : next
  }
}

/** The offset behind the last character before an offset that is no white space. */
function trimmed(text: string, end: number): number {
  while (text.charCodeAt(end - 1) <= 0x20) end--
  return end
}

function afterSpace(text: string, at: number): number {
  while (text.charCodeAt(at) <= 0x20) at++
  return at
}

/** The offset behind a value. */
function endOfValue(text: string, start: number): number {
  let depth = 0
  for (let at = start; at < text.length; at++) {
    switch (text.charCodeAt(at)) {
      case 0x22: // "
        at = endOfString(text, at)
        if (depth === 0) return at + 1
        break
      case 0x7b: // {
      case 0x5b: // [
        depth++
        break
      case 0x7d: // }
      case 0x5d: // ]
        // The end of a number or word that is the last of its object or list.
        if (depth === 0) return at
        if (--depth === 0) return at + 1
        break
      case 0x2c: // ,
        if (depth === 0) return at
    }
  }
  return text.length
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
