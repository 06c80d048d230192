import { expect } from 'chai'
import { mkdtempSync, readdirSync, readFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
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
    const out = mkdtempSync(join(tmpdir(), 'wembra-api-'))
    // Ends with an error for an export without a comment, and for a type in a signature that is not exported.
    const made = runScript('node_modules/typedoc/bin/typedoc', ['--out', out, '--logLevel', 'Error'])
    expect(made).to.deep.equal({ code: 0, out: '', err: '' })
    expect(pagesIn('docs/api')).to.deep.equal(pagesIn(out))
  })

  it('has a page for each import path', () => {
    const { exports } = JSON.parse(readFileSync('package.json', 'utf8')) as { exports: Record<string, unknown> }
    const paths = Object.keys(exports).filter((path) => !path.endsWith('.js') && !path.endsWith('.json'))
    const pages = Object.keys(pagesIn('docs/api')).map((name) => name.replace(/\.md$/, ''))
    expect(pages).to.include.members(paths.map((path) => path.replace(/^\.$/, 'wembra').replace(/^\.\//, 'wembra/')))
  })
})
