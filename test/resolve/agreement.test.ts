import { expect } from 'chai'
import { memoryFiles, PROPERTY_PATHS, type PropertyPath, readSite, resolveSite, type ResolvedSite } from 'wembra'
import { naivePage } from '../support/naive-resolver.js'
import { randomSite } from '../support/random-site.js'

/** A sample of what `npm run agree` asks. */
const SITES = Number(process.env['WEMBRA_SITES'] ?? 100)
const ITEMS = ['header.items.nav', 'header.items.logo', 'header.items.seek']
const PATHS = [...PROPERTY_PATHS.filter((path) => !path.endsWith('.items')), ...ITEMS]

function resolved(seed: number): { site: ResolvedSite; vendorEntries: number } {
  const { main, vendor } = randomSite(seed)
  const files = memoryFiles({ 'vendor.yaml': JSON.stringify(vendor) })
  const site = resolveSite(readSite(JSON.stringify(main), { file: 'main.site.json', files }))
  return { site, vendorEntries: (vendor['assign'] as unknown[]).length }
}

/** The first thing in which the two resolvers differ on a site; `undefined` where they agree. */
function disagreement(seed: number): string | undefined {
  const { site, vendorEntries } = resolved(seed)
  for (const page of site.pages()) {
    const naive = naivePage(site.site.data, page.id, vendorEntries)
    const differ = (what: string, fast: unknown, slow: unknown): string | undefined =>
      JSON.stringify(fast) === JSON.stringify(slow)
        ? undefined
        : `seed ${seed}, ${page.id}, ${what}: ${JSON.stringify(fast)}, naively ${JSON.stringify(slow)}`
    const whole =
      differ('dormant', page.dormant, naive.dormant) ??
      differ('template', page.choice.template?.id ?? null, naive.template)
    if (whole) return whole
    if (page.dormant) continue
    const rest =
      differ(
        'inserts',
        page.inserts.map((i) => i.data.id),
        naive.inserts,
      ) ?? differ('ground', page.ground, naive.ground)
    if (rest) return rest
    for (const { name } of site.site.viewports) {
      const view = page.at(name)
      for (const path of PATHS) {
        const found = differ(`${path} at ${name}`, view.value(path as PropertyPath), naive.value(path, name))
        if (found) return found
      }
    }
  }
  return undefined
}

describe('a second resolver, written for clarity', () => {
  it(`agrees on ${SITES} random sites, on every page, property and viewport`, () => {
    for (let seed = 1; seed <= SITES; seed++) expect(disagreement(seed)).to.equal(undefined)
  })
})
