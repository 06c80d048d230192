import { Resvg } from '@resvg/resvg-js'
import { expect } from 'chai'
import { XMLParser, XMLValidator } from 'fast-xml-parser'
import { diffSites, measurePage, RULES, type PageMeasure } from 'wembra'
import {
  chainDocument,
  changeInWords,
  diffHtml,
  diffMarkdown,
  drawTerminal,
  drawWireframe,
  findingsGithub,
  groupHeadline,
  pageDocument,
  previewSvg,
  renderHtml,
  ruleMarkdown,
  rulesMarkdown,
  tableDocument,
  wireframeTree,
} from 'wembra/report'
import { placeCallouts } from '../../src/draw/callouts.js'
import { countOf, someOf } from '../../src/draw/count.js'
import { markdownBlocks, markdownCode, markdownList, markdownText } from '../../src/draw/markdown.js'
import { NOW, siteOf } from '../support/site.js'

const site = siteOf(`
surrounds: { top: { as: header, height: 96px, background: "#12324a", rows: [ { items: [ { text: Tarn } ] } ] } }
theme: { layout: { header: { use: top, position: fixed }, footer: absent, spacing: 20px } }
kinds: { shop: {} }
pages:
  visit: { path: /visit, title: "Visit & see <us>", body: [ { section: hero, band: full, background: { color: "#223344" }, ink: "#fff", height: 300px, items: [ { heading: 2, text: "Come <b>now</b>" } ] } ] }
  hours: { path: /hours, title: Hours }
`)
const at = (viewport: string, page = 'visit'): PageMeasure => measurePage(site.page(page), viewport)

