import { expect } from 'chai'
import { diffSites, inspect, type Finding, type Fix, type ResolvedSite, type RuleId } from 'wembra'
import { NOW, siteOf } from '../support/site.js'

// Each site is the smallest on which a fix once did more, or something else, than its author wanted.

const findingOf = (site: ResolvedSite, rule: RuleId): Finding => {
  const [finding] = inspect(site, { now: NOW, rules: [rule], fixes: true })
  if (!finding) throw new Error(`expected a finding of ${rule}`)
  return finding
}
const fixesOf = (text: string, rule: RuleId): readonly Fix[] => findingOf(siteOf(text), rule).fixes
const titlesOf = (fixes: readonly Fix[]): readonly string[] =>
  fixes.map(({ title, choice }) => (choice ? `choice: ${title}` : title))

const BODY = 'body: [ { section: s, items: [ { text: words } ] } ]'

describe('a fix changes only what it names', () => {
  it('removing side padding at a viewport keeps the padding above and below', () => {
    const [fix] = fixesOf(
      `pages: { visit: { path: /visit, title: Visit, body: [ { section: s, padding: 64px 100px, background: { color: "#eee" }, items: [ { text: words } ] } ] } }`,
      'column-squeezed',
    )
    expect(fix?.title).to.equal('no side padding at phone')
    expect(fix?.patch).to.deep.equal([
      { op: 'replace', path: '/pages/visit/body/0/padding', value: { phone: '64px 0', else: '64px 100px' } },
    ])
  })

  it('removing a doubled gutter at tablet and phone keeps the padding at desk', () => {
    // At desk the maximum of 1160 px bounds the container: its gutter is not in force there.
    const [fix] = fixesOf(
      `pages: { visit: { path: /visit, title: Visit, body: [ { section: s, padding: 8px 24px, items: [ { text: words } ] } ] } }`,
      'gutters-doubled',
    )
    expect(fix?.patch).to.deep.equal([
      { op: 'replace', path: '/pages/visit/body/0/padding', value: { desk: '8px 24px', else: '8px 0' } },
    ])
  })

  it('hiding the theme’s title keeps the byline', () => {
    const [fix] = fixesOf(
      `theme: { layout: { byline: shown } }
pages: { visit: { path: /visit, title: Visit, body: [ { section: s, items: [ { heading: 1, text: Visit } ] } ] } }`,
      'title-doubled',
    )
    expect(fix?.patch.filter(({ path }) => path.includes('byline'))).to.deep.equal([])
  })
})

describe('a fix that would undo something set on purpose is a choice', () => {
  it('replacing a page’s own spacing of 0', () => {
    const titles = titlesOf(
      fixesOf(
        `surrounds: { top: { as: header, height: 60px } }
theme: { layout: { header: { use: top }, title: absent, spacing: 48px } }
pages: { visit: { path: /visit, title: Visit, layout: { spacing: 0 }, ${BODY} } }`,
        'content-at-edge',
      ),
    )
    expect(titles).to.not.be.empty
    expect(titles.filter((title) => !title.startsWith('choice: '))).to.deep.equal([])
  })

  it('shrinking an item that is as wide as the window', () => {
    const fixes = fixesOf(
      `assets: { plate: { width: 900, height: 600 } }
pages: { visit: { path: /visit, title: Visit, body: [ { section: s, items: [ { image: plate, width: 100vw } ] } ] } }`,
      'overflow',
    )
    expect(titlesOf(fixes)).to.deep.equal(['choice: let it shrink with the window'])
  })

  it('removing a theme title whose text is not in the page’s own heading', () => {
    const other = fixesOf(
      `pages: { visit: { path: /visit, title: Opening hours, body: [ { section: s, items: [ { heading: 1, text: Come and see } ] } ] } }`,
      'title-doubled',
    )
    expect(titlesOf(other)[0]).to.match(/^hide the theme’s title visually/)
    expect(titlesOf(other).filter((title) => /remove/.test(title))).to.deep.equal(
      titlesOf(other).filter((title) => /^choice: remove/.test(title)),
    )
    const same = fixesOf(
      `pages: { visit: { path: /visit, title: Visit, body: [ { section: s, items: [ { heading: 1, text: Visit } ] } ] } }`,
      'title-doubled',
    )
    expect(titlesOf(same)[0]).to.match(/^remove the theme’s title/)
  })

  it('replacing a template that names the one it is a copy of', () => {
    const layout = (gutter: string): string =>
      `layout: { title: absent, spacing: 10px, width: { max: 800px, gutter: ${gutter} }, footer: absent }`
    const fixes = fixesOf(
      `templates: { a: { ${layout('20px')} }, b: { copyOf: a, ${layout('30px')} } }
pages: { visit: { path: /visit, title: Visit, template: a }, b: { path: /b, title: B, template: b } }`,
      'template-copies',
    )
    expect(titlesOf(fixes)).to.deep.equal(['choice: make "a" the base of "b", and keep what differs'])
  })
})

