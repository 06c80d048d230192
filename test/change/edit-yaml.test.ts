import { expect } from 'chai'
import { parse, stringify } from 'yaml'
import { applyPatch, type Operation } from 'rfc6902'
import { EditError, type TextOperation } from '../../src/change/edit-text.js'
import { editYaml } from '../../src/change/edit-yaml.js'
import { Random } from '../support/random-site.js'

const add = (path: string, value: unknown): TextOperation => ({ op: 'add', path, value: value as never })
const replace = (path: string, value: unknown): TextOperation => ({ op: 'replace', path, value: value as never })
const remove = (path: string): TextOperation => ({ op: 'remove', path })

/** Title, text before, operation, text after. */
const CASES: readonly (readonly [string, string, TextOperation, string])[] = [
  ['a plain scalar', 'a: 1 # one\nb: 2\n', replace('/a', 3), 'a: 3 # one\nb: 2\n'],
  ['a double-quoted text keeps its quotes', 'a: "x" # y\n', replace('/a', 'p "q"'), 'a: "p \\"q\\"" # y\n'],
  ['a single-quoted text keeps its quotes', "a: 'x'\n", replace('/a', "it's"), "a: 'it''s'\n"],
  ['a text that needs quotes gets them', 'a: x\n', replace('/a', '#fff'), 'a: "#fff"\n'],
  ['a comma within a flow map', '{ a: x, b: y }\n', replace('/a', 'p, q'), '{ a: "p, q", b: y }\n'],
  ['a key in a flow map', 'l: { a: 1 } # keep\n', add('/l/b', 'auto'), 'l: { a: 1, b: auto } # keep\n'],
  ['a key in an empty flow map', 'l: {}\n', add('/l/b', 2), 'l: { b: 2 }\n'],
  [
    'a key in a flow map over several lines',
    'l: {\n  a: 1,\n  b: 2\n}\n',
    add('/l/c', 3),
    'l: {\n  a: 1,\n  b: 2,\n  c: 3\n}\n',
  ],
  [
    'a key in a block map',
    'l:\n  a: 1 # one\n# two\nm: 2\n',
    add('/l/b', [1]),
    'l:\n  a: 1 # one\n  b: [ 1 ]\n# two\nm: 2\n',
  ],
  [
    'a key behind a nested block',
    'l:\n  a:\n    b: 1\n\n  # end\nm: 2\n',
    add('/l/c', 3),
    'l:\n  a:\n    b: 1\n  c: 3\n\n  # end\nm: 2\n',
  ],
  ['a key where nothing is said', 'l:\nm: 2\n', add('/l/a', 1), 'l: { a: 1 }\nm: 2\n'],
  ['a map at the end without a line end', 'l:\n  a: 1', add('/l/b', 2), 'l:\n  a: 1\n  b: 2'],
  ['an item of a flow list', 'l: [ a, c ]\n', add('/l/1', 'b'), 'l: [ a, b, c ]\n'],
  ['an item at a flow list’s end', 'l: [ a ]\n', add('/l/-', 'b'), 'l: [ a, b ]\n'],
  [
    'an item of a block list',
    'l:\n  - a\n  # why\n  - c\n',
    add('/l/-', { x: 1 }),
    'l:\n  - a\n  # why\n  - c\n  - { x: 1 }\n',
  ],
  ['a block list’s first item', 'l:\n  - b\n', add('/l/0', 'a'), 'l:\n  - a\n  - b\n'],
  ['the first of a flow map', '{ a: 1, b: 2 }\n', remove('/a'), '{ b: 2 }\n'],
  ['the last of a flow map', '{ a: 1, b: 2 }\n', remove('/b'), '{ a: 1 }\n'],
  ['the only one of a flow map', 'l: { a: 1 }\n', remove('/l/a'), 'l: {}\n'],
  [
    'a key of a block map, whose comment goes to where it was',
    '# c\na: 1\nb: 2 # two\n# d\ne: 3\n',
    remove('/b'),
    '# c\na: 1\n# two\n# d\ne: 3\n',
  ],
  ['a nested block', 'a:\n  b:\n    c: 1\n  d: 2\n', remove('/a/b'), 'a:\n  d: 2\n'],
  ['the only key of a block map', 'a:\n  b: 1\nc: 2\n', remove('/a/b'), 'a: {}\nc: 2\n'],
  ['the first key behind a dash', 'l:\n  - id: x\n    b: 1\n', remove('/l/0/id'), 'l:\n  - b: 1\n'],
  ['an item of a block list away', 'l:\n  - a # x\n  - b\n', remove('/l/0'), 'l:\n  # x\n  - b\n'],
  ['a block for a flow map', 'a:\n  b: 1\n  c: 2\nd: 3\n', replace('/a', { b: 4 }), 'a: { b: 4 }\nd: 3\n'],
  ['a folded text away', 'a: >\n  one\n  two\nb: 1\n', remove('/a'), 'b: 1\n'],
  ['Windows line ends', 'a: 1\r\nl:\r\n  b: 2\r\n', add('/l/c', 3), 'a: 1\r\nl:\r\n  b: 2\r\n  c: 3\r\n'],
  ['anchors elsewhere', 'a: &x { k: 1 }\nb: *x\nc: 2\n', replace('/c', 3), 'a: &x { k: 1 }\nb: *x\nc: 3\n'],
]