describe('a wireframe', () => {
  const svg = drawWireframe([at('desk'), at('phone')])

  it('is an SVG that any reader of XML takes, whatever the words of the page', () => {
    expect(XMLValidator.validate(svg)).to.equal(true)
    const { svg: root } = new XMLParser({ ignoreAttributes: false }).parse(svg) as {
      svg: { '@_viewBox': string; '@_role': string }
    }
    expect(root['@_viewBox']).to.match(/^0 0 1280 \d/)
    expect(root['@_role']).to.equal('img')
    expect(svg).to.contain('Visit &#x26; see &#x3C;us>')
  })

  it('names its viewports, its boxes and what decided them', () => {
    for (const text of ['desk, 1280', 'phone, 390', 'header', 'section hero', 'title']) expect(svg).to.contain(text)
    expect(svg).to.contain('by theme')
  })

  it('shades what a fixed header covers', () => {
    expect(svg).to.contain('covered: 76 px under the header')
    const flow = site.with([{ op: 'replace', path: '/theme/layout/header/position', value: 'flow' }])
    expect(drawWireframe([measurePage(flow.page('visit'), 'desk')])).not.to.contain('covered')
  })

  it('is as wide as it is asked to be, and numbered where it is asked', () => {
    const small = drawWireframe([at('phone')], {
      width: 400,
      labels: false,
      heading: false,
      marks: [{ box: 'header', number: 7 }],
    })
    expect(small).to.match(/viewBox="0 0 400 /)
    expect(small).to.contain('>7</text>').and.not.contain('section hero')
  })

  it('keeps ids apart where several stand in one document', () => {
    const ids = (prefix: string): string[] =>
      [...drawWireframe([at('desk')], { idPrefix: prefix }).matchAll(/ id="([^"]+)"/g)].map(([, id = '']) => id)
    expect(ids('a-').length).to.be.above(0)
    expect(ids('a-').filter((id) => ids('b-').includes(id))).to.deep.equal([])
  })

  it('is the same as a tree, for those who put it into a page themselves', () => {
    expect(wireframeTree([at('desk')])).to.include({ type: 'element', tagName: 'svg' })
  })
})

describe('pictures of a page whose names are no XML', () => {
  const odd = siteOf(String.raw`
theme: {}
pages:
  "a<b&\xA0": { path: /a, title: "T<x>&\xA0\x07", body: [ { section: "s<>&'\x01", items: [ { text: "w<&\uFFFE" }, { button: "p<q", url: "/x?<r>" } ] } ] }
`)
  const measure = measurePage(odd.page('a<b&\u00a0'), 'phone')
  const drawn = { wireframe: drawWireframe([measure]), preview: previewSvg(measure) }

  for (const [name, svg] of Object.entries(drawn))
    it(`${name}: is taken by a reader that follows XML to the letter`, () => {
      expect(svg).to.match(/="[^"]*a&lt;b&#x26;/)
      expect(() => new Resvg(svg)).not.to.throw()
    })
})

describe('a drawing for the terminal', () => {
  for (const columns of [60, 100, 160])
    it(`fits ${columns} columns, and names each box by a letter`, () => {
      const lines = drawTerminal(at('desk'), columns).split('\n')
      expect(Math.max(...lines.map((line) => [...line].length))).to.be.at.most(columns)
      const text = lines.join('\n')
      for (const name of ['header', 'section hero']) expect(text).to.contain(name)
    })

  it('shades what is covered, and is never endless', () => {
    expect(drawTerminal(at('desk'))).to.contain('▒')
    const tall = site.with([{ op: 'replace', path: '/pages/visit/body/0/height', value: '90000px' }])
    expect(drawTerminal(measurePage(tall.page('visit'), 'phone')).split('\n').length).to.be.below(80)
  })
})

describe('a page as HTML', () => {
  const html = renderHtml(at('desk'))

  it('has its parts in landmarks, and its words as text', () => {
    for (const part of ['<header', '<main', '<h1', '<section']) expect(html).to.contain(part)
    expect(html).to.contain('Come &#x3C;b>now&#x3C;/b>').and.contain('Visit &#x26; see &#x3C;us>')
    expect(html).not.to.match(/<script|javascript:|onerror=/)
  })

  it('leaves out what no visitor sees', () => {
    const hidden = site.with([{ op: 'add', path: '/pages/visit/layout', value: { title: 'hidden', header: 'absent' } }])
    const page = renderHtml(measurePage(hidden.page('visit'), 'desk'))
    expect(page).not.to.contain('<header')
    expect(page).not.to.contain('<h1')
  })
})

describe('a comparison in words', () => {
  const after = site.with([
    { op: 'replace', path: '/theme/layout/spacing', value: '60px' },
    { op: 'add', path: '/pages/hours/status', value: 'draft' },
  ])
  const diff = diffSites(site, after, { now: NOW })

  it('has a headline and a line for each change', () => {
    expect(diff.groups.map(groupHeadline).join(' ')).to.match(/page/)
    expect(diff.groups.flatMap(changeInWords).join('\n')).to.match(/spacing.before 20 → 60/)
  })

  it('is Markdown with headings, and HTML with both pictures', () => {
    const markdown = diffMarkdown(diff)
    expect(markdown).to.match(/^## What changes for visitors\n\n\d page/)
    expect(markdown).to.match(/^### /m)
    const html = diffHtml(diff, site, after)
    expect(html.match(/<svg/g)?.length).to.be.at.least(2)
    expect(html).not.to.contain('<script')
  })

  it('says so when nothing changes', () => {
    const same = diffSites(site, site, { now: NOW })
    expect(diffMarkdown(same)).to.contain('0 pages changed, 2 as before')
  })
})

describe('documents', () => {
  it('begin with their version and their kind', () => {
    for (const document of [
      chainDocument(site.page('visit'), 'header.position', 'desk'),
      pageDocument(site, site.page('visit'), ['desk']),
      tableDocument(site, site.pages(), ['desk']),
    ])
      expect(Object.keys(document).slice(0, 2)).to.deep.equal(['wembra', 'report'])
  })

  it('have every property of every facet, null where it has no value', () => {
    const [view] = pageDocument(site, site.page('visit'), ['desk']).views
    expect(view?.facets['header']).to.deep.include({
      presence: 'shown',
      use: 'top',
      position: 'fixed',
      height: null,
      clearance: 0,
    })
    expect(view?.facets['width']).to.deep.include({ mode: 'boxed', max: 1160, columnMax: null, padding: [0, 0, 0, 0] })
  })
})

describe('annotations', () => {
  it('are one line each, whatever a finding says', () => {
    const finding = {
      severity: 'note',
      rule: 'nav-lost',
      message: 'a\nb%c',
      pages: [],
      at: { file: 'x,y:z.yaml', line: 3, column: 4, pointer: '' },
    }
    expect(findingsGithub([finding as never])).to.equal(
      '::notice file=x%2Cy%3Az.yaml,line=3,col=4,title=nav-lost::a%0Ab%25c\n',
    )
    expect(findingsGithub([])).to.equal('')
  })
})

describe('pages of rules', () => {
  it('have what a person needs, each in its place', () => {
    for (const rule of RULES) {
      const page = ruleMarkdown(rule)
      expect(page).to.match(new RegExp(`^# ${rule.id}\n`))
      for (const heading of ['Why it matters', 'When it holds', 'What to do', 'How to allow it'])
        expect(page, rule.id).to.contain(`## ${heading}\n`)
      // Sentences of people: none begins small, none ends without its point.
      expect(rule.summary, rule.id).to.match(/^[A-Z].*\.$/)
      expect(rule.advice, rule.id).to.match(/^[a-z].*[^.]$/)
    }
  })

  it('are listed with a link each', () => {
    expect(rulesMarkdown(RULES).match(/^\| \[/gm)).to.have.length(RULES.length)
  })
})

describe('words of reports', () => {
  it('count as English does', () => {
    expect([0, 1, 2].map((n) => countOf(n, 'page'))).to.deep.equal(['0 pages', '1 page', '2 pages'])
    expect([1, 2].map((n) => countOf(n, 'fix'))).to.deep.equal(['1 fix', '2 fixes'])
    expect([1, 2].map((n) => countOf(n, 'page shows', 'pages show'))).to.deep.equal(['1 page shows', '2 pages show'])
  })

  it('name the first of many', () => {
    expect(someOf(['a', 'b'], 2)).to.equal('a, b')
    expect(someOf(['a', 'b', 'c'], 2)).to.equal('a, b and 1 more')
    expect(someOf([], 2)).to.equal('')
  })

  it('are text in Markdown, whatever is in them', () => {
    expect(markdownText('a *b* _c_ `d` [e](f) <g> | h')).to.equal('a \\*b\\* \\_c\\_ \\`d\\` \\[e\\](f) \\<g> \\| h')
    for (const text of ['# a', '- a', '+ a', '> a', '= a']) expect(markdownText(text)).to.equal(`\\${text}`)
    expect(markdownText('1. a')).to.equal('1\\. a')
    expect(markdownText('a\n\nb')).to.equal('a b')
    expect(markdownCode('a')).to.equal('`a`')
    expect(markdownCode('a`b``c')).to.equal('``` a`b``c ```')
    expect(markdownCode('a|b')).to.equal('`a\\|b`')
    expect(markdownList(['a', '* b'])).to.equal('- a\n- \\* b')
    expect(markdownBlocks(['a', '', 'b'])).to.equal('a\n\nb\n')
  })

  it('stand beside their boxes, none over another', () => {
    const placed = placeCallouts(
      [
        { y: 100, lines: ['c'] },
        { y: 0, lines: ['a', 'a'] },
        { y: 10, lines: ['b'] },
      ],
      10,
      2,
    )
    expect(placed.map(({ lines, top, height }) => [lines[0], top, height])).to.deep.equal([
      ['a', 0, 20],
      ['b', 22, 10],
      ['c', 100, 10],
    ])
  })
})
