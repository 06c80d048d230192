import { expect } from 'chai'
import { memoryFiles, readSite, SiteError, type Problem } from 'wembra'
import { siteOf, withRequired } from '../support/site.js'

/** The problems of a text, as `line:column code`, with the messages beside them. */
function problemsOf(
  text: string,
  file = 'test.site.yaml',
  files: Readonly<Record<string, string>> = {},
): readonly Problem[] {
  try {
    readSite(text, { file, files: memoryFiles(files) })
  } catch (error) {
    if (error instanceof SiteError) return error.problems
    throw error
  }
  return []
}
const placed = (problems: readonly Problem[]): string[] => problems.map((p) => `${p.line}:${p.column} ${p.code}`)
const messages = (problems: readonly Problem[]): string => problems.map((p) => p.message).join('\n')

const HEAD = 'wembra: 1\nsite: { name: Test }\n'
const PAGES = 'pages: { visit: { path: /visit, title: Visit } }\n'

describe('reading a site file', () => {
  it('reads the same site from YAML and from JSON', () => {
    const yaml = readSite(`${HEAD}theme: { layout: { title: hidden } }\n${PAGES}`)
    const json = readSite(
      '{"wembra":1,"site":{"name":"Test"},"theme":{"layout":{"title":"hidden"}},"pages":{"visit":{"path":"/visit","title":"Visit"}}}',
      { file: 'test.site.json' },
    )
    expect(json.data).to.deep.equal(yaml.data)
    expect(json.locate('/theme/layout/title/presence')).to.include({ file: 'test.site.json', line: 1, column: 55 })
  })

  it('says all problems at once, each with its place', () => {
    const text = `${HEAD}theme: { layout: { header: { postion: fixed, position: fxied } } }\npages: { a: { title: 3 } }\n`
    expect(placed(problemsOf(text))).to.deep.equal([
      '3:30 unknown-key',
      '3:56 wrong-value',
      '4:10 missing-key',
      '4:22 wrong-type',
    ])
  })

  it('asks whether a misspelled key was meant', () => {
    expect(messages(problemsOf(`${HEAD}teme: {}\ntheme: {}\n${PAGES}`))).to.contain('did you mean "theme"?')
    expect(messages(problemsOf(`${HEAD}theme: { layout: { header: { postion: fixed } } }\n${PAGES}`))).to.contain(
      '"position"',
    )
  })

  it('reads the same text anew for each file that it is in', () => {
    const wrong = `${HEAD}pages: { a: { path: /a, title: 3 } }\n`
    const files = ['a.site.yaml', 'b.site.yaml'].map((file) => problemsOf(wrong, file)[0]?.file)
    expect(files).to.deep.equal(['a.site.yaml', 'b.site.yaml'])
    const text = `${HEAD}theme: {}\n${PAGES}`
    const [first, second] = [readSite(text), readSite(text)]
    Object.assign(first.data.pages['visit'] ?? {}, { title: 'Changed by who has it' })
    expect(second.data.pages['visit']?.title).to.equal('Visit')
    expect(readSite(text).data.pages['visit']?.title).to.equal('Visit')
  })

  it('names the viewports when one is not there', () => {
    const problems = problemsOf(`${HEAD}theme: { layout: { title: { phne: hidden } } }\n${PAGES}`)
    expect(placed(problems)).to.deep.equal(['3:29 unknown-viewport'])
    expect(messages(problems)).to.contain('did you mean "phone"?')
    const hidden = problemsOf(
      `${HEAD}theme: {}\nsurrounds: { top: { as: header, rows: [ { hide: [ watch ] } ] } }\n${PAGES}`,
    )
    expect(hidden[0]).to.include({ code: 'unknown-viewport' })
    expect(messages(hidden)).to.contain('there are: desk, tablet, phone')
  })

  for (const [name, text, code] of [
    ['an empty file', '', 'empty'],
    ['a file of comments only', '# nothing\n', 'wrong-type'],
    ['a list', '- 1\n', 'wrong-type'],
    ['a binary file', 'wembra\0\u0001', 'unreadable'],
    ['broken YAML', 'wembra: [1\n', 'bad-syntax'],
    ['an anchor that refers to itself', 'wembra: 1\nsite: &a { name: *a }\n', 'circle'],
    ['a later format', `wembra: 2\nsite: { name: x }\ntheme: {}\n${PAGES}`, 'wrong-value'],
    ['yes for true', `${HEAD}theme: { layout: { findable: yes } }\n${PAGES}`, 'wrong-value'],
    ['a negative length', `${HEAD}theme: { layout: { width: { gutter: -4px } } }\n${PAGES}`, 'wrong-value'],
    ['an infinite length', `${HEAD}theme: { layout: { width: { gutter: .inf } } }\n${PAGES}`, 'wrong-value'],
    ['a length that is none', `${HEAD}theme: { layout: { width: { max: wide } } }\n${PAGES}`, 'wrong-value'],
    ['a percentage of no width', `${HEAD}theme: { layout: { spacing: { before: 5% } } }\n${PAGES}`, 'wrong-value'],
    ['a color that is none', `${HEAD}theme: { layout: { header: { ink: "#12" } } }\n${PAGES}`, 'wrong-value'],
    [
      'an id used twice',
      `${HEAD}theme: {}\npages:\n  a: { path: /a, title: A }\n  a: { path: /b, title: B }\n`,
      'duplicate-id',
    ],
    [
      'two pages with one path',
      `${HEAD}theme: {}\npages: { a: { path: /a, title: A }, b: { path: /a/, title: B } }`,
      'duplicate-path',
    ],
    ['a base in a circle', `${HEAD}theme: {}\n${PAGES}templates: { a: { base: b }, b: { base: a } }`, 'circle'],
    ['a parent in a circle', `${HEAD}theme: {}\npages: { a: { path: /a, title: A, parent: a } }`, 'circle'],
    [
      'a key that reaches the prototype',
      `${HEAD}theme: {}\npages: { __proto__: { path: /a, title: A } }`,
      'wrong-value',
    ],
    [
      'an assign entry with two of its keys',
      `${HEAD}theme: {}\n${PAGES}assign: [ { template: a, use: b, where: { all: true } } ]`,
      'wrong-value',
    ],
    [
      'an item that says nothing',
      `${HEAD}theme: {}\npages: { a: { path: /a, title: A, body: [ { section: s, items: [ {} ] } ] } }`,
      'wrong-value',
    ],
    [
      'an item outside a section',
      `${HEAD}theme: {}\npages: { a: { path: /a, title: A, body: [ { text: loose } ] } }`,
      'wrong-value',
    ],
    [
      'a section id used twice',
      `${HEAD}theme: {}\npages: { a: { path: /a, title: A, body: [ { section: s, items: [ { section: s } ] } ] } }`,
      'duplicate-id',
    ],
    [
      'a viewport named like a property',
      `${HEAD}theme: {}\n${PAGES}viewports: { max: { width: 10, height: 10 } }`,
      'wrong-value',
    ],
  ] as const)
    it(`answers ${name} with a place and the code ${code}`, () => {
      const problems = problemsOf(text)
      expect(problems.map((p) => p.code)).to.include(code)
      for (const problem of problems) {
        expect(problem.file).to.equal('test.site.yaml')
        expect(problem.line).to.be.greaterThan(0)
        expect(problem.column).to.be.greaterThan(0)
        expect(problem.message).to.have.length.greaterThan(10)
      }
    })

  it('answers ten thousand nested sections, without overflowing the stack', () => {
    const depth = 10_000
    const nested = '{section: s, items: ['.repeat(depth) + ']}'.repeat(depth)
    expect(problemsOf(`${HEAD}theme: {}\npages: {a: {path: /a, title: A, body: [${nested}]}}`)[0]).to.include({
      code: 'too-deep',
    })
  })

  it('answers a bomb of aliases quickly', () => {
    const lines = Array.from({ length: 8 }, (_, n) => `k${n + 1}: &a${n + 1} [${`*a${n},`.repeat(10)}]`)
    expect(problemsOf(`k0: &a0 [x]\n${lines.join('\n')}\n`)[0]).to.include({ code: 'too-large' })
  })

  it('finds a key given twice in JSON, which JSON.parse keeps silent about', () => {
    const problems = problemsOf('{"wembra":1,\n "pages":{}, "pages":{"a \\" {":1}}', 'test.site.json')
    expect(placed(problems)).to.deep.equal(['2:14 duplicate-id'])
  })

  it('places a broken JSON file’s first error', () => {
    expect(placed(problemsOf('{"wembra":1,\n "site": nope}', 'x.json'))).to.deep.equal(['2:10 bad-syntax'])
  })
})

