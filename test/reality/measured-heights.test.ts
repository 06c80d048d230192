import { expect } from 'chai'
import { readSite, resolveSite } from 'wembra'
import { measuredHeights, type Observation, type OutlineNode } from 'wembra/reality'
import { menu, observed } from '../support/observed.js'

const SITE = `wembra: 1
site: { name: Tarn }
surrounds:
  top: { as: header, height: 96px }
  foot: { as: footer, height: 40px }
theme: { layout: { header: { use: top }, footer: { use: foot } } }
pages:
  home: { path: /, title: Tarn }
  visit: { path: /visit, title: Visit }
  talks: { path: /talks, title: Talks }
`
const resolved = resolveSite(readSite(SITE, { file: 'tarn.site.yaml' }))
const PATHS = ['/', '/visit', '/talks']

/** A page whose header and footer were so high. */
function seen(
  path: string,
  header: number | null,
  footer = 40,
  viewport = 'desk',
  bar: readonly OutlineNode[] = [],
): Observation {
  const made = observed(path, { header: bar, footer: [] })
  const [width, height] = viewport === 'desk' ? [1280, 800] : [390, 844]
  const box = (part: object | undefined, px: number) => ({
    ...part,
    presence: 'shown' as const,
    box: { x: 0, y: 0, width, height: px },
  })
  return {
    ...made,
    viewport: { name: viewport, width, height },
    parts: {
      ...made.parts,
      header: header === null ? { ...made.parts.header, presence: 'absent' } : box(made.parts.header, header),
      footer: box(made.parts.footer, footer),
    },
  } as Observation
}

describe('heights of real headers and footers', () => {
  it('are nothing to tell where they are what was worked out, to half a px', () => {
    const pages = [seen('/', 96), seen('/visit', 96.5), seen('/talks', 95.5)]
    expect(measuredHeights(resolved, pages)).to.deep.equal({ surrounds: [], patch: [] })
  })

  it('are a patch where most pages show another, and told with how many do', () => {
    const pages = [seen('/', 120), seen('/visit', 120), seen('/talks', 96)]
    expect(measuredHeights(resolved, pages)).to.deep.equal({
      surrounds: [{ id: 'top', heights: { desk: 120 }, pages: 2, of: 3 }],
      patch: [{ op: 'add', path: '/surrounds/top/measured', value: { desk: '120px' } }],
    })
  })

  it('are told by viewport, in the order of the site', () => {
    const pages = PATHS.flatMap((path) => [seen(path, 64, 40, 'phone'), seen(path, 120, 52)])
    const { surrounds } = measuredHeights(resolved, pages)
    expect(surrounds).to.deep.equal([
      { id: 'top', heights: { desk: 120, phone: 64 }, pages: 3, of: 3 },
      { id: 'foot', heights: { desk: 52, phone: 40 }, pages: 3, of: 3 },
    ])
    expect(Object.keys(surrounds[0]?.heights ?? {})).to.deep.equal(['desk', 'phone'])
  })

  it('are not those of a bar that leads elsewhere: it may be another one', () => {
    const other = seen('/', 120, 40, 'desk', [menu('/shop')])
    expect(measuredHeights(resolved, [other]).surrounds).to.deep.equal([])
  })

  it('count of pages that print them, of this site, at viewports of this site', () => {
    const pages = [
      ...[seen('/', 120), seen('/visit', null), seen('/elsewhere', 300)],
      { ...seen('/talks', 300), viewport: { name: 'wall', width: 3840, height: 2160 } },
    ]
    expect(measuredHeights(resolved, pages).surrounds).to.deep.equal([
      { id: 'top', heights: { desk: 120 }, pages: 1, of: 1 },
    ])
  })
})
