import { UnknownNameError } from 'wembra'
import { expect } from 'chai'
import { chainOf, siteOf, valueOf } from '../support/site.js'

/** The contract's section 4, sentence by sentence. */
describe('layers: a page’s value is the strongest layer’s that says something', () => {
  const everyLayer = `
theme: { layout: { width: { max: 1000px } } }
kinds: { page: { layout: { width: { max: 1001px } } } }
templates: { tall: { layout: { width: { max: 1002px } } } }
assign: [ { layout: { width: { max: 1003px } }, where: { all: true } } ]
builders: { stave: { layout: { width: { max: 1004px } } } }
pages: { visit: { path: /visit, title: Visit, template: tall, built: { with: stave }, layout: { width: { max: 1005px } } } }`

  it('weakest first: baseline, theme, kind, template, assign, builder, page', () => {
    expect(chainOf(siteOf(everyLayer), 'width.max')).to.deep.equal([
      'page wins 1005px',
      'builder overridden 1004px',
      'assign overridden 1003px',
      'template overridden 1002px',
      'kind overridden 1001px',
      'theme overridden 1000px',
      'baseline overridden 1160',
    ])
  })

  it('what follows kind may be reordered by precedence', () => {
    const site = siteOf(`precedence: [ baseline, theme, kind, page, builder, assign, template ]${everyLayer}`)
    expect(valueOf(site, 'width.max')).to.equal('1002px')
  })

  it('an overridden layer with the winner’s value is the same, lengths compared in px', () => {
    const site = siteOf(`
theme: { layout: { width: { max: 64rem } } }
pages: { visit: { path: /visit, title: Visit, layout: { width: { max: 1024px } } } }`)
    expect(chainOf(site, 'width.max')).to.deep.equal([
      'page wins 1024px',
      'theme same 64rem',
      'baseline overridden 1160',
    ])
  })

  it('each entry of a chain has its own place', () => {
    const [page, builder] = siteOf(everyLayer).page('visit').at('desk').chain('width.max')
    expect(page?.at).to.deep.equal({
      file: 'test.site.yaml',
      line: 9,
      column: 106,
      pointer: '/pages/visit/layout/width/max',
    })
    expect(builder?.at).to.include({ line: 8, pointer: '/builders/stave/layout/width/max' })
  })

  it('two layers that each take an item away add up', () => {
    const site = siteOf(`
theme: { layout: { header: { items: { nav: absent } } } }
pages: { visit: { path: /visit, title: Visit, layout: { header: { items: { seek: hidden } } } } }`)
    expect(site.page('visit').at('desk').header.items.value).to.deep.equal({ nav: 'absent', seek: 'hidden' })
    expect(chainOf(site, 'header.items.nav')).to.deep.equal(['theme wins absent'])
  })
})

describe('values by viewport', () => {
  const site = siteOf(`
theme: { layout: { title: { presence: { phone: absent, else: hidden } }, header: { position: { desk: fixed } } } }`)

  it('a map gives its viewport’s entry, else its else', () => {
    expect(valueOf(site, 'title.presence', 'phone')).to.equal('absent')
    expect(valueOf(site, 'title.presence', 'tablet')).to.equal('hidden')
  })

  it('without either it says nothing', () => {
    expect(valueOf(site, 'header.position', 'desk')).to.equal('fixed')
    expect(chainOf(site, 'header.position', 'phone')).to.deep.equal(['baseline wins flow'])
  })

  it('a viewport stands for the widths from its own up to the next wider one’s, the narrowest down to 0', () => {
    const page = site.page('visit')
    expect(page.at({ width: 1024, height: 768 }).value('title.presence')).to.equal('hidden')
    expect(page.at({ width: 767, height: 768 }).value('title.presence')).to.equal('absent')
    expect(page.at({ width: 320, height: 568 }).value('title.presence')).to.equal('absent')
    expect(page.at({ width: 2000, height: 900 }).value('header.position')).to.equal('fixed')
  })

  it('asking for a viewport that is not there is an error that names those that are', () => {
    expect(() => site.page('visit').at('watch')).to.throw(UnknownNameError, 'desk, tablet, phone')
  })
})

