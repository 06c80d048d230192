import { expect } from 'chai'
import type { ResolvedSite } from 'wembra'
import { chainOf, findingsOf, siteOf, valueOf } from '../support/site.js'

const styled = (css: string, more = '', files: Readonly<Record<string, string>> = {}) =>
  siteOf(`styles: [ { css: ${JSON.stringify(css)} } ]\n${more}`, files)
const everything = `
templates: { all: { arrange: [ title, byline, leadImage, content, comments ] } }
theme: { template: all, layout: { byline: shown, leadImage: shown, comments: shown, sidebar: right, header: { position: fixed } } }`

describe('style comes after the settings', () => {
  for (const [css, path, value] of [
    ['#top { display: none }', 'header.presence', 'hidden'],
    ['.page-title { display: none }', 'title.presence', 'hidden'],
    ['.byline { display: none }', 'byline.presence', 'hidden'],
    ['.lead { display: none }', 'leadImage.presence', 'hidden'],
    ['aside.rail { display: none }', 'sidebar.presence', 'hidden'],
    ['#comments { display: none }', 'comments.presence', 'hidden'],
    ['#foot { display: none }', 'footer.presence', 'hidden'],
    ['h1.page-title { position: absolute; clip-path: inset(50%) }', 'title.presence', 'visually-hidden'],
    ['h1 { position: absolute !important; clip: rect(1px, 1px, 1px, 1px) }', 'title.presence', 'visually-hidden'],
    ['h1 { position: fixed; width: 1px; height: 1px; overflow: hidden }', 'title.presence', 'visually-hidden'],
    ['#top { position: static }', 'header.position', 'flow'],
    ['#top { position: relative }', 'header.position', 'flow'],
    ['#top { position: sticky; top: 0 }', 'header.position', 'sticky'],
    ['#top { position: absolute }', 'header.position', 'overlay'],
    ['#top { height: 5rem }', 'header.height', '5rem'],
    ['#top { background: #123 url(x.png) no-repeat; color: rgb(1 2 3) }', 'header.background', '#123'],
    ['#top { background-color: #12345678; color: navy }', 'header.ink', 'navy'],
    ['body { padding-top: 90px }', 'header.clearance', '90px'],
    ['main { padding: 10px 0 20px; margin-top: 1rem }', 'spacing.before', 26],
    ['main { padding: 10px 0 20px; margin-top: 1rem }', 'spacing.after', 20],
    ['main { margin-bottom: -8px }', 'spacing.after', 40],
    ['.wrap { max-width: 900px }', 'width.max', '900px'],
    ['.wrap { width: min(90vw, 60rem) }', 'width.max', 'min(90vw, 60rem)'],
    ['.wrap { max-width: none }', 'width.mode', 'full'],
    ['.wrap { max-width: 100% }', 'width.mode', 'full'],
    ['.wrap { padding-inline: 3vw }', 'width.padding', '0px 3vw 0px 3vw'],
    ['.column { max-width: 40rem }', 'width.columnMax', '40rem'],
    ['.rail { width: 260px }', 'sidebar.width', '260px'],
    ['#comments { max-width: 50ch } #comments { max-width: 500px }', 'comments.maxWidth', '500px'],
    ['.page-title { padding: 1px 2px 3px }', 'title.padding', '1px 2px 3px 2px'],
    ['.page-title { background: #eee }', 'title.background', '#eee'],
  ] as const)
    it(`${css} makes ${path} ${value}`, () => {
      expect(valueOf(styled(css, everything), path)).to.equal(value)
    })

  it('the page’s own colors are the ground', () => {
    expect(styled('body { background: #eef; color: #113 }').page('visit').at('desk').ground).to.deep.equal({
      color: '#eef',
      ink: '#113',
    })
  })

  it('a style may bring back what is hidden, never what is absent', () => {
    const css = '.page-title { display: block }'
    expect(valueOf(styled(css, 'theme: { layout: { title: hidden } }'), 'title.presence')).to.equal('shown')
    const absent = styled(css, 'theme: { layout: { title: absent } }')
    expect(chainOf(absent, 'title.presence')).to.deep.equal([
      'style skipped block',
      'theme wins absent',
      'baseline overridden shown',
    ])
  })

  it('a visually hidden title is shown again when the style unclips it', () => {
    const css = '.page-title { position: static; clip-path: none; width: auto; height: auto }'
    expect(valueOf(styled(css, 'theme: { layout: { title: visually-hidden } }'), 'title.presence')).to.equal('shown')
  })

  it('no lock, facets or revert reaches it', () => {
    const locked = `theme: { layout: { lock: [ title ] } }
kinds: { page: { facets: [ header ] } }
pages: { visit: { path: /visit, title: Visit, layout: { title: revert } } }`
    expect(valueOf(styled('.page-title { display: none }', locked), 'title.presence')).to.equal('hidden')
  })

  it('body padding is a clearance only where the header takes no room, by settings or by style', () => {
    const css = 'body { padding-top: 90px }'
    expect(valueOf(styled(css), 'header.clearance')).to.equal(0)
    expect(valueOf(styled(`#top { position: fixed } ${css}`), 'header.clearance')).to.equal('90px')
    expect(valueOf(styled(css, 'theme: { layout: { header: absent } }'), 'header.clearance')).to.equal('90px')
  })
})

