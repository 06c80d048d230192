import { expect } from 'chai'
import { inspect, resolveSite, rewriteSite, setPath, undoPatch, type Patch, type ResolvedSite } from 'wembra'
import { loadSite } from 'wembra/node'
import { NOW, siteOf } from '../support/site.js'

const plain = ({ site }: ResolvedSite): unknown => JSON.parse(JSON.stringify(site.data))

describe('taking a change back', () => {
  const site = siteOf(
    `tokens: ./tokens.json
surrounds: { top: { as: header, measured: { desk: 90px }, rows: [ { items: [ { gap: 10px } ] } ] } }
theme: { layout: { spacing: 10px 20px, width: { max: "{page.wide}" } } }
assign: [ { use: top, where: [ { all: true } ] }, { layout: { title: absent }, where: [ { page: a } ] } ]
pages: { a: { path: /a, title: A, layout: { title: shown } } }`,
    { 'tokens.json': '{ "page": { "wide": { "$value": "70rem" } } }' },
  )
  const patches: readonly (readonly [string, Patch])[] = [
    ['a setting that was not said', setPath(site.site, 'pages.a.layout.spacing.before', '1px')],
    ['one that was', setPath(site.site, 'theme.layout.width.max', '2px')],
    ['one taken away', [{ op: 'remove', path: '/theme/layout/spacing' }]],
    ['an entry added at the end', [{ op: 'add', path: '/assign/-', value: { use: 'top', where: { page: 'a' } } }]],
    ['an entry added before others', [{ op: 'add', path: '/assign/0', value: { use: 'top', where: { page: 'a' } } }]],
    ['an entry taken away', [{ op: 'remove', path: '/assign/0' }]],
    [
      'a section added and filled',
      [
        { op: 'add', path: '/menus', value: {} },
        { op: 'add', path: '/menus/m', value: [] },
      ],
    ],
    ['something moved', [{ op: 'move', from: '/assign/1', path: '/assign/0' }]],
    ['something copied', [{ op: 'copy', from: '/surrounds/top', path: '/surrounds/two' }]],
    ['a surround whose measured height goes', setPath(site.site, 'surrounds.top.background', '#fff')],
    ['a new page', [{ op: 'add', path: '/pages/b', value: { path: '/b', title: 'B' } }]],
  ]
  for (const [name, patch] of patches)
    it(`gives the site as it was: ${name}`, () => {
      const after = site.with(patch)
      expect(plain(after)).to.not.deep.equal(plain(site))
      expect(plain(after.with(undoPatch(site.site, patch)))).to.deep.equal(plain(site))
    })

  it('says again what was said, in the words in which it was', () => {
    const patch: Patch = [
      { op: 'remove', path: '/theme/layout/spacing' },
      { op: 'replace', path: '/theme/layout/width/max', value: '1px' },
    ]
    expect(undoPatch(site.site, patch)).to.deep.equal([
      { op: 'replace', path: '/theme/layout/width/max', value: '{page.wide}' },
      { op: 'add', path: '/theme/layout/spacing', value: '10px 20px' },
    ])
  })

  it('gives the files of Quillmere back what every fix changes', () => {
    const resolved = resolveSite(loadSite('examples/quillmere/quillmere.site.yaml'))
    let tried = 0
    for (const finding of inspect(resolved, { now: NOW, fixes: true }))
      for (const fix of finding.fixes) {
        const after = resolved.with(fix.patch)
        const undo = undoPatch(resolved.site, fix.patch)
        expect(plain(after.with(undo)), `${finding.rule}: ${fix.title}`).to.deep.equal(plain(resolved))
        tried++
      }
    expect(tried).to.be.above(40)
  })

  it('is written into the files it came from, which then are as before', () => {
    const resolved = resolveSite(loadSite('examples/quillmere/quillmere.site.yaml'))
    const patch = setPath(resolved.site, 'templates.campaign.layout.width.gutter', '30px')
    const written = rewriteSite(resolved.site, patch)
    const back = rewriteSite(written.site, undoPatch(resolved.site, patch))
    const [[file, text] = ['', '']] = back.texts
    expect(text).to.equal(resolved.site.files.read(file))
  })
})