describe('inherit and revert', () => {
  it('inherit says nothing, on purpose', () => {
    const site = siteOf(`
theme: { layout: { title: hidden } }
pages: { visit: { path: /visit, title: Visit, layout: { title: inherit } } }`)
    expect(chainOf(site, 'title.presence')).to.deep.equal([
      'page skipped inherit',
      'theme wins hidden',
      'baseline overridden shown',
    ])
  })

  it('inherit may be an entry of a map', () => {
    const site = siteOf(`
theme: { layout: { title: hidden } }
pages: { visit: { path: /visit, title: Visit, layout: { title: { phone: inherit, else: absent } } } }`)
    expect([valueOf(site, 'title.presence', 'phone'), valueOf(site, 'title.presence')]).to.deep.equal([
      'hidden',
      'absent',
    ])
  })

  it('inherit in a template takes back what its base says', () => {
    const site = siteOf(`
templates: { plain: { layout: { title: hidden, header: { position: fixed } } }, own: { base: plain, layout: { title: inherit } } }
pages: { visit: { path: /visit, title: Visit, template: own } }`)
    expect([valueOf(site, 'title.presence'), valueOf(site, 'header.position')]).to.deep.equal(['shown', 'fixed'])
  })

  it('revert gives what baseline, theme and kind alone give', () => {
    const site = siteOf(`
theme: { layout: { title: hidden, spacing: 10px } }
kinds: { page: { layout: { spacing: { before: 20px } } } }
templates: { bare: { layout: { title: absent, spacing: 0 } } }
pages: { visit: { path: /visit, title: Visit, template: bare, layout: { title: revert, spacing: revert } } }`)
    expect(valueOf(site, 'title.presence')).to.equal('hidden')
    expect([valueOf(site, 'spacing.before'), valueOf(site, 'spacing.after')]).to.deep.equal(['20px', '10px'])
  })
})

describe('locks', () => {
  it('from the weakest layer that locks a property, every stronger setting is locked', () => {
    const site = siteOf(`
surrounds: { a: { as: header }, b: { as: header }, c: { as: header } }
theme: { layout: { header: { use: a } } }
templates: { shut: { layout: { lock: [ header.use ], header: { use: b } } } }
pages: { visit: { path: /visit, title: Visit, template: shut, layout: { header: { use: c, position: fixed } } } }`)
    expect(chainOf(site, 'header.use')).to.deep.equal(['page locked c', 'template wins b', 'theme overridden a'])
    expect(valueOf(site, 'header.position')).to.equal('fixed')
  })

  it('whether or not the locking settings say a value themselves', () => {
    const site = siteOf(`
theme: { layout: { lock: [ title ] } }
pages: { visit: { path: /visit, title: Visit, layout: { title: absent } } }`)
    expect(chainOf(site, 'title.presence')).to.deep.equal(['page locked absent', 'baseline wins shown'])
  })

  it('a template’s own lock adds to its base’s', () => {
    const site = siteOf(`
templates: { plain: { layout: { lock: [ title ] } }, own: { base: plain, layout: { lock: [ footer ] } } }
pages: { visit: { path: /visit, title: Visit, template: own, layout: { title: absent, footer: absent } } }`)
    expect([valueOf(site, 'title.presence'), valueOf(site, 'footer.presence')]).to.deep.equal(['shown', 'shown'])
  })

  it('a lock on items covers each of them', () => {
    const site = siteOf(`
theme: { layout: { lock: [ header.items ] } }
pages: { visit: { path: /visit, title: Visit, layout: { header: { items: { nav: absent } } } } }`)
    expect(chainOf(site, 'header.items.nav')).to.deep.equal(['page locked absent'])
  })
})

