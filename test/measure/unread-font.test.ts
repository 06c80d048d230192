import { expect } from 'chai'
import { cpSync, mkdirSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fontProblem, inspect, memoryFiles, readSite, resolveSite, type Files, type Site } from 'wembra'
import { fontMeasurer } from 'wembra/fonts'
import { wembraHere } from '../support/command-line.js'
import { Editor } from '../support/lsp-client.js'

const FONT = readFileSync('examples/quillmere/fonts/text.ttf')
const PAGE =
  'pages: { a: { path: /, title: A, access: members, body: [ { section: s, items: [ { text: some words } ] } ] } }\n'
const SITE = `wembra: 1\nsite: { name: Tarn }\ntypography: { file: fonts/text.woff2 }\ntheme: {}\n${PAGE}`
const SAYS = { code: 'unreadable', file: 'site.yaml', line: 3, column: 15 }
const WAY_OUT = 'fix the path or remove it; until then texts are estimated'
const NOT_THERE = `cannot read "fonts/text.woff2": there is no such file; ${WAY_OUT}`
const NO_FONT = `cannot read "fonts/text.woff2": it is damaged, or no font (TrueType, OpenType, WOFF or WOFF2); ${WAY_OUT}`

const measured = (files: Files): Site => {
  const resolved = resolveSite(readSite(SITE, { files }))
  inspect(resolved)
  return resolved.site
}
const withFont = (bytes?: Uint8Array): Files => memoryFiles(bytes ? { 'fonts/text.woff2': bytes } : {}, fontMeasurer)

describe('a font file that cannot be read', () => {
  it('is told with its place and a way out: one that is not there, one cut off, one that is none', () => {
    expect(fontProblem(measured(withFont()))).to.deep.equal({ ...SAYS, message: NOT_THERE })
    for (const bytes of [FONT.subarray(0, 9000), Buffer.from('no font'), Buffer.alloc(0)])
      expect(fontProblem(measured(withFont(bytes)))).to.deep.equal({ ...SAYS, message: NO_FONT })
  })

  it('is no problem where it is whole, where nothing was measured by it, and where nobody reads fonts', () => {
    expect(fontProblem(measured(withFont(FONT)))).to.equal(undefined)
    expect(fontProblem(resolveSite(readSite(SITE, { files: withFont() })).site)).to.equal(undefined)
    expect(fontProblem(measured(memoryFiles({})))).to.equal(undefined)
    const plain = resolveSite(readSite(SITE.replace(/typography.*\n/, ''), { files: withFont() }))
    inspect(plain)
    expect(fontProblem(plain.site)).to.equal(undefined)
  })

  it('goes with the change that names another file, and comes back when that is taken back', () => {
    const files = memoryFiles({ 'fonts/whole.ttf': FONT }, fontMeasurer)
    const resolved = resolveSite(readSite(SITE, { files }))
    const asked = (state: typeof resolved): string | undefined => {
      inspect(state)
      return fontProblem(state.site)?.message
    }
    const path = '/typography/file'
    const mended = resolved.with([{ op: 'replace', path, value: 'fonts/whole.ttf' }])
    expect(asked(resolved)).to.equal(NOT_THERE)
    expect(asked(mended)).to.equal(undefined)
    expect(asked(mended.with([{ op: 'replace', path, value: 'fonts/text.woff2' }]))).to.equal(NOT_THERE)
  })

  describe('in the folder of a site', () => {
    let folder: string
    const font = (): string => join(folder, 'fonts/text.woff2')
    beforeEach(() => {
      folder = mkdtempSync(join(tmpdir(), 'wembra-unread-'))
      mkdirSync(join(folder, 'fonts'))
      writeFileSync(join(folder, 'tarn.site.yaml'), SITE)
    })

    it('is a line on standard error of each command that measures, once, and changes nothing else', async () => {
      const line = `tarn.site.yaml:3:15: unreadable: ${NOT_THERE}`
      const without = join(mkdtempSync(join(tmpdir(), 'wembra-unread-')), 'tarn.site.yaml')
      writeFileSync(without, SITE.replace(/typography.*\n/, ''))
      const counts = async (site: string): Promise<unknown> => {
        const { code, out } = await wembraHere(folder, 'check', site, '--format', 'json')
        return { code, counts: (JSON.parse(out) as { summary?: unknown }).summary }
      }
      for (const words of [['check'], ['check', '--quiet'], ['fix', '--dry-run'], ['table'], ['show', 'a']])
        expect((await wembraHere(folder, ...words)).err, words.join(' ')).to.equal(`${line}\n`)
      expect((await wembraHere(folder, 'why', 'a', 'title.place')).err).to.equal('')
      expect(await counts(folder)).to.deep.equal(await counts(without))
      cpSync('examples/quillmere/fonts/text.ttf', font())
      expect((await wembraHere(folder, 'check')).err).to.equal('')
    })

    it('is a warning in an editor, on the word that names it, until the file is there', async () => {
      const editor = await Editor.of(folder)
      try {
        const marks = await editor.show('tarn.site.yaml')
        const [mark] = marks.filter(({ code }) => code === 'unreadable')
        expect(mark).to.include({ severity: 2, source: 'wembra' })
        expect(mark?.message).to.contain('there is no such file')
        expect(mark?.range.start).to.deep.equal({ line: 2, character: 14 })
        const others = marks.filter((each) => each !== mark)
        cpSync('examples/quillmere/fonts/text.ttf', font())
        await editor.connection.sendNotification('workspace/didChangeWatchedFiles', {
          changes: [{ uri: editor.uri('fonts/text.woff2'), type: 1 }],
        })
        await editor.until(() => (editor.marks('tarn.site.yaml').length === others.length ? true : undefined))
        expect(editor.marks('tarn.site.yaml').map(({ code }) => code)).to.deep.equal(others.map(({ code }) => code))
      } finally {
        expect(await editor.close()).to.equal(0)
      }
    })
  })
})
