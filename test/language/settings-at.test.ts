import { expect } from 'chai'
import { definitionOf, FACET_NAMES, HEADLINE_PROPERTY, isFacet, memoryFiles, toPointer, type Json } from 'wembra'
import {
  completionsAt,
  effectsOf,
  fieldsAt,
  foundAt,
  propertiesAt,
  referencesAt,
  renameAt,
  sameLines,
  SiteProject,
  spanAt,
} from 'wembra/language'
import { siteOf } from '../support/site.js'

const VIEWPORTS = ['desk', 'tablet', 'phone']

describe('the settings at a place', () => {
  const FILE: Json = {
    theme: { layout: { title: 'hidden', header: { position: 'fixed', use: 'top' }, spacing: '10px' } },
  }
  for (const [path, properties] of [
    [['theme', 'layout', 'title'], ['title.presence']],
    [
      ['theme', 'layout', 'header'],
      ['header.position', 'header.use'],
    ],
    [['theme', 'layout', 'header', 'use'], ['header.use']],
    [
      ['theme', 'layout', 'spacing'],
      ['spacing.before', 'spacing.after'],
    ],
    [['surrounds', 'top', 'layout', 'header', 'items', 'name'], ['header.items.name']],
    [['theme', 'layout', 'nothing'], []],
    [['theme'], []],
  ] as const)
    it(`${path.join('.')} are ${properties.join(', ') || 'none'}`, () => {
      expect(propertiesAt(FILE, path, VIEWPORTS)).to.have.members([...properties])
    })

  it('win on some pages and are overridden on others, with the px they come to', () => {
    const site = siteOf(`
theme: { layout: { width: { max: 900px } } }
kinds: { article: { layout: { width: { max: 50vw } } } }
pages:
  a: { path: /a, title: A }
  b: { path: /b, title: B, kind: article }
  c: { path: /c, title: C }`)
    const at = (pointer: string) =>
      effectsOf(
        site,
        (entry) => entry.pointer === pointer,
        () => ['width.max'],
      )[0]
    const ofTheme = at('/theme/layout/width/max')
    expect([...(ofTheme?.outcomes.get('wins')?.keys() ?? [])]).to.deep.equal(['a', 'c'])
    expect([...(ofTheme?.outcomes.get('overridden')?.keys() ?? [])]).to.deep.equal(['b'])
    expect(ofTheme?.outcomes.get('wins')?.get('a')).to.deep.equal(VIEWPORTS)
    expect(ofTheme?.winners.join()).to.contain('kind article')
    expect(ofTheme?.px.get('desk')).to.deep.equal([900, 900])
    // 50 % of 1280, 768 and 390.
    const ofKind = at('/kinds/article/layout/width/max')
    expect(VIEWPORTS.map((name) => ofKind?.px.get(name)?.[0])).to.deep.equal([640, 384, 195])
    expect(at('/theme/layout/header/use')).to.equal(undefined)
  })
})

describe('the fields of a map', () => {
  it('are its keys that hold a word, a text or a number, with the words they may be', () => {
    const fields = new Map(fieldsAt(['surrounds', 'top', 'rows', '0']).map((field) => [field.key, field]))
    expect([...fields.keys()]).to.deep.equal(['id', 'padding', 'stays'])
    expect(fields.get('padding')?.words).to.deep.equal([])
    const position = fieldsAt(['theme', 'layout', 'header']).find(({ key }) => key === 'position')
    expect(position?.words).to.include.members(['flow', 'sticky', 'fixed', 'overlay'])
    expect(fieldsAt(['nowhere', 'at', 'all'])).to.deep.equal([])
  })
})

