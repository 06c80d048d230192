import { expect } from 'chai'
import { kindsNamed, SHARED_THINGS, usesOf, type SharedThing } from 'wembra'
import { siteOf } from '../support/site.js'

const site = siteOf(`
assets: { mark: { width: 10, height: 10 }, dome: { width: 10, height: 10 } }
menus: { primary: [ { label: Visit, page: visit } ], other: [ { label: Visit, page: visit } ] }
surrounds:
  top: { as: header, rows: [ { items: [ { logo: mark }, { menu: primary } ] } ] }
  night: { as: header, rows: [ { items: [ { logo: mark } ] } ] }
  rail: { as: sidebar, items: [ { menu: primary } ] }
theme: { template: plain, layout: { header: { use: top } } }
templates: { plain: {}, tall: { base: plain }, old: { enabled: false } }
assign: [ { use: night, where: { tag: dark } } ]
pages:
  visit: { path: /visit, title: Visit }
  dark: { path: /dark, title: Dark, tags: [ dark ], template: tall }
  bare: { path: /bare, title: Bare, template: old, layout: { header: { presence: { phone: shown, else: absent } } } }
  own: { path: /own, title: Own, layout: { header: { menu: other } }, image: dome, body: [ { section: s, background: { image: dome }, items: [ { use: rail } ] } ] }`)

const uses = (kind: SharedThing, id: string) => {
  const found = usesOf(site, kind, id)
  const short = (list: typeof found.uses): string[] => list.map((u) => `${u.page}: ${u.because}`)
  return {
    uses: short(found.uses),
    would: short(found.would),
    through: found.through.map((t) => t.id),
    changes: found.changes,
  }
}

describe('who uses a shared thing', () => {
  it('a template: what gets it, where it is overridden, and what changes through its heirs', () => {
    expect(uses('template', 'plain')).to.deep.equal({
      uses: ['visit: theme options', 'bare: theme options', 'own: theme options'],
      would: ['dark: theme options'],
      through: ['tall'],
      changes: ['visit', 'dark', 'bare', 'own'],
    })
    expect(uses('template', 'old').would).to.deep.equal([
      'bare: the page\'s own choice; the template "old" is disabled',
    ])
  })

  it('a surround: through which entry, and where another is stronger', () => {
    expect(uses('surround', 'night')).to.deep.equal({
      uses: ['dark: assign entry 1 (tag dark)'],
      would: [],
      through: [],
      changes: ['dark'],
    })
    expect(uses('surround', 'top').would).to.deep.equal(['dark: theme options'])
    expect(uses('surround', 'rail').uses).to.deep.equal(['own: in the body'])
  })

  it('at the viewports where it is printed', () => {
    expect(usesOf(site, 'surround', 'top').uses.find((u) => u.page === 'bare')?.viewports).to.deep.equal(['phone'])
  })

  it('a menu: wherever it prints, unless a page puts another in its place', () => {
    expect(uses('menu', 'primary').uses).to.deep.equal([
      'visit: in the header',
      'bare: in the header',
      'own: in the body',
    ])
    expect(uses('menu', 'other').uses).to.deep.equal(['own: in the header'])
  })

  it('an asset: logos, backgrounds, and lead pictures that are not printed', () => {
    expect(uses('asset', 'mark').changes).to.deep.equal(['visit', 'dark', 'bare', 'own'])
    expect(uses('asset', 'dome')).to.deep.include({ uses: ['own: behind "s"'], changes: ['own'] })
  })

  it('each with its place', () => {
    expect(usesOf(site, 'surround', 'night').uses[0]?.at?.pointer).to.equal('/assign/0/use')
  })

  it('are named: a name may be that of several kinds of things', () => {
    const both = siteOf(`
menus: { top: [ { label: Visit, page: visit } ] }
surrounds: { top: { as: header, rows: [ { items: [ { menu: top } ] } ] } }
templates: { plain: {} }
pages: { visit: { path: /visit, title: Visit } }`)
    expect(kindsNamed(both, 'top')).to.deep.equal(['surround', 'menu'])
    expect(kindsNamed(both, 'plain')).to.deep.equal(['template'])
    expect(kindsNamed(both, 'visit')).to.deep.equal([])
    // Each kind there is can be asked about.
    for (const kind of SHARED_THINGS) expect(() => usesOf(both, kind, 'none'), kind).to.throw(`unknown ${kind} "none"`)
  })
})
