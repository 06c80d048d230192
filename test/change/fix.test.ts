import { expect } from 'chai'
import { EditError, inspect, fixSite, memoryFiles, readSite, resolveSite, rewriteSite, type Patch } from 'wembra'
import { NOW } from '../support/site.js'

const MAIN = `wembra: 1
site: { name: Test }   # the name
extends: [ vendor.yaml ]
include: [ pages.yaml ]
theme:
  layout:
    # keep the menu in sight
    header: { use: "top", position: fixed }
assign:
  - { use: foot, where: { kind: page } }
`
const VENDOR = `surrounds:
  top: { as: header, height: 100px }
  foot: { as: footer, height: 40px }
assign:
  - { layout: { spacing: 30px }, where: { tag: tight } }
`
const PAGES = `pages:
  visit:
    path: /visit
    title: 'Visit'
    layout: { title: shown }
    body: [ { section: s, items: [ { text: words } ] } ]
`
const siteOf = (pages = PAGES, main = MAIN) =>
  readSite(main, { file: 'main.yaml', files: memoryFiles({ 'vendor.yaml': VENDOR, 'pages.yaml': pages }) })
const rewrite = (patch: Patch, pages?: string) =>
  Object.fromEntries(rewriteSite(siteOf(pages), patch, { base: true }).texts)
/** The same without the files underneath, which other sites may extend. */
const rewriteOwn = (patch: Patch) => Object.fromEntries(rewriteSite(siteOf(), patch).texts)

describe('writing a patch into the files of a site', () => {
  it('writes each part where it was written, and nothing else', () => {
    expect(
      rewrite([
        { op: 'add', path: '/theme/layout/header/clearance', value: 'auto' },
        { op: 'replace', path: '/surrounds/foot/height', value: '48px' },
        { op: 'add', path: '/pages/visit/status', value: 'draft' },
      ]),
    ).to.deep.equal({
      'main.yaml': MAIN.replace('position: fixed }', 'position: fixed, clearance: auto }'),
      'vendor.yaml': VENDOR.replace('40px', '48px'),
      'pages.yaml': `${PAGES}    status: draft\n`,
    })
  })

  it('finds the entries of lists that several files share', () => {
    expect(rewrite([{ op: 'remove', path: '/assign/0' }])).to.deep.equal({
      'vendor.yaml': VENDOR.replace(/assign:\n.*\n/, 'assign: []\n'),
    })
    expect(rewrite([{ op: 'replace', path: '/assign/1/use', value: 'top' }])).to.deep.equal({
      'main.yaml': MAIN.replace('use: foot', 'use: top'),
    })
  })

  it('writes shorthand as shorthand', () => {
    expect(
      rewrite([{ op: 'replace', path: '/pages/visit/layout/title/presence', value: 'absent' }])['pages.yaml'],
    ).to.contain('layout: { title: absent }')
    expect(rewrite([{ op: 'add', path: '/pages/visit/layout/title/place', value: 'band' }])['pages.yaml']).to.contain(
      'layout: { title: { presence: shown, place: band } }',
    )
    expect(
      rewrite([{ op: 'add', path: '/pages/visit/layout/sidebar', value: { side: 'none' } }])['pages.yaml'],
    ).to.contain('layout: { title: shown, sidebar: none }')
    expect(rewrite([{ op: 'replace', path: '/assign/0/layout/spacing/before', value: 0 }])['vendor.yaml']).to.contain(
      'layout: { spacing: { before: 0, after: 30px } }',
    )
  })

  it('refuses where an anchor says the same elsewhere, and writes nothing', () => {
    const pages = `pages:
  visit: { path: /visit, title: Visit, layout: &l { title: shown } }
  b: { path: /b, title: B, layout: *l }
`
    expect(() => rewrite([{ op: 'replace', path: '/pages/b/layout/title/presence', value: 'absent' }], pages)).to.throw(
      EditError,
    )
    expect(() =>
      rewrite([{ op: 'replace', path: '/pages/visit/layout/title/presence', value: 'absent' }], pages),
    ).to.throw(EditError, /would not give what the patch gives/)
  })
})

