import { expect } from 'chai'
import {
  facetsInPx,
  groupPages,
  measurePage,
  memoryFiles,
  readSite,
  resolveSite,
  SiteError,
  type ResolvedSite,
} from 'wembra'
import { randomSite } from '../support/random-site.js'
import { siteOf } from '../support/site.js'

const picture = (site: ResolvedSite): string =>
  JSON.stringify(
    [...site.pages()]
      .filter((page) => !page.dormant)
      .map((page) =>
        site.site.viewports.map(({ name }) => {
          const measure = measurePage(page, name)
          return [
            page.id,
            facetsInPx(measure),
            measure.boxes.map(({ id, x, y, width, height }) => [id, x, y, width, height]),
          ]
        }),
      ),
  )

describe('pages that are really the same', () => {
  it('stand in one group, and groups tell how far apart they are', () => {
    const { groups, used } = groupPages(
      siteOf(`templates: { t: { layout: { spacing: 10px } }, u: { layout: { spacing: 10px } } }
pages:
  a: { path: /a, title: A, template: t }
  b: { path: /b, title: B, template: u }
  c: { path: /c, title: C, template: t, layout: { title: absent } }`),
    )
    expect(groups.map(({ pages, templates }) => [pages, templates])).to.deep.equal([
      [
        ['a', 'b'],
        ['t', 'u'],
      ],
      [['c'], ['t']],
    ])
    expect(groups[1]?.nearest).to.deep.equal({ group: 0, differ: ['title.presence'] })
    expect(used).to.equal(2)
  })

  it('what most pages of a part repeat is said once', () => {
    const { proposals } = groupPages(
      siteOf(`pages:
  top: { path: /top, title: Top }
  a: { path: /a, title: A, parent: top, layout: { title: absent, spacing: 0 } }
  b: { path: /b, title: B, parent: top, layout: { title: absent, spacing: 0 } }
  c: { path: /c, title: C, parent: top, layout: { title: absent } }`),
    )
    expect(proposals.map(({ title }) => title)).to.include(
      'set title.presence once for what is under top, instead of on 3 pages',
    )
  })

  it('its proposals leave every page of 60 random sites as it was, and the sites say less', () => {
    let offered = 0
    for (let seed = 1; seed <= 60; seed++) {
      const { main, vendor } = randomSite(seed)
      let site: ResolvedSite
      try {
        const files = memoryFiles({ 'vendor.yaml': JSON.stringify(vendor) })
        site = resolveSite(readSite(JSON.stringify(main), { file: 'r.json', files }))
      } catch (error) {
        if (error instanceof SiteError) continue
        throw error
      }
      const { proposals } = groupPages(site)
      if (proposals.length === 0) continue
      offered += proposals.length
      const after = site.with(proposals.flatMap((proposal) => proposal.patch))
      expect(picture(after), `seed ${seed}`).to.equal(picture(site))
      expect(proposals.every(({ saved }) => saved > 0)).to.equal(true)
    }
    expect(offered).to.be.at.least(20)
  })
})

describe('more proposals than states are held on to', () => {
  it('are each tried on what the ones before leave', () => {
    const pages = Array.from(
      { length: 120 },
      (_, n) => `  p${n}: { path: /p${n}, title: P, layout: { spacing: { before: ${n}px } } }`,
    )
    const site = siteOf(
      `theme: { layout: { title: hidden } }\npages:\n${pages.map((page) => page.replace('spacing', 'title: hidden, spacing')).join('\n')}`,
    )
    const { proposals } = groupPages(site)
    expect(proposals.filter(({ title }) => title.includes('title'))).to.have.length(120)
    const all = proposals.reduce((before, { patch }) => before.with(patch), site)
    expect(picture(all)).to.equal(picture(site))
  })
})

describe('one template instead of many overrides', () => {
  const pages = (n: number): string =>
    Array.from(
      { length: n },
      (_, i) =>
        `  p${i}: { path: /p${i}, title: P, kind: leaflet, template: t, layout: { title: hidden, spacing: 0, width: { max: 700px } } }`,
    ).join('\n')
  const site = siteOf(`kinds: { leaflet: {} }
templates: { t: { arrange: [ content ] } }
pages:
${pages(12)}`)

  it('is proposed for twelve pages that override in the same way, with the entry that gives it', () => {
    const [proposal] = groupPages(site).proposals
    expect(proposal?.title).to.match(/^make a template of what 12 pages with t override in the same way: p0, p1/)
    expect(proposal?.saved).to.be.above(40)
    const after = site.with(proposal?.patch ?? [])
    expect(after.site.data.templates?.['t-variant']).to.deep.include({ base: 't' })
    expect(after.site.data.assign).to.deep.equal([{ template: 't-variant', where: [{ kind: 'leaflet' }] }])
    expect(after.page('p3').data).to.not.have.any.keys('layout', 'template')
    expect(picture(after)).to.equal(picture(site))
  })

  it('tells how few templates would serve: those that print something else', () => {
    const { alike, fewest, used } = groupPages(
      siteOf(`templates:
  one: { layout: { spacing: 0 } }
  two: { arrange: [ content ] }
  three: { arrange: [ content ], layout: { width: full } }
  four: { ground: { color: "#111" } }
pages:
  a: { path: /a, title: A, template: one }
  b: { path: /b, title: B, template: two }
  c: { path: /c, title: C, template: three }
  d: { path: /d, title: D, template: four }`),
    )
    expect({ alike, fewest, used }).to.deep.equal({ alike: [['two', 'three']], fewest: 2, used: 4 })
  })
})
