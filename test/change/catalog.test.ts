import { expect } from 'chai'
import { catalogOf, compareShared, inspect, UnknownNameError, workOrder } from 'wembra'
import { NOW, siteOf } from '../support/site.js'

const TEXT = 'body: [ { section: s, items: [ { text: words } ] } ]'
const SITE = `builders: { stave: { kinds: [ page ] } }
surrounds:
  top: { as: header, height: 60px, rows: [ { id: bar, items: [ { id: nav, text: words }, { social: [ { label: A, url: /a } ] } ] } ] }
  night: { as: header, copyOf: top, height: 80px, rows: [ { id: bar, items: [ { id: nav, text: others } ] } ] }
  rail: { as: sidebar, items: [ { text: aside } ] }
theme: { layout: { header: { use: top } } }
templates:
  plain: { label: Plain, arrange: [ title, { gap: 64px }, content ] }
  wide: { base: plain, for: [ page ], builder: stave, layout: { header: { use: night }, width: full } }
pages:
  a: { path: /a, title: A, template: plain, ${TEXT} }
  b: { path: /b, title: B, template: wide, built: { with: stave, template: plain }, body: [ { section: t, items: [ { use: rail } ] } ] }
`

describe('the catalog', () => {
  const { templates, surrounds, uses } = catalogOf(siteOf(SITE))

  it('lists what templates print and set, and who gets them', () => {
    expect(
      templates.map(({ id, arrange, settings, pages, overridden }) => [id, arrange, settings, pages, overridden]),
    ).to.deep.equal([
      ['plain', ['title', 'gap 64px', 'content'], {}, ['a'], ['b']],
      ['wide', ['title', 'gap 64px', 'content'], { 'header.use': 'night', 'width.mode': 'full' }, ['b'], []],
    ])
    expect(templates.map(({ label, base, builder, for: kinds }) => [label, base, builder, kinds])).to.deep.equal([
      ['Plain', null, null, null],
      [null, 'plain', 'stave', ['page']],
    ])
  })

  it('lists the items of surrounds, and the pages that print them, in bodies as well', () => {
    expect(surrounds.map(({ id, as, rows, pages }) => [id, as, rows, pages])).to.deep.equal([
      ['top', 'header', [{ id: 'bar', items: ['text words', 'social A'] }], ['a']],
      ['night', 'header', [{ id: 'bar', items: ['text others'] }], ['b']],
      ['rail', 'sidebar', [{ id: null, items: ['text aside'] }], ['b']],
    ])
  })

  it('counts pages by kind, template and builder', () => {
    expect(uses).to.deep.equal([
      { kind: 'page', template: 'plain', builder: null, pages: 1 },
      { kind: 'page', template: 'wide', builder: 'stave', pages: 1 },
    ])
  })
})

describe('two templates or surrounds side by side', () => {
  const site = siteOf(SITE)

  it('differ in settings, slots and items', () => {
    expect(compareShared(site, 'template', 'plain', 'wide').differences).to.deep.equal([
      { what: 'label', a: 'Plain', b: null },
      { what: 'base', a: null, b: 'plain' },
      { what: 'builder', a: null, b: 'stave' },
      { what: 'for', a: null, b: ['page'] },
      { what: 'header.use', a: null, b: 'night' },
      { what: 'width.mode', a: null, b: 'full' },
    ])
    expect(compareShared(site, 'surround', 'top', 'night').differences).to.deep.equal([
      { what: 'height', a: '60px', b: '80px' },
      { what: 'row bar, item nav', a: 'text words', b: 'text others' },
      { what: 'row bar, item 2', a: 'social A', b: null },
      { what: 'copyOf', a: null, b: 'top' },
    ])
  })

  it('are the same as themselves, and have to be there', () => {
    expect(compareShared(site, 'template', 'wide', 'wide').differences).to.deep.equal([])
    expect(() => compareShared(site, 'surround', 'top', 'nigth')).to.throw(UnknownNameError, 'did you mean "night"?')
  })
})

describe('the order of work', () => {
  it('groups findings by the step at which they are fixed, those first that remove others', () => {
    // The header covers the text at the theme; the page's own clearance is a finding of its own.
    const site = siteOf(`surrounds: { top: { as: header, height: 100px } }
theme: { layout: { header: { use: top, position: fixed }, spacing: 30px } }
templates: { spare: { layout: { title: absent } } }
pages: { visit: { path: /visit, title: Visit, ${TEXT} } }
`)
    const steps = workOrder(site, inspect(site, { now: NOW, fixes: true }), NOW)
    const inShort = steps.map(({ step, findings }) => [step, findings.map(({ finding }) => finding.rule)])
    expect(inShort).to.deep.include(['Templates', ['template-unused']])
    expect(inShort[0]?.[0]).to.equal('Theme')
    expect(inShort[0]?.[1]).to.include('header-covers-content')
  })

  it('lists what nobody has decided yet', () => {
    const site = siteOf(
      `kinds: { article: {} }\npurposes: { front: a }\npages: { a: { path: /, title: A }, b: { path: /b, title: B, kind: article } }`,
    )
    const open = Object.fromEntries(workOrder(site, []).map((step) => [step.step, step.open]))
    expect(open).to.deep.equal({
      Assignment: ['no page of kind page has a template', 'no page of kind article has a template'],
      Site: ['no page has the purpose search', 'no page has the purpose notFound', 'no page has the purpose signIn'],
    })
  })

  it('names the findings that a fix removes beside its own', () => {
    // One template's padding squeezes the column at the phone: its max removes both findings.
    const site = siteOf(`templates: { t: { layout: { width: { padding: 0 160px } } } }
pages: { visit: { path: /visit, title: Visit, template: t, ${TEXT} } }
`)
    const [first] =
      workOrder(site, inspect(site, { now: NOW, fixes: true }), NOW).find(({ step }) => step === 'Templates')
        ?.findings ?? []
    expect(first?.vanish).to.have.lengthOf(1)
    expect([first?.finding.rule, first?.vanish[0]?.split('@')[0]].sort()).to.deep.equal([
      'column-squeezed',
      'narrowed-by-padding',
    ])
  })
})