describe('names that lead nowhere', () => {
  it('count as not said', () => {
    const site = siteOf(`
surrounds: { top: { as: header }, rail: { as: sidebar } }
theme: { layout: { header: { use: top } } }
pages: { visit: { path: /visit, title: Visit, layout: { header: { use: ghost, menu: nowhere } } }, b: { path: /b, title: B, layout: { header: { use: rail } } } }`)
    expect(chainOf(site, 'header.use')).to.deep.equal(['page skipped ghost', 'theme wins top'])
    expect(valueOf(site, 'header.menu')).to.equal(null)
    expect(chainOf(site, 'header.use', 'desk', 'b')).to.deep.equal(['page skipped rail', 'theme wins top'])
  })

  it('so do those whose extension is off, or not listed', () => {
    const text = (extensions: string): string => `
${extensions}
surrounds: { top: { as: header }, bar: { as: header, from: raiser } }
theme: { layout: { header: { use: top } } }
pages: { visit: { path: /visit, title: Visit, layout: { header: { use: bar } } } }`
    expect(valueOf(siteOf(text('extensions: { raiser: { enabled: true } }')), 'header.use')).to.equal('bar')
    expect(valueOf(siteOf(text('extensions: { raiser: { enabled: false } }')), 'header.use')).to.equal('top')
    expect(valueOf(siteOf(text('')), 'header.use')).to.equal('top')
  })

  it('a name that every object has is no page, menu or surround', () => {
    const site = siteOf('theme: { layout: { header: { use: constructor, menu: toString } } }')
    expect([valueOf(site, 'header.use'), valueOf(site, 'header.menu')]).to.deep.equal([null, null])
    expect(() => site.page('constructor')).to.throw(UnknownNameError)
  })
})

describe('kinds and extensions', () => {
  it('facets lists what may be set above the kind layer', () => {
    const site = siteOf(`
theme: { layout: { sidebar: right } }
kinds: { product: { facets: [ header ], layout: { footer: hidden } } }
pages: { visit: { path: /visit, title: Visit, kind: product, layout: { sidebar: left, header: { position: fixed } } } }`)
    expect(chainOf(site, 'sidebar.side')).to.deep.equal([
      'page skipped left',
      'theme wins right',
      'baseline overridden none',
    ])
    expect([valueOf(site, 'header.position'), valueOf(site, 'footer.presence')]).to.deep.equal(['fixed', 'hidden'])
  })

  it('a page whose kind’s extension is off is dormant, and wakes with it', () => {
    const text = (enabled: boolean): string => `
extensions: { shop: { enabled: ${enabled} } }
kinds: { product: { from: shop } }
pages: { visit: { path: /visit, title: Visit, kind: product } }`
    expect(siteOf(text(false)).page('visit').dormant).to.equal(true)
    expect(siteOf(text(true)).page('visit').dormant).to.equal(false)
  })

  it('a builder not for the page’s kind contributes neither layout nor template', () => {
    const site = siteOf(`
kinds: { article: {} }
templates: { wide: {} }
builders: { stave: { kinds: [ page ], template: wide, layout: { title: absent } } }
pages: { visit: { path: /visit, title: Visit, kind: article, built: { with: stave } }, b: { path: /b, title: B, built: { with: stave } } }`)
    expect([site.page('visit').choice.template?.id, valueOf(site, 'title.presence')]).to.deep.equal([
      undefined,
      'shown',
    ])
    expect([site.page('b').choice.template?.id, valueOf(site, 'title.presence', 'desk', 'b')]).to.deep.equal([
      'wide',
      'absent',
    ])
  })
})

describe('gates: what arrange does not list is absent, whatever other layers say', () => {
  const text = (layout: string): string => `
templates: { bare: { arrange: [ content ] }, own: { base: bare } }
pages: { visit: { path: /visit, title: Visit, template: own, layout: ${layout} } }`

  it('a closed gate stands in the chain as the template’s contribution; what it shut is locked', () => {
    const site = siteOf(text('{ title: shown }'))
    expect(chainOf(site, 'title.presence')).to.deep.equal([
      'template wins absent',
      'page locked shown',
      'baseline locked shown',
    ])
    expect(site.page('visit').at('desk').title.presence.chain[0]?.at?.pointer).to.equal('/templates/bare/arrange')
  })

  it('it says nothing of where or how wide', () => {
    expect(valueOf(siteOf(text('{ title: { place: band } }')), 'title.place')).to.equal('band')
  })

  it('without arrange a template prints title, byline, lead image, content and comments', () => {
    const site = siteOf(
      'templates: { plain: {} }\npages: { visit: { path: /visit, title: Visit, template: plain, layout: { comments: shown } } }',
    )
    expect([valueOf(site, 'title.presence'), valueOf(site, 'comments.presence')]).to.deep.equal(['shown', 'shown'])
  })
})
