import { expect } from 'chai'
import { inspect, type Finding } from 'wembra'
import { siteOf } from '../support/site.js'

const SITE = `
surrounds: { bare: { as: sidebar } }
assign: [ { layout: { sidebar: { side: right, use: bare } }, where: { tag: old } } ]
pages:
  a: { path: /a, title: A, tags: [ old ], body: [ { section: s, items: [ { text: words } ] } ] }
  b: { path: /b, title: B, tags: [ old ], body: [ { section: s, items: [ { text: words } ] } ] }
`

const found = (text: string): Finding =>
  inspect(siteOf(text), { rules: ['sidebar-empty'], fixes: true })[0] as unknown as Finding

describe('a fix that leaves something over', () => {
  it('takes away what has no effect after it', () => {
    const [fix] = found(SITE).fixes
    expect(fix?.title).to.equal('set sidebar: none where its side is set')
    expect(fix?.patch).to.deep.equal([
      { op: 'replace', path: '/assign/0/layout/sidebar/side', value: 'none' },
      { op: 'remove', path: '/assign/0/layout/sidebar/use' },
    ])
  })

  it('is not offered where that would be what it adds itself', () => {
    // An override on both pages leaves the entry nothing to decide; without the entry both overrides set what holds anyway.
    expect(found(SITE).fixes).to.have.length(1)
    expect(found(SITE).refused ?? []).to.deep.equal([])
  })

  it('is offered where the entry has something else to decide', () => {
    const more = SITE.replace('use: bare }', 'use: bare }, spacing: { before: 10px }')
    const [, fix] = found(more).fixes
    expect(fix?.title).to.equal('set sidebar: none on these 2 pages')
    // The side stays: it is overridden, and by the contract asleep only behind a template's arrange.
    expect(fix?.patch.map(({ op, path }) => `${op} ${path}`)).to.deep.equal([
      'add /pages/a/layout',
      'add /pages/b/layout',
      'remove /assign/0/layout/sidebar/use',
    ])
  })
})
