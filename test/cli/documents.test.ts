import { Ajv } from 'ajv'
import { expect } from 'chai'
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { reportsJsonSchema } from '../../scripts/report-schemas.js'
import { wembraHere } from '../support/command-line.js'
import { RECORDED, recordedLines } from '../support/recorded.js'

const DEMO = 'examples/quillmere'
const SCHEMA = JSON.parse(readFileSync('docs/reports.schema.json', 'utf8')) as {
  readonly definitions: Record<string, object>
}
const ajv = new Ajv({ allErrors: true, strict: false, code: { optimize: false } })
ajv.addSchema(SCHEMA, 'reports')

const TARN = `wembra: 1
site: { name: Tarn }
surrounds: { top: { as: header, height: 96px } }
theme: { layout: { header: { use: top, position: fixed }, spacing: 40px } }
templates: { wide: { layout: { width: full } } }
pages:
  visit: { path: /visit, title: Visit, body: [ { section: hero, height: 300px, items: [ { text: Come } ] } ] }
  hours: { path: /hours, title: Hours, template: wide }
`
const MAPPING = 'mapping: 1\nrecords: [ { to: "/pages/{slug}", fields: { path: url, title: name } } ]\n'
const FILES = {
  'tarn.site.yaml': TARN,
  'fell.site.yaml': TARN.replaceAll('Tarn', 'Fell'),
  'map.yaml': MAPPING,
  'pages.csv': 'slug,url,name,more\na,/a,A,x\n',
}
const folder = (): string => {
  const path = mkdtempSync(join(tmpdir(), 'wembra-documents-'))
  for (const [name, text] of Object.entries(FILES)) writeFileSync(join(path, name), text)
  return path
}

/** The document that a command prints, and what its schema has against it. */
async function printed(where: string, words: readonly string[]): Promise<{ report: string; problems: string[] }> {
  const { out, err } = await wembraHere(where, ...words, '--format', 'json')
  if (out === '') throw new Error(err)
  const document = JSON.parse(out) as { readonly report: string }
  const name = `${document.report[0]?.toUpperCase()}${document.report.slice(1)}Document`
  const validate = ajv.getSchema(`reports#/definitions/${name}`)
  if (!validate) throw new Error(`there is no definition ${name}`)
  validate(document)
  const problems = (validate.errors ?? []).map(
    (e) => `${e.instancePath} ${e.message ?? ''} ${JSON.stringify(e.params)}`,
  )
  return { report: document.report, problems: problems.slice(0, 5) }
}

/** Each report by commands that print it. */
const COMMANDS: Readonly<Record<string, readonly (readonly string[])[]>> = {
  findings: [
    ['check', 'tarn.site.yaml'],
    ['check', 'tarn.site.yaml', '--rule', 'header-covers-content', '--no-fixes'],
  ],
  checks: [
    ['check', 'tarn.site.yaml', 'fell.site.yaml'],
    ['check', 'tarn.site.yaml', 'gone.site.yaml'],
  ],
  fix: [['fix', 'tarn.site.yaml', '--dry-run']],
  applied: [['diff', 'tarn.site.yaml', '--set', 'theme.layout.spacing=50px', '--apply']],
  diff: [['diff', 'tarn.site.yaml', '--set', 'theme.layout.header.position=flow']],
  ways: [['how', 'visit', 'header=absent', 'tarn.site.yaml']],
  css: [['css', 'tarn.site.yaml']],
  groups: [['groups', 'tarn.site.yaml']],
  import: [['import', 'map.yaml', 'pages.csv']],
}

describe('documents of --format json', () => {
  it('have schemas that are made of the types: npm run schema', () => {
    expect(SCHEMA).to.deep.equal(reportsJsonSchema())
  })

  for (const [report, commands] of Object.entries(COMMANDS))
    for (const words of commands)
      it(`${words.join(' ')} prints a report "${report}" as its schema says`, async () => {
        expect(await printed(folder(), words)).to.deep.equal({ report, problems: [] })
      })

  for (const [report, words] of [
    ['findings', ['check', '--rule', 'title-doubled', '--rule', 'header-covers-content']],
    ['page', ['show', 'visit']],
    ['page', ['show', 'shop']],
    ['ledger', ['show', 'visit', '--ledger', 'main']],
    ['chain', ['why', 'visit', 'header.position']],
    ['chain', ['why', 'visit', 'template']],
    ['table', ['table']],
    ['uses', ['uses', 'main-header']],
    ['catalog', ['uses']],
    ['comparison', ['diff', 'template:campaign', 'template:story']],
    ['table', ['table', '--columns', 'path,tags,exits,header', '--by', 'layer']],
    ['findings', ['check', '--by', 'step', '--rule', 'title-doubled']],
    ['groups', ['groups']],
    ['rules', ['rules']],
  ] as const)
    it(`${words.join(' ')} on the demo site prints a report "${report}" as its schema says`, async () => {
      expect(await printed(DEMO, words)).to.deep.equal({ report, problems: [] })
    })

  it('a pack that is taken in, and drift from observations that were kept, are as their schemas say', async () => {
    const path = folder()
    await wembraHere(path, 'pack', 'wide', 'tarn.site.yaml', '-o', 'wide.pack.json')
    const unpacking = await printed(path, ['unpack', 'wide.pack.json', 'fell.site.yaml'])
    expect(unpacking).to.deep.equal({ report: 'unpacking', problems: [] })
    writeFileSync(join(path, 'seen.ndjson'), `${recordedLines(RECORDED).slice(0, 30).join('\n')}\n`)
    for (const [report, words] of [
      ['drift', ['observe', join(path, 'seen.ndjson')]],
      ['draft', ['draft', join(path, 'seen.ndjson')]],
      ['findings', ['check', join(path, 'seen.ndjson')]],
      ['parts', ['observe', join(path, 'seen.ndjson'), '--explain']],
    ] as const)
      expect(await printed(DEMO, words)).to.deep.equal({ report, problems: [] })
  })

  it('a document that is none of them is refused', () => {
    const validate = ajv.getSchema('reports')
    expect(validate?.({ wembra: 1, report: 'findings', site: 'Tarn', counts: {}, findings: [] })).to.equal(false)
    expect(validate?.({ wembra: 1, report: 'ways' })).to.equal(false)
    expect(validate?.({ wembra: 1, report: 'css', styles: [], css: '' })).to.equal(true)
  })
})
