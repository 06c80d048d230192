import { expect } from 'chai'
import { pagesWhere, parseSelector, SelectorError } from 'wembra'
import { pathPattern } from '../../src/select/path-pattern.js'
import { segmentsOf } from '../../src/select/page-facts.js'
import { compareSpecificity, compileSelector } from '../../src/select/selector.js'
import type { Selector } from '../../src/model/site-data.js'
import { siteOf } from '../support/site.js'

const site = siteOf(`
kinds: { article: {}, event: {} }
builders: { stave: { kinds: [ page ] } }
templates: { wide: {} }
purposes: { front: home, listing: { article: news } }
pages:
  home: { path: /welcome, title: Home }
  news: { path: /news, title: News, template: wide }
  comet: { path: /news/2026/comet, title: Comet, kind: article, parent: news, tags: [ sky, new ] }
  mirror: { path: /news/mirror, title: Mirror, kind: article, parent: news, tags: [ glass ] }
  night: { path: /night, title: Night, kind: event, tags: [ sky ] }
  plan: { path: /plan, title: Plan, built: { with: stave } }
`)
const meant = (...selectors: Selector[]): string[] => pagesWhere(site, selectors).map((page) => page.id)

describe('a selector', () => {
  for (const [text, expected] of [
    ['all', 'home news comet mirror night plan'],
    ['kind=article', 'comet mirror'],
    ['kind=article|event', 'comet mirror night'],
    ['kind=article,tag=sky', 'comet'],
    ['page=home|plan', 'home plan'],
    ['under=news', 'comet mirror'],
    ['path=/news/*', 'mirror'],
    ['path=/news/**', 'news comet mirror'],
    ['purpose=front', 'home'],
    ['purpose=listing', 'news'],
    ['purpose=listing:article', 'news'],
    ['builder=stave', 'plan'],
    ['template=wide', 'news'],
    ['kind=nothing', ''],
  ] as const)
    it(`${text} means ${expected || 'no page'}`, () => {
      expect(meant(parseSelector(text)).join(' ')).to.equal(expected)
    })

  it('several mean any of them, each page once', () => {
    expect(meant(parseSelector('tag=sky'), parseSelector('kind=article'))).to.deep.equal(['comet', 'mirror', 'night'])
  })

  for (const [text, hint] of [
    ['knd=article', 'did you mean "kind="?'],
    ['article', 'write for example kind=article,tag=meteors'],
    ['kind', 'write for example'],
    ['', 'write for example'],
    ['kind=article,tags=sky', 'did you mean "tag="?'],
  ] as const)
    it(`"${text}" is an error with a way out`, () => {
      expect(() => parseSelector(text)).to.throw(SelectorError, hint)
    })
})

describe('a path with stars', () => {
  for (const [pattern, path, matches] of [
    ['/news', '/news', true],
    ['/news', '/news/a', false],
    ['/news/*', '/news/a', true],
    ['/news/*', '/news', false],
    ['/news/*', '/news/a/b', false],
    ['/news/**', '/news/a/b', true],
    ['/news/**', '/news', true],
    ['/**/comet', '/news/2026/comet', true],
    ['/**/comet', '/comet', true],
    ['/*/comet', '/news/2026/comet', false],
    ['/ne*', '/news', true],
    ['/', '/', true],
    ['/', '/news', false],
    ['/a.b', '/axb', false],
  ] as const)
    it(`${pattern} ${matches ? 'matches' : 'does not match'} ${path}`, () => {
      expect(pathPattern(pattern).matches(segmentsOf(path))).to.equal(matches)
    })
})

// Design, section 4: page, purpose, path, tag, template and builder, kind; compared from the left.
describe('the specificity of a selector', () => {
  const order: readonly Selector[] = [
    { all: true },
    { kind: 'article' },
    { template: 'wide' },
    { template: 'wide', kind: 'article' },
    { builder: 'stave', template: 'wide' },
    { tag: 'sky' },
    { tag: 'sky', kind: 'article' },
    { path: '/news/**' },
    { under: 'news', tag: 'sky' },
    { path: '/news/2026/*' },
    { purpose: 'front' },
    { page: 'comet' },
    { page: 'comet', kind: 'article' },
  ]
  it('orders them as the contract does', () => {
    const specificities = order.map((selector) => compileSelector(site.site, selector).specificity)
    specificities.forEach((specificity, n) => {
      const before = specificities[n - 1]
      if (before) expect(compareSpecificity(before, specificity), JSON.stringify(order[n])).to.be.below(0)
    })
  })

  it('of a list of paths is that of the longest', () => {
    const one = compileSelector(site.site, { path: ['/a', '/a/b/c'] }).specificity
    expect(compareSpecificity(one, compileSelector(site.site, { path: '/x/y/z' }).specificity)).to.equal(0)
  })
})
