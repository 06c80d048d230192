import { expect } from 'chai'
import { siteOf } from '../support/site.js'

const entries = (site: ReturnType<typeof siteOf>, page = 'visit'): string[] =>
  site.page(page).templateChain.map((entry) => `${entry.layer} ${entry.outcome} ${String(entry.value)}`)

describe('the template, chosen first by the same machinery', () => {
  const everyChooser = `
templates: { a: {}, b: {}, c: {}, d: {}, e: {}, f: {} }
theme: { template: a }
kinds: { page: { template: b } }
assign: [ { template: c, where: { all: true } } ]
builders: { stave: { template: d } }
pages: { visit: { path: /visit, title: Visit, built: { with: stave, template: e }, template: f } }`

  it('candidates, weakest first: theme, kind, assign, builder, built, page', () => {
    expect(entries(siteOf(everyChooser))).to.deep.equal([
      'page wins f',
      'built overridden e',
      'builder overridden d',
      'assign overridden c',
      'kind overridden b',
      'theme overridden a',
    ])
  })

  it('choose reorders them', () => {
    const site = siteOf(`choose: [ page, theme, kind, built, builder, assign ]${everyChooser}`)
    expect(site.page('visit').choice.template?.id).to.equal('c')
  })

  it('none is a choice, and the search ends', () => {
    const site = siteOf(`
templates: { a: {} }
theme: { template: a }
pages: { visit: { path: /visit, title: Visit, template: none } }`)
    expect(site.page('visit').choice.template).to.equal(undefined)
    expect(entries(site)).to.deep.equal(['page wins none', 'theme overridden a'])
  })

  for (const [why, template, reason] of [
    ['missing', '', 'there is no template "x"'],
    ['disabled', 'x: { enabled: false }', 'disabled'],
    ['off with its extension', 'x: { from: shop }', 'off'],
    ['not for this kind', 'x: { for: [ article ] }', 'not for kind page'],
  ] as const)
    it(`one that is ${why} is skipped for the next, with the reason`, () => {
      const site = siteOf(`
templates: { a: {}, ${template} }
theme: { template: a }
pages: { visit: { path: /visit, title: Visit, template: x } }`)
      expect(entries(site)).to.deep.equal(['page skipped x', 'theme wins a'])
      expect(site.page('visit').templateChain[0]?.because).to.contain(reason)
    })

  it('takes everything from its base first', () => {
    const site = siteOf(`
templates: { plain: { layout: { title: hidden, spacing: 8px }, arrange: [ content ], ground: { color: "#eee" }, for: [ article ] }, own: { base: plain, layout: { spacing: { after: 9px } }, for: [ page ] } }
pages: { visit: { path: /visit, title: Visit, template: own } }`)
    const page = site.page('visit')
    expect(page.choice.template).to.deep.include({ arrange: ['content'], for: ['page'] })
    expect(page.ground).to.deep.equal({ color: '#eee', ink: '#000' })
    const { before, after } = page.at('desk').spacing
    expect([before.value, after.value]).to.deep.equal(['8px', '9px'])
    expect(before.chain[0]).to.deep.include({ because: 'template own, from its base plain' })
    expect(before.chain[0]?.at?.pointer).to.equal('/templates/plain/layout/spacing/before')
  })
})
