import { expect } from 'chai'
import { deserializeSite, inspect, memoryFiles, readSite, resolveSite, type Files, type ResolvedSite } from 'wembra'
import { loadSite } from 'wembra/node'
import { NOW } from '../support/site.js'

/** As another thread gets it. */
const sent = (resolved: ResolvedSite, files: Files): ResolvedSite =>
  resolveSite(deserializeSite(structuredClone(resolved.serialize()), files))

const SITE = `wembra: 1
site: { name: Harbor }
include: [ pages.ndjson ]
styles:
  - css: |
      header { position: fixed }
theme: { layout: { spacing: 40px } }
pages:
  home: { path: /, title: Home }
`
const PAGES = '{"id":"visit","path":"/visit","title":"Visit","layout":{"spacing":"8px"}}\n'
const texts = (changed: Readonly<Record<string, string>> = {}) =>
  memoryFiles({ 'a.site.yaml': SITE, 'pages.ndjson': PAGES, ...changed })
const read = (files: Files): ResolvedSite =>
  resolveSite(readSite(files.read('a.site.yaml') ?? '', { file: 'a.site.yaml', files }))

describe('a site as plain data', () => {
  for (const demo of ['quillmere', 'fellside'])
    it(`is the same site elsewhere: ${demo}, to the place of every finding`, () => {
      const here = resolveSite(loadSite(`examples/${demo}`))
      const there = sent(here, here.site.files)
      expect(there.site.data).to.deep.equal(here.site.data)
      expect(inspect(there, { now: NOW })).to.deep.equal(inspect(here, { now: NOW }))
      for (const id of here.pageIds.slice(0, 10))
        for (const { name } of here.site.viewports) {
          if (here.page(id).dormant) continue
          expect(there.page(id).at(name).chain('header.position'), id).to.deep.equal(
            here.page(id).at(name).chain('header.position'),
          )
        }
    })

  it('tells places in each kind of file, and in CSS that is written in the site file', () => {
    const files = texts()
    const there = sent(read(files), files)
    // Lines and columns counted by hand in the texts above.
    expect(there.site.locate('/theme/layout')).to.include({ file: 'a.site.yaml', line: 7, column: 10 })
    expect(there.site.locate('/pages/visit/layout')).to.include({ file: 'pages.ndjson', line: 1, column: 47 })
    const [style] = there.page('home').at('desk').chain('header.position')
    expect(style).to.include({ layer: 'style', value: 'fixed', pointer: '/styles/0' })
    expect(style?.at).to.include({ file: 'a.site.yaml', line: 6, column: 16 })
  })

  it('is read by nobody again: files are looked into once a place is asked for', () => {
    const here = read(texts())
    const there = sent(here, texts({ 'a.site.yaml': 'gone: [', 'pages.ndjson': '' }))
    expect(there.pageIds).to.deep.equal(['home', 'visit'])
    expect(there.page('visit').at('desk').spacing.before.value).to.equal('8px')
    expect(there.site.locate('/theme')).to.include({ file: 'a.site.yaml', line: 1, column: 1 })
  })

  it('holds after a change only what is not as it was', () => {
    const now: Record<string, string> = {}
    const files = { ...texts(), read: (path: string) => now[path] ?? texts().read(path) }
    const lines = { lines: (path: string) => files.read(path)?.split('\n') }
    const before = read({ ...files, ...lines })
    const there = sent(before, { ...files, ...lines })
    now['pages.ndjson'] = PAGES.replace('8px', '9px')
    const after = before.reread(SITE, ['pages.ndjson'])
    const change = after.serialize(before)
    expect(change.pages.map(([id]) => id)).to.deep.equal(['visit'])
    expect(change.change).to.deep.equal({ pageIds: undefined, isRestyled: false })
    const received = there.receive(structuredClone(change))
    expect(received.page('visit').at('desk').spacing.before.value).to.equal('9px')
    expect(received.page('home').data).to.equal(there.page('home').data)
    // What it did not come out of directly gets all of it.
    expect(after.serialize(there).pages).to.have.length(2)
  })
})
