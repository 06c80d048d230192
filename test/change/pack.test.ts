import { Ajv2020 } from 'ajv/dist/2020.js'
import { expect } from 'chai'
import {
  memoryFiles,
  packJsonSchema,
  packTemplates,
  PackError,
  readPack,
  readSite,
  resolveSite,
  SiteError,
  unpackInto,
  type Pack,
  type ResolvedSite,
  type Unpacking,
  ValueError,
} from 'wembra'
import { randomSite } from '../support/random-site.js'
import { NOW, siteOf } from '../support/site.js'

const SOURCE = `tokens: ./tokens.json
assets:
  mark: { file: pictures/mark.svg, width: 100, height: 40 }
  other: { width: 10, height: 10 }
menus: { primary: [ { label: A, page: a } ], unused: [] }
surrounds:
  top:
    as: header
    rows: [ { id: bar, padding: { phone: 4px, else: 8px }, items: [ { id: logo, logo: mark }, { id: nav, menu: primary } ] } ]
  foot: { as: footer, items: [], height: 40px }
  rail: { as: sidebar, items: [ { text: words } ] }
templates:
  plain: { arrange: [ title, content ] }
  wide: { base: plain, copyOf: gone, own: [ label ], layout: { header: { use: top }, width: { max: "{page.wide}" }, spacing: 10px 20px } }
  aside: { layout: { sidebar: { side: left, use: rail } } }
pages:
  a: { path: /a, title: A, template: wide }
`
const FILES = {
  'tokens.json':
    '{ "page": { "$type": "dimension", "base": { "$value": "70rem" }, "wide": { "$value": "{page.base}" } } }',
  'pictures/mark.svg': '<svg xmlns="http://www.w3.org/2000/svg" width="100" height="40"/>',
}
const source = siteOf(SOURCE, FILES)
const pack = packTemplates(source.site, ['wide'])
const things = ({ entries }: Pack): string[] => entries.map(({ section, id }) => `${section}/${id}`)
/** @throws {Error} Where there is none. */
function first<T>([one]: readonly T[]): T {
  if (one === undefined) throw new Error('there is none')
  return one
}
const target = (text: string, files: Record<string, string> = {}): ResolvedSite =>
  siteOf(`${text}\npages: { z: { path: /z, title: Z } }`, files)

/** The site that the texts of an unpacking make. */
const taken = (into: ResolvedSite, { texts, pictures }: Unpacking): ResolvedSite => {
  const { file } = into.site
  const text = texts.get(file) ?? ''
  const files = memoryFiles({ ...Object.fromEntries(texts), ...Object.fromEntries(pictures) })
  return resolveSite(readSite(text, { file, files }))
}

describe('a pack', () => {
  it('has what a template needs, and nothing else', () => {
    expect(things(pack)).to.have.members([
      ...['templates/wide', 'templates/plain', 'surrounds/top', 'menus/primary'],
      ...['assets/mark', 'tokens/page.wide', 'tokens/page.base'],
    ])
    expect(pack.viewports).to.deep.equal({ phone: { width: 390, height: 844 } })
    expect(pack.files.map(({ path, asset }) => [path, asset])).to.deep.equal([['pictures/mark.svg', 'mark']])
  })

  it('keeps tokens and shorthand as they were written, and forgets a source that does not come along', () => {
    expect(pack.entries.find(({ id }) => id === 'wide')?.value).to.deep.equal({
      base: 'plain',
      layout: { header: { use: 'top' }, width: { max: '{page.wide}' }, spacing: '10px 20px' },
    })
  })

  it('is what its schema says', () => {
    const validate = new Ajv2020({ strict: false, validateFormats: false }).compile(packJsonSchema())
    expect(validate(JSON.parse(JSON.stringify(pack))), JSON.stringify(validate.errors)).to.equal(true)
    expect(validate({ ...pack, entries: [{ section: 'pages' }] })).to.equal(false)
  })

  it('is read back as it was written', () => {
    expect(readPack(JSON.stringify(pack), 'wide.pack.json')).to.deep.equal(pack)
  })

  it('names a template that is not there', () => {
    expect(() => packTemplates(source.site, ['wid'])).to.throw(PackError, 'did you mean "wide"?')
  })
})

