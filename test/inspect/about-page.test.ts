import { expect } from 'chai'
import { aboutPage } from 'wembra'
import { siteOf } from '../support/site.js'

const body = (items: string): string => `body: [ { section: s, items: [ ${items} ] } ]`

describe('the titles of a page', () => {
  it('are listed with where they are seen, read aloud and in the markup', () => {
    const site =
      siteOf(`theme: { layout: { title: { presence: { phone: absent, tablet: visually-hidden, else: shown } } } }
pages: { visit: { path: /visit, title: Visit, ${body('{ heading: 2, text: visit, hide: [ desk ] }')} } }`)
    const { places, headline } = aboutPage(site, 'visit').titles
    expect(places.map(({ what, seen, readAloud, inMarkup }) => [what, seen, readAloud, inMarkup])).to.deep.equal([
      ['the theme’s title', ['desk'], ['desk', 'tablet'], true],
      ['a heading 2 with the title’s words in the body', ['tablet', 'phone'], ['tablet', 'phone'], true],
    ])
    expect(headline).to.deep.equal({ from: 'title', marked: false })
  })

  it('and the ways of hiding it by what each loses', () => {
    const hiding = (kind: string, items: string) =>
      aboutPage(
        siteOf(
          `kinds: { article: { ${kind} } }\npages: { visit: { path: /visit, title: Visit, kind: article, ${body(items)} } }`,
        ),
        'visit',
      ).titles.hiding.map(({ presence, readAloud, inMarkup, headline }) => [presence, readAloud, inMarkup, headline])
    const kept = [
      ['visually-hidden', true, true, 'title'],
      ['hidden', false, true, 'title'],
    ]
    expect(hiding('', '{ heading: 1, text: Come }')).to.deep.equal([...kept, ['absent', false, false, 'heading']])
    expect(hiding('', '{ text: Come }')).to.deep.equal([...kept, ['absent', false, false, null]])
    // What its kind marks up is the title itself; no heading stands in for it.
    expect(hiding('headline: marked', '{ heading: 1, text: Come }')).to.deep.equal([
      ...kept,
      ['absent', false, false, null],
    ])
  })
})

describe('what a page leads to', () => {
  it('is listed by place, each address once, itself left out', () => {
    const site =
      siteOf(`menus: { m: [ { label: Home, page: home }, { label: Visit, page: visit }, { label: Out, url: "https://out.example" } ] }
surrounds: { top: { as: header, rows: [ { items: [ { menu: m } ] } ] }, foot: { as: footer, rows: [ { items: [ { menu: m } ] } ] } }
theme: { layout: { header: { use: top }, footer: { use: foot } } }
pages: { home: { path: /, title: Home }, visit: { path: /visit, title: Visit, ${body('{ text: "three plain words" }, { button: Go now, page: home }')} } }`)
    const { exits, words } = aboutPage(site, 'visit')
    expect(exits).to.deep.equal({
      header: ['home', 'https://out.example'],
      body: ['home'],
      footer: ['home', 'https://out.example'],
    })
    expect(words).to.equal(5)
  })
})

describe('a visitor who is not signed in', () => {
  const gets = (visit: string, more = '', purposes = '') =>
    aboutPage(
      siteOf(
        `${purposes}pages: { visit: { path: /visit, title: Visit, ${visit} }, door: { path: /door, title: Sign in }${more} }`,
      ),
      'visit',
    ).visitor

  it('gets a public page itself', () => {
    expect(gets('tags: [ a ]')).to.deep.equal({ gets: 'page' })
  })

  it('is sent on from a members’ page', () => {
    const redirect = { gets: 'redirect', to: 'door', because: '"visit" is for members' }
    expect(gets('access: members, sendTo: door')).to.deep.equal(redirect)
    expect(gets('access: members', '', 'purposes: { signIn: door }\n')).to.deep.equal(redirect)
  })

  it('gets nothing of a draft, and where the way ends nowhere or in a circle', () => {
    expect(gets('status: draft')).to.deep.equal({ gets: 'nothing', because: '"visit" is a draft' })
    expect(gets('access: members')).to.deep.equal({
      gets: 'nothing',
      because: '"visit" is for members and sends nowhere',
    })
    expect(
      gets('access: members, sendTo: other', ', other: { path: /o, title: O, access: members, sendTo: visit }'),
    ).to.deep.equal({
      gets: 'nothing',
      because: 'the redirects form a circle at "visit"',
    })
  })
})
