import { expect } from 'chai'
import fc from 'fast-check'
import { isDeepStrictEqual } from 'node:util'
import {
  memoryFiles,
  PROPERTY_PATHS,
  type PropertyPath,
  readSite,
  resolveSite,
  type Json,
  type Operation,
  type ResolvedPage,
  type ResolvedSite,
} from 'wembra'
import { Random, randomSite } from '../support/random-site.js'

type Document = Record<string, unknown>
const PATHS = PROPERTY_PATHS.filter((path) => !path.endsWith('.items'))
const seeds = fc.integer({ min: 1, max: 1_000_000 })
const RUNS = { numRuns: Number(process.env['WEMBRA_RUNS'] ?? 40) }

function resolve(main: Document, files: Readonly<Record<string, unknown>>): ResolvedSite {
  const texts = Object.fromEntries(Object.entries(files).map(([name, content]) => [name, JSON.stringify(content)]))
  return resolveSite(readSite(JSON.stringify(main), { file: 'main.site.json', files: memoryFiles(texts) }))
}
const fromSeed = (seed: number): ResolvedSite => {
  const { main, vendor } = randomSite(seed)
  return resolve(main, { 'vendor.yaml': vendor })
}

/** Every value of every page at every viewport, and the template of each. */
const everything = (site: ResolvedSite): Record<string, Json> =>
  Object.fromEntries(
    [...site.pages()]
      .sort((a, b) => (a.id < b.id ? -1 : 1))
      .flatMap((page) => [
        [`${page.id} template`, page.choice.template?.id ?? null],
        ...site.site.viewports.flatMap(({ name }) =>
          PATHS.map((path) => [`${page.id} ${path} ${name}`, page.at(name).value(path)] as const),
        ),
      ]),
  )

/** The same document with the keys of every map in another order; lists stay as they are. */
function shuffledKeys(value: unknown, random: Random): unknown {
  if (Array.isArray(value)) return value.map((each) => shuffledKeys(each, random))
  if (typeof value !== 'object' || value === null) return value
  return Object.fromEntries(
    random.shuffled(Object.entries(value)).map(([key, each]) => [key, shuffledKeys(each, random)]),
  )
}

