import { expect } from 'chai'
import { memoryFiles, readSite, SiteError, type SiteData } from 'wembra'
import { didYouMean } from '../../src/model/did-you-mean.js'
import { readTokens, TokenError, tokenValue } from '../../src/model/tokens.js'

describe('a mistyped word', () => {
  const known = ['header', 'footer', 'title', 'sidebar', 'position', 'presence', 'top', 'tag', 'visit']
  for (const [typed, meant] of [
    ['hedaer', 'header'],
    ['heder', 'header'],
    ['Header', 'header'],
    ['foter', 'footer'],
    ['titel', 'title'],
    ['posn', 'position'],
    ['prsnc', 'presence'],
    ['tpo', 'top'],
    ['tags', 'tag'],
    ['vist', 'visit'],
    ['sidebars', 'sidebar'],
    ['xyz', undefined],
    ['', undefined],
    ['meteorology', undefined],
  ] as const)
    it(`"${typed}" ${meant === undefined ? 'is like none of them' : `is probably "${meant}"`}`, () => {
      expect(didYouMean(typed, known)).to.equal(meant)
    })

  it('is the nearest of several, the first of those as near', () => {
    expect(didYouMean('campaig', ['campaign-2024', 'campaign', 'campaigns'])).to.equal('campaign')
    expect(didYouMean('abcx', ['abcd', 'abce'])).to.equal('abcd')
    expect(didYouMean('a', [])).to.equal(undefined)
  })
})

describe('design tokens', () => {
  const tokens = readTokens({
    space: {
      $type: 'dimension',
      edge: { $value: { value: 24, unit: 'px' } },
      wide: { $value: '{space.edge}' },
      plain: { $value: '2rem' },
      circle: { $value: '{space.round}' },
      round: { $value: '{space.circle}' },
      lost: { $value: '{space.nowhere}' },
    },
    color: {
      ink: { $type: 'color', $value: { colorSpace: 'srgb', components: [1, 0, 0], hex: '#ff0000' } },
      veil: { $type: 'color', $value: { colorSpace: 'srgb', components: [0, 0, 0], alpha: 0.5 } },
    },
    $description: 'not a token',
  })

  it('are found in groups, by their dotted names', () => {
    expect([...tokens.keys()]).to.deep.equal([
      ...['space.edge', 'space.wide', 'space.plain', 'space.circle', 'space.round', 'space.lost'],
      ...['color.ink', 'color.veil'],
    ])
    expect(tokens.get('space.edge')).to.include({ $type: 'dimension' })
  })

  it('have values as CSS, aliases followed', () => {
    expect(tokenValue(tokens, 'space.edge')).to.equal('24px')
    expect(tokenValue(tokens, 'space.wide')).to.equal('24px')
    expect(tokenValue(tokens, 'space.plain')).to.equal('2rem')
    expect(tokenValue(tokens, 'color.ink')).to.equal('color(srgb 1 0 0)')
    expect(String(tokenValue(tokens, 'color.veil'))).to.match(/0 0 0 \/ 0?\.5|rgba\(0, 0, 0, 0?\.5\)|#00000080/)
  })

  for (const [name, code, message] of [
    ['space.nowhere', 'unknown-token', 'there is no token "space.nowhere"'],
    ['space.lost', 'unknown-token', 'there is no token "space.nowhere"'],
    ['space.circle', 'circle', 'space.circle → space.round → space.circle'],
  ] as const)
    it(`${name} has none, and says why`, () => {
      expect(() => tokenValue(tokens, name))
        .to.throw(TokenError, message)
        .with.property('code', code)
    })
})

describe('files that are laid over one another', () => {
  const base = `
site: { name: Base }
tokens: tokens.json
menus: { primary: [ { label: Visit, page: visit } ] }
theme: { layout: { header: { position: fixed, clearance: 10px }, spacing: "{space.edge}" } }
assign: [ { layout: { footer: absent }, where: { page: visit } } ]
pages: { visit: { path: /visit, title: Visit, tags: [ a ] } }
`
  const files = memoryFiles({
    'base.yaml': base,
    'tokens.json': '{ "space": { "edge": { "$value": "24px" } } }',
    'loop.yaml': 'extends: [ loop.yaml ]',
  })
  const read = (text: string): Omit<SiteData, 'pages'> =>
    readSite(`wembra: 1\nextends: [ base.yaml ]\n${text}`, { file: 'main.yaml', files }).data

  it('are merged key by key, what is above wins', () => {
    const { site, theme } = read('site: { name: Over }\ntheme: { layout: { header: { position: sticky } } }')
    expect(site.name).to.equal('Over')
    expect(theme.layout).to.deep.include({ header: { position: 'sticky', clearance: '10px' } })
  })

  it('join their lists of entries, and take a value away with null', () => {
    const { assign, theme } = read(
      'assign: [ { layout: { title: absent }, where: { page: visit } } ]\ntheme: { layout: { header: { clearance: null } } }',
    )
    expect(assign).to.have.length(2)
    expect(theme.layout?.header).to.deep.equal({ position: 'fixed' })
  })

  it('give tokens their values, and keep where each part is written', () => {
    const site = readSite('wembra: 1\nextends: [ base.yaml ]\nsite: { name: Over }\n', { file: 'main.yaml', files })
    expect(site.data.theme.layout).to.deep.include({ spacing: { before: '24px', after: '24px' } })
    expect(site.locate('/site/name')).to.include({ file: 'main.yaml', line: 3 })
    expect(site.locate('/theme/layout/header/position')).to.include({ file: 'base.yaml', line: 5 })
    expect(site.locate('/pages/visit/title')).to.include({ file: 'base.yaml', line: 7 })
  })

  it('may not take themselves in', () => {
    expect(() => readSite('wembra: 1\nextends: [ loop.yaml ]\n', { file: 'main.yaml', files })).to.throw(
      SiteError,
      'files cannot take themselves in',
    )
  })
})