describe('what a file underneath sets', () => {
  it('is overridden in the own file, which gets the parent maps it lacks', () => {
    expect(rewriteOwn([{ op: 'replace', path: '/surrounds/foot/height', value: '48px' }])).to.deep.equal({
      'main.yaml': `${MAIN}surrounds: { foot: { height: 48px } }\n`,
    })
  })

  it('is removed by null in the own file', () => {
    expect(rewriteOwn([{ op: 'remove', path: '/surrounds/foot/height' }])).to.deep.equal({
      'main.yaml': `${MAIN}surrounds: { foot: { height: null } }\n`,
    })
  })

  it('is restored by removing the override, which leaves the own file as before', () => {
    const { texts, site } = rewriteSite(siteOf(), [{ op: 'replace', path: '/surrounds/foot/height', value: '48px' }])
    expect([...texts.keys()]).to.deep.equal(['main.yaml'])
    const back = rewriteSite(site, [{ op: 'replace', path: '/surrounds/foot/height', value: '40px' }])
    expect(Object.fromEntries(back.texts)).to.deep.equal({ 'main.yaml': `${MAIN}surrounds: {}\n` })
  })

  it('is refused if it is a list entry, which no other file can change', () => {
    expect(() => rewriteOwn([{ op: 'remove', path: '/assign/0' }])).to.throw(EditError, /vendor\.yaml .*--base/)
  })

  it('is not changed by a fix, which writes into the own file', () => {
    const vendor = `surrounds: { top: { as: header, height: 96px } }
theme: { layout: { header: { use: top, position: fixed } } }
`
    const main = `wembra: 1
site: { name: Test }
extends: [ vendor.yaml ]
theme: {}
pages: { visit: { path: /visit, title: Visit } }
`
    const site = readSite(main, { file: 'main.yaml', files: memoryFiles({ 'vendor.yaml': vendor }) })
    const { patch } = fixSite(resolveSite(site), { now: NOW, rules: ['header-covers-content'] })
    expect(Object.fromEntries(rewriteSite(site, patch).texts)).to.deep.equal({
      'main.yaml': main.replace('theme: {}', 'theme: { layout: { header: { clearance: auto } } }'),
    })
  })
})

describe('fixing a site', () => {
  it('applies what is certain, most harmful first, and leaves the rest', () => {
    const resolved = resolveSite(siteOf())
    const { applied, after } = fixSite(resolved, { now: NOW })
    expect(applied.map((fix) => fix.rule)).to.deep.equal(['header-covers-content', 'override-redundant'])
    const left = inspect(after, { now: NOW })
    expect(left.map((f) => f.rule)).to.include('front-unassigned')
    expect(left.filter((f) => f.fixes.some((m) => !m.choice && !m.others))).to.deep.equal([])
  })

  it('takes only the rules and pages that are asked for', () => {
    const resolved = resolveSite(siteOf())
    expect(fixSite(resolved, { now: NOW, rules: ['title-missing'] }).patch).to.deep.equal([])
    expect(fixSite(resolved, { now: NOW, pages: [] }).patch).to.deep.equal([])
    const { applied } = fixSite(resolved, { now: NOW, rules: ['override-redundant'], pages: ['visit'] })
    expect(applied.map((fix) => fix.title)).to.deep.equal(['remove it; no page changes'])
  })

  it('changes pages without the finding only when that is asked for', () => {
    const pages = `pages:
  a: { path: /a, title: A, template: t, layout: { title: absent }, body: [ { section: s, items: [ { heading: 1, text: Come } ] } ] }
  b: { path: /b, title: B, template: t, body: [ { section: s, items: [ { text: words } ] } ] }
`
    const main = `${MAIN.replace('fixed', 'flow')}templates: { t: { arrange: [ title, { gap: 64px }, content ] } }\n`
    const resolved = resolveSite(siteOf(pages, main))
    const asked = { now: NOW, rules: ['gap-left-behind'] } as const
    expect(fixSite(resolved, asked).applied).to.deep.equal([])
    const [fix] = fixSite(resolved, { ...asked, otherPages: true }).applied
    expect([fix?.pages, fix?.others]).to.deep.equal([['a'], ['b']])
  })

  it('takes a choice only when it is named', () => {
    const pages = 'pages: { a: { path: /a, title: A, share: { image: m } } }\n'
    const resolved = resolveSite(siteOf(pages, `${MAIN}assets: { m: { width: 1, height: 1 } }\n`))
    expect(fixSite(resolved, { now: NOW, rules: ['empty-page-live'] }).applied).to.deep.equal([])
    const { applied } = fixSite(resolved, { now: NOW, rules: ['empty-page-live'], choose: 1 })
    expect(applied.map((fix) => fix.title)).to.deep.equal(['make it a draft'])
  })
})
