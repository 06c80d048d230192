import { expect } from 'chai'
import { fixSite, inspect, styleOut } from 'wembra'
import { findingsOf, NOW, siteOf } from '../support/site.js'

const TEXT = 'body: [ { section: s, items: [ { text: words } ] } ]'
const HEADING = 'body: [ { section: s, items: [ { heading: 1, text: Come and see } ] } ]'
const BARS = `assets: { mark: { width: 80, height: 40 } }
surrounds: { top: { as: header, rows: [ { items: [ { logo: mark } ] } ] }, foot: { as: footer, rows: [ { items: [ { logo: mark } ] } ] } }
purposes: { front: home }
`
const THEME = 'theme: { layout: { header: { use: top }, footer: { use: foot } } }\n'
const home = '  home: { path: /, title: Home }\n'

/** Titles of the fixes of a rule, those that a person has to choose marked. */
const offered = (text: string, rule: string): readonly string[] =>
  findingsOf(siteOf(text), rule, true).flatMap(({ fixes }) =>
    fixes.map((f) => `${f.choice ? 'choice: ' : ''}${f.title}`),
  )

const applied = (text: string): readonly string[] =>
  fixSite(siteOf(text), { now: NOW }).applied.map(({ rule, title }) => `${rule}: ${title}`)

describe('fixes keep what was set on purpose', () => {
  for (const [layer, site] of [
    [
      'a template',
      `${BARS}${THEME}templates: { bare: { layout: { header: absent, footer: absent } } }\npages:\n${home}  visit: { path: /visit, title: Visit, template: bare, ${TEXT} }\n`,
    ],
    [
      'the page',
      `${BARS}${THEME}pages:\n${home}  visit: { path: /visit, title: Visit, layout: { header: absent, footer: absent }, ${TEXT} }\n`,
    ],
    [
      'an assign entry',
      `${BARS}${THEME}assign: [ { layout: { header: absent, footer: absent }, where: [ { page: visit } ] } ]\npages:\n${home}  visit: { path: /visit, title: Visit, ${TEXT} }\n`,
    ],
  ] as const)
    it(`a header that ${layer} removes comes back by choice only`, () => {
      expect(offered(site, 'nav-lost')).to.deep.equal(['choice: show the header on the page visit'])
      expect(fixSite(siteOf(site), { now: NOW, rules: ['nav-lost'] }).patch).to.deep.equal([])
      expect(fixSite(siteOf(site), { now: NOW, rules: ['nav-lost'], choose: 1 }).applied).to.have.lengthOf(1)
    })

  it('a header that the site’s defaults remove comes back', () => {
    const site = `${BARS}theme: { layout: { header: { use: top, presence: absent }, footer: { use: foot, presence: absent } } }\npages:\n${home}  visit: { path: /visit, title: Visit, ${TEXT} }\n`
    expect(offered(site, 'nav-lost')).to.deep.equal(['show the header on the page visit'])
  })

  it('the page’s own title: absent stays', () => {
    const site = `pages: { visit: { path: /visit, title: Visit, layout: { title: absent }, ${TEXT} } }\n`
    expect(offered(site, 'title-missing')).to.deep.equal(['choice: show the title on the page visit'])
    expect(applied(site)).to.not.include('title-missing: show the title on the page visit')
  })

  it('links without an address, and templates that are not there, are removed by choice only', () => {
    const social =
      'body: [ { section: s, items: [ { text: words }, { social: [ { label: A, url: "https://a.example" }, { label: B } ] } ] } ]'
    expect(
      offered(`pages: { visit: { path: /visit, title: Visit, ${social} } }\n`, 'item-prints-nothing'),
    ).to.deep.equal(['choice: remove what has no address'])
    const gone = `pages: { visit: { path: /visit, title: Visit, template: gone, ${TEXT} } }\n`
    for (const rule of ['template-passed-over', 'assign-dangling'])
      expect(
        offered(gone, rule).every((title) => title.startsWith('choice: ')),
        rule,
      ).to.equal(true)
    expect(applied(gone)).to.deep.equal([])
  })

  it('a marked headline stays in the markup', () => {
    const site = `kinds: { article: { headline: marked } }\npages: { visit: { path: /visit, title: Visit, kind: article, ${HEADING} } }\n`
    expect(offered(site, 'title-doubled')).to.deep.equal([
      'hide the theme’s title visually on the page visit; it is still read aloud',
    ])
  })
})

describe('one setting gets one fix', () => {
  it('at the layer that decides for all pages, not once on each', () => {
    const pages = ['a', 'b', 'c'].map(
      (id) => `  ${id}: { path: /${id}, title: ${id.toUpperCase()}, template: t, ${HEADING} }\n`,
    )
    const site = `templates: { t: { layout: { title: shown } } }\npages:\n${pages.join('')}`
    expect(offered(site, 'title-doubled')[0]).to.equal(
      'hide the theme’s title visually in template t; it is still read aloud',
    )
    expect(offered(site, 'title-doubled').filter((title) => title.includes('3 pages'))).to.deep.equal([])
  })

  it('on each page where what decides reaches others as well', () => {
    const site = `templates: { t: { layout: { title: shown } } }\npages:
  a: { path: /a, title: A, template: t, ${HEADING} }
  b: { path: /b, title: B, template: t, ${HEADING} }
  c: { path: /c, title: C, template: t, ${TEXT} }
`
    const [first] = offered(site, 'title-doubled')
    expect(first).to.equal('hide the theme’s title visually on these 2 pages; it is still read aloud')
  })

  it('and no second one in the same run', () => {
    const patches = fixSite(
      siteOf(`${BARS}${THEME}pages:\n${home}  visit: { path: /visit, title: Visit, ${HEADING} }\n`),
      { now: NOW },
    ).patch
    const paths = patches.map(({ path }) => path)
    expect(paths).to.deep.equal([...new Set(paths)])
  })
})

