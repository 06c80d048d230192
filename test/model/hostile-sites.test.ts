import { expect } from 'chai'
import { inspect, measurePage, memoryFiles, readSite, resolveSite, SiteError } from 'wembra'
import { loadSite } from 'wembra/node'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { NOW } from '../support/site.js'

const HEAD = 'wembra: 1\nsite: { name: T }\n'
const PAGES = 'pages: { a: { path: /a, title: A, body: [ { section: s, items: [ { text: words } ] } ] } }\n'
const list = (n: number, entry: (n: number) => string): string =>
  Array.from({ length: n }, (_, i) => entry(i)).join(', ')

/** Codes of the problems of a text; empty where it reads as a site, and all of that is worked out. */
function problemsOf(text: string): readonly string[] {
  try {
    const resolved = resolveSite(readSite(text, { file: 'hostile.site.yaml' }))
    inspect(resolved, { now: NOW })
    for (const page of resolved.pages()) if (!page.dormant) measurePage(page, resolved.site.viewports[0]?.name ?? '')
    return []
  } catch (error) {
    if (!(error instanceof SiteError)) throw error
    for (const { line, column, message } of error.problems) {
      expect([line, column].every((n) => n >= 1)).to.equal(true)
      expect(message).to.match(/\S/)
    }
    return error.problems.map(({ code }) => code)
  }
}

const styled = (css: string): string => `theme: {}\nstyles: [ { css: ${JSON.stringify(css)} } ]\n${PAGES}`
const nested = (open: string, times: number, inner: string): string => open.repeat(times) + inner + ')'.repeat(times)

/** Sites of a few lines, each of which ended in a foreign error or never: by name, with the codes that answer them now. */
const SITES: readonly (readonly [string, string, readonly string[]])[] = [
  [
    'a menu called constructor',
    `theme: {}\npages: { a: { path: /a, title: A, body: [ { section: s, items: [ { menu: constructor } ] } ] } }`,
    [],
  ],
  [
    'a template called toString, and one asked for that is called valueOf',
    `theme: {}\ntemplates: { toString: {} }\npages: { a: { path: /a, title: A, template: valueOf } }`,
    [],
  ],
  [
    'a kind, tag and parent of names that every object has',
    `theme: {}\npages: { hasOwnProperty: { path: /b, title: B, kind: toString, tags: [ constructor ], parent: valueOf } }`,
    [],
  ],
  ['a page called __proto__', `theme: {}\npages: { __proto__: { path: /a, title: A } }`, ['wrong-value']],
  ['a color that breaks off', `theme: { ground: { color: 'color(' } }\n${PAGES}`, ['wrong-value']],
  ['a number with a letter in a style', `theme: {}\nstyles: [ { css: '#top { background: /1é }' } ]\n${PAGES}`, []],
  [
    'revert in the theme beside a style',
    `theme: { layout: { header: { presence: revert } } }\nstyles: [ { css: '#top { display: none }' } ]\n${PAGES}`,
    [],
  ],
  ['half a character', `theme: {}\nmenus: { m: [ { label: "\\uD800", url: /a } ] }\n${PAGES}`, []],
  ['a font size beyond all numbers', `theme: {}\ntypography: { base: 1e308px }\n${PAGES}`, []],
  ['a selector of pluses', `theme: {}\nstyles: [ { css: 'a+++++++++(' }, { css: 'x(1))y(:z(' } ]\n${PAGES}`, []],
  [
    '!important in a block that is never closed',
    `theme: {}\nstyles: [ { css: '#top( !important { color: red' }, { css: 'calc(:calc(' } ]\n${PAGES}`,
    [],
  ],
  [
    'a surround used twice by another, 22 levels up',
    `theme: { layout: { sidebar: { side: right, use: s0 } } }\nsurrounds: { ${list(22, (n) => `s${n}: { as: sidebar, items: [ { use: s${n + 1} }, { use: s${n + 1} } ] }`)}, s22: { as: sidebar, items: [ { text: x } ] } }\n${PAGES}`,
    ['too-large'],
  ],
  [
    'a chain of 1,000 surrounds, each in the next',
    `theme: {}\nsurrounds: { ${list(1000, (n) => `s${n}: { as: sidebar, items: [ { use: s${n + 1} } ] }`)} }\n${PAGES}`,
    ['too-large'],
  ],
  [
    'a template based on another, 12,000 times',
    `theme: { template: t0 }\ntemplates: { ${list(12_000, (n) => `t${n}: { base: t${n + 1} }`)} }\n${PAGES}`,
    ['too-deep'],
  ],
  [
    'a page under another, 12,000 times',
    `theme: {}\npages: { ${list(12_000, (n) => `p${n}: { path: /p${n}, title: P, parent: p${n + 1} }`)} }`,
    ['too-deep'],
  ],
  [
    '10,000 viewports',
    `viewports: { ${list(10_000, (n) => `v${n}: { width: ${n + 1}, height: 9 }`)} }\ntheme: {}\n${PAGES}`,
    ['wrong-value'],
  ],
  [
    'a page twice among 20,000',
    `theme: {}\npages: { ${list(20_000, (n) => `p${n}: { path: /p${n}, title: P }`)}, p7: { path: /other, title: P } }`,
    ['duplicate-id'],
  ],
  [
    'a copy of a copy, 5,000 times',
    `theme: { layout: { header: { use: s0 } } }\nsurrounds: { ${list(5000, (n) => `s${n}: { as: header, copyOf: s${n + 1}, rows: [ { items: [ { text: x } ] } ] }`)} }\n${PAGES}`,
    [],
  ],
  [
    'a media query of 10,000 conditions',
    styled(`@media ${list(10_000, (n) => `(min-width: ${n}px)`).replaceAll(', ', ' and ')} { #top { top: 0 } }`),
    [],
  ],
  [
    'a media query that is taken apart into 2^50',
    styled(
      `@media ${list(50, (n) => `((min-width: ${n}px) or (max-height: ${n}px))`).replaceAll(', ', ' and ')} { #top { top: 0 } }`,
    ),
    [],
  ],
  [
    'a media query of 500 nested nots',
    styled(`@media ${nested('not (', 500, 'min-width: 1px')} { #top { top: 0 } }`),
    [],
  ],
  ['a selector of 1,000 nested nots', styled(`#top${nested(':not(', 1000, 'b')} { position: fixed }`), []],
  [
    'a path of 70,000 stars',
    `theme: {}\nassign: [ { layout: { title: hidden }, where: [ { path: '/${'*'.repeat(70_000)}' } ] } ]\n${PAGES}`,
    [],
  ],
  [
    'a pattern of files of 70,000 letters',
    `theme: {}\ninclude: [ '${'a'.repeat(70_000)}*.yaml' ]\n${PAGES}`,
    ['too-large'],
  ],
]

