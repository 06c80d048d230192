import { expect } from 'chai'
import {
  findRule,
  findWays,
  formatProblem,
  fixSite,
  inspect,
  measurePage,
  memoryFiles,
  PatchError,
  readSite,
  resolveSite,
  rewriteSite,
  setPath,
  SiteError,
  unsetPath,
  UnknownNameError,
  usesOf,
  ValueError,
  WembraError,
  type Operation,
  type Problem,
  type PropertyPath,
  type ResolvedPage,
  type ResolvedSite,
  type ViewportChoice,
} from 'wembra'
import { findDrift, ObservationError, readObservation, type Observation } from 'wembra/reality'
import { drawWireframe } from 'wembra/report'
import { loadSite } from 'wembra/node'
import { NOW } from '../support/site.js'

const TEXT = `
wembra: 1
site: { name: Tarn }
viewports: { desk: { width: 1280, height: 800 }, phone: { width: 390, height: 844 } }
surrounds: { top: { as: header, height: 96px } }
theme: { layout: { header: { use: top } } }
extensions: { shop: { enabled: false } }
kinds: { product: { from: shop } }
pages:
  visit: { path: /visit, title: Visit, body: [ { section: s, items: [ { text: Come } ] } ] }
  cocoa: { path: /cocoa, title: Cocoa, kind: product }
`
const site: ResolvedSite = resolveSite(readSite(TEXT))
const visit: ResolvedPage = site.page('visit')
const as = <T>(value: unknown): T => value as T

/** What was asked, how, and what the error says. */
const UNKNOWN: readonly (readonly [string, () => unknown, RegExp])[] = [
  ['a page', () => site.page('vist'), /^unknown page "vist"; did you mean "visit"\?$/],
  ['a page that is no text', () => site.page(as(undefined)), /^unknown page "undefined"; known: visit, cocoa$/],
  ['a page named like a method', () => site.page('toString'), /^unknown page "toString"/],
  ['a viewport', () => visit.at('fone'), /^unknown viewport "fone"; known: desk, phone$/],
  ['a viewport of a measure', () => measurePage(visit, 'pone'), /^unknown viewport "pone"; did you mean "phone"\?$/],
  ['a property', () => visit.at('desk').value(as<PropertyPath>('header.posn')), /did you mean "header.position"\?$/],
  ['a presence', () => visit.at('desk').presence(as<PropertyPath>('headr')), /did you mean "header.presence"\?$/],
  ['a chain', () => visit.at('desk').chain(as<PropertyPath>('width')), /did you mean "width.mode"\?$/],
  ['a page to inspect', () => inspect(site, { pages: ['vist'] }), /^unknown page "vist"; did you mean "visit"\?$/],
  [
    'a rule to inspect',
    () => inspect(site, { rules: [as('nav-lots')] }),
    /^unknown rule "nav-lots"; did you mean "nav-lost"\?$/,
  ],
  [
    'a severity',
    () => inspect(site, { severity: as('fatal') }),
    /^unknown severity "fatal"; known: error, warning, note$/,
  ],
  ['a rule to fix', () => fixSite(site, { rules: [as('typo')] }), /^unknown rule "typo"; `wembra rules` lists them$/],
  ['a page to fix', () => fixSite(site, { pages: ['cocao'] }), /did you mean "cocoa"\?$/],
  ['a rule', () => findRule('header-covers-contnt'), /did you mean "header-covers-content"\?$/],
  ['a page of a goal', () => findWays(site, ['vist'], []), /^unknown page "vist"/],
  [
    'a property of a goal',
    () => findWays(site, ['visit'], [{ property: as('titel'), value: 'absent' }]),
    /^unknown property "titel"; did you mean "title.presence"\?$/,
  ],
  [
    'a surround of a goal',
    () => findWays(site, ['visit'], [{ property: 'header.use', value: 'tpo' }]),
    /^unknown surround "tpo"; did you mean "top"\?$/,
  ],
  ['a thing that is used', () => usesOf(site, 'surround', 'tops'), /^unknown surround "tops"; did you mean "top"\?$/],
]

