import fc from 'fast-check'
import { readdirSync, readFileSync } from 'node:fs'
import { parse, stringify } from 'yaml'

/** Names and words that have broken readers: of every object, of numbers, signs, escapes and half characters. */
const HOSTILE = [
  ...['__proto__', 'constructor', 'toString', 'valueOf', 'hasOwnProperty', 'null', 'true', '~', '.nan', '.inf', '-0'],
  ...['1e308px', '-1px', '100vw', 'calc(1px + 2', 'calc(:calc(', 'min(', 'NaN', '9007199254740993', '0x10', '1_000'],
  ...[
    '\u0000',
    '\ud800',
    '\u202e',
    '\u001b[31m',
    '\u001b]8;;x\u0007',
    '<script>',
    '"><img src=x>',
    ']]>',
    '-->',
    '&nbsp;',
  ],
  ...[
    '{',
    '}',
    '[',
    ']',
    ':',
    ',',
    '&a',
    '*a',
    '!!js/function',
    '|',
    '>',
    '#',
    '%',
    '@',
    '`',
    '"',
    "'",
    '\t',
    '\n',
    '---',
  ],
  ...['all', 'else', 'inherit', 'revert', 'absent', 'hidden', 'shown', 'auto', 'none', '{a.b}', '../../x', '/dev/zero'],
  ...['color(', 'rgb(1 2', '#12', '/1é', 'a+++++++++(', 'x(1))y(:z(', '!important', '@media (', '@import url(x)'],
]

export const hostile = fc.constantFrom(...HOSTILE)

/** One change of a text: a stretch taken out, doubled, moved, or something hostile put in its place. */
type Cut = readonly ['out' | 'twice' | 'swap' | 'put', number, number, string]
const cut: fc.Arbitrary<Cut> = fc.tuple(
  fc.constantFrom('out', 'twice', 'swap', 'put'),
  fc.double({ min: 0, max: 1, noNaN: true }),
  fc.double({ min: 0, max: 1, noNaN: true }),
  fc.oneof({ weight: 4, arbitrary: hostile }, { weight: 1, arbitrary: fc.string({ maxLength: 8 }) }),
)

function changed(text: string, cuts: readonly Cut[]): string {
  let here = text
  for (const [how, at, share, word] of cuts) {
    const start = Math.floor(at * here.length)
    const end = Math.min(here.length, start + Math.ceil(share * share * Math.min(40, here.length)))
    const piece = here.slice(start, end)
    const instead = { out: '', twice: piece + piece, swap: `${here.slice(end, end + 8)}${piece}`, put: word }[how]
    here = here.slice(0, start) + instead + here.slice(end)
  }
  return here
}

/** One of some texts, as it is or a little different. */
export const variantOf = (texts: readonly string[]): fc.Arbitrary<string> =>
  fc.tuple(fc.constantFrom(...texts), fc.array(cut, { maxLength: 4 })).map(([text, cuts]) => changed(text, cuts))

/** Bytes of a file, cut off anywhere or with some bytes changed. */
export const brokenBytes = (files: readonly Uint8Array[]): fc.Arbitrary<Uint8Array> =>
  fc
    .tuple(
      fc.constantFrom(...files),
      fc.double({ min: 0, max: 1, noNaN: true }),
      fc.array(fc.tuple(fc.double({ min: 0, max: 1, noNaN: true }), fc.integer({ min: 0, max: 255 })), {
        maxLength: 6,
      }),
      fc.boolean(),
    )
    .map(([file, end, changes, isCut]) => {
      const bytes = Uint8Array.from(isCut ? file.subarray(0, Math.floor(end * file.length)) : file)
      for (const [at, byte] of changes) bytes[Math.floor(at * bytes.length)] = byte
      return bytes
    })

type Tree = null | boolean | number | string | Tree[] | { [key: string]: Tree }

const isMap = (tree: Tree): tree is { [key: string]: Tree } =>
  typeof tree === 'object' && tree !== null && !Array.isArray(tree)

