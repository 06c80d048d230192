import { Ajv2020 } from 'ajv/dist/2020.js'
import { expect } from 'chai'
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { siteJsonSchema } from 'wembra'
import { mappingJsonSchema, observationJsonSchema } from 'wembra/reality'
import { parse } from 'yaml'

const FOLDER = 'examples/quillmere'
const validate = new Ajv2020({ allErrors: true, strict: false, code: { optimize: false } }).compile(siteJsonSchema())
const problemsOf = (text: string): string[] => {
  validate(parse(text))
  return (validate.errors ?? []).map((e) => `${e.instancePath} ${e.message ?? ''}`)
}

describe('the JSON Schema of site files', () => {
  const files = readdirSync(FOLDER, { recursive: true, encoding: 'utf8' }).filter((name) => name.endsWith('.yaml'))

  for (const file of files)
    it(`takes ${file}, which names it to editors`, () => {
      const text = readFileSync(join(FOLDER, file), 'utf8')
      expect(text).to.match(/^# yaml-language-server: \$schema=[./]*docs\/site\.schema\.json/m)
      expect(problemsOf(text)).to.deep.equal([])
    })

  for (const [what, text] of [
    [
      'shorthand',
      'theme: { layout: { title: { phone: absent, else: shown }, spacing: 4px 8px, width: full, findable: false, header: inherit } }',
    ],
    ['values by viewport', 'theme: { layout: { header: { position: { phone: flow, else: fixed } } } }'],
  ] as const)
    it(`takes ${what}`, () => expect(problemsOf(text)).to.deep.equal([]))

  for (const [what, text] of [
    ['an unknown key', 'teme: {}'],
    ['an unknown property', 'theme: { layout: { header: { postion: fixed } } }'],
    ['a word that is none', 'theme: { layout: { header: { position: stuck } } }'],
    ['a wrong type', 'pages: { a: { path: /a, title: 3 } }'],
  ] as const)
    it(`complains of ${what}`, () => expect(problemsOf(text)).to.not.deep.equal([]))

  it('is written in docs as it is made', () => {
    const schemas = { site: siteJsonSchema(), mapping: mappingJsonSchema(), observation: observationJsonSchema() }
    for (const [name, schema] of Object.entries(schemas))
      expect(JSON.parse(readFileSync(`docs/${name}.schema.json`, 'utf8')), name).to.deep.equal(schema)
  })
})