describe('laws of the resolver', () => {
  it('a chain has one winner at most, and the winner’s word is the value', () => {
    fc.assert(
      fc.property(seeds, (seed) => {
        const site = fromSeed(seed)
        const isLawful = (page: ResolvedPage, viewport: string, path: PropertyPath): boolean => {
          const view = page.at(viewport)
          const winners = view.chain(path).filter(({ outcome }) => outcome === 'wins')
          return winners.length <= 1 && isDeepStrictEqual(winners[0]?.value ?? null, view.value(path))
        }
        for (const page of site.pages())
          for (const { name } of site.site.viewports)
            for (const path of PATHS) if (!isLawful(page, name, path)) expect.fail(`${page.id}, ${path} at ${name}`)
      }),
      { numRuns: 40 },
    )
  })

  it('saying inherit everywhere changes nothing', () => {
    fc.assert(
      fc.property(seeds, (seed) => {
        const { main, vendor } = randomSite(seed)
        const before = everything(resolve(main, { 'vendor.yaml': vendor }))
        const inherit = Object.fromEntries(
          [
            'header',
            'footer',
            'title',
            'byline',
            'leadImage',
            'sidebar',
            'width',
            'spacing',
            'comments',
            'findable',
          ].map((f) => [f, 'inherit']),
        )
        const pages = Object.fromEntries(
          Object.entries(main['pages'] as Record<string, Document>).map(([id, page]) => [
            id,
            { ...page, layout: { ...inherit, ...(page['layout'] as Document | undefined) } },
          ]),
        )
        expect(everything(resolve({ ...main, pages }, { 'vendor.yaml': vendor }))).to.deep.equal(before)
      }),
      RUNS,
    )
  })

  it('the order of keys changes nothing', () => {
    fc.assert(
      fc.property(seeds, (seed) => {
        const { main, vendor } = randomSite(seed)
        const random = new Random(seed)
        const shuffled = resolve(shuffledKeys(main, random) as Document, {
          'vendor.yaml': shuffledKeys(vendor, random),
        })
        expect(everything(shuffled)).to.deep.equal(everything(fromSeed(seed)))
      }),
      RUNS,
    )
  })

  it('the order and number of included files changes nothing', () => {
    fc.assert(
      fc.property(seeds, (seed) => {
        const { main, vendor } = randomSite(seed)
        const { pages, surrounds, ...rest } = main
        const ids = Object.entries(pages as Document)
        const files = {
          'vendor.yaml': vendor,
          'a.yaml': { pages: Object.fromEntries(ids.slice(0, 4)) },
          'b.yaml': { pages: Object.fromEntries(ids.slice(4)), surrounds },
        }
        const before = everything(fromSeed(seed))
        for (const include of [
          ['a.yaml', 'b.yaml'],
          ['b.yaml', 'a.yaml'],
        ])
          expect(everything(resolve({ ...rest, include }, files))).to.deep.equal(before)
      }),
      RUNS,
    )
  })

  it('a weaker word never changes a value', () => {
    fc.assert(
      fc.property(
        seeds,
        fc.constantFrom('width.max', 'spacing.before', 'header.position', 'title.place'),
        (seed, path) => {
          const site = fromSeed(seed)
          const [facet = '', property = ''] = path.split('.')
          const values: Readonly<Record<string, Json>> = { 'header.position': 'sticky', 'title.place': 'band' }
          const value = values[path] ?? '777px'
          for (const page of site.pages()) {
            if (page.dormant) continue
            // Where the page itself decides, and by no revert, whatever the theme says is weaker.
            const decides = site.site.viewports.filter(({ name }) => {
              const winner = page.at(name).decider(path)
              return winner?.layer === 'page' && !winner.because.includes('revert')
            })
            if (decides.length === 0) continue
            const theme = site.site.data.theme.layout as Document | undefined
            const said = (theme?.[facet] ?? {}) as Document
            const weaker: Operation = {
              op: 'add',
              path: '/theme/layout',
              value: { ...theme, [facet]: { ...said, [property]: value } },
            }
            const after = site.with([weaker]).page(page.id)
            for (const { name } of decides) expect(after.at(name).value(path)).to.deep.equal(page.at(name).value(path))
          }
        },
      ),
      RUNS,
    )
  })

  it('what is remembered is what would be worked out afresh, in whatever order it is asked', () => {
    fc.assert(
      fc.property(seeds, (seed) => {
        const warm = fromSeed(seed)
        const before = everything(warm)
        const random = new Random(seed)
        const cold = fromSeed(seed)
        for (const question of random.shuffled(Object.keys(before)).slice(0, 200)) {
          const [page = '', path = '', viewport = ''] = question.split(' ')
          if (path === 'template') expect(cold.page(page).choice.template?.id ?? null).to.equal(before[question])
          else
            expect(
              cold
                .page(page)
                .at(viewport)
                .value(path as PropertyPath),
            ).to.deep.equal(before[question])
        }
      }),
      RUNS,
    )
  })

  it('a site changed in memory is the site that was read with the change', () => {
    fc.assert(
      fc.property(
        seeds,
        fc.array(fc.constantFrom('p0', 'p3', 'p5', 'p8'), { minLength: 1, maxLength: 4 }),
        (seed, edited) => {
          const { main, vendor } = randomSite(seed)
          let site = resolve(main, { 'vendor.yaml': vendor })
          everything(site) // everything is remembered, and must not be handed on wrongly
          const pages = { ...(main['pages'] as Record<string, Document>) }
          edited.forEach((id, n) => {
            const layout = { title: 'hidden', spacing: { before: 100 + n } }
            pages[id] = { ...pages[id], layout, tags: ['c'] }
            site = site.with([
              { op: 'add', path: `/pages/${id}/layout`, value: layout },
              { op: 'add', path: `/pages/${id}/tags`, value: ['c'] },
            ])
          })
          const afresh = resolve({ ...main, pages }, { 'vendor.yaml': vendor })
          expect(everything(site)).to.deep.equal(everything(afresh))
          expect(site.site.data.pages).to.deep.equal(afresh.site.data.pages)
        },
      ),
      RUNS,
    )
  })
})
