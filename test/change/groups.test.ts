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
      'say title.presence once for what is under top, instead of on 3 pages',
    )
  })

  it('its proposals leave every page of 60 random sites as it was, and the sites say less', function () {
    this.timeout(120_000)
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
