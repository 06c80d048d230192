import { expect } from 'chai'
import {
  copyInstead,
  diffSites,
  diffSnapshots,
  diffWhole,
  PathError,
  setPath,
  sharedEdits,
  takeSnapshot,
  unsetPath,
  type Patch,
  type ResolvedSite,
} from 'wembra'
import { NOW, siteOf } from '../support/site.js'

const SITE = `surrounds:
  top: { as: header, rows: [ { id: bar, padding: 10px, items: [ { gap: 40px } ] } ] }
  foot: { as: footer, height: 40px }
theme: { layout: { header: { use: top }, footer: { use: foot } } }
templates: { t: { layout: { spacing: 20px } } }
purposes: { front: a }
pages:
  a: { path: /, title: A, template: t, body: [ { section: s, items: [ { text: words } ] } ] }
  b: { path: /b, title: B, template: t, body: [ { section: s, items: [ { text: other words } ] } ] }
  c: { path: /c, title: C, body: [ { section: s, items: [ { text: words } ] } ] }
`
const site = siteOf(SITE)
const whatIf = (patch: Patch, from: ResolvedSite = site) => diffSites(from, from.with(patch), { now: NOW })

describe('what if', () => {
  it('groups pages by identical change, and names them', () => {
    const diff = whatIf(setPath(site.site, 'templates.t.layout.spacing.before', '50px'))
    expect(diff.groups.map(({ pages, facets, contentMoves }) => ({ pages, facets, contentMoves }))).to.deep.equal([
      {
        pages: ['a', 'b'],
        facets: [{ property: 'spacing.before', before: 20, after: 50, viewports: ['desk', 'tablet', 'phone'] }],
        contentMoves: { desk: 30, tablet: 30, phone: 30 },
      },
    ])
    expect(diff).to.deep.include({ unchanged: 1, added: [], removed: [], cured: [], caused: [] })
  })

  it('tells the findings that are gone and those that are new', () => {
    const { groups, cured, caused } = whatIf([
      ...setPath(site.site, 'pages.c.layout.title', 'absent'),
      ...setPath(site.site, 'pages.a.share', { image: 'gone' }),
    ])
    expect(caused).to.deep.equal([
      'assign-dangling@/pages/a/share/image',
      'headline-lost@/pages/c/layout/title/presence',
      'title-missing@/pages/c/layout/title/presence',
    ])
    expect(cured).to.deep.equal([])
    expect(groups.find((g) => g.pages.includes('c'))?.caused).to.deep.equal(['headline-lost', 'title-missing'])
  })

  it('tells pages that come and go', () => {
    const diff = whatIf([
      { op: 'add', path: '/pages/d', value: { path: '/d', title: 'D' } },
      { op: 'remove', path: '/pages/c' },
    ])
    expect([diff.added, diff.removed, diff.unchanged]).to.deep.equal([['d'], ['c'], 2])
  })

  it('tells pages that others find than before', () => {
    const diff = whatIf([
      ...setPath(site.site, 'pages.a.status', 'draft'),
      ...setPath(site.site, 'pages.b.access', 'members'),
      ...setPath(site.site, 'pages.c.layout', { findable: { site: false, web: false } }),
    ])
    expect(diff.states).to.deep.equal([
      { pages: ['a'], before: 'public', after: 'draft' },
      { pages: ['b'], before: 'public', after: 'members' },
      { pages: ['c'], before: 'public', after: 'hidden' },
    ])
  })

  it('tells pages that become dormant', () => {
    const shop = siteOf(`extensions: { shop: { enabled: true } }
kinds: { product: { from: shop } }
pages: { a: { path: /a, title: A }, b: { path: /b, title: B, kind: product } }
`)
    const { states } = whatIf(setPath(shop.site, 'extensions.shop.enabled', false), shop)
    expect(states).to.deep.equal([{ pages: ['b'], before: 'public', after: 'dormant' }])
  })

  it('tells the items that a surround gains and loses', () => {
    const diff = whatIf([
      {
        op: 'replace',
        path: '/surrounds/top/rows/0/items',
        value: [{ id: 'nav', text: 'To the moon' }, { text: 'Open' }],
      },
    ])
    expect(diff.surrounds).to.deep.equal([{ surround: 'top', gained: ['nav', 'text "Open"'], lost: ['gap "40px"'] }])
  })

  // The header is 60 px high; 20 px of room are above the first words of a and b, then 8 px, then 44 px.
  it('tells findings under the same key that get worse or better', () => {
    const fixed = site.with([{ op: 'add', path: '/theme/layout/header/position', value: 'fixed' }])
    const covers = 'header-covers-content@/theme/layout/header/position'
    const number = (before: number, px: string) => {
      const { worse, better, caused, cured } = whatIf(
        setPath(fixed.site, 'templates.t.layout.spacing.before', px),
        fixed,
      )
      const of = (list: typeof worse) =>
        list.filter(({ key }) => key === covers).map((c) => [c.before.worst, c.after.worst])
      expect([...caused, ...cured].filter((key) => key === covers)).to.deep.equal([])
      expect(before).to.equal(40)
      return [of(worse), of(better)]
    }
    expect(number(40, '8px')).to.deep.equal([[[40, 52]], []])
    expect(number(40, '44px')).to.deep.equal([[], [[40, 16]]])
  })

  it('does not take a finding that moved along in a list for another one', () => {
    const listed = siteOf(`assign:
  - { layout: { spacing: 10px }, where: { page: a } }
  - { layout: { spacing: 20px }, where: { page: gone } }
pages: { a: { path: /a, title: A } }
`)
    const { cured, caused } = whatIf([{ op: 'remove', path: '/assign/0' }], listed)
    expect([...cured, ...caused].filter((key) => key.startsWith('assign-dangling'))).to.deep.equal([])
  })

  it('is the same however the two states were read', () => {
    const patches: readonly Patch[] = [
      setPath(site.site, 'surrounds.top.rows.0.padding', '24px'),
      setPath(site.site, 'theme.layout.width', 'full'),
      setPath(site.site, 'templates.t.arrange', ['content']),
      unsetPath(site.site, 'pages.b.template'),
    ]
    for (const patch of patches) {
      const after = site.with(patch)
      const quick = diffSites(site, after, { now: NOW })
      const whole = diffWhole(siteOf(SITE), siteOf(SITE).with(patch), { now: NOW })
      expect(quick).to.deep.equal(whole)
      expect(quick.groups.length).to.be.greaterThan(0)
    }
  })

  it('a saved snapshot stands for the site it was taken of', () => {
    const saved = JSON.parse(JSON.stringify(takeSnapshot(site, { now: NOW }))) as ReturnType<typeof takeSnapshot>
    expect(diffSnapshots(saved, takeSnapshot(site, { now: NOW }))).to.deep.include({ groups: [], unchanged: 3 })
    const after = site.with(setPath(site.site, 'theme.layout.footer', 'absent'))
    expect(diffSnapshots(saved, takeSnapshot(after, { now: NOW }))).to.deep.equal(diffSites(site, after, { now: NOW }))
  })

  it('a path that leads nowhere is said, with what was meant', () => {
    expect(() => setPath(site.site, 'templats.t.layout.spacing', 0)).to.throw(PathError, /did you mean "templates"\?/)
    expect(() => setPath(site.site, 'pages.visit.layout', {})).to.throw(PathError, /there is no "visit"/)
    expect(() => unsetPath(site.site, 'pages.a.layout')).to.throw(PathError, /there is no "layout"/)
  })
})

describe('editing what several pages share', () => {
  const patch = setPath(site.site, 'surrounds.foot.height', '90px')

  it('says so first', () => {
    expect(sharedEdits(site, patch)).to.deep.equal([{ surround: 'foot', pages: ['a', 'b', 'c'] }])
    expect(sharedEdits(site, setPath(site.site, 'theme.layout.spacing', 0))).to.deep.equal([])
  })

  it('can be done to a copy instead, for some pages alone', () => {
    const copied = copyInstead(site, patch, ['c']) ?? []
    const after = site.with(copied)
    expect(diffSites(site, after, { now: NOW }).groups.map((g) => g.pages)).to.deep.equal([['c']])
    expect(after.page('c').at('desk').footer.use.value).to.equal('foot-c')
    expect(after.site.data.surrounds?.['foot-c']).to.deep.include({ copyOf: 'foot', own: ['height'], height: '90px' })
  })
})
