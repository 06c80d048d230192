import { expect } from 'chai'
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { finishWriting } from '../../dist/node/write-file.js'
import { wembraHere } from '../support/command-line.js'
import { FALLS_SHORT, withFault, type Fault } from '../support/faults.js'
import { RECORDED, recordedLines } from '../support/recorded.js'

type Texts = Readonly<Record<string, string>>

/** A site of three files, with something to fix in two of them. */
const SITE: Texts = {
  'main.site.yaml': `wembra: 1
site: { name: Tarn }
include: [ pages/*.yaml ]
surrounds:
  top: { as: header, height: 96px, rows: [ { items: [ { id: name, text: Tarn, height: 96px } ] } ] }
theme: { layout: { header: { use: top, position: fixed }, footer: absent, sidebar: none } } # kept
templates: { wide: { layout: { width: full } } }
purposes: { front: visit }
`,
  'pages/a.yaml': `pages:
  visit: { path: /visit, title: Plan a visit, layout: { title: shown } } # redundant
`,
  'pages/b.yaml': `pages:
  people: { path: /about/people, title: People, body: [ { section: s, items: [ { text: words } ] } ] }
`,
}

const DOT = '<svg xmlns="http://www.w3.org/2000/svg" width="8" height="8"/>'
/** Another site, whose template is taken along. */
const OTHER: Texts = {
  'other.site.yaml': `wembra: 1
site: { name: Fell }
assets: { dot: { file: pictures/dot.svg, width: 8, height: 8 } }
surrounds: { low: { as: footer, rows: [ { items: [ { logo: dot } ] } ] } }
theme: {}
templates: { story: { layout: { footer: { use: low } } } }
pages: { home: { path: /, title: Home } }
`,
  'pictures/dot.svg': DOT,
}

/** The demo site with the pages of one file and those of its menus: what was observed of its header is known. */
const QUILLMERE: Texts = {
  ...Object.fromEntries(
    ['quillmere.site.yaml', 'quillmere.vendor.site.yaml', 'tokens.json', 'custom.css', 'pages/observatory.yaml'].map(
      (name) => [name, readFileSync(join('examples/quillmere', name), 'utf8')],
    ),
  ),
  'pages/menus.yaml': `pages:
  home: { path: /welcome, title: Home }
  visit: { path: /visit, title: Visit }
  support-us: { path: /support-us, title: Support }
  privacy: { path: /privacy, title: Privacy }
  contact: { path: /contact, title: Contact }
`,
}

function folderOf(texts: Texts): string {
  const folder = mkdtempSync(join(tmpdir(), 'wembra-faults-'))
  for (const [name, text] of Object.entries(texts)) {
    mkdirSync(dirname(join(folder, name)), { recursive: true })
    writeFileSync(join(folder, name), text)
  }
  return folder
}

/** Every file of a folder with its content. */
const contents = (folder: string): Texts =>
  Object.fromEntries(
    readdirSync(folder, { recursive: true, encoding: 'utf8' })
      .filter((name) => statSync(join(folder, name)).isFile())
      .sort()
      .map((name) => [name, readFileSync(join(folder, name), 'utf8')]),
  )

describe('whatever happens while a command writes', () => {
  let more: Texts
  before(async () => {
    const other = folderOf(OTHER)
    expect((await wembraHere(other, 'pack', 'story', '-o', 'story.pack.json')).code).to.equal(0)
    // One page of the stand-in host as it was observed: its header measures 133 px, not 96.
    const [seen = ''] = recordedLines(RECORDED).filter(
      (line) => line.includes('/about/people"') && line.includes('"name":"desk"'),
    )
    more = { 'story.pack.json': readFileSync(join(other, 'story.pack.json'), 'utf8'), 'seen.ndjson': `${seen}\n` }
  })

  const COMMANDS: readonly (readonly [
    what: string,
    site: Texts,
    words: readonly string[],
    changes: readonly string[],
  ])[] = [
    [
      'fix',
      SITE,
      ['fix', '--now', '2026-11-24', '--rule', 'header-covers-content', '--rule', 'override-redundant'],
      ['main.site.yaml', 'pages/a.yaml'],
    ],
    [
      'diff --apply',
      SITE,
      ['diff', '--set', 'theme.layout.spacing.after=10px', '--set', 'pages.people.layout.title=hidden', '--apply'],
      ['main.site.yaml', 'pages/b.yaml'],
    ],
    ['unpack --apply', SITE, ['unpack', 'story.pack.json', '--apply'], ['main.site.yaml', 'pictures/dot.svg']],
    ['observe --apply', QUILLMERE, ['observe', 'seen.ndjson', '--apply'], ['quillmere.site.yaml']],
    ['draft -o', SITE, ['draft', 'seen.ndjson', '-o', 'draft.yaml'], ['draft.yaml']],
  ]

  for (const [what, site, words, changes] of COMMANDS)
    for (const fault of ['killed', 'failed', 'short'] as const)
      it(`${what} leaves all files old or all new after the next start: ${fault} at every operation`, async () => {
        const old = { ...site, ...more }
        const whole = folderOf(old)
        const run = await wembraHere(whole, ...words)
        const fresh = contents(whole)
        const changed = Object.keys(fresh).filter((name) => fresh[name] !== (old as Texts)[name])
        expect(changed, run.err).to.deep.equal([...changes].sort())
        const ends = new Set<string>()
        const { operations } = await faulty(old, words, fault, Infinity)
        expect(operations.length).to.be.above(3)
        // The last one is past all operations.
        for (const at of [...operations.keys(), operations.length].map((n) => n + 1)) {
          if (fault === 'short' && ![FALLS_SHORT, undefined].includes(operations[at - 1])) continue
          const { folder } = await faulty(old, words, fault, at)
          // What every command does first that reads the site; halfway one is run.
          if (at === operations.length >> 1) await wembraHere(folder, 'why', 'visit', 'header.position')
          else finishWriting(folder)
          const now = JSON.stringify(contents(folder))
          const [before, after] = [JSON.stringify(sorted(old)), JSON.stringify(fresh)]
          expect(
            now === before || now === after,
            `${fault} at ${at}: ${Object.keys(contents(folder)).join(', ')}`,
          ).to.equal(true)
          ends.add(now)
        }
        expect(ends.size).to.equal(2)
      })

  async function faulty(old: Texts, words: readonly string[], fault: Fault, at: number) {
    const folder = folderOf(old)
    const operations = await withFault(fault, at, () => wembraHere(folder, ...words))
    return { folder, operations }
  }
})

const sorted = (texts: Texts): Texts => Object.fromEntries(Object.entries(texts).sort(([a], [b]) => (a < b ? -1 : 1)))
