import { expect } from 'chai'
import { SiteError, WembraError, type Json } from 'wembra'
import { importSite, readMapping } from 'wembra/reality'

const mappingOf = (records: readonly string[]) =>
  readMapping(['mapping: 1', 'records:', ...records.map((record) => `  - ${record}`)].join('\n'), 'm.yaml')

/** What a mapping makes of an export; or the words of the error that it ends in. */
function imported(records: readonly string[], value: Json): unknown {
  try {
    return importSite(mappingOf(records), [{ name: 'export.json', value }], 'm.yaml').document
  } catch (error) {
    if (!(error instanceof WembraError)) throw error
    return error.message
  }
}

const LAYOUT = '{ from: { at: "$.pages[*]" }, to: "/pages/{id}/layout", fields: { title: title } }'
const NAMES = ['__proto__', 'constructor', 'toString', 'valueOf', 'hasOwnProperty'] as const

describe('exports that were made to break what imports them', () => {
  afterEach(() => {
    expect(Object.keys(Object.prototype)).to.deep.equal([])
    expect(({} as { title?: unknown }).title).to.equal(undefined)
  })

  for (const name of NAMES) {
    it(`a record called ${name} is a page like others`, () => {
      const document = imported([LAYOUT], { pages: [{ id: name, title: 'absent' }] }) as { pages: object }
      expect(Object.keys(document.pages)).to.deep.equal([name])
      const page = Object.getOwnPropertyDescriptor(document.pages, name)?.value as unknown
      expect(page).to.deep.equal({ layout: { title: 'absent' } })
    })

    if (name !== '__proto__')
      it(`a condition on ${name}, which no record has, holds for none`, () => {
        const record = `{ from: { at: "$.pages[*]" }, where: { ${name}: x }, to: "/pages/{id}", fields: { title: title } }`
        expect(imported([record], { pages: [{ id: 'a', title: 'A' }] })).to.deep.include({ pages: {} })
      })
  }

  it('a list where there is a map is told with its place in the export', () => {
    const records = [
      '{ from: { at: "$.site" }, to: /styles, fields: { css: css } }',
      '{ from: { at: "$.more[*]" }, to: /styles/-, fields: { css: css } }',
    ]
    expect(imported(records, { site: { css: 'a' }, more: [{ css: 'b' }] })).to.contain('styles/- leads into a value')
  })

  it('a map where there is a value is told, too', () => {
    const records = [
      '{ from: { at: "$.name" }, to: /site, value: "" }',
      '{ from: { at: "$.x" }, to: /site/name, value: y }',
    ]
    expect(imported(records, { name: 'Tarn', x: { y: 'z' } })).to.be.a('string')
  })

  it('two records for one place are told', () => {
    expect(
      imported([LAYOUT], {
        pages: [
          { id: 'a', title: 'absent' },
          { id: 'a', title: 'shown' },
        ],
      }),
    ).to.contain('two records go to /pages/a/layout')
  })
})

describe('mappings that were made to break what reads them', () => {
  for (const [what, text] of [
    ['a function', 'mapping: 1\nrecords: [ { to: /a, value: !!js/function "function () {}" } ]'],
    ['a regular expression', 'mapping: 1\nrecords: [ { to: /a, value: !!js/regexp /(a+)+$/ } ]'],
    ['no records', 'mapping: 1\nrecords: []'],
    ['a place that is no pointer', 'mapping: 1\nrecords: [ { to: pages } ]'],
    ['an unknown key', 'mapping: 1\nrecords: [ { to: /a, run: rm } ]'],
    ['a key __proto__', 'mapping: 1\nrecords: [ { to: /a, value: x, where: { __proto__: x } } ]'],
    ['another version', 'mapping: 2\nrecords: [ { to: /a, value: x } ]'],
    ['nothing', ''],
  ] as const)
    it(`${what} is told with its place`, () => {
      let problems: SiteError['problems'] = []
      try {
        readMapping(text, 'm.yaml')
      } catch (error) {
        if (!(error instanceof SiteError)) throw error
        problems = error.problems
      }
      expect(problems.length).to.be.above(0)
      for (const { line, column, file } of problems)
        expect([line >= 1, column >= 1, file]).to.deep.equal([true, true, 'm.yaml'])
    })

  it('a path into the export that is no JSONPath is told with the mapping’s name', () => {
    expect(imported(['{ from: { at: "$[" }, to: /a, value: x }'], {})).to.match(/m\.yaml/)
  })
})