describe('the cascade is CSS’s', () => {
  for (const [name, css, value] of [
    ['order', '.page-title { display: none } .page-title { display: block }', 'shown'],
    ['specificity before order', 'h1.page-title { display: none } .page-title { display: block }', 'hidden'],
    [
      'importance before specificity',
      '.page-title { display: none !important } body #nothing, body h1.page-title { display: block }',
      'hidden',
    ],
    ['a media query that holds', '@media (min-width: 1000px) { .page-title { display: none } }', 'hidden'],
    ['a media query that does not', '@media (max-width: 1000px) { .page-title { display: none } }', 'shown'],
    ['a descendant', 'body main .wrap h1 { display: none }', 'hidden'],
    ['a child that is none', 'body > h1 { display: none }', 'shown'],
    [':not, :is and :where', 'body:not(.kind-article) :is(.column, .rail) > :where(h1) { display: none }', 'hidden'],
    ['a pseudo-element, which is not the element', '.page-title::before { display: none }', 'shown'],
    ['a selector that cannot be read', '.page-title:nonsense( { display: none }', 'shown'],
    [':has', 'body:has(#foot) .page-title { display: none }', 'hidden'],
  ] as const)
    it(`decides by ${name}`, () => expect(valueOf(styled(css), 'title.presence')).to.equal(value))

  it('at each viewport', () => {
    const site = styled('@media (max-width: 700px) { .page-title { display: none } }')
    expect(['desk', 'tablet', 'phone'].map((v) => valueOf(site, 'title.presence', v))).to.deep.equal([
      'shown',
      'shown',
      'hidden',
    ])
    expect(site.page('visit').at({ width: 701, height: 800 }).value('title.presence')).to.equal('shown')
    expect(site.page('visit').at({ width: 700, height: 800 }).value('title.presence')).to.equal('hidden')
  })

  it('by the page’s classes: its id, kind, template, purposes, builder and own', () => {
    const more = `
templates: { tall: {} }
builders: { stave: {} }
purposes: { front: visit }
pages: { visit: { path: /visit, title: Visit, template: tall, built: { with: stave }, classes: [ own ] }, other: { path: /b, title: B } }`
    for (const name of ['page-visit', 'template-tall', 'purpose-front', 'built-stave', 'own']) {
      const site = styled(`.${name} .page-title { display: none }`, more)
      expect([valueOf(site, 'title.presence'), valueOf(site, 'title.presence', 'desk', 'other')], name).to.deep.equal([
        'hidden',
        'shown',
      ])
    }
    expect(valueOf(styled('.kind-page h1 { display: none }', more), 'title.presence', 'desk', 'other')).to.equal(
      'hidden',
    )
  })

  it('only on the pages that the style is for', () => {
    const site = siteOf(`
styles: [ { css: "h1 { display: none }", where: { tag: a } }, { css: "#foot { display: none }", from: shop } ]
pages: { visit: { path: /visit, title: Visit, tags: [ a ] }, other: { path: /b, title: B } }`)
    expect([valueOf(site, 'title.presence'), valueOf(site, 'title.presence', 'desk', 'other')]).to.deep.equal([
      'hidden',
      'shown',
    ])
    expect(valueOf(site, 'footer.presence')).to.equal('shown')
  })

  const two = 'pages: { visit: { path: /visit, title: Visit, classes: [ own-one ] }, other: { path: /b, title: B } }'
  const styleOf = (site: ResolvedSite, page: string) => site.page(page).at('desk').style

  it('once for all pages that no selector tells apart, whatever ids and attributes it asks for', () => {
    const css =
      '#top, [data-top], abbr[title] { color: red } .wrap[id] .menu { color: red } .kind-page h1 { color: red }'
    const site = styled(css, two)
    expect(styleOf(site, 'other')).to.equal(styleOf(site, 'visit'))
  })

  for (const selector of ['.own-one h1', '[class~=own-one] h1', '[class*=own] h1', '[class$=one] h1', '[class="x"] h1'])
    it(`for each page by itself where ${selector} may tell them apart`, () => {
      const site = styled(`${selector} { display: none }`, two)
      expect(styleOf(site, 'other')).to.not.equal(styleOf(site, 'visit'))
      const isMeant = !selector.includes('"x"')
      expect([valueOf(site, 'title.presence'), valueOf(site, 'title.presence', 'desk', 'other')]).to.deep.equal([
        isMeant ? 'hidden' : 'shown',
        'shown',
      ])
    })

  it('with the site’s own locators', () => {
    const site = styled(
      'header.masthead[data-top] { display: none }',
      'locators: { header: "body > header.masthead[data-top=yes]" }',
    )
    expect(valueOf(site, 'header.presence')).to.equal('hidden')
  })
})

