import { expect } from 'chai'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { printable } from '../../src/cli/printable.js'
import { wembra } from '../support/command-line.js'

const ESC = '\u001b'

describe('what a command prints', () => {
  for (const [what, text, printed] of [
    ['colors stay', `${ESC}[1m${ESC}[31merror${ESC}[39m${ESC}[22m`, `${ESC}[1m${ESC}[31merror${ESC}[39m${ESC}[22m`],
    ['tabs and line ends stay', 'a\tb\nc\r\nd', 'a\tb\nc\r\nd'],
    ['no title of a window is set', `${ESC}]0;owned\u0007`, '�]0;owned�'],
    ['no link is made', `${ESC}]8;;https://tarn.example${ESC}\\here`, '�]8;;https://tarn.example�\\here'],
    ['the cursor stays where it is', `a${ESC}[2J${ESC}[1;1Hb\rc\bd`, 'a�[2J�[1;1Hb�c�d'],
  ] as const)
    it(what, () => {
      expect(printable(text, false)).to.equal(printed)
      expect(printable(text, true)).to.equal(printed)
    })

  it('does not turn around on a terminal, and keeps the words as they are in a file', () => {
    expect(printable('a\u202eb\u0085c', true)).to.equal('a�b�c')
    expect(printable('a\u202eb\u0085c', false)).to.equal('a\u202eb\u0085c')
  })

  it('goes through it whatever a site file says', () => {
    const folder = mkdtempSync(join(tmpdir(), 'wembra-printable-'))
    const site = `wembra: 1\nsite: { name: Tarn }\ntheme: {}\npages: { visit: { path: /visit, title: "Visit\\e]0;owned\\a" } }\n`
    writeFileSync(join(folder, 'tarn.site.yaml'), site)
    const { out, code } = wembra(folder, 'show', 'visit')
    expect(code).to.equal(0)
    expect(out).to.contain('Visit�]0;owned�')
    const { out: json } = wembra(folder, 'table', '--format', 'json')
    expect(() => JSON.parse(json) as unknown).not.to.throw()
    rmSync(folder, { recursive: true, force: true })
  })
})
