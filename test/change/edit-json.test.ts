import { expect } from 'chai'
import fc from 'fast-check'
import { applyPatch, type Operation } from 'rfc6902'
import { editJson, JsonText, PageLines } from '../../src/change/edit-json.js'
import { EditError, type TextOperation } from '../../src/change/edit-text.js'

const add = (path: string, value: unknown): TextOperation => ({ op: 'add', path, value: value as never })
const replace = (path: string, value: unknown): TextOperation => ({ op: 'replace', path, value: value as never })
const remove = (path: string): TextOperation => ({ op: 'remove', path })

const LINES = '{\n  "a": { "b": 1 },\n  "c": [1]\n}\n'
/** Title, text before, operation, text after: written by hand. */
const CASES: readonly (readonly [string, string, TextOperation, string])[] = [
  ['a key of a map on one line', LINES, add('/a/d', { e: 'x' }), LINES.replace('1 }', '1, "d": {"e":"x"} }')],
  ['the last key of a map over several lines', LINES, remove('/c'), '{\n  "a": { "b": 1 }\n}\n'],
  ['the first key', LINES, remove('/a'), '{\n  "c": [1]\n}\n'],
  ['a key on a line of its own', LINES, add('/d', null), '{\n  "a": { "b": 1 },\n  "c": [1],\n  "d": null\n}\n'],
  ['a key without spaces where none are', '{"a":1,"b":2}', add('/c', 'x'), '{"a":1,"b":2,"c":"x"}'],
  ['the only key', '{ "a": { "b": 1 } }', remove('/a/b'), '{ "a": {} }'],
  ['a key in an empty object', '{ "a": {} }', add('/a/b', 1), '{ "a": { "b": 1 } }'],
  ['an entry at the end', '{ "l": [ 1, 2 ] }', add('/l/-', 3), '{ "l": [ 1, 2, 3 ] }'],
  ['an entry at the beginning', '[\n\t1,\n\t2\n]', add('/0', 0), '[\n\t0,\n\t1,\n\t2\n]'],
  ['an entry between', '[ "a", "c" ]', add('/1', 'b'), '[ "a", "b", "c" ]'],
  ['an entry in between away', '[1, 2 , 3]', remove('/1'), '[1, 3]'],
  ['a number, its white space kept', '{ "a" :  1.50e1 , "b":2 }', replace('/b', 3), '{ "a" :  1.50e1 , "b":3 }'],
  ['a key that needs escapes', '{"a\\u0041":1}', replace('/aA', 2), '{"a\\u0041":2}'],
  [
    'brackets and quotes in texts are no brackets',
    '{"a":"}\\"]","b":[0]}',
    replace('/b/0', 1),
    '{"a":"}\\"]","b":[1]}',
  ],
  ['Windows line ends', '{\r\n  "a": 1\r\n}\r\n', add('/b', 2), '{\r\n  "a": 1,\r\n  "b": 2\r\n}\r\n'],
  ['a key where nothing is said', '{ "a": null }', add('/a/b', 1), '{ "a": {"b":1} }'],
]

describe('changing one thing in a JSON text', () => {
  for (const [title, before, operation, after] of CASES)
    it(`${operation.op}s ${title}`, () => expect(editJson(before, operation)).to.equal(after))

  for (const operation of [
    replace('', 1),
    remove('/x'),
    add('/a/b/c', 1),
    replace('/l/4', 1),
    add('/l/4', 1),
    remove('/l/1'),
  ])
    it(`refuses to ${operation.op} what is not there: "${operation.path}"`, () => {
      expect(() => editJson('{ "a": 1, "l": [ 0 ] }', operation)).to.throw(EditError)
    })

  it('says what a JSON Patch says, whatever the text, for several changes in a row', () => {
    fc.assert(
      fc.property(
        fc.jsonValue({ maxDepth: 4 }),
        fc.nat(3),
        fc.array(fc.tuple(fc.nat(), fc.nat(), fc.jsonValue({ maxDepth: 1 })), { maxLength: 6 }),
        (root, space, changes) => {
          const value = { root } as unknown
          const edited = new JsonText(` ${JSON.stringify(value, null, space)}\n`)
          for (const [which, how, next] of changes) {
            const operation = operationOn(value, which, how, next)
            const [error] = applyPatch(value, [operation as Operation])
            if (error === null) edited.apply(operation)
          }
          expect(JSON.parse(edited.text)).to.deep.equal(JSON.parse(JSON.stringify(value)))
          expect(edited.text.startsWith(' ') && edited.text.endsWith('\n')).to.equal(true)
        },
      ),
      { numRuns: 400, seed: 7 },
    )
  })

  it('finds keys among many when some were taken away and others came', () => {
    const many = Object.fromEntries(Array.from({ length: 40 }, (_, n) => [`k${n}`, n]))
    const edited = new JsonText(JSON.stringify(many))
    for (const operation of [
      remove('/k3'),
      remove('/k39'),
      add('/k3', 'again'),
      replace('/k20', 'other'),
      remove('/k0'),
    ])
      edited.apply(operation)
    const { k0: _k0, k3: _k3, k39: _k39, ...rest } = many
    expect(edited.text).to.equal(JSON.stringify({ ...rest, k20: 'other', k3: 'again' }))
    expect(() => edited.apply(remove('/k39'))).to.throw(EditError, 'there is no k39')
  })

  it('keeps every character of other parts', () => {
    const other = '"b" :  [ 1,2 ,\t3 ] ,\r\n "c"\n:{ "d":0.10 }'
    expect(editJson(`{"a":1,${other}}`, replace('/a', { x: [] }))).to.equal(`{"a":{"x":[]},${other}}`)
  })
})

describe('changing pages of newline-delimited JSON', () => {
  it('changes the line of the page, and no other', () => {
    const before = '{"id":"a","path":"/a"}\r\n\n{"id":"b", "path":"/b"}\n'
    const edited = new PageLines(before).apply(add('/pages/b/title', 'B')).apply(add('/pages/a/title', 'A'))
    expect(edited.text).to.equal('{"id":"a","path":"/a","title":"A"}\r\n\n{"id":"b", "path":"/b", "title":"B"}\n')
  })

  it('refuses pages that come, go, or are not there', () => {
    const pages = new PageLines('{"id":"a","path":"/a"}\n')
    for (const operation of [remove('/pages/a'), add('/pages/b', {}), add('/pages/b/title', 'B')])
      expect(() => pages.apply(operation)).to.throw(EditError)
  })
})

/** An operation at one of the places of a value. */
function operationOn(value: unknown, which: number, how: number, next: unknown): TextOperation {
  const places: string[] = []
  const walk = (each: unknown, at: string): void => {
    if (typeof each !== 'object' || each === null) return
    for (const [key, inside] of Object.entries(each)) {
      const path = `${at}/${key.replaceAll('~', '~0').replaceAll('/', '~1')}`
      places.push(path)
      walk(inside, path)
    }
    places.push(`${at}/${Array.isArray(each) ? '-' : 'fresh'}`)
  }
  walk((value as { root: unknown }).root, '/root')
  const path = places[which % places.length] ?? '/root'
  if (how % 3 === 0 || /\/(-|fresh)$/.test(path)) return add(path, next)
  return how % 3 === 1 ? remove(path) : replace(path, next)
}