const VALUES: readonly (readonly [string, () => unknown, RegExp])[] = [
  [
    'a width that is none',
    () => visit.at({ width: NaN, height: 800 }),
    /^expected a width in CSS px above 0, got NaN$/,
  ],
  ['a width of nothing', () => visit.at({ width: 0, height: 800 }), /^expected a width in CSS px above 0, got 0$/],
  ['a height that is missing', () => visit.at(as<ViewportChoice>({ width: 300 })), /got undefined$/],
  ['no viewport at all', () => visit.at(as<ViewportChoice>(undefined)), /got undefined$/],
  [
    'a presence of a position',
    () => visit.at('desk').presence('header.position'),
    /^header.position is not a presence/,
  ],
  ['fewer than no findings', () => inspect(site, { max: -1 }), /^expected max to be a number from 0, got -1$/],
  ['a number that is none', () => inspect(site, { max: NaN }), /got NaN$/],
  ['boxes of a dormant page', () => measurePage(site.page('cocoa'), 'desk'), /is dormant/],
  ['a drawing of nothing', () => drawWireframe([]), /expected one measured page or more/],
  [
    'a goal that cannot be',
    () => findWays(site, ['visit'], [{ property: 'header.position', value: 'fxied' }]),
    /^header.position cannot have this value: "fxied" is not one of: .*; did you mean "fixed"\?$/,
  ],
  [
    'a goal of another type',
    () => findWays(site, ['visit'], [{ property: 'findable.web', value: 'maybe' }]),
    /^findable.web cannot have this value/,
  ],
]

describe('what is asked for wrongly', () => {
  for (const [what, ask, message] of UNKNOWN)
    it(`${what} that there is not is an error with what was meant`, () => {
      expect(ask).to.throw(UnknownNameError, message).with.property('code', 'unknown-name')
    })

  for (const [what, ask, message] of VALUES)
    it(`${what} is an error with what was expected`, () => {
      expect(ask).to.throw(ValueError, message).with.property('code', 'value')
    })

  it('says as data what was asked, and what was meant', () => {
    try {
      site.page('vist')
      expect.fail('no error')
    } catch (error) {
      expect(error).to.include({ thing: 'page', asked: 'vist', meant: 'visit', name: 'UnknownNameError' })
    }
  })

  it('lists the first of very many names', () => {
    const many = Object.fromEntries(Array.from({ length: 40 }, (_, n) => [`p${n}`, { path: `/p${n}`, title: 'P' }]))
    const large = resolveSite(readSite(JSON.stringify({ wembra: 1, site: { name: 'T' }, theme: {}, pages: many })))
    expect(() => large.page('nothing-like-it')).to.throw(/known: p0, p1, .*, p11 and 28 more$/)
  })
})

describe('a text that is no site', () => {
  const problems = (text: unknown, options = {}): string[] => {
    try {
      readSite(as<string>(text), options)
    } catch (error) {
      expect(error).to.be.instanceOf(SiteError).and.instanceOf(WembraError)
      return (error as SiteError).problems.map((p) => `${p.file}:${p.line}:${p.column} ${p.code} ${p.message}`)
    }
    return []
  }

  for (const value of [undefined, null, 5, {}, []])
    it(`${JSON.stringify(value) ?? 'undefined'} is told as such`, () => {
      expect(problems(value)).to.deep.equal([
        `site.yaml:1:1 wrong-type expected the text of a site file, got ${typeof value}`,
      ])
    })

  it('a second document in the file is named by its line', () => {
    expect(problems('wembra: 1\nsite: { name: T }\n---\nwembra: 1\n')[0]).to.match(
      /^site.yaml:3:1 bad-syntax a second YAML document begins here; a site file is one/,
    )
  })

  for (const [key, text] of Object.entries({
    'a map': 'wembra: 1\nsite: { name: T }\npages: { ? { a: 1 } : { path: /a, title: A } }\n',
    'a list': 'wembra: 1\nsite: { name: T }\npages: { [ a ]: { path: /a, title: A } }\n',
    'an alias of a map': 'wembra: 1\nsite: &s { name: T }\npages: { *s : { path: /a, title: A } }\n',
  }))
    it(`${key} as a key is named by its place`, () => {
      const where = key === 'a map' ? '3:12' : '3:10'
      expect(problems(text)[0]).to.equal(
        `site.yaml:${where} bad-syntax a map or list is no key; write a word before the colon`,
      )
    })

  it('an old spelling of a key or word is answered with the new one', () => {
    const text = TEXT.replace('as: header', 'as: header, background: "#fff", items: [ { text: x, algin: center } ]')
    expect(problems(text)[0]).to.match(/unknown key "algin"; did you mean "align"\?/)
    const old = TEXT.replace('section: s,', 'section: s, align: centre, background: { colour: "#fff" },')
    expect(problems(old).join('\n'))
      .to.match(/"centre" is not one of: start, center, end.*did you mean "center"\?/)
      .and.match(/unknown key "colour"; did you mean "color"\?/)
  })

  it('a file that cannot be read is named with the reason', () => {
    const files = {
      ...memoryFiles({}),
      whyNot: (path: string) => (path === 'more.yaml' ? 'permission denied' : undefined),
    }
    expect(problems(`${TEXT}include: [ more.yaml ]\n`, { files })[0]).to.match(
      /unreadable cannot read "more.yaml": permission denied; fix the path or remove it$/,
    )
    expect(problems(`${TEXT}include: [ none.yaml ]\n`, { files })[0]).to.contain('there is no such file')
    expect(() => loadSite('examples')).to.throw(SiteError, 'this folder has no site file')
    expect(() => loadSite('none.yaml')).to.throw(SiteError, 'none.yaml:1:1: unreadable: there is no such file')
  })
})