describe('a fix that does not hold', () => {
  it('is named with the reason', () => {
    // The only gap keeps the text clear of the overlay header: without it 40 px of the text would be covered.
    const site = siteOf(`surrounds: { top: { as: header, height: 60px, background: transparent } }
theme: { layout: { header: { use: top, position: overlay }, title: absent, spacing: 0 } }
templates: { t: { arrange: [ title, { gap: 64px }, content ] } }
pages: { visit: { path: /visit, title: Visit, template: t, ${TEXT} } }
`)
    const [finding] = findingsOf(site, 'gap-left-behind', true)
    expect(finding?.fixes).to.deep.equal([])
    expect(finding?.refused).to.deep.equal([
      {
        title: 'remove the gap from the template',
        because: 'it would cause header-covers-content on the page visit',
      },
    ])
  })
})

describe('messages', () => {
  it('name what all cases have in common, not the worst one’s reason', () => {
    const site = siteOf(`surrounds: { top: { as: header, height: 60px } }
theme: { layout: { header: { use: top, position: fixed, clearance: 80px } } }
pages:
  a: { path: /a, title: A, ${TEXT} }
  b: { path: /b, title: B, layout: { header: absent }, ${TEXT} }
`)
    const [finding] = findingsOf(site, 'clearance-wrong')
    expect(finding?.pages).to.deep.equal(['a', 'b'])
    expect(finding?.message).to.equal(
      'the clearance of 80 px is up to 80 px too much: between 0 and 60 px are needed, depending on page and width',
    )
  })

  it('count one page as one', () => {
    const site = siteOf(
      `kinds: { article: {} }\npages: { visit: { path: /visit, title: Visit, kind: article, ${TEXT} } }\n`,
    )
    const [finding] = inspect(site, { now: NOW, rules: ['listing-lost'] })
    expect(finding?.message).to.equal('no page lists the kind article, which has 1 published page')
  })
})

describe('the style sheet of clearances', () => {
  it('holds what clearance: auto comes to as well', () => {
    const css = styleOut(
      siteOf(`surrounds: { top: { as: header, height: { phone: 60px, else: 96px } } }
theme: { layout: { header: { use: top, position: fixed, clearance: auto } } }
pages: { visit: { path: /visit, title: Visit, ${TEXT} } }
`),
    )
    expect(css).to.match(/body\.page-visit \{\s+padding-top: 96px;/)
    expect(css).to.match(/body\.page-visit \{\s+padding-top: 60px;/)
  })
})

describe('choices with their patch ready', () => {
  const choices = (text: string, rule: string): readonly (readonly [string, unknown])[] =>
    findingsOf(siteOf(text), rule, true).flatMap(({ fixes }) =>
      fixes.filter(({ choice }) => choice).map(({ title, patch }) => [title, patch[0]] as const),
    )

  it('a kind for a template that is not for it', () => {
    const site = `kinds: { event: {} }\ntemplates: { t: { for: [ page ], layout: { title: visually-hidden } } }
pages: { visit: { path: /visit, title: Visit, kind: event, template: t, ${TEXT} }, b: { path: /b, title: B, template: t, ${HEADING} } }\n`
    expect(choices(site, 'template-passed-over')[0]?.[0]).to.equal('remove the choice; the page stays as it is')
    const shown = site.replace('layout: { title: visually-hidden }', 'layout: { spacing: 60px }')
    expect(choices(shown, 'template-passed-over')[0]).to.deep.equal([
      'allow the template "t" for kind event',
      { op: 'add', path: '/templates/t/for/-', value: 'event' },
    ])
  })

  it('an entry for a menu, and a recipient for a form', () => {
    const menu = `menus: { m: [] }\npurposes: { front: home }
pages: { home: { path: /, title: Home, ${TEXT} }, visit: { path: /visit, title: Visit, body: [ { section: s, items: [ { menu: m }, { text: words } ] } ] } }\n`
    expect(choices(menu, 'item-prints-nothing')[0]).to.deep.equal([
      'add "Home" to the menu',
      { op: 'add', path: '/menus/m/-', value: { label: 'Home', page: 'home' } },
    ])
    const form = `pages: { a: { path: /a, title: A, body: [ { section: s, items: [ { form: letter } ] } ] }, b: { path: /b, title: B, body: [ { section: t, items: [ { form: other, to: us@tarn.example } ] } ] } }\n`
    expect(choices(form, 'item-prints-nothing')).to.deep.equal([
      [
        'send it to us@tarn.example, as other forms do',
        { op: 'add', path: '/pages/a/body/0/items/0/to', value: 'us@tarn.example' },
      ],
    ])
  })
})

describe('policies', () => {
  const broken = (policy: string): readonly string[] =>
    findingsOf(
      siteOf(`policies: [ { name: p, ${policy} } ]
purposes: { front: a, signIn: door }
pages: { a: { path: /, title: A }, b: { path: /b, title: B, status: draft }, c: { path: /c, title: C, access: members }, door: { path: /door, title: Door } }\n`),
      'policy-broken',
    ).flatMap(({ pages }) => pages)

  it('may require access and status, and leave pages out', () => {
    expect(broken('require: { access: members }')).to.deep.equal(['a', 'b', 'door'])
    expect(
      broken('where: [ { all: true } ], except: [ { purpose: front }, { page: door } ], require: { access: members }'),
    ).to.deep.equal(['b'])
    expect(broken('require: { status: published }')).to.deep.equal(['b'])
  })
})