describe('a pack that is not what it was', () => {
  const problemsOf = (text: string): string[] => {
    try {
      readPack(text, 'p.json')
      return []
    } catch (error) {
      if (!(error instanceof SiteError)) throw error
      return error.problems.map(({ code, line, message }) => `${code} ${line > 0} ${message}`)
    }
  }
  const changed = (change: (pack: Pack) => unknown): string => {
    const copy = JSON.parse(JSON.stringify(pack)) as Pack
    change(copy)
    return JSON.stringify(copy, null, 1)
  }
  const cases: readonly (readonly [string, string, RegExp])[] = [
    ['an altered value', changed((p) => (first(p.entries).value = { $value: '1px' })), /^altered true tokens "page/],
    ['an entry taken out', changed((p) => p.entries.pop()), /^altered true the list of what is in the pack/],
    [
      'an altered picture',
      changed((p) => (first(p.files).content = 'AAAA')),
      /^altered true the file pictures\/mark.svg/,
    ],
    ['another reason', changed((p) => (first(p.entries).because = 'mine')), /^altered true the list/],
    ['a newer format', changed((p) => Object.assign(p, { wembra: 2 })), /^newer-format true this pack has format 2/],
    ['an unknown key', changed((p) => Object.assign(p, { more: 1 })), /^wrong-value true/],
    ['no pack', '{ "wembra": 1 }', /^wrong-value true/],
    ['no JSON', '{ "wembra": ', /^bad-syntax true/],
    ['nothing', '', /^empty true/],
  ]
  for (const [name, text, expected] of cases)
    it(`${name} is told with its place`, () => {
      expect(problemsOf(text).join('\n')).to.match(expected)
    })

  it('leads out of the folder: refused, whatever its hashes say', () => {
    const hostile = siteOf(SOURCE.replace('pictures/mark.svg', '../../mark.svg'), {
      ...FILES,
      '../../mark.svg': FILES['pictures/mark.svg'],
    })
    expect(packTemplates(hostile.site, ['wide']).files).to.deep.equal([])
    const text = changed((p) => (first(p.files).path = '../../.profile'))
    expect(problemsOf(text).join('\n')).to.contain('leads out of the site')
  })
})

describe('taking a pack in', () => {
  it('adds all of it to a site that has none, with its tokens and its picture', () => {
    const into = target('')
    const unpacking = unpackInto(into, pack, { now: NOW })
    expect(unpacking.entries.map(({ state }) => state)).to.deep.equal(new Array(7).fill('new'))
    expect(unpacking.isReady).to.equal(true)
    expect([...unpacking.texts.keys()]).to.have.members(['test.site.yaml', 'tokens.json'])
    expect([...unpacking.pictures.keys()]).to.deep.equal(['pictures/mark.svg'])
    expect(unpacking.changes?.groups).to.deep.equal([])
    expect(unpacking.missing).to.deep.equal([{ to: 'page', name: 'a', by: 'menus/primary' }])
    const after = taken(into, unpacking)
    expect(after.site.data.templates?.['wide']?.layout).to.deep.equal(source.site.data.templates?.['wide']?.layout)
  })

  it('and out again is the same pack, on 40 random sites as well', () => {
    const sites = Array.from({ length: 120 }, (_, n) => randomSite(n + 1))
    let tried = 0
    for (const { main, vendor } of sites) {
      let site
      try {
        site = readSite(JSON.stringify(main), {
          file: 'r.json',
          files: memoryFiles({ 'vendor.yaml': JSON.stringify(vendor) }),
        })
      } catch (error) {
        if (error instanceof SiteError) continue
        throw error
      }
      const ids = Object.keys(site.data.templates ?? {}).slice(0, 3)
      if (ids.length === 0) continue
      tried++
      const out = packTemplates(site, ids)
      const bare = { wembra: 1, site: { name: 'B' }, theme: {}, viewports: site.data.viewports, pages: {} }
      const into = resolveSite(readSite(JSON.stringify(bare), { file: 'bare.json' }))
      const after = taken(into, unpackInto(into, out, { now: NOW }))
      const again = packTemplates(after.site, ids)
      expect(again.entries).to.deep.equal(out.entries)
      expect(again.viewports).to.deep.equal(out.viewports)
    }
    expect(tried).to.be.above(40)
    const into = target('')
    expect(packTemplates(taken(into, unpackInto(into, pack)).site, ['wide']).entries).to.deep.equal(pack.entries)
  })

  const OTHER = `surrounds: { top: { as: header, height: 30px } }
theme: { layout: { header: { use: top } } }`

  it('tells what is something else there, and what replacing it would change', () => {
    const { entries, isReady, changes } = unpackInto(target(OTHER), pack)
    expect(entries.find(({ id }) => id === 'top')).to.deep.equal({
      ...{ section: 'surrounds', id: 'top', as: 'top', state: 'differs', replaceChanges: ['z'] },
    })
    expect([isReady, changes]).to.deep.equal([false, undefined])
  })

  it('keeps, replaces or renames, as it is told', () => {
    const into = target(OTHER)
    const use = (choice: Parameters<typeof unpackInto>[2]) => {
      const unpacking = unpackInto(into, pack, choice)
      const { templates, surrounds } = taken(into, unpacking).site.data
      return {
        use: templates?.['wide']?.layout?.header?.use,
        top: surrounds?.['top']?.height,
        changed: unpacking.changes?.groups.flatMap(({ pages }) => pages),
      }
    }
    expect(use({ otherwise: 'keep' })).to.deep.equal({ use: 'top', top: '30px', changed: [] })
    expect(use({ choices: { 'surrounds/top': 'replace' } })).to.deep.equal({
      use: 'top',
      top: undefined,
      changed: ['z'],
    })
    expect(use({ otherwise: 'rename' })).to.deep.equal({ use: 'top-2', top: '30px', changed: [] })
    expect(use({ choices: { 'surrounds/top': { rename: 'theirs' } } })).to.deep.equal({
      ...{ use: 'theirs', top: '30px', changed: [] },
    })
  })

  it('renames tokens where they are used, aliases as well', () => {
    const into = target('tokens: ./tokens.json', { 'tokens.json': '{ "page": { "base": { "$value": "10px" } } }' })
    const { texts } = unpackInto(into, pack, { otherwise: 'rename' })
    const tokens = JSON.parse(texts.get('tokens.json') ?? '') as { page: Record<string, { $value: string }> }
    expect(tokens.page['base']?.$value).to.equal('10px')
    expect(tokens.page['base-2']?.$value).to.equal('70rem')
    expect(tokens.page['wide']?.$value).to.equal('{page.base-2}')
  })

  it('puts a picture beside another file of that name', () => {
    const into = target('assets: { mark: { file: pictures/mark.svg } }', { 'pictures/mark.svg': '<svg/>' })
    const { pictures, texts } = unpackInto(into, pack, { otherwise: 'rename' })
    expect([...pictures.keys()]).to.deep.equal(['pictures/mark-2.svg'])
    expect(texts.get('test.site.yaml')).to.contain('file: pictures/mark-2.svg')
  })

  it('asks what a viewport is called there', () => {
    const into = target('viewports: { big: { width: 1440, height: 900 }, small: { width: 360, height: 780 } }')
    const open = unpackInto(into, pack)
    expect(open.viewports).to.deep.equal([{ name: 'phone', nearest: 'small' }])
    expect(open.isReady).to.equal(false)
    const ready = unpackInto(into, pack, { viewports: { phone: 'small' } })
    expect(taken(into, ready).site.data.surrounds?.['top']?.rows?.[0]?.padding).to.deep.equal({
      ...{ small: '4px', else: '8px' },
    })
  })

  it('does nothing where all of it is there already', () => {
    const into = target('')
    const after = taken(into, unpackInto(into, pack))
    const again = unpackInto(after, pack)
    expect(again.entries.every(({ state }) => state === 'same')).to.equal(true)
    expect([again.patch, [...again.texts], [...again.pictures]]).to.deep.equal([[], [], []])
  })

  it('refuses a choice about what is not in it, and a name that is taken', () => {
    const into = target(OTHER)
    expect(() => unpackInto(into, pack, { choices: { 'surrounds/tpo': 'keep' } })).to.throw(ValueError, 'has no')
    expect(() => unpackInto(into, pack, { choices: { 'surrounds/top': { rename: 'top' } } })).to.throw(
      ValueError,
      'exists in this site',
    )
  })
})