describe('a fix keeps the intended design', () => {
  const NIGHT = `surrounds: { top: { as: header, height: 60px, background: transparent, rows: [ { items: [ { text: Quillmere } ] } ] } }
`

  it('turns a fixed header that must not overlap content into a sticky one', () => {
    const fixes = fixesOf(
      `${NIGHT}theme: { layout: { header: { use: top, position: fixed, clearance: auto } } }
pages: { visit: { path: /visit, title: Visit, ${BODY} } }`,
      'overlay-misplaced',
    )
    const [operation] = fixes[0]?.patch ?? []
    expect(operation).to.include({ path: '/theme/layout/header/position', value: 'sticky' })
  })

  it('pads the first section by the height that an overlay header covers', () => {
    // The header is 60 px, the padding 20 px: 40 px are covered at every viewport.
    const [fix] = fixesOf(
      `${NIGHT}theme: { layout: { header: { use: top, position: overlay }, title: absent, width: full, spacing: 0 } }
pages: { visit: { path: /visit, title: Visit, body: [ { section: s, padding: 20px 10px, background: { color: "#123" }, ink: "#fff", items: [ { heading: 1, text: words } ] } ] } }`,
      'header-covers-content',
    )
    expect(fix?.title).to.equal('pad the section under the header by 40 px more at the top')
    expect(fix?.patch).to.deep.equal([
      { op: 'replace', path: '/pages/visit/body/0/padding', value: '60px 10px 20px 10px' },
    ])
  })

  it('makes a header readable with colors of the site', () => {
    const [fix] = fixesOf(
      `surrounds: { top: { as: header, height: 60px, ink: "#eeeeee", rows: [ { items: [ { text: Quillmere } ] } ] } }
theme: { ground: { color: "#ffffff", ink: "#1c2333" }, layout: { header: { use: top } } }
pages: { visit: { path: /visit, title: Visit, ${BODY} } }`,
      'header-unreadable',
    )
    expect(JSON.stringify(fix?.patch)).to.contain('"#1c2333"')
  })

  it('offers the site’s header for dark backgrounds', () => {
    const rows = 'rows: [ { items: [ { text: Quillmere } ] } ]'
    const [fix] = fixesOf(
      `purposes: { front: visit }
surrounds:
  dark: { as: header, height: 60px, ink: "#eeeeee", ${rows} }
  light: { as: header, copyOf: dark, own: [ ink ], height: 60px, ink: "#1c2333", ${rows} }
theme: { layout: { header: { use: dark } } }
pages: { visit: { path: /visit, title: Visit, ${BODY} } }`,
      'header-unreadable',
    )
    expect(fix?.title).to.match(/^use the header "light"/)
  })
})

describe('a note does not block a fix of an error or warning', () => {
  it('publishes a draft front page that has no share image', () => {
    const fixes = fixesOf(
      `purposes: { front: home }
pages: { home: { path: /, title: Home, status: draft, ${BODY} } }`,
      'front-unpublished',
    )
    expect(fixes.length).to.be.above(0)
  })

  it('updates a stale year in a footer and in its copy', () => {
    const footer = (copy: string): string =>
      `{ as: footer, ${copy}rows: [ { items: [ { text: "© 2019 Quillmere" } ] } ] }`
    const site = siteOf(
      `surrounds: { a: ${footer('')}, b: ${footer('copyOf: a, ')} }
theme: { layout: { footer: { use: a } } }
pages: { visit: { path: /visit, title: Visit, ${BODY} }, b: { path: /b, title: B, layout: { footer: { use: b } }, ${BODY} } }`,
    )
    const stale = inspect(site, { now: NOW, rules: ['year-stale'], fixes: true })
    expect(stale).to.have.length(2)
    for (const { fixes } of stale) expect(titlesOf(fixes)).not.to.deep.equal([])
  })
})

describe('pages with the same change', () => {
  it('are grouped by the change in px', () => {
    const site = siteOf(
      `pages:
  a: { path: /a, title: A, layout: { spacing: 100px }, ${BODY} }
  b: { path: /b, title: B, layout: { spacing: 100px }, ${BODY} }
  c: { path: /c, title: C, layout: { spacing: 100px }, body: [ { section: s, minHeight: 50vh, items: [ { text: words } ] } ] }`,
    )
    const after = site.with([
      {
        op: 'replace',
        path: '/pages/a/body/0',
        value: { section: 's', padding: '50px 0', items: [{ text: 'words' }] },
      },
      {
        op: 'replace',
        path: '/pages/b/body/0',
        value: { section: 's', padding: '50px 0', items: [{ text: 'words' }] },
      },
      { op: 'replace', path: '/pages/c/body/0', value: { section: 's', items: [{ text: 'words' }] } },
    ])
    // One line is 24 px high: two pages become 100 px taller, the third 376, 488 or 398 px shorter.
    expect(diffSites(site, after, { findings: false }).groups.map(({ pages }) => pages)).to.deep.equal([
      ['a', 'b'],
      ['c'],
    ])
  })
})