describe('changing one thing in a YAML text', () => {
  for (const [title, before, operation, after] of CASES)
    it(`${operation.op}s ${title}`, () => expect(editYaml(before, operation)).to.equal(after))

  it('refuses what stands behind an alias, for it is used elsewhere', () => {
    expect(() => editYaml('a: &x { k: 1 }\nb: *x\n', replace('/b/k', 2))).to.throw(EditError)
  })

  it('says what a JSON Patch says, and keeps every comment, on 400 random edits', () => {
    const random = new Random(11)
    for (let n = 0; n < 400; n++) {
      const value = randomValue(random, 3) as Record<string, unknown>
      const text = randomText(random, value, 0)
      const operation = randomEdit(random, value)
      const expected = structuredClone(value)
      expect(applyPatch(expected, [operation as Operation])).to.deep.equal([null])
      const edited = editYaml(text, operation)
      expect(parse(edited), `${text}\n${JSON.stringify(operation)}\n${edited}`).to.deep.equal(expected)
      if (operation.op === 'add') for (const comment of text.match(/#\d+/g) ?? []) expect(edited).to.contain(comment)
    }
  })
})

function randomValue(random: Random, depth: number): unknown {
  const kind = depth === 3 ? 0 : random.below(depth > 0 ? 4 : 2) + (depth > 0 ? 0 : 2)
  if (kind === 0)
    return Object.fromEntries(
      Array.from({ length: 1 + random.below(4) }, (_, n) => [`k${n}`, randomValue(random, depth - 1)]),
    )
  if (kind === 1) return Array.from({ length: 1 + random.below(3) }, () => randomValue(random, depth - 1))
  return random.pick([1, true, 'plain', 'a, b', 'x: y', '#hash', '', "it's", '{brace}', '- dash', 'two\nlines'])
}

/** The value as somebody might have typed it: blocks and flow, with comments. */
function randomText(random: Random, value: unknown, indent: number): string {
  const space = ' '.repeat(indent)
  const comment = (): string => (random.chance(0.3) ? ` #${random.below(1000)}` : '')
  const isMap = typeof value === 'object' && value !== null && !Array.isArray(value)
  const behind = (each: unknown): string => {
    if (typeof each !== 'object' || each === null || random.chance(0.4)) return ` ${flow(each)}${comment()}\n`
    return `${comment()}\n${randomText(random, each, indent + 2)}`
  }
  if (isMap)
    return Object.entries(value as object)
      .map(
        ([key, each]) =>
          `${random.chance(0.2) ? `${space}#${random.below(1000)}\n` : ''}${space}${key}:${behind(each)}`,
      )
      .join('')
  return (value as unknown[]).map((each) => `${space}- ${flow(each)}${comment()}\n`).join('')
}

const flow = (value: unknown): string =>
  typeof value === 'string'
    ? JSON.stringify(value)
    : stringify(value, { collectionStyle: 'flow', lineWidth: 0, defaultStringType: 'QUOTE_DOUBLE' }).trim()

function randomEdit(random: Random, root: Record<string, unknown>): TextOperation {
  const paths: string[] = []
  const walk = (value: unknown, at: string): void => {
    if (typeof value !== 'object' || value === null) return
    for (const [key, each] of Object.entries(value)) {
      paths.push(`${at}/${key}`)
      walk(each, `${at}/${key}`)
    }
  }
  walk(root, '')
  const path = random.pick(paths)
  const value = random.pick<unknown>([5, 'new', 'p, q', { x: 1, y: 'a: b' }, [1, 'two']])
  const kind = random.below(3)
  if (kind === 0) return replace(path, value)
  if (kind === 1 && !(Object.keys(root).length === 1 && path.split('/').length === 2)) return remove(path)
  const parent = path.split('/').slice(0, -1)
  const isList = /^\d+$/.test(path.split('/').at(-1) ?? '')
  return add([...parent, isList ? random.pick(['-', '0']) : 'fresh'].join('/'), value)
}
