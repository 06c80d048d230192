import { expect } from 'chai'
import { cpSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { isReferenceOfToday } from '../../scripts/api-docs.js'
import { runScript } from '../support/command-line.js'

const pagesIn = (folder: string): Record<string, string> =>
  Object.fromEntries(
    readdirSync(folder, { recursive: true, encoding: 'utf8' })
      .filter((name) => name.endsWith('.md'))
      .sort()
      .map((name) => [name, readFileSync(join(folder, name), 'utf8')]),
  )

describe('the API reference', () => {
  it('is current, and nothing exported is without its sentence: npm run docs', () => {
    // The same sources, settings and pages came to the same, and without a complaint, when `npm run docs` wrote the sum.
    if (isReferenceOfToday()) return
    const out = mkdtempSync(join(tmpdir(), 'wembra-api-'))
    // Ends with an error for an export without a comment, and for a type in a signature that is not exported.
    const made = runScript('node_modules/typedoc/bin/typedoc', ['--out', out, '--logLevel', 'Error'])
    expect(made).to.deep.equal({ code: 0, out: '', err: '' })
    expect(pagesIn('docs/api')).to.deep.equal(pagesIn(out))
  })

  it('is not that of today once a sentence or a page of it is another', () => {
    const copy = mkdtempSync(join(tmpdir(), 'wembra-sum-'))
    for (const name of [
      'src',
      'types',
      'docs/api',
      'docs/api.sha256',
      'typedoc.json',
      'tsconfig.api.json',
      'tsconfig.json',
    ])
      cpSync(name, join(copy, name), { recursive: true })
    expect(isReferenceOfToday(copy)).to.equal(isReferenceOfToday())
    for (const name of ['src/measure/font.ts', 'docs/api/wembra.md']) {
      const file = join(copy, name)
      const text = readFileSync(file, 'utf8')
      writeFileSync(file, text.replace('Why texts are estimated', 'Why texts are guessed'))
      expect(isReferenceOfToday(copy), name).to.equal(false)
      writeFileSync(file, text)
    }
  })

  it('has a page for each import path', () => {
    const { exports } = JSON.parse(readFileSync('package.json', 'utf8')) as { exports: Record<string, unknown> }
    const paths = Object.keys(exports).filter((path) => !path.endsWith('.js') && !path.endsWith('.json'))
    const pages = Object.keys(pagesIn('docs/api')).map((name) => name.replace(/\.md$/, ''))
    expect(pages).to.include.members(paths.map((path) => path.replace(/^\.$/, 'wembra').replace(/^\.\//, 'wembra/')))
  })
})