describe('sites that were made to break what reads them', () => {
  for (const [name, text, codes] of SITES)
    it(`${name} is answered`, () => {
      const found = problemsOf(HEAD + text)
      if (codes.length === 0) expect(found).to.deep.equal([])
      else expect(found).to.include.members([...codes])
    })
})

/** What is compared with each other, or worked on for each page, has a limit; one more is refused with its place. */
const TOO_MANY: readonly (readonly [string, (n: number) => string, number])[] = [
  [
    'sections',
    (n) => `theme: {}\npages: { a: { path: /a, title: A, body: [ ${list(n, (i) => `{ section: s${i} }`)} ] } }`,
    1000,
  ],
  [
    'rows of a bar',
    (n) => `surrounds: { t: { as: header, rows: [ ${list(n, () => '{}')} ] } }\ntheme: {}\n${PAGES}`,
    100,
  ],
  [
    'assign entries',
    (n) => `theme: {}\nassign: [ ${list(n, () => '{ layout: { title: absent }, where: [ { tag: t } ] }')} ]\n${PAGES}`,
    2000,
  ],
  [
    'policies',
    (n) => `theme: {}\npolicies: [ ${list(n, () => '{ name: p, require: { title: shown } }')} ]\n${PAGES}`,
    200,
  ],
  [
    'entries of a menu',
    (n) => `theme: {}\nmenus: { m: [ ${list(n, () => '{ label: l, url: /a }')} ] }\n${PAGES}`,
    1000,
  ],
  [
    'inserts',
    (n) =>
      `theme: {}\ninserts: [ ${list(n, (i) => `{ id: i${i}, at: after-header, where: {}, items: [ { text: t } ] }`)} ]\n${PAGES}`,
    200,
  ],
  [
    'entries of allow',
    (n) => `theme: {}\nallow: [ ${list(n, () => '{ rule: [ nav-lost ], reason: r }')} ]\n${PAGES}`,
    2000,
  ],
]

describe('what is told of them', () => {
  it('does not quote what is enormous, and does not go on forever', () => {
    const read = (text: string): SiteError => {
      try {
        readSite(HEAD + text)
      } catch (error) {
        if (error instanceof SiteError) return error
      }
      throw new Error('it was read')
    }
    const color = read(`theme: { ground: { color: "rgb(${' '.repeat(100_000)}" } }\n${PAGES}`)
    expect(color.message).to.match(/^site\.yaml:3:27: wrong-value: "rgb\( +…" is not a CSS color$/)
    expect(color.message.length).to.be.below(300)
    const many = read(`theme: { layout: { ${list(1000, (n) => `k${n}: 1`)} } }\n${PAGES}`)
    expect(many.problems).to.have.length(1000)
    expect(many.message.split('\n').at(-1)).to.equal('and 800 more problems')
  })
})

