import type { ValidateFunction } from 'ajv'
import draft4 from 'ajv-draft-04'
import { expect } from 'chai'
import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { convert } from 'xmlbuilder2'
import { inspect, resolveSite, RULES } from 'wembra'
import {
  findingsHtml,
  findingsJunit,
  findingsMarkdown,
  findingsSarif,
  ruleMarkdown,
  rulesMarkdown,
} from 'wembra/report'
import { loadSite } from 'wembra/node'
import { NOW, siteOf } from '../support/site.js'

/** SARIF's schema is of draft 4. */
const Ajv = draft4 as unknown as new (options: object) => { readonly compile: (schema: object) => ValidateFunction }

const quillmere = resolveSite(loadSite('examples/quillmere'))
const findings = inspect(quillmere, { now: NOW, fixes: false })
const hostile = siteOf(
  'site: { name: "<script>alert(1)</script> ]]> | `x`" }\npages: { visit: { path: /visit, title: "<img src=x onerror=alert(1)>" } }',
)
const hostileFindings = inspect(hostile, { now: NOW })

describe('findings in other formats', () => {
  it('SARIF is valid against its schema, and names file, line and column', () => {
    const entry = createRequire(import.meta.url).resolve('@microsoft/jest-sarif')
    const folder = entry.slice(0, entry.lastIndexOf('@microsoft/jest-sarif') + '@microsoft/jest-sarif'.length)
    const schema = readFileSync(`${folder}/lib/schemas/sarif-2.1.0-rtm.5.json`, 'utf8')
    const validate = new Ajv({
      strict: false,
      validateFormats: false,
      unicodeRegExp: false,
      code: { optimize: false },
    }).compile(JSON.parse(schema) as object)
    for (const list of [findings, hostileFindings, []]) {
      const log = JSON.parse(JSON.stringify(findingsSarif(list, RULES, '1.2.3'))) as unknown
      expect(validate(log), JSON.stringify(validate.errors)).to.equal(true)
    }
    const { results } = findingsSarif(findings, RULES, '1').runs[0] as { results: readonly Record<string, unknown>[] }
    expect(results).to.have.lengthOf(findings.length)
    const first = JSON.stringify(results[0])
    expect(first).to.contain('"uri":"examples/quillmere/quillmere.site.yaml"').and.to.contain('"startLine":')
  })

  it('JUnit has a test for each rule, and fails those with an error or warning', () => {
    const { testsuites } = convert(findingsJunit('Q', findings, RULES), { format: 'object' }) as unknown as {
      testsuites: { '@failures': string; '@tests': string }
    }
    const failing = new Set(findings.filter((f) => f.severity !== 'note').map((f) => f.rule))
    expect(testsuites).to.include({ '@tests': String(RULES.length), '@failures': String(failing.size) })
    expect(() => convert(findingsJunit('\u0000<&', hostileFindings, RULES), { format: 'object' })).to.not.throw()
  })

  it('Markdown has a row for each finding, whatever their words', () => {
    const markdown = findingsMarkdown('Q', findings, 57)
    expect(markdown.match(/^\| `/gm)).to.have.lengthOf(findings.length)
    const table = findingsMarkdown(hostile.site.data.site.name, hostileFindings, 1)
    expect(table).to.contain('\\<script>')
    expect(findingsMarkdown('Q', [], 3)).to.contain('No conflicts found on 3 pages.')
  })

  it('HTML stands alone: no script, no address of elsewhere, and runs nothing', () => {
    const html = findingsHtml(quillmere, findings)
    expect(html).to.contain('<h1>Quillmere Observatory: layout conflicts</h1>')
    for (const f of findings) expect(html).to.contain(f.rule)
    for (const page of [html, findingsHtml(hostile, hostileFindings)]) {
      // Previews are pictures within the file.
      expect(page).to.not.match(/<script|<link|src="(?!data:image\/svg\+xml,)|@import/)
      expect(page.match(/(?:href="|url\()(?!#|data%3A)/g)).to.equal(null)
    }
  })
})

describe('the rules’ pages', () => {
  it('are current: npm run docs', () => {
    for (const rule of RULES) expect(readFileSync(`docs/rules/${rule.id}.md`, 'utf8')).to.equal(ruleMarkdown(rule))
    expect(readFileSync('docs/rules/README.md', 'utf8')).to.equal(rulesMarkdown(RULES))
  })
})
