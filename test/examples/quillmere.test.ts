import { expect } from 'chai'
import { readFileSync } from 'node:fs'
import { inspect, PROPERTY_PATHS, resolveSite, type Finding } from 'wembra'
import { loadSite } from 'wembra/node'

const quillmere = resolveSite(loadSite('examples/quillmere'))
const found = (findings: readonly Finding[]): string[] =>
  findings.flatMap((f) => f.pages.map((page) => `${f.rule} ${page}`)).sort()

/** What examples/quillmere/README.md says was planted, of the rules there are so far. */
const PLANTED: Readonly<Record<string, readonly string[]>> = {
  'header-covers-content': ['moon-night', 'planet-walk', 'dark-sky-week', 'lecture-dust'],
  'title-doubled': ['newsletter', 'lecture-dust', 'whats-on'],
  'title-missing': ['schools', 'support-us', 'gallery-autumn', 'gallery-winter', 'star-party-thanks'],
  'sidebar-empty': ['getting-here', 'opening-hours', 'groups', 'schools', 'volunteers', 'rota', 'handbook', 'training'],
  'boxed-in': ['lecture-dust', 'support-us'],
  'gap-left-behind': [
    'star-party',
    'star-party-tickets',
    'star-party-faq',
    'star-party-programme',
    'support-us',
    'gallery-autumn',
    'gallery-winter',
  ],
  'style-not-understood': ['star-party', 'star-party-tickets', 'star-party-programme', 'star-party-faq', 'dome'],
}

describe('Quillmere Observatory', () => {
  it('is a site of the size and variety that the demo promises', () => {
    const { data } = quillmere.site
    const pages = Object.values(data.pages)
    expect(pages.length).to.be.at.least(40)
    expect(new Set(pages.map((page) => page.kind ?? 'page')).size).to.be.at.least(5)
    const surrounds = Object.values(data.surrounds ?? {}).map((s) => s.as)
    for (const [as, least] of [
      ['header', 3],
      ['footer', 2],
      ['sidebar', 2],
    ] as const)
      expect(surrounds.filter((each) => each === as).length).to.be.at.least(least)
    expect(Object.keys(data.templates ?? {}).length).to.be.at.least(7)
    expect(pages.filter((page) => page.built).length).to.be.at.least(12)
  })

  it('has every planted trouble found, and nothing else', () => {
    const planted = Object.entries(PLANTED).flatMap(([rule, pages]) => pages.map((page) => `${rule} ${page}`))
    expect(found(inspect(quillmere))).to.deep.equal(planted.sort())
  })

  it('gives the same findings, in the same order, on every run', () => {
    const again = inspect(resolveSite(loadSite('examples/quillmere')))
    expect(again).to.deep.equal(inspect(quillmere))
  })
})

/** What custom.css changes: by property, the pages and, where not at all of them, the viewports. */
const STYLED: Readonly<Record<string, string>> = {
  'header.position': 'visit',
  'header.clearance': 'solstice',
  'title.padding':
    'moon-night planet-walk dark-sky-week solstice lecture-dust open-day star-chart red-lamp dome-model cocoa',
  'title.presence': 'gallery-winter',
  'byline.presence':
    'perseids@phone leonids@phone first-light@phone star-hopping@phone red-torch@phone mirror@phone comet@phone gallery-autumn@phone gallery-winter@phone moon-map@phone noctilucent@phone',
  'comments.maxWidth':
    'perseids leonids first-light star-hopping red-torch mirror comet gallery-autumn gallery-winter moon-map noctilucent',
  'spacing.before': 'journal whats-on shop',
  'width.max': 'star-party-2024 accessibility privacy',
  'width.columnMax': 'star-chart@desk red-lamp@desk dome-model@desk cocoa@desk',
  'sidebar.width': 'volunteers rota handbook training',
  'footer.presence': 'find@phone',
}

describe('the custom style sheet of Quillmere', () => {
  it('changes these facets on these pages, and no others', () => {
    const changed: Record<string, string[]> = {}
    for (const page of quillmere.pages())
      for (const path of PROPERTY_PATHS) {
        const at = quillmere.site.viewports
          .map((v) => v.name)
          .filter((name) => page.at(name).decider(path)?.layer === 'style')
        if (at.length === 0 || path === 'header.ink') continue
        ;(changed[path] ??= []).push(at.length === 3 ? page.id : `${page.id}@${at.join(',')}`)
      }
    const expected = Object.fromEntries(Object.entries(STYLED).map(([path, pages]) => [path, pages.split(' ').sort()]))
    expect(Object.fromEntries(Object.entries(changed).map(([path, pages]) => [path, pages.sort()]))).to.deep.equal(
      expected,
    )
  })

  it('stands in each chain with its file, line and selector', () => {
    for (const [path, pages] of Object.entries(STYLED)) {
      const [page = '', viewport = 'desk'] = pages.split(' ')[0]?.split('@') ?? []
      const at = quillmere.page(page).at(viewport).decider(path)?.at
      const line = readFileSync('examples/quillmere/custom.css', 'utf8').split('\n')[(at?.line ?? 0) - 1]
      expect(at?.file, path).to.equal('examples/quillmere/custom.css')
      expect(line?.slice((at?.column ?? 0) - 1), path).to.match(/^[a-z-]+: .*;$/)
      expect(at?.selector, path).to.be.a('string')
    }
  })
})
