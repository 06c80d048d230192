import { expect } from 'chai'
import { mkdtempSync, statSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { globSync } from 'tinyglobby'
import { wembra } from '../support/command-line.js'

/** Every file of the package, with when it was written. */
const packed = (): readonly string[] =>
  globSync(['bin/**', 'dist/**'])
    .sort()
    .map((file) => `${file} ${statSync(file).mtimeMs}`)

describe('a command', () => {
  it('writes nothing into its own package', () => {
    const folder = mkdtempSync(join(tmpdir(), 'wembra-package-'))
    writeFileSync(
      join(folder, 'a.site.yaml'),
      'wembra: 1\nsite: { name: A }\ntheme: {}\npages: { visit: { path: /visit, title: Visit } }\n',
    )
    const before = packed()
    for (let run = 0; run < 3; run++) expect(wembra(folder, 'check').code).to.equal(0)
    expect(packed()).to.deep.equal(before)
  })
})