describe('what stands at a place of a text', () => {
  const TEXT = `wembra: 1
site: { name: Tarn }
surrounds: { top: { as: header, rows: [ { items: [ { text: Tarn } ] } ] } }
theme: { layout: { header: { use: top } } }
pages: { a: { path: /a, title: A, tags: [ sky ] }, b: { path: /b, title: B, tags: [ sea, sky ] } }
assign: [ { layout: { title: hidden }, where: { tag: sky } } ]
`
  const FILE = 'tarn.site.yaml'
  const project = new SiteProject(FILE, memoryFiles({ [FILE]: TEXT }))
  const found = (line: number, word: string) =>
    foundAt(project, FILE, { line, column: (TEXT.split('\n')[line - 1]?.indexOf(word) ?? 0) + 1 })

  it('is a thing that is defined there, or one that is named', () => {
    expect(found(3, 'top:')?.thing).to.deep.equal({ section: 'surrounds', id: 'top' })
    expect(found(4, 'top }')?.thing).to.deep.equal({ section: 'surrounds', id: 'top' })
    expect(found(5, 'a: {')?.thing).to.deep.equal({ section: 'pages', id: 'a' })
    expect(found(5, 'sky')?.thing).to.deep.equal({ section: 'tags', id: 'sky' })
    expect(found(2, 'Tarn')?.thing).to.equal(undefined)
  })

  it('is a tag wherever it is named, on pages and in selectors, and is renamed in all of them', () => {
    const at = (line: number, word: string) => ({ line, column: (TEXT.split('\n')[line - 1]?.indexOf(word) ?? 0) + 1 })
    for (const place of [at(5, 'sky'), at(6, 'sky')]) {
      expect(referencesAt(project, FILE, place).map(({ span }) => span.from.line)).to.have.members([5, 5, 6])
      const changes = renameAt(project, FILE, place, 'night')
      expect(changes.map(({ span, text }) => [span.from.line, text])).to.have.deep.members([
        [5, 'night'],
        [5, 'night'],
        [6, 'night'],
      ])
    }
    expect(referencesAt(project, FILE, at(5, 'sea'))).to.have.length(1)
    expect(completionsAt(project, FILE, at(5, 'sea')).map(({ label }) => label)).to.include.members(['sea', 'sky'])
  })

  it('has a span, from the word’s first letter to its last', () => {
    const span = spanAt(project, { file: FILE, line: 4, column: TEXT.split('\n')[3]?.indexOf('header') ?? 0 })
    expect(span.from.line).to.equal(4)
    expect(span.to.line).to.equal(4)
  })

  it('is the same in two texts up to a line, and from a line on', () => {
    expect(sameLines(['a', 'b', 'c'], ['a', 'x', 'c'])).to.deep.equal({ first: 1, last: 1 })
    expect(sameLines(['a', 'b'], ['a', 'b'])).to.deep.equal({ first: 2, last: 0 })
    // A line that both begin and end with is counted once.
    expect(sameLines(['a', 'a'], ['a'])).to.deep.equal({ first: 1, last: 0 })
    expect(sameLines([], ['a'])).to.deep.equal({ first: 0, last: 0 })
  })
})

describe('the names of what can be set', () => {
  it('are facets, each with the property that people mean by its name', () => {
    for (const facet of FACET_NAMES) {
      expect(isFacet(facet)).to.equal(true)
      expect(definitionOf(`${facet}.${HEADLINE_PROPERTY[facet]}`), facet).not.to.equal(undefined)
    }
    expect(['constructor', 'header.use', ''].filter(isFacet)).to.deep.equal([])
  })

  it('are properties with a type, items of a header among them', () => {
    expect(definitionOf('header.position')?.type).to.equal('word')
    expect(definitionOf('width.max')?.type).to.equal('length')
    expect(definitionOf('header.items.search')).to.deep.include({ type: 'word' })
    for (const none of ['header', 'header.nothing', 'title.items.a', 'header.items.a.b', '__proto__.use'])
      expect(definitionOf(none), none).to.equal(undefined)
  })

  it('are found by pointers, whose signs are written as RFC 6901 has it', () => {
    expect(toPointer([])).to.equal('')
    expect(toPointer(['pages', 'a/b', 0, '~x'])).to.equal('/pages/a~1b/0/~0x')
  })
})