describe('lists', () => {
  for (const [name, text, most] of TOO_MANY) {
    it(`of ${most} ${name} are worked on`, () => {
      expect(problemsOf(HEAD + text(most))).to.deep.equal([])
    })
    it(`of one more are refused, with the limit`, () => {
      const read = (): unknown => readSite(HEAD + text(most + 1), { file: 'many.site.yaml' })
      expect(read).to.throw(
        SiteError,
        new RegExp(
          `^many\\.site\\.yaml:\\d+:\\d+: too-large: ${most + 1} entries are too many: expected at most ${most}`,
        ),
      )
    })
  }

  it('of more viewports, and of more sections and items on a page, are refused as well', () => {
    const viewports = `viewports: { ${list(41, (i) => `v${i}: { width: ${300 + i}, height: 800 }`)} }\ntheme: {}\n${PAGES}`
    expect(() => readSite(HEAD + viewports)).to.throw(SiteError, 'a site has at most 40 viewports')
    const inner = `[ ${list(700, () => '{ text: w }')} ]`
    const body = `theme: {}\npages: { a: { path: /a, title: A, body: [ ${list(3, (i) => `{ section: s${i}, items: ${inner} }`)} ] } }`
    expect(() => readSite(HEAD + body)).to.throw(SiteError, 'a page has at most 2000 sections and items')
  })
})

describe('files that a site takes in', () => {
  it('may have tokens that stand for 99 others, and for no more', () => {
    const tokens = (last: number): string =>
      JSON.stringify(
        Object.fromEntries(
          Array.from({ length: last + 1 }, (_, n) => [`t${n}`, { $value: n < last ? `{t${n + 1}}` : '4px' }]),
        ),
      )
    const read = (last: number) =>
      readSite(`${HEAD}tokens: t.json\ntheme: { layout: { spacing: "{t0}" } }\n${PAGES}`, {
        file: 'chain.site.yaml',
        files: memoryFiles({ 't.json': tokens(last) }),
      }).data.theme.layout?.spacing
    expect(read(99)).to.deep.equal({ before: '4px', after: '4px' })
    for (const last of [100, 20_000])
      expect(() => read(last)).to.throw(
        SiteError,
        /^chain\.site\.yaml:4:20: too-deep: the token "t0" stands for others/,
      )
  })

  it('may name each other twice at every level: each is read once', () => {
    const levels = Object.fromEntries(
      Array.from({ length: 30 }, (_, i) => [`l${i}.yaml`, `extends: [ l${i + 1}.yaml, l${i + 1}.yaml ]\n`]),
    )
    const files = memoryFiles({ ...levels, 'l30.yaml': `theme: {}\n${PAGES}` })
    const site = readSite(`${HEAD}extends: [ l0.yaml, l0.yaml ]\n`, { files })
    expect(Object.keys(site.data.pages)).to.deep.equal(['a'])
  })

  it('may stand 100 below each other, and no more', () => {
    const chain = (length: number): unknown => {
      const levels = Object.fromEntries(
        Array.from({ length }, (_, i) => [`l${i}.yaml`, i + 1 < length ? `extends: [ l${i + 1}.yaml ]\n` : PAGES]),
      )
      return readSite(`${HEAD}theme: {}\nextends: [ l0.yaml ]\n`, { files: memoryFiles(levels) }).data.pages['a']?.path
    }
    expect(chain(99)).to.equal('/a')
    expect(() => chain(20_000)).to.throw(
      SiteError,
      'l98.yaml:1:12: too-deep: files take each other in more than 100 deep',
    )
  })

  it('are named by patterns that the library of patterns may not take: these mean no file', () => {
    const folder = mkdtempSync(join(tmpdir(), 'wembra-'))
    const file = join(folder, 'x.site.yaml')
    for (const pattern of [`${'!('.repeat(400)}*`, `${'{a,'.repeat(300)}*`, `[${'a'.repeat(900)}*`]) {
      writeFileSync(file, `${HEAD}theme: {}\ninclude: [ '${pattern}' ]\n${PAGES}`)
      expect(() => loadSite(file)).to.throw(SiteError, /unreadable: (no file matches|cannot read)/)
    }
    rmSync(folder, { recursive: true })
  })

  it('are regular files: a device is not read', () => {
    const folder = mkdtempSync(join(tmpdir(), 'wembra-'))
    const file = join(folder, 'x.site.yaml')
    try {
      for (const line of ['include: [ /dev/zero ]', 'extends: [ /dev/zero ]', 'tokens: /dev/zero']) {
        writeFileSync(file, `${HEAD}theme: {}\n${line}\n${PAGES}`)
        expect(() => loadSite(file)).to.throw(SiteError, 'cannot read "/dev/zero": it is no regular file')
      }
      writeFileSync(file, `${HEAD}theme: {}\nstyles: [ { file: /dev/zero } ]\n${PAGES}`)
      expect(() => loadSite(file)).to.throw(SiteError, 'there is no style sheet "/dev/zero"')
      expect(() => loadSite('/dev/zero')).to.throw(SiteError, 'it is a device')
    } finally {
      rmSync(folder, { recursive: true })
    }
  })
})
