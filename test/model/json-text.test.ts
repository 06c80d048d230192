import { expect } from 'chai'
import { readSite, SiteError, type Json } from 'wembra'
import { loadSite } from 'wembra/node'

/** Every pointer of a document. */
function* pointers(value: Json, at = ''): Iterable<string> {
  yield at
  if (typeof value !== 'object' || value === null) return
  for (const [key, inner] of Object.entries(value))
    yield* pointers(inner as Json, `${at}/${key.replaceAll('~', '~0').replaceAll('/', '~1')}`)
}

/** The same site as text with a layout of its own: how deep it is indented, and with what line ends. */
const LAYOUTS: Readonly<Record<string, (data: unknown) => string>> = {
  'two spaces': (data) => JSON.stringify(data, null, 2),
  'a tab': (data) => JSON.stringify(data, null, '\t'),
  'all on one line': (data) => JSON.stringify(data),
  'Windows line ends': (data) => JSON.stringify(data, null, 1).replaceAll('\n', '\r\n'),
}

describe('a site file that is JSON', () => {
  for (const [layout, write] of Object.entries(LAYOUTS))
    it(`has every key and entry at the place where YAML, of which JSON is a part, has it: ${layout}`, async () => {
      const { data } = await loadSite('examples/quillmere-clean')
      const text = write({ ...data, include: undefined, extends: undefined, tokens: undefined, styles: undefined })
      const [json, yaml] = ['a.site.json', 'a.site.yaml'].map((file) => readSite(text, { file }))
      const all = [...pointers(JSON.parse(text) as Json)]
      expect(all.length).to.be.above(300)
      // The tab that stands before a key is one column in both.
      for (const pointer of all) {
        const { line, column } = yaml?.locate(pointer) ?? {}
        expect(json?.locate(pointer), pointer).to.include({ file: 'a.site.json', line, column })
      }
    })

  for (const [text, line, column, says] of [
    ['{"wembra": 1,}', 1, 14, 'property name expected before "}"'],
    ['{"wembra" 1}', 1, 11, 'colon expected before "1"'],
    ['{"wembra": 1\n "site": {}}', 2, 2, 'comma expected before "\\"site\\""'],
    ['{"wembra": tru}', 1, 12, 'invalid symbol: "tru"'],
    ['{"wembra":\n 01}', 2, 3, 'comma expected before "1"'],
    ["{'wembra': 1}", 1, 2, 'invalid symbol: "\'wembra\'"'],
    ['{"wembra": "1', 1, 12, 'unexpected end of string: "\\"1"'],
    ['{"wembra": 1', 1, 13, 'close brace expected before the end of the text'],
    ['{"a": [1, 2}', 1, 12, 'comma expected before "}"'],
    ['{"wembra": 1} x', 1, 15, 'invalid symbol: "x"'],
    ['// no\n{}', 1, 1, 'invalid comment token: "// no"'],
    ['{"a": "\\q"}', 1, 7, 'invalid escape character: "\\"\\\\q\\""'],
  ] as const)
    it(`is no JSON, and told where: ${JSON.stringify(text)}`, () => {
      try {
        readSite(text, { file: 'a.site.json' })
        expect.fail('it was read')
      } catch (error) {
        if (!(error instanceof SiteError)) throw error
        const message = `${says}; the file is read as JSON (RFC 8259)`
        expect(error.problems).to.deep.equal([{ code: 'bad-syntax', file: 'a.site.json', line, column, message }])
      }
    })

  it('is not read by what only YAML takes', () => {
    for (const text of ['wembra: 1', '{ wembra: 1 }', '{"wembra": 1, }', '{"wembra": .5}'])
      expect(() => readSite(text, { file: 'a.json' }), text).to.throw(SiteError, /RFC 8259/)
  })
})