/** Every entry of a tree: the map or list that it is in, and its key there. */
function entriesOf(tree: Tree, found: [Tree[] | { [key: string]: Tree }, string][] = []): typeof found {
  if (typeof tree !== 'object' || tree === null) return found
  for (const key of Object.keys(tree)) {
    found.push([tree, key])
    entriesOf((tree as { [key: string]: Tree })[key] as Tree, found)
  }
  return found
}

/** What the demo sites write under each key: values that may stand there, and what they refer to may not. */
const WRITTEN = new Map<string, Tree[]>()
for (const folder of ['examples/quillmere', 'examples/quillmere-winter'])
  for (const file of readdirSync(folder, { recursive: true, encoding: 'utf8' }))
    if (file.endsWith('.yaml'))
      for (const [among, key] of entriesOf(parse(readFileSync(`${folder}/${file}`, 'utf8')) as Tree)) {
        const value = (among as { [key: string]: Tree })[key] as Tree
        if (Array.isArray(among) || JSON.stringify(value).length > 600) continue
        WRITTEN.set(key, [...(WRITTEN.get(key) ?? []), value])
      }
const KEYS = [...WRITTEN.keys()]

/** One change of what a text says: where it is, what is done there, and what the choice of a value is made by. */
type Graft = readonly [
  at: number,
  how: 'out' | 'word' | 'number' | 'alike' | 'other' | 'list' | 'widths' | 'key' | 'add' | 'twice',
  choice: number,
  word: string,
]
const share = fc.double({ min: 0, max: 0.999999, noNaN: true })
const graft: fc.Arbitrary<Graft> = fc.tuple(
  share,
  fc.constantFrom('out', 'word', 'number', 'alike', 'other', 'list', 'widths', 'key', 'add', 'twice'),
  share,
  hostile,
)
const NUMBERS = [0, -1, 0.1, 1e9, 33_554_431, 33_554_433, 1e308, -1e-308, 2 ** 53]
const pick = <T>(list: readonly T[], choice: number): T => list[Math.floor(choice * list.length)] as T

function grafted(text: string, grafts: readonly Graft[], asJson: boolean): string {
  const tree = parse(text) as Tree
  for (const [at, how, choice, word] of grafts) {
    const entries = entriesOf(tree)
    const entry = pick(entries, at)
    if (!entry) break
    const [among, key] = entry
    const map = among as { [key: string]: Tree }
    const value = map[key] as Tree
    const other = pick(KEYS, choice)
    const put = (under: string, what: Tree): void => {
      Object.defineProperty(among, under, {
        value: structuredClone(what),
        enumerable: true,
        configurable: true,
        writable: true,
      })
    }
    if (how === 'out') Array.isArray(among) ? among.splice(Number(key), 1) : Reflect.deleteProperty(among, key)
    else if (how === 'word') put(key, word)
    else if (how === 'number') put(key, pick(NUMBERS, choice))
    else if (how === 'alike') put(key, pick(WRITTEN.get(key) ?? [value], choice))
    else if (how === 'other') put(key, pick(WRITTEN.get(other) ?? [value], choice))
    else if (how === 'list') put(key, [value, value])
    else if (how === 'widths') put(key, { desk: value, phone: pick(WRITTEN.get(key) ?? [value], choice), else: value })
    else if (how === 'twice')
      Array.isArray(among) ? among.splice(Number(key), 0, structuredClone(value)) : put(`${key}-2`, value)
    else if (isMap(among)) {
      const under = how === 'key' ? word : other
      put(under, how === 'key' ? value : pick(WRITTEN.get(other) ?? [value], choice))
    }
  }
  return asJson ? JSON.stringify(tree) : stringify(tree, { lineWidth: 0 })
}

/** A site's text with single letters changed, or one that says something else in some places. */
export const variantOfSite = (texts: readonly string[]): fc.Arbitrary<string> =>
  fc.oneof(
    variantOf(texts),
    fc
      .tuple(fc.constantFrom(...texts), fc.array(graft, { minLength: 1, maxLength: 4 }), fc.boolean())
      .map(([text, grafts, asJson]) => grafted(text, grafts, asJson)),
  )
