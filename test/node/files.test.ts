import { expect } from 'chai'
import { execFileSync } from 'node:child_process'
import {
  chmodSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  statSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { measurePage, resolveSite, SiteError } from 'wembra'
import { fontMeasurer } from 'wembra/fonts'
import { diskFiles, findSite, loadRevision, loadSite, svgToPng } from 'wembra/node'
import { drawWireframe } from 'wembra/report'
import { isRevision } from '../../src/node/git.js'
import { matchesGlob } from '../../src/node/glob.js'
import { whyUnreadable } from '../../src/node/why-unreadable.js'
import { writeTogether, writeWhole } from '../../src/node/write-file.js'

const SITE = 'wembra: 1\nsite: { name: Tarn }\ntheme: {}\npages: { visit: { path: /visit, title: Visit } }\n'
const folder = (): string => mkdtempSync(join(tmpdir(), 'wembra-files-'))

describe('a site on disk', () => {
  it('is the one of its folder that no other there extends or includes', () => {
    const path = folder()
    writeFileSync(join(path, 'base.site.yaml'), SITE)
    writeFileSync(join(path, 'tarn.site.yaml'), 'wembra: 1\nextends: [ base.site.yaml ]\nsite: { name: Over }\n')
    expect(findSite(path)).to.equal(join(path, 'tarn.site.yaml'))
    expect(loadSite(path).data.site.name).to.equal('Over')
    writeFileSync(join(path, 'other.site.json'), '{"wembra":1}')
    expect(() => findSite(path)).to.throw(
      SiteError,
      'this folder has several site files: other.site.json, tarn.site.yaml',
    )
  })

  for (const [how, naming] of [
    ['a list in one line', 'extends: [ base.site.yaml ]\n'],
    ['a list of lines', 'extends:\n# kept apart\n- base.site.yaml\n\n'],
    ['a list in brackets that end a line of their own', 'include: [\n  base.site.yaml,\n]\n'],
    ['a key in quotes', '"include": base.site.yaml\n'],
    ['a word in a text, which names nothing', 'x: |\n  extends: [ base.site.yaml ]\n'],
  ] as const)
    it(`is found where it names the other by ${how}`, () => {
      const path = folder()
      writeFileSync(join(path, 'base.site.yaml'), SITE)
      writeFileSync(join(path, 'tarn.site.yaml'), `wembra: 1\n${naming}site: { name: Over }\n`)
      if (how.includes('nothing')) expect(() => findSite(path)).to.throw(SiteError, 'several site files')
      else expect(findSite(path)).to.equal(join(path, 'tarn.site.yaml'))
    })

  it('may be JSON, and include pages by a pattern', () => {
    const path = folder()
    mkdirSync(join(path, 'pages'))
    const site = { wembra: 1, site: { name: 'T' }, theme: {}, include: ['pages/*.yaml'] }
    writeFileSync(join(path, 'tarn.site.json'), JSON.stringify(site))
    for (const id of ['b', 'a'])
      writeFileSync(join(path, `pages/${id}.yaml`), `pages: { ${id}: { path: /${id}, title: ${id} } }`)
    expect(loadSite(join(path, 'tarn.site.json')).pageIds).to.deep.equal(['a', 'b'])
  })

  it('is read anew each time: what changed on disk is seen', () => {
    const path = folder()
    const file = join(path, 'tarn.site.yaml')
    writeFileSync(file, SITE)
    expect(loadSite(file).data.site.name).to.equal('Tarn')
    writeFileSync(file, SITE.replace('Tarn', 'Fell'))
    expect(loadSite(file).data.site.name).to.equal('Fell')
  })

  it('tells a folder, a file that is none, and one that is missing apart', () => {
    const path = folder()
    mkdirSync(join(path, 'in.yaml'))
    expect(() => loadSite(join(path, 'in.yaml'))).to.throw(SiteError, 'this folder has no site file')
    writeFileSync(join(path, 'tarn.site.yaml'), `${SITE}include: [ in.yaml ]\n`)
    expect(() => loadSite(path)).to.throw(SiteError, 'cannot read "')
    expect(diskFiles.whyNot?.(join(path, 'in.yaml'))).to.equal('it is a folder')
    expect(diskFiles.whyNot?.(join(path, 'none.yaml'))).to.equal('there is no such file')
    expect(diskFiles.whyNot?.(join(path, 'tarn.site.yaml'))).to.equal(undefined)
  })

  it('has a reason in words for what the system reports', () => {
    const error = (code: string): Error => Object.assign(new Error(`${code}: words of the system`), { code })
    expect(['ENOENT', 'EACCES', 'EPERM', 'EISDIR', 'EIO'].map((code) => whyUnreadable(error(code)))).to.deep.equal([
      'there is no such file',
      'permission denied',
      'permission denied',
      'it is a folder',
      'EIO: words of the system',
    ])
  })
})

describe('files that are written', () => {
  it('are whole, keep their modes, and leave nothing beside them', () => {
    const path = folder()
    const file = join(path, 'tarn.site.yaml')
    writeFileSync(file, 'old')
    chmodSync(file, 0o640)
    writeWhole(file, 'new')
    expect(readFileSync(file, 'utf8')).to.equal('new')
    expect(statSync(file).mode & 0o777).to.equal(0o640)
    expect(readdirSync(path)).to.deep.equal(['tarn.site.yaml'])
  })

  it('follow a link to the file it means', () => {
    const path = folder()
    writeFileSync(join(path, 'real.yaml'), 'old')
    symlinkSync('real.yaml', join(path, 'link.yaml'))
    writeWhole(join(path, 'link.yaml'), 'new')
    expect(readFileSync(join(path, 'real.yaml'), 'utf8')).to.equal('new')
  })

  it('are written together, with the folders they need', () => {
    const path = folder()
    writeTogether(
      new Map<string, string | Uint8Array>([
        [join(path, 'a/b/one.yaml'), '1'],
        [join(path, 'two.bin'), new Uint8Array([1, 2, 255])],
      ]),
    )
    expect(readFileSync(join(path, 'a/b/one.yaml'), 'utf8')).to.equal('1')
    expect([...readFileSync(join(path, 'two.bin'))]).to.deep.equal([1, 2, 255])
  })
})

describe('a site at a revision', () => {
  it('is told from a file by its colon', () => {
    for (const word of ['HEAD:tarn.site.yaml', 'HEAD~2:./a/tarn.site.json', 'v1.0:x.yml'])
      expect(isRevision(word), word).to.equal(true)
    for (const word of ['tarn.site.yaml', 'C:\\tarn.site.yaml', 'c:/tarn.yaml', 'HEAD:', ':x.yaml', 'HEAD:readme'])
      expect(isRevision(word), word).to.equal(false)
  })

  it('is read as it was, with what it includes', () => {
    const path = folder()
    const home = process.cwd()
    const git = (...words: string[]): void =>
      void execFileSync('git', ['-c', 'user.name=T', '-c', 'user.email=t@example.org', ...words], {
        cwd: path,
        stdio: 'ignore',
      })
    writeFileSync(join(path, 'tarn.site.yaml'), `${SITE.split('pages:')[0]}include: [ "p*.yaml" ]\n`)
    writeFileSync(join(path, 'pages.yaml'), 'pages: { visit: { path: /visit, title: Old } }')
    git('init', '-q')
    git('add', '.')
    git('commit', '-qm', 'one')
    writeFileSync(join(path, 'pages.yaml'), 'pages: { visit: { path: /visit, title: New } }')
    process.chdir(path)
    try {
      expect(loadRevision('HEAD:tarn.site.yaml').pageData('visit')?.title).to.equal('Old')
      expect(loadSite('tarn.site.yaml').pageData('visit')?.title).to.equal('New')
      expect(() => loadRevision('HEAD~7:tarn.site.yaml')).to.throw(SiteError, 'there is no revision "HEAD~7" here')
      expect(() => loadRevision('HEAD:none.yaml')).to.throw(SiteError, 'there is no file "none.yaml" at HEAD')
      expect(() => loadRevision('--output=x:tarn.yaml')).to.throw(SiteError, 'there is no revision')
      expect(existsSync('x')).to.equal(false)
    } finally {
      process.chdir(home)
    }
  })

  it('finds files by patterns as the disk does', () => {
    const paths = ['pages/a.yaml', 'pages/sub/b.yaml', 'pages.yaml', 'pages/c.json']
    const found = (pattern: string): string[] => paths.filter(matchesGlob(pattern))
    expect(found('pages/*.yaml')).to.deep.equal(['pages/a.yaml'])
    expect(found('pages/**/*.yaml')).to.deep.equal(['pages/a.yaml', 'pages/sub/b.yaml'])
    expect(found('pages/*')).to.deep.equal(['pages/a.yaml', 'pages/c.json'])
  })
})

describe('pictures and fonts', () => {
  const site = resolveSite(loadSite('examples/quillmere'))

  it('are refused as PNG where they would have more points than there is memory for, whatever a comment says of their size', () => {
    const svg = `<!-- <svg width="9" height="9"> --><svg xmlns="http://www.w3.org/2000/svg" width="60000" height="60000"></svg>`
    expect(() => svgToPng(svg)).to.throw('the drawing is 60000 × 60000 px, and a PNG may have 100 million points')
    expect(() => svgToPng(svg.replaceAll('60000', '6000'), 2)).to.throw('6000 × 6000 px')
    expect(svgToPng(svg.replaceAll('60000', '600')).length).to.be.above(100)
  })

  it('a drawing becomes a PNG of its size, and of twice that', () => {
    const svg = drawWireframe([measurePage(site.page('visit'), 'phone')], { width: 300 })
    const size = (png: Uint8Array): number[] => {
      const view = new DataView(png.buffer, png.byteOffset)
      expect([...png.slice(1, 4)]).to.deep.equal([...new TextEncoder().encode('PNG')])
      return [view.getUint32(16), view.getUint32(20)]
    }
    const [width = 0, height = 0] = size(svgToPng(svg))
    expect(width).to.equal(300)
    expect(size(svgToPng(svg, 2))).to.deep.equal([width * 2, height * 2])
  })

  it('a font measures text by its glyphs: sums of advances, scaled, with kerning between', () => {
    const font = fontMeasurer(readFileSync('examples/quillmere/fonts/text.ttf'))
    expect(font?.certainty).to.equal('computed')
    const width = (text: string, size = 100): number => font?.width(text, size) ?? 0
    expect(width('AA', 50)).to.be.closeTo(width('AA') / 2, 1e-9)
    expect(width('')).to.equal(0)
    expect(width('nn')).to.be.closeTo(2 * width('n'), 1)
    expect(width('AV')).to.be.below(width('A') + width('V'))
  })

  it('bytes that are no font measure nothing', () => {
    for (const bytes of [new Uint8Array(0), new Uint8Array(64), new TextEncoder().encode('OTTO but no font')])
      expect(fontMeasurer(bytes)).to.equal(undefined)
  })
})
