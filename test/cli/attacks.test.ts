import { expect } from 'chai'
import { existsSync, mkdirSync, mkdtempSync, readFileSync, readdirSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileHash, sealed, type Pack } from '../../src/change/pack-format.js'
import { wembraHere as wembra } from '../support/command-line.js'

const SVG = '<svg xmlns="http://www.w3.org/2000/svg" width="10" height="10"/>'
const SITE = `wembra: 1
site: { name: Tarn }
assets: { mark: { file: pictures/mark.svg } }
surrounds: { top: { as: header, rows: [ { items: [ { logo: mark } ] } ] } }
theme: {}
templates: { t: { layout: { header: { use: top } } } }
pages: { a: { path: /a, title: A, template: t } }
`
const folder = (text = SITE): string => {
  const path = mkdtempSync(join(tmpdir(), 'wembra-attack-'))
  writeFileSync(join(path, 'tarn.site.yaml'), text)
  mkdirSync(join(path, 'pictures'))
  writeFileSync(join(path, 'pictures/mark.svg'), SVG)
  return path
}
const EMPTY = 'wembra: 1\nsite: { name: Fell }\ntheme: {}\npages: { a: { path: /a, title: A } }\n'

describe('a pack that somebody prepared', () => {
  /** A pack as it comes, with its picture at another path or of other content, sealed anew. */
  async function prepared(path: string, content = SVG): Promise<string> {
    const from = folder()
    await wembra(from, 'pack', 't', '-o', 't.pack.json')
    const pack = JSON.parse(readFileSync(join(from, 't.pack.json'), 'utf8')) as Pack
    const file = { asset: 'mark', path, content: Buffer.from(content).toString('base64') }
    return JSON.stringify(sealed({ ...pack, files: [{ ...file, hash: fileHash(file) }] }))
  }
  const taken = async (path: string, content?: string): Promise<{ code: number | null; err: string; into: string }> => {
    const into = folder(EMPTY)
    writeFileSync(join(into, 't.pack.json'), await prepared(path, content))
    const { code, err } = await wembra(into, 'unpack', 't.pack.json', '--apply')
    return { code, err, into }
  }

  for (const path of [
    '.git/hooks/post-commit',
    '.npmrc',
    '.github/workflows/ci.yml',
    'node_modules/x/index.svg',
    'a/.b/mark.svg',
  ])
    it(`writes no ${path}`, async () => {
      const { code, err, into } = await taken(path)
      expect(code).to.equal(2)
      expect(err).to.match(
        /^t\.pack\.json:\d+:\d+: wrong-value: ".*" names a hidden folder or file, or one of installed packages/,
      )
      expect(existsSync(join(into, path))).to.equal(false)
    })

  for (const [path, content] of [
    ['package.json', '{}'],
    ['pages/a.yaml', 'a: 1'],
    ['pictures/mark.svg', '#!/bin/sh\nrm -rf .'],
    ['pictures/mark.png', SVG],
  ] as const)
    it(`writes no ${path} that is no picture`, async () => {
      const { code, err } = await taken(path, content)
      expect([code, /is no picture/.test(err)]).to.deep.equal([2, true])
    })

  it('does not follow a link out of the site’s folder', async () => {
    const into = folder(EMPTY)
    const outside = mkdtempSync(join(tmpdir(), 'wembra-outside-'))
    symlinkSync(outside, join(into, 'linked'))
    writeFileSync(join(into, 't.pack.json'), await prepared('linked/mark.svg'))
    const { code, err } = await wembra(into, 'unpack', 't.pack.json', '--apply')
    expect([code, readdirSync(outside)]).to.deep.equal([2, []])
    expect(err).to.contain("leads out of the site's folder by a link")
  })

  it('is taken in where it is what it says', async () => {
    const { code, into } = await taken('pictures/theirs.svg')
    expect(code).to.equal(0)
    expect(readFileSync(join(into, 'pictures/theirs.svg'), 'utf8')).to.equal(SVG)
  })
})

describe('a page that is written as HTML', () => {
  it('takes nothing from locators and fonts that runs, fetches or leads anywhere', async () => {
    const locators = [
      ...['script', 'body[onload="hit()"]', 'iframe[srcdoc="<script>hit()</script>"]', 'meta[http-equiv="refresh"]'],
      ...[
        'link[rel="stylesheet"][href="http://evil.example/a"]',
        'img[src="http://evil.example/b"]',
        'a[href="javascript:hit()"]',
      ],
      ...[
        'object[data="http://evil.example/c"]',
        'form[action="http://evil.example"]',
        'div[style="background:url(http://evil.example/d)"]',
      ],
    ]
    for (const locator of locators) {
      const path = folder(`wembra: 1
site: { name: Tarn }
locators: { header: ${JSON.stringify(locator)}, title: ${JSON.stringify(locator)}, content: ${JSON.stringify(locator)} }
typography: { family: "x'; } * { background: url(http://evil.example/e) } </style><script>hit()</script>" }
surrounds: { top: { as: header, height: 60px } }
theme: { layout: { header: { use: top } } }
pages: { a: { path: /a, title: A } }
`)
      const { out } = await wembra(path, 'draw', 'a', '--format', 'html', '--viewport', 'desk')
      expect(out, locator).to.match(/default-src (&#x27;|')none/)
      expect(out, locator).to.not.match(
        /<script|<iframe|<link|<img|<object|<form|<a href|onload|srcdoc|http-equiv="refresh"|javascript:/,
      )
      expect(out.replace(/font-family:[^;]*;/g, ''), locator).to.not.contain('evil.example')
    }
  })

  it('has a file of its own for each page, whatever its id', async () => {
    const path = folder(
      'wembra: 1\nsite: { name: T }\ntheme: {}\npages: { a/b: { path: /x, title: X }, a-b: { path: /y, title: Y }, "../up": { path: /z, title: Z } }\n',
    )
    expect((await wembra(path, 'draw', '--all', '-o', 'out')).code).to.equal(0)
    expect(readdirSync(join(path, 'out')).sort()).to.deep.equal(['--up.svg', 'a-b-2.svg', 'a-b.svg'])
  })
})

describe('a table that is opened as a spreadsheet', () => {
  it('holds no formulas', async () => {
    const path = folder(
      'wembra: 1\nsite: { name: T }\ntheme: {}\npages: { "=1+1": { path: /a, title: "=HYPERLINK(1)" }, b: { path: /b, title: "@SUM(1)" } }\n',
    )
    const { out } = await wembra(path, 'table', '--format', 'csv', '--columns', 'name', '--viewport', 'desk')
    expect(out.split('\r\n').slice(1, 3)).to.deep.equal(["'=1+1,desk,'=HYPERLINK(1)", "b,desk,'@SUM(1)"])
  })
})

describe('a file that cannot be written', () => {
  it('is an error with exit 2 and the reason, and what reverts a change is safe before the change', async () => {
    const path = folder()
    const before = readFileSync(join(path, 'tarn.site.yaml'), 'utf8')
    for (const words of [
      ['check', '--format', 'json', '-o', 'nowhere/report.json'],
      ['snapshot', '-o', 'pictures'],
      ['diff', '--set', 'theme.layout.spacing=9px', '--apply', '--undo', 'nowhere/undo.json'],
      ['fix', '--undo', 'nowhere/undo.json'],
    ]) {
      const { code, err } = await wembra(path, ...words)
      expect(
        [code, /cannot be written: (the folder does not exist|it is a folder)/.test(err)],
        words.join(' '),
      ).to.deep.equal([2, true])
    }
    expect(readFileSync(join(path, 'tarn.site.yaml'), 'utf8')).to.equal(before)
  })
})