describe('the chain of a style', () => {
  const css = '/* note */\n\nh1 { display: none }\n  .page-title { display: none !important }\n'

  it('names the file, line and selector of the rule, and what it outranks', () => {
    const site = siteOf('styles: [ { file: custom.css } ]', { 'custom.css': css })
    const [winner, loser, baseline] = site.page('visit').at('desk').chain('title.presence')
    expect(winner).to.deep.include({ layer: 'style', value: 'hidden', outcome: 'wins' })
    expect(winner?.at).to.deep.equal({
      file: 'custom.css',
      line: 4,
      column: 17,
      pointer: '/styles/0',
      selector: '.page-title',
    })
    expect(loser).to.deep.include({ layer: 'style', outcome: 'overridden' })
    expect(baseline).to.deep.include({ layer: 'baseline', outcome: 'overridden' })
  })

  it('those that decide together are the same, not overridden', () => {
    const site = styled('h1 { position: absolute; clip-path: inset(50%) } * { position: static }')
    expect(chainOf(site, 'title.presence')).to.deep.equal([
      'style wins visually-hidden',
      'style same absolute',
      'style overridden static',
      'baseline overridden shown',
    ])
  })

  it('places CSS that is written in the site file', () => {
    const block = 'styles:\n  - css: |\n      h1 { color: red }\n      .page-title { display: none }\n'
    const inline = 'styles: [ { css: "h1 { display: none }" } ]'
    const place = (text: string) => siteOf(text).page('visit').at('desk').decider('title.presence')?.at
    expect(place(block)).to.include({ file: 'test.site.yaml', line: 8, column: 21 })
    expect(place(inline)).to.include({ line: 5, column: 24 })
  })
})

describe('style-not-understood lists what moves or hides a part and is not followed', () => {
  for (const [css, listed] of [
    ['#top { transform: translateY(-10px) }', true],
    ['.page-title { opacity: 0 }', true],
    ['main { float: left }', true],
    ['.column { margin-left: 40px }', true],
    ['#foot { visibility: hidden }', true],
    ['.wrap { max-width: var(--wide) }', true],
    ['body { padding-top: 90px }', true],
    ['#top { color: red; border-radius: 4px; transition: all 1s }', false],
    ['#top { transform: none; margin: 0; position: relative }', false],
    ['.nothing { transform: translateY(-10px) }', false],
  ] as const)
    it(`${listed ? 'lists' : 'does not list'} ${css}`, () => {
      expect(findingsOf(styled(css), 'style-not-understood').length > 0).to.equal(listed)
    })
})
