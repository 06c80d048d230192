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
  it('keeps a stored choice that would take effect again', () => {
    const [fix, ...others] = found(SITE).fixes
    expect(fix?.title).to.equal('set sidebar: none where its side is set')
    // The surround that was chosen stays: with a side again, the sidebar is what it was.
    expect(fix?.patch).to.deep.equal([{ op: 'replace', path: '/assign/0/layout/sidebar/side', value: 'none' }])
    expect(others).to.deep.equal([])
  })

  it('removes an override that it makes redundant', () => {
    // The page's own clearance becomes that of the theme, and is removed with the fix.
    const site = siteOf(`
surrounds: { top: { as: header, height: 96px } }
theme: { layout: { header: { use: top, position: fixed } } }
pages:
  a: { path: /a, title: A }
  b: { path: /b, title: B, layout: { header: { clearance: auto } } }
`)
    const [finding] = inspect(site, { rules: ['header-covers-content'], fixes: true })
    expect(finding?.fixes[0]?.patch).to.deep.equal([
      { op: 'add', path: '/theme/layout/header/clearance', value: 'auto' },
      { op: 'remove', path: '/pages/b/layout' },
    ])
  })
})
