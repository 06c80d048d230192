import { expect } from 'chai'
import { mkdtempSync, writeFileSync, cpSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import {
  diffSites,
  diffSitesAsync,
  inspect,
  inspectAsync,
  measurePage,
  readSite,
  resolveSite,
  RULES,
  setPath,
  type Finding,
  type InspectProgress,
  type Patch,
  type ResolvedSite,
} from 'wembra'
import { loadSite } from 'wembra/node'
import { NOW, siteOf } from '../support/site.js'

const keys = (site: ResolvedSite): readonly string[] => inspect(site, { now: NOW }).map((finding) => finding.key)

/** Findings that a change brings and takes away, with what is known of the site before it. */
function change(
  site: ResolvedSite,
  patch: Patch,
): { readonly came: readonly string[]; readonly gone: readonly string[] } {
  const before = keys(site)
  const after = keys(site.with(patch))
  return { came: after.filter((key) => !before.includes(key)), gone: before.filter((key) => !after.includes(key)) }
}

describe('findings after a change', () => {
  it('are those of pages that the changed one is only named by: a door that is for members as well', () => {
    const site = siteOf(`purposes: { signIn: door }
pages:
  rota: { path: /rota, title: Rota, access: members }
  door: { path: /door, title: Sign in }
`)
    expect(change(site, setPath(site.site, 'pages.door.access', 'members')).came).to.include.members([
      'redirect-broken@/pages/rota/access',
      'redirect-broken@/pages/door/access',
    ])
  })

  it('are those of links to a page that goes', () => {
    const site = siteOf(`pages:
  a: { path: /a, title: A, body: [ { section: s, items: [ { button: To b, page: b } ] } ] }
  b: { path: /b, title: B }
`)
    expect(change(site, [{ op: 'remove', path: '/pages/b' }]).came).to.include(
      'assign-dangling@/pages/a/body/0/items/0/page',
    )
  })

  it('are those of entries that stay as they are while what they name goes, sleeps, moves or comes back', () => {
    const dangling = (site: ResolvedSite): readonly string[] =>
      inspect(site, { now: NOW, rules: ['assign-dangling'] }).map(({ at, message }) => `${at.pointer}: ${message}`)
    const site = siteOf(`extensions: { shop: { enabled: true } }
kinds: { product: { from: shop } }
templates: { wide: { layout: { width: { max: 900px } } } }
assign:
  - { template: wide, where: { tag: old } }
  - { layout: { title: hidden }, where: { page: orrery } }
pages:
  a: { path: /a, title: A, tags: [ old ] }
  orrery: { path: /orrery, title: Orrery, kind: product }
`)
    const { templates } = site.site.data
    const asleep = 'the page "orrery" is dormant: its kind comes from an extension that is off'
    let now = site
    for (const [patch, told] of [
      [[], []],
      [[{ op: 'remove', path: '/templates/wide' }], ['/assign/0/template: there is no template "wide"']],
      [[{ op: 'add', path: '/templates/wide', value: templates?.['wide'] }], []],
      [[{ op: 'remove', path: '/pages/a/tags' }], ['/assign/0/where/tag: no page has the tag "old"']],
      [[{ op: 'add', path: '/pages/orrery/tags', value: ['old'] }], []],
      [[{ op: 'replace', path: '/extensions/shop/enabled', value: false }], [`/assign/1/where/page: ${asleep}`]],
      // The entry is the third one now.
      [
        [{ op: 'add', path: '/assign/0', value: { layout: { title: 'shown' }, where: { page: 'a' } } }],
        [`/assign/2/where/page: ${asleep}`],
      ],
      [[{ op: 'replace', path: '/extensions/shop/enabled', value: true }], []],
      [
        [{ op: 'remove', path: '/pages/orrery' }],
        ['/assign/2/where/page: there is no page "orrery"', '/assign/1/where/tag: no page has the tag "old"'],
      ],
    ] as const) {
      if (patch.length > 0) now = now.with(patch as Patch)
      expect(dangling(now), JSON.stringify(patch)).to.have.members(told)
    }
  })

  it('are those of an entry that names a page which goes, or comes back', () => {
    const site = siteOf(`assign: [ { layout: { title: hidden }, where: [ { page: b } ] } ]
pages: { a: { path: /a, title: A }, b: { path: /b, title: B } }
`)
    const key = 'assign-dangling@/assign/0/where/0/page'
    expect(change(site, [{ op: 'remove', path: '/pages/b' }]).came).to.include(key)
    const without = site.with([{ op: 'remove', path: '/pages/b' }])
    expect(change(without, [{ op: 'add', path: '/pages/b', value: { path: '/b', title: 'B' } }]).gone).to.include(key)
  })

  it('are those of a listing whose pages become drafts', () => {
    const site = siteOf(`kinds: { event: { listed: true } }
pages:
  a: { path: /a, title: A, kind: event }
  b: { path: /b, title: B, kind: event }
`)
    expect(keys(site)).to.include('listing-lost@/kinds/event')
    const drafts = ['a', 'b'].flatMap((id) => setPath(site.site, `pages.${id}.status`, 'draft'))
    expect(change(site, drafts).gone).to.include('listing-lost@/kinds/event')
  })

  it('are those of a menu that a surround prints on every page', () => {
    const site = siteOf(`menus: { m: [] }
surrounds: { top: { as: header, rows: [ { items: [ { menu: m } ] } ] } }
theme: { layout: { header: { use: top } } }
pages: { a: { path: /a, title: A }, b: { path: /b, title: B } }
`)
    const { gone } = change(site, [{ op: 'add', path: '/menus/m/-', value: { label: 'A', page: 'a' } }])
    expect(gone).to.include('item-prints-nothing@/surrounds/top/rows/0/items/0/menu')
  })

  // The entries stand on lines 2 to 4, and what is removed is the first.
  it('have the places of the entries that they speak of, wherever these stand in their list by now', () => {
    const site = siteOf(`assign:
  - { layout: { spacing: 10px }, where: { page: a } }
  - { layout: { spacing: 20px }, where: { page: gone } }
  - { layout: { spacing: 30px }, where: { tag: none } }
pages: { a: { path: /a, title: A } }
`)
    const placed = (of: ResolvedSite): readonly unknown[] =>
      inspect(of, { now: NOW })
        .filter(({ rule }) => rule === 'assign-dangling')
        .map(({ at }) => [at.pointer, at.line])
    const first = placed(site)
    const second = placed(site.with([{ op: 'remove', path: '/assign/0' }]))
    expect(first.map((each) => (each as [string])[0])).to.have.members(['/assign/1/where/page', '/assign/2/where/tag'])
    expect(second.map((each) => (each as [string])[0])).to.have.members(['/assign/0/where/page', '/assign/1/where/tag'])
    const lines = (all: readonly unknown[]): readonly number[] =>
      all.map((each) => (each as [string, number])[1]).sort()
    expect(lines(second)).to.deep.equal(lines(first))
  })

  // An entry for one page, which is more specific, decides instead of each entry for a tag.
  it('speak of an entry that is new by its own pages, not by those of the one that had its number', () => {
    const site = siteOf(`assign:
  - { layout: { title: hidden }, where: { tag: sky } }
  - { layout: { title: absent }, where: { page: a } }
  - { layout: { title: absent }, where: { page: b } }
pages: { a: { path: /a, title: A, tags: [ sky ] }, b: { path: /b, title: B, tags: [ sea ] } }
`)
    const shadowed = (of: ResolvedSite): readonly unknown[] =>
      inspect(of, { now: NOW, rules: ['assign-shadowed'] }).map(({ at, pages }) => [at.pointer, pages])
    expect(shadowed(site)).to.deep.equal([['/assign/0', ['a']]])
    const more = { layout: { title: { presence: 'hidden' } }, where: [{ tag: 'sea' }] }
    const after = site.with([{ op: 'add', path: '/assign/0', value: more }])
    expect(shadowed(after)).to.have.deep.members([
      ['/assign/0', ['b']],
      ['/assign/1', ['a']],
    ])
    const back = after.with([{ op: 'remove', path: '/assign/0' }])
    expect(shadowed(back)).to.deep.equal([['/assign/0', ['a']]])
  })

  it('have their cases by page and viewport, for however many reasons a rule sees them', () => {
    // The title is hidden by the theme, at the phone by the page itself: two reasons at three viewports.
    const site = siteOf(`theme: { layout: { title: { presence: { phone: shown, else: hidden } } } }
pages:
  a: { path: /a, title: A, body: [ { section: s, items: [ { text: words } ] } ] }
  b: { path: /b, title: B, body: [ { section: s, items: [ { text: words } ] } ] }
`)
    const order = (of: ResolvedSite): readonly string[] =>
      inspect(of, { now: NOW, rules: ['title-missing'] }).flatMap(({ cases }) =>
        cases.map(({ page, viewport }) => `${page} ${viewport}`),
      )
    const after = site.with(setPath(site.site, 'theme.layout.title', 'hidden'))
    const all = ['a', 'b'].flatMap((page) => ['desk', 'tablet', 'phone'].map((name) => `${page} ${name}`))
    expect(order(site)).to.deep.equal(all.filter((each) => !each.endsWith('phone')))
    expect(order(after)).to.deep.equal(all)
  })

  it('suggest the same name, whichever page has it: of two that are as near the first by the alphabet', () => {
    const site = siteOf(`assign: [ { layout: { title: hidden }, where: { tag: a } } ]
pages: { x: { path: /x, title: X, tags: [ b ] }, y: { path: /y, title: Y, tags: [ c ] }, z: { path: /z, title: Z, tags: [ b ] } }
`)
    const said = (of: ResolvedSite): readonly string[] =>
      inspect(of, { now: NOW, rules: ['assign-dangling'] }).map(({ message }) => message)
    const after = site.with([{ op: 'remove', path: '/pages/x' }])
    for (const state of [site, after, resolveSite(after.site)])
      expect(said(state)).to.deep.equal(['no page has the tag "a"; did you mean "b"?'])
  })

  it('say why a template is not taken, also where it was off before for another reason', () => {
    const site = siteOf(`extensions: { shop: { enabled: false } }
templates: { story: { from: shop } }
kinds: { event: { template: story } }
pages: { a: { path: /a, title: A, kind: event } }
`)
    const why = (of: ResolvedSite): readonly string[] =>
      inspect(of, { now: NOW, rules: ['template-passed-over'] }).map(({ message }) => message)
    expect(why(site)[0]).to.contain('comes from the extension "shop", which is off')
    expect(why(site.with([{ op: 'add', path: '/templates/story/enabled', value: false }]))[0]).to.contain('is disabled')
    expect(why(site.with([{ op: 'remove', path: '/templates/story/from' }]))).to.deep.equal([])
  })

  it('are the same after many thousand changes as on a site that never had them', () => {
    let site = siteOf('pages: { a: { path: /a, title: A }, b: { path: /b, title: B } }')
    for (let n = 0; n < 12_000; n++)
      site = site.with([{ op: 'add', path: '/pages/b/layout', value: { spacing: { before: `${n % 50}px` } } }])
    expect(site.page('b').at('desk').spacing.before.value).to.equal('49px')
    expect(keys(site)).to.deep.equal(keys(resolveSite(site.site)))
  })
})

describe('a finding of very many pages', () => {
  // 45,000 pages at three viewports: more cases than a call takes arguments.
  it('is told of all of them', () => {
    const pages = Object.fromEntries(
      Array.from({ length: 45_000 }, (_, n) => [`p${n}`, { path: `/p${n}`, title: 'P' }]),
    )
    const text = JSON.stringify({ wembra: 1, site: { name: 'Many' }, theme: {}, pages })
    const rules = RULES.filter(({ id }) => id === 'share-image-missing')
    const many = resolveSite(readSite(text, { file: 'many.site.json' }))
    const [finding] = inspect(many, { now: NOW, rules })
    expect(finding?.pages).to.have.lengthOf(45_000)
    expect(finding?.cases).to.have.lengthOf(3 * 45_000)
  })
})

describe('what is read of pictures', () => {
  const picture = (height: number): string => `<svg xmlns="http://www.w3.org/2000/svg" width="80" height="${height}"/>`
  const headerOf = (path: string): number | undefined =>
    measurePage(resolveSite(loadSite(path)).page('a'), 'desk').box('header')?.height

  it('is read anew with the next load: another picture in the same file has its own size', () => {
    const folder = mkdtempSync(join(tmpdir(), 'wembra-'))
    const path = join(folder, 'a.site.yaml')
    cpSync('test/support/logo.site.yaml', path)
    writeFileSync(join(folder, 'mark.svg'), picture(40))
    expect(headerOf(path)).to.equal(40)
    writeFileSync(join(folder, 'mark.svg'), picture(90))
    expect(headerOf(path)).to.equal(90)
  })
})

describe('inspect', () => {
  const site = siteOf(`surrounds: { top: { as: header, height: 100px } }
theme: { layout: { header: { use: top, position: fixed } } }
pages:
  a: { path: /a, title: A, body: [ { section: s, items: [ { text: words } ] } ] }
  b: { path: /b, title: B, body: [ { section: s, items: [ { text: words } ] } ] }
`)
  const fixed = (all: readonly Finding[]): number => all.filter(({ fixes }) => fixes.length > 0).length

  it('offers fixes when it is asked to', () => {
    expect(fixed(inspect(site, { now: NOW }))).to.equal(0)
    expect(fixed(inspect(site, { now: NOW, fixes: true }))).to.be.above(0)
  })

  it('takes filters before the work: severity, pages and how many', () => {
    const worst = inspect(site, { now: NOW, severity: 'error' })
    expect(worst.map(({ rule }) => rule)).to.deep.equal(['header-covers-content'])
    expect(inspect(site, { now: NOW, max: 2 })).to.have.lengthOf(2)
    for (const { pages } of inspect(site, { now: NOW, pages: ['b'] }))
      expect(pages).to.deep.equal(pages.length > 0 ? ['b'] : [])
  })

  it('names all that was found, before the most harmful of it are told', () => {
    const order: string[] = []
    const told = inspect(site, {
      ...{ now: NOW, max: 1 },
      onFound: (found) => {
        for (const { severity, rule, pages } of found) order.push(`${severity} ${rule} ${pages.join()}`)
      },
    })
    const all = inspect(site, { now: NOW })
    expect(order).to.deep.equal(all.map(({ severity, rule, pages }) => `${severity} ${rule} ${pages.join()}`))
    expect(order[0]).to.equal('error header-covers-content a,b')
    expect(told).to.deep.equal(all.slice(0, 1))
  })

  it('comes to the same in turns, and tells how far it is', async () => {
    const told: InspectProgress[] = []
    const found = await inspectAsync(site, {
      now: NOW,
      fixes: 'first',
      onProgress: (progress) => void told.push(progress),
    })
    expect(found).to.deep.equal(inspect(site, { now: NOW, fixes: 'first' }))
    expect(told.at(-1)).to.deep.equal({ step: 'fixes', done: found.length, all: found.length })
  })

  it('ends early when it is told to', async () => {
    const controller = new AbortController()
    controller.abort(new Error('somebody left'))
    const work = inspectAsync(resolveSite(site.site), { now: NOW, signal: controller.signal })
    expect(await work.catch((error: Error) => error.message)).to.equal('somebody left')
  })

  describe('after a change of every page', () => {
    const pages = Array.from({ length: 150 }, (_, n) => `  p${n}: { path: /p${n}, title: P${n}, template: t }\n`)
    const many = siteOf(`theme: { layout: { spacing: 10px } }\ntemplates: { t: {} }\npages:\n${pages.join('')}`)
    inspect(many, { now: NOW })
    const changed = () => many.with(setPath(many.site, 'theme.layout.spacing.before', '30px'))
    /** How often others get a turn meanwhile. */
    const turnsDuring = async <T>(work: Promise<T>): Promise<readonly [T, number]> => {
      let turns = 0
      const often = setInterval(() => turns++, 1)
      const result = await work
      clearInterval(often)
      return [result, turns]
    }

    it('goes on in turns, and comes to the same', async () => {
      const [found, turns] = await turnsDuring(inspectAsync(changed(), { now: NOW }))
      expect(turns).to.be.above(1)
      expect(found).to.deep.equal(inspect(resolveSite(changed().site), { now: NOW }))
    })

    it('is compared in turns, comes to the same, and can be left', async () => {
      const [diff, turns] = await turnsDuring(diffSitesAsync(many, changed(), { now: NOW }))
      expect(turns).to.be.above(1)
      expect(diff).to.deep.equal(diffSites(many, changed(), { now: NOW }))
      expect(diff.groups.map((group) => group.pages.length)).to.deep.equal([150])
      const left = new AbortController()
      const work = diffSitesAsync(many, changed(), { now: NOW, signal: left.signal })
      setTimeout(() => left.abort(new Error('somebody left')))
      expect(await work.then(String, (error: Error) => error.message)).to.equal('somebody left')
    })
  })
})