describe('several problems', () => {
  const problemAt = (line: number, message = 'no such key'): Problem => ({
    ...{ code: 'unknown-key', message, file: 'tarn.yaml', line, column: 5 },
  })

  it('are told a line each, as editors read them', () => {
    expect(formatProblem(problemAt(3))).to.equal('tarn.yaml:3:5: unknown-key: no such key')
    expect(new SiteError([problemAt(3), problemAt(9)]).message).to.equal(
      'tarn.yaml:3:5: unknown-key: no such key\ntarn.yaml:9:5: unknown-key: no such key',
    )
  })

  it('are told up to the two hundredth; all of them are there as data', () => {
    const many = (count: number) => new SiteError(Array.from({ length: count }, (_, n) => problemAt(n + 1)))
    expect(many(200).message.split('\n')).to.have.length(200)
    for (const [count, last] of [
      [201, 'and 1 more problem'],
      [230, 'and 30 more problems'],
    ] as const) {
      expect(many(count).message.split('\n').slice(-2)).to.deep.equal([formatProblem(problemAt(200)), last])
      expect(many(count).problems).to.have.length(count)
    }
  })

  it('quote no more of something enormous than is read', () => {
    const [{ message }] = new SiteError([problemAt(1, `"${'x'.repeat(5000)}" is no color`)]).problems as [Problem]
    expect(message).to.equal(`"${'x'.repeat(160)}…" is no color`)
    const [short] = new SiteError([problemAt(1, `"${'x'.repeat(900)}"`)]).problems
    expect(short?.message).to.have.length(902)
  })
})

describe('a change that cannot be made', () => {
  const failing: readonly (readonly [string, readonly Operation[], RegExp])[] = [
    ['of what is not there', [{ op: 'replace', path: '/templates/gone', value: {} }], /path does not exist/],
    ['of what is another value', [{ op: 'test', path: '/site/name', value: 'Fell' }], /the value there is another one/],
    [
      'to a value that cannot be',
      [{ op: 'replace', path: '/theme/layout/header', value: { position: 'up' } }],
      /"up" is not one of/,
    ],
  ]
  for (const [what, patch, message] of failing)
    it(`${what} is told, in memory and in files`, () => {
      expect(() => site.with(patch)).to.throw(WembraError, message)
      expect(() => rewriteSite(site.site, patch)).to.throw(WembraError, message)
    })

  it('names the operation at fault', () => {
    const patch: readonly Operation[] = [
      { op: 'replace', path: '/site/name', value: 'Fell' },
      { op: 'remove', path: '/pages/none' },
    ]
    try {
      site.with(patch)
      expect.fail('no error')
    } catch (error) {
      expect(error).to.be.instanceOf(PatchError).and.include({ operation: 1, code: 'patch' })
    }
  })

  it('of a path that leads nowhere says which keys there are', () => {
    expect(() => setPath(site.site, 'them.layout', 'absent')).to.throw(WembraError, 'did you mean "theme"')
    expect(() => unsetPath(site.site, 'pages.vist.title')).to.throw(WembraError, /visit/)
  })
})

describe('observations that are none', () => {
  for (const [what, value] of [
    ['an object', {}],
    ['nothing', null],
    ['an address alone', { url: 'https://tarn.example/' }],
  ] as const)
    it(`${what} is told by its number`, () => {
      expect(() => findDrift(site, [as<Observation>(value)], { now: NOW })).to.throw(
        ObservationError,
        /^observations\[0\]: wrong-type/,
      )
    })

  it('a line is told by its place', () => {
    expect(() => readObservation('{', 'seen.ndjson:3:1')).to.throw(ObservationError, /^seen.ndjson:3:1: unreadable/)
    expect(() => readObservation('{"report":"observation"}', 'x')).to.throw(ObservationError, /^x: wrong-type/)
  })
})