describe('a site of several files', () => {
  const vendor = `theme: { layout: { title: hidden, header: { position: sticky } } }\nkinds: { page: { label: Pages } }\nassign: [ { use: a, where: { all: true } } ]`

  it('lays a file over those it extends, by key, down to a property', () => {
    const site = siteOf(
      `extends: [ vendor.yaml ]\ntheme: { layout: { title: { place: band }, header: { position: { phone: flow } } } }`,
      {
        'vendor.yaml': vendor,
      },
    ).site
    expect(site.data.theme.layout).to.deep.equal({
      title: { presence: 'hidden', place: 'band' },
      header: { position: { phone: 'flow' } },
    })
    expect(site.locate('/theme/layout/title/presence')).to.include({ file: 'vendor.yaml', line: 1, column: 20 })
  })

  it('joins the lists at the top, those underneath first, and replaces the others', () => {
    const { site } = siteOf('extends: [ vendor.yaml ]\nassign: [ { use: b, where: { all: true } } ]', {
      'vendor.yaml': vendor,
    })
    expect(site.data.assign?.map((entry) => entry.use)).to.deep.equal(['a', 'b'])
    expect(site.locate('/assign/0').file).to.equal('vendor.yaml')
    expect(site.locate('/assign/1').file).to.equal('test.site.yaml')
  })

  it('takes away what lies underneath with null', () => {
    const { site } = siteOf('extends: [ vendor.yaml ]\nkinds: null', { 'vendor.yaml': vendor })
    expect(site.data.kinds).to.equal(undefined)
  })

  it('adds what it includes, pages a line at a time as well', () => {
    const { site } = siteOf('include: [ more/*.yaml, lines.ndjson ]', {
      'more/a.yaml': 'pages: { a: { path: /a, title: A } }',
      'more/b.yaml': 'pages: { b: { path: /b, title: B } }',
      'lines.ndjson': '{"id":"c","path":"/c","title":"C"}\n{"id":"d","path":"/d","title":"D"}\n',
    })
    expect(Object.keys(site.data.pages)).to.deep.equal(['visit', 'a', 'b', 'c', 'd'])
    expect(site.locate('/pages/d/title')).to.include({ file: 'lines.ndjson', line: 2, column: 23 })
  })

  it('says both places of what a file and one it includes both give', () => {
    const text = withRequired('include: [ more.yaml ]')
    const problems = problemsOf(text, 'test.site.yaml', { 'more.yaml': 'pages: { visit: { path: /a, title: A } }' })
    expect(problems[0]).to.include({ code: 'duplicate-id', file: 'more.yaml', line: 1, column: 10 })
    expect(problems[0]?.message).to.match(/test\.site\.yaml:\d+:\d+/)
  })

  it('names a key of several shapes that is missing', () => {
    const [problem] = problemsOf(withRequired('inserts: [ { id: notice, at: after-header } ]'))
    expect(problem).to.include({ code: 'missing-key', message: '"where" is missing here; it is required' })
  })

  it('names the broken line of an NDJSON file, and reads the others', () => {
    const text = withRequired('include: [ lines.ndjson ]')
    const lines = '{"id":"c","path":"/c","title":"C"}\n{"id":"d",\n{"path":"/e"}\n{"id":"f","path":"/f","title":3}'
    const problems = problemsOf(text, 'test.site.yaml', { 'lines.ndjson': lines })
    expect(placed(problems).map((p) => p.replace(/:\d+/, ''))).to.deep.equal([
      '2 bad-syntax',
      '3 missing-key',
      '4 wrong-type',
    ])
  })

  for (const [name, files, code] of [
    ['a circle of extends', { 'a.yaml': 'extends: [ b.yaml ]', 'b.yaml': 'extends: [ a.yaml ]' }, 'circle'],
    ['a file that is not there', {}, 'unreadable'],
    ['an include that leads back', { 'a.yaml': 'include: [ a.yaml ]' }, 'circle'],
    ['a glob that matches nothing', { 'a.yaml': 'include: [ pages/*.yaml ]' }, 'unreadable'],
  ] as const)
    it(`answers ${name} with a place`, () => {
      const problems = problemsOf(withRequired('extends: [ a.yaml ]'), 'test.site.yaml', files)
      expect(problems[0]).to.include({ code })
    })
})

describe('design tokens', () => {
  const tokens = JSON.stringify({
    page: { $type: 'dimension', width: { $value: { value: 72, unit: 'rem' } }, narrow: { $value: '{page.width}' } },
    ink: { $type: 'color', $value: { colorSpace: 'srgb', components: [0, 0.5, 1] } },
    a: { $value: '{b}' },
    b: { $value: '{a}' },
  })

  it('stand for values anywhere, aliases followed', () => {
    const { site } = siteOf(
      'tokens: t.json\ntheme: { layout: { width: { max: "{page.narrow}" }, header: { ink: "{ink}" } } }',
      { 't.json': tokens },
    )
    expect(site.data.theme.layout).to.deep.equal({ width: { max: '72rem' }, header: { ink: 'color(srgb 0 0.5 1)' } })
  })

  for (const [name, code] of [
    ['{page.wide}', 'unknown-token'],
    ['{a}', 'circle'],
  ] as const)
    it(`answers ${name} with a place and the code ${code}`, () => {
      const text = withRequired(`tokens: t.json\ntheme: { layout: { width: { max: "${name}" } } }`)
      expect(problemsOf(text, 'test.site.yaml', { 't.json': tokens })[0]).to.include({ code, file: 'test.site.yaml' })
    })
})
