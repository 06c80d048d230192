import { expect } from 'chai'
import {
  diffFacets,
  diffSites,
  facetsInPx,
  measurePage,
  memoryFiles,
  PathError,
  readSite,
  resolveSite,
  rewriteSite,
  setPath,
  SiteError,
  type Patch,
  type ResolvedSite,
} from 'wembra'
import { loadSite } from 'wembra/node'
import { Random, randomSite } from '../support/random-site.js'
import { NOW } from '../support/site.js'

const LAYERS = ['theme', 'templates.t0', 'templates.t1', 'templates.t2', 'kinds.article', 'builders.stave', 'pages.p1']
const SETTINGS: readonly (readonly [string, string | number])[] = [
  ['spacing.before', '71px'],
  ['width.max', 555],
  ['header.position', 'fixed'],
  ['title.presence', 'hidden'],
  ['sidebar.side', 'left'],
]

const read = (seed: number): ResolvedSite | undefined => {
  const { main, vendor } = randomSite(seed)
  try {
    const files = memoryFiles({ 'vendor.yaml': JSON.stringify(vendor) })
    return resolveSite(readSite(JSON.stringify(main), { file: 'main.site.json', files }))
  } catch (error) {
    if (error instanceof SiteError) return undefined
    throw error
  }
}

const all = (site: ResolvedSite): unknown =>
  site.pageIds.map((id) => {
    const page = site.page(id)
    if (page.dormant) return id
    return site.site.viewports.map(({ name }) => [
      page.choice.template?.id,
      page.choice.chain.map(({ value, outcome }) => [value, outcome]),
      facetsInPx(measurePage(page, name)),
      page.at(name).chain('spacing.before'),
    ])
  })

describe('a change in memory, on random sites', () => {
  it('comes to what the changed site comes to when it is resolved by itself', () => {
    let tried = 0
    for (let seed = 1; seed <= 50; seed++) {
      const before = read(seed)
      const patch = before && randomPatch(before, new Random(seed))
      if (!patch) continue
      tried++
      all(before)
      const after = before.with(patch)
      expect(all(after), `seed ${seed}`).to.deep.equal(all(resolveSite(after.site)))
      const quick = diffFacets(before, after).flatMap(({ pages, facets }) => pages.map((page) => [page, facets]))
      const whole = diffSites(before, after, { now: NOW, findings: false }).groups.flatMap(({ pages, facets }) =>
        facets.length > 0 ? pages.map((page) => [page, facets]) : [],
      )
      expect(quick, `seed ${seed}`).to.have.deep.members(whole)
    }
    expect(tried).to.be.above(20)
  })
})

describe('one change after another that is tried on the same site', () => {
  it('is told as if it were the only one, and the same each time', () => {
    const read = (): ResolvedSite => resolveSite(loadSite('examples/fellside'))
    const site = read()
    const patches = ['10px', '71px', '10px'].map((value) => setPath(site.site, 'theme.layout.spacing.before', value))
    const told = patches.map((patch) => diffSites(site, site.with(patch), { now: NOW }))
    const alone = patches.map((patch) => {
      const other = read()
      return diffSites(other, other.with(patch), { now: NOW })
    })
    expect(told[0]?.groups.length).to.be.above(0)
    expect(told).to.deep.equal(alone)
    expect(told[2]).to.deep.equal(told[0])
  })
})

/** A setting of one layer; `undefined` where the site has no such layer. */
function randomPatch({ site }: ResolvedSite, r: Random): Patch | undefined {
  const [property, value] = r.pick(SETTINGS)
  try {
    return setPath(site, `${r.pick(LAYERS)}.layout.${property}`, value)
  } catch (error) {
    if (error instanceof PathError) return undefined
    throw error
  }
}

// Of two entries that are as specific, that of the nearer file decides; of one file, the first (design, section 4).
describe('an entry that is added to a list of several files', () => {
  const files = memoryFiles({
    'vendor.yaml': `assign:
  - { layout: { spacing: { before: 5px } }, where: { all: true } }
  - { layout: { title: hidden }, where: { tag: sky } }
`,
  })
  const MAIN = `wembra: 1
site: { name: Test }
extends: [ vendor.yaml ]
theme: {}
assign: [ { layout: { title: hidden }, where: { tag: sea } } ]
pages: { visit: { path: /visit, title: Visit } }
`
  const site = resolveSite(readSite(MAIN, { file: 'main.site.yaml', files }))
  const value = { layout: { spacing: { before: '13px' } }, where: [{ all: true }] }

  for (const [where, path, file, px] of [
    [
      'before one of a file underneath: it is written there, and weighs as what is there',
      '/assign/1',
      'vendor.yaml',
      5,
    ],
    ['at the end: it is written into the site’s own file, which is nearer', '/assign/-', 'main.site.yaml', 13],
  ] as const)
    it(where, () => {
      const patch: Patch = [{ op: 'add', path, value }]
      const { texts, site: written } = rewriteSite(site.site, patch, { base: true })
      expect([...texts.keys()]).to.deep.equal([file])
      for (const after of [site.with(patch), resolveSite(written)]) {
        const at = path.replace('-', '3')
        expect(after.site.origin(at).file).to.equal(file)
        expect(facetsInPx(measurePage(after.page('visit'), 'desk')).spacing?.['before']).to.equal(px)
      }
    })
})
