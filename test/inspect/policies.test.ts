import { expect } from 'chai'
import { inspect } from 'wembra'
import { findingsOf, NOW, siteOf } from '../support/site.js'

const SITE = `assets: { mark: { width: 80, height: 40 } }
menus: { m: [ { label: Home, page: home }, { label: Visit, page: visit }, { label: Elsewhere, url: "https://elsewhere.example" } ] }
surrounds:
  top: { as: header, rows: [ { padding: 10px, items: [ { logo: mark }, { menu: m, height: 24px } ] } ] }
  foot: { as: footer, rows: [ { items: [ { menu: m, height: 24px } ] } ] }
theme: { layout: { header: { use: top }, footer: { use: foot }, spacing: { phone: 20px, else: 48px } } }
purposes: { front: home }
pages:
  home: { path: /, title: Home }
  visit: { path: /visit, title: Visit, tags: [ landing ], body: [ { section: s, items: [ { text: three little words }, { button: Home, page: home }, { button: Book, url: "https://book.example" } ] } ] }
`
const broken = (require: string, where = '{ page: visit }') =>
  findingsOf(siteOf(`${SITE}policies: [ { name: P, where: ${where}, require: { ${require} } } ]`), 'policy-broken')

describe('policies', () => {
  for (const require of [
    'header: shown',
    'header: [ absent, shown ]',
    'header.use: top',
    'spacing.before: { phone: 20px, else: 48px }',
    'spacing.before: { min: 16px, max: 3rem }',
    'width.max: 1160px',
    'sidebar: none',
    'exits: { max: 3 }',
    'exits: { by: body, max: 2 }',
    'exits: { by: header, min: 2, max: 2 }',
    'header.height: 60px',
    'top: { min: 80 }',
    'words: { min: 5, max: 5 }',
    'template: none',
    'findable: true',
  ])
    it(`${require} is kept`, () => expect(broken(require)).to.deep.equal([]))

  const breaks: readonly (readonly [string, string, readonly string[] | undefined])[] = [
    ['header: absent', 'header is shown, and should be absent', undefined],
    ['footer.use: [ small, top ]', 'footer.use is foot, and should be small or top', undefined],
    ['spacing.before: 48px', 'spacing.before is 20, and should be 48px', ['phone']],
    ['exits: { max: 2 }', 'exits is 3, and should be at most 2', undefined],
    ['words: { min: 6 }', 'words is 5, and should be at least 6', undefined],
    ['purpose: front', 'purpose is nothing, and should be front', undefined],
  ]
  for (const [require, what, viewports] of breaks)
    it(`${require} is broken`, () => {
      const [finding] = broken(require)
      expect(finding?.message).to.equal(`“P”: ${what}`)
      expect(finding?.viewports).to.deep.equal(viewports ?? ['desk', 'tablet', 'phone'])
      expect(finding?.at.pointer).to.equal(`/policies/0/require/${require.split(':')[0]}`)
    })

  it('means only the pages it is for', () => {
    expect(broken('header: absent', '{ tag: other }')).to.deep.equal([])
    expect(broken('purpose: front', '{ purpose: front }')).to.deep.equal([])
  })

  it('says so when it requires what nothing has', () => {
    expect(() => broken('heder: absent')).to.throw(/a policy cannot require "heder"; did you mean "header"\?/)
  })
})

describe('allow', () => {
  const rules = (more: string, page = '') =>
    inspect(siteOf(`${more}\npages: { visit: { path: /visit, title: Visit${page} }, b: { path: /b, title: B } }`), {
      now: NOW,
    })
      .filter((f) => f.rule === 'empty-page-live' || f.rule === 'allow-unused')
      .map((f) => `${f.rule} ${f.pages.join(' ')}`)

  it('lets a rule pass where a reason is given: everywhere, for a selector, on a template, on a page', () => {
    const reason = 'reason: Not written yet.'
    expect(rules(`allow: [ { rule: empty-page-live, ${reason} } ]`)).to.deep.equal([])
    const rest = ['empty-page-live b']
    expect(rules(`allow: [ { rule: [ empty-page-live ], where: { page: visit }, ${reason} } ]`)).to.deep.equal(rest)
    expect(
      rules(`templates: { t: { allow: [ { rule: empty-page-live, ${reason} } ] } }`, ', template: t'),
    ).to.deep.equal(rest)
    expect(rules('', `, allow: [ { rule: empty-page-live, ${reason} } ]`)).to.deep.equal(rest)
  })

  it('is a finding where it permits nothing', () => {
    expect(rules('', ', allow: [ { rule: header-tall, reason: It was tall. } ]')).to.include('allow-unused ')
  })

  it('severity is the site’s to say', () => {
    const found = inspect(siteOf('severity: { empty-page-live: error, share-image-missing: none }'), { now: NOW })
    expect(found.find((f) => f.rule === 'empty-page-live')?.severity).to.equal('error')
    expect(found.map((f) => f.rule)).to.not.include('share-image-missing')
  })
})
