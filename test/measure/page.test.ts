import { expect } from 'chai'
import { measurePage, type PageMeasure } from 'wembra'
import { siteOf } from '../support/site.js'

const measure = (text: string, viewport: Parameters<typeof measurePage>[1] = 'desk', page = 'visit'): PageMeasure =>
  measurePage(siteOf(text).page(page), viewport)
/** A box as [x, y, width, height]. */
const box = (m: PageMeasure, id: string): readonly number[] | undefined => {
  const found = m.box(id)
  return found && [found.x, found.y, found.width, found.height]
}

const HEADER = `
surrounds:
  top:
    as: header
    rows:
      - { id: notice, padding: 6px 0, hide: [ phone ], items: [ { gap: 24px } ] }
      - { id: bar, padding: { phone: 10px, else: 20px }, items: [ { id: logo, logo: mark, height: 56px }, { id: nav, gap: 20px } ] }
assets: { mark: { width: 100, height: 50 } }
`
const theme = (layout: string): string =>
  `theme: { layout: { header: { use: top }, title: absent, spacing: 0, ${layout} } }`

describe('the header', () => {
  it('is the sum over its visible rows of padding and tallest item', () => {
    expect(box(measure(HEADER + theme('')), 'header')).to.deep.equal([0, 0, 1280, 132])
    expect(box(measure(HEADER + theme(''), 'phone'), 'header')).to.deep.equal([0, 0, 390, 76])
  })

  for (const [what, text, viewport, height] of [
    [
      'a row taken away by the page',
      theme('footer: {}').replace('use: top', 'use: top, items: { notice: absent }'),
      'desk',
      96,
    ],
    ['an item taken away', theme('').replace('use: top', 'use: top, items: { logo: absent }'), 'desk', 96],
    [
      'a row with no item left',
      theme('').replace('use: top', 'use: top, items: { logo: absent, nav: hidden }'),
      'desk',
      36,
    ],
    ['its own height', theme('').replace('use: top', 'use: top, height: 5rem'), 'desk', 80],
  ] as const)
    it(`with ${what} is ${height} px`, () => {
      expect(box(measure(HEADER + text, viewport), 'header')?.[3]).to.equal(height)
    })

  it('measured beats declared beats its rows, as long as the surround stands as it is', () => {
    const declared = HEADER.replace('as: header', 'as: header\n    height: 90px\n    measured: { desk: 97px }')
    expect(measure(declared + theme('')).box('header')).to.include({ height: 97, certainty: 'measured' })
    expect(measure(declared + theme(''), 'tablet').box('header')).to.include({ height: 90, certainty: 'declared' })
    const altered = theme('').replace('use: top', 'use: top, items: { nav: absent }')
    expect(measure(declared + altered).box('header')).to.include({ height: 132, certainty: 'computed' })
  })

  const content = 'pages: { visit: { path: /visit, title: Visit, body: [ { section: s, height: 10px } ] } }'
  for (const [position, clearance, y] of [
    ['flow', '0', 132],
    ['sticky', '8px', 140],
    ['fixed', '0', 0],
    ['fixed', 'auto', 132],
    ['overlay', 'auto', 132],
    ['flow', 'auto', 132],
  ] as const)
    it(`${position} with clearance ${clearance} lets the content begin at ${y} px`, () => {
      const layout = theme('').replace('use: top', `use: top, position: ${position}, clearance: ${clearance}`)
      expect(box(measure(HEADER + layout + '\n' + content), 'section:s')?.[1]).to.equal(y)
    })

  it('stands below inserts before it, unless it is fixed over them', () => {
    const insert = 'inserts: [ { id: strip, at: before-header, where: { all: true }, height: 30px } ]\n'
    expect(box(measure(insert + HEADER + theme('')), 'header')?.[1]).to.equal(30)
    const fixed = theme('').replace('use: top', 'use: top, position: fixed, clearance: auto')
    const m = measure(insert + HEADER + fixed + '\n' + content)
    expect([box(m, 'header')?.[1], box(m, 'section:s')?.[1]]).to.deep.equal([0, 162])
  })
})

describe('container, column and sidebar', () => {
  const rail = 'surrounds: { rail: { as: sidebar, items: [ { gap: 500px } ] } }\n'
  const page = 'pages: { visit: { path: /visit, title: Visit, body: [ { section: s, height: 100px } ] } }\n'
  const layout = (more: string): string =>
    `${rail}${page}theme: { layout: { title: absent, spacing: 0, footer: absent, ${more} } }`

  it('boxed is at most max, leaves the gutters, and is centered', () => {
    expect(box(measure(layout('width: { max: 1000px }')), 'container')).to.deep.equal([140, 0, 1000, 100])
    expect(box(measure(layout('width: { max: 1000px, gutter: 20px }'), 'tablet'), 'container')).to.deep.equal([
      20, 0, 728, 100,
    ])
    expect(box(measure(layout('width: { max: 50%, gutter: 5vw }')), 'container')).to.deep.equal([320, 0, 640, 100])
  })

  it('full is the window', () => {
    expect(box(measure(layout('width: full')), 'container')).to.deep.equal([0, 0, 1280, 100])
  })

  it('side padding narrows what column and sidebar stand in', () => {
    expect(box(measure(layout('width: { max: 1000px, padding: 0 10% }')), 'column')).to.deep.equal([240, 0, 800, 100])
  })

  for (const [side, column, sidebar] of [
    ['right', [60, 0, 820, 100], [920, 0, 300, 500]],
    ['left', [400, 0, 820, 100], [60, 0, 300, 500]],
  ] as const)
    it(`a ${side} sidebar stands beside the column, with the gap between`, () => {
      const m = measure(layout(`sidebar: { side: ${side}, use: rail }`))
      expect(box(m, 'column')).to.deep.equal(column)
      expect(box(m, 'sidebar')).to.deep.equal(sidebar)
      expect(box(m, 'container')?.[3]).to.equal(500)
    })

  it('a right sidebar follows a capped column; what is left over stays free at the end', () => {
    const m = measure(layout('width: { columnMax: 600px }, sidebar: { side: right, use: rail }'))
    expect([box(m, 'column')?.[2], box(m, 'sidebar')?.[0]]).to.deep.equal([600, 700])
  })

  it('at or below stackAt it lies under the column, as wide as the container', () => {
    const m = measure(layout('sidebar: { side: left, use: rail, stackAt: 1280px }'))
    expect(box(m, 'column')).to.deep.equal([60, 0, 1160, 100])
    expect(box(m, 'sidebar')).to.deep.equal([60, 140, 1160, 500])
  })

  it('an empty sidebar keeps its place', () => {
    expect(box(measure(layout('sidebar: right')), 'column')?.[2]).to.equal(820)
    expect(box(measure(layout('sidebar: { side: right, presence: hidden }')), 'column')?.[2]).to.equal(1160)
  })
})

describe('the column holds the template’s arrange in order', () => {
  it('gaps, bands, title, byline, comments and items', () => {
    const m = measure(`
templates: { t: { arrange: [ title, { gap: 10px }, byline, content, { gap: { phone: 1px, else: 20px } }, comments ], layout: { width: full, spacing: 5px 7px } } }
theme: { layout: { byline: { presence: shown, height: 30px }, comments: { presence: shown, height: 50px, maxWidth: 600px }, title: { height: 40px } } }
pages: { visit: { path: /visit, title: Visit, template: t, body: [ { section: s, height: 100px } ] } }`)
    expect(
      ['title', 'arrange:1', 'byline', 'section:s', 'arrange:4', 'comments'].map((id) => box(m, id)?.[1]),
    ).to.deep.equal([5, 45, 55, 85, 185, 205])
    expect(box(m, 'comments')).to.deep.equal([340, 205, 600, 50])
    expect(box(m, 'main')?.[3]).to.equal(262)
  })

  it('title and lead image may stand in bands above main', () => {
    const m = measure(`
assets: { dome: { width: 200, height: 100 } }
theme: { layout: { title: { place: band, padding: 10px 0 20px }, leadImage: { presence: shown, place: band }, spacing: 0 } }
pages: { visit: { path: /visit, title: Visit, image: dome } }`)
    expect(box(m, 'title')).to.deep.equal([0, 0, 1280, 78])
    expect(box(m, 'leadImage')).to.deep.equal([0, 78, 1280, 640])
    expect(box(m, 'main')?.[1]).to.equal(718)
  })
})

describe('sections', () => {
  const page = (body: string): string => `
theme: { layout: { title: absent, spacing: 0, width: { max: 1000px } } }
pages: { visit: { path: /visit, title: Visit, body: [ ${body} ] } }`

  it('a band is as wide as what it stands in; the inside is centered in what the padding leaves', () => {
    const m = measure(page('{ section: s, padding: 10px 50px 20px 150px, maxWidth: 600px, items: [ { gap: 30px } ] }'))
    expect(box(m, 'section:s')).to.deep.equal([140, 0, 1000, 60])
    expect(box(m, 'inside:s')).to.deep.equal([390, 10, 600, 30])
    expect(box(m, 'item:s/0')).to.deep.equal([390, 10, 600, 30])
  })

  it('breakout makes the band as wide as the window', () => {
    expect(box(measure(page('{ section: s, breakout: true, height: 10px }')), 'section:s')).to.deep.equal([
      0, 0, 1280, 10,
    ])
  })

  it('margins collapse between neighbors and stay inside their list', () => {
    const m = measure(
      page(
        '{ section: a, height: 10px, margin: 20px 0 30px }, { section: b, height: 10px, margin: 40px 0 -5px }, { section: c, height: 10px, margin: 15px 5% }',
      ),
    )
    expect(['a', 'b', 'c'].map((id) => box(m, `section:${id}`)?.[1])).to.deep.equal([20, 70, 90])
    expect(box(m, 'section:c')?.slice(0, 3)).to.deep.equal([190, 90, 900])
    expect(box(m, 'column')?.[3]).to.equal(115)
  })

  it('height, minHeight and align say where a short inside stands', () => {
    const m = measure(
      page(
        '{ section: a, height: 100px, align: center, items: [ { gap: 20px } ] }, { section: b, minHeight: 50vh, align: end, padding: 10px, items: [ { gap: 20px } ] }',
      ),
    )
    expect(box(m, 'inside:a')?.[1]).to.equal(40)
    expect(box(m, 'section:b')).to.deep.equal([140, 100, 1000, 400])
    expect(box(m, 'inside:b')?.[1]).to.equal(470)
  })

  it('content taller than a fixed height spills and moves nothing; no box is smaller than its paddings', () => {
    const m = measure(
      page('{ section: a, height: 50px, padding: 30px, items: [ { gap: 100px } ] }, { section: b, height: 1px }'),
    )
    expect(box(m, 'section:a')?.[3]).to.equal(60)
    expect(box(m, 'section:b')?.[1]).to.equal(60)
    expect(m.sections[0]?.spill).to.equal(100)
  })

  it('columns share the width after the gaps, and stack at stackAt with the same gap', () => {
    const columns =
      '{ section: s, gap: 40px, stackAt: 400px, columns: [ { share: 2, items: [ { gap: 50px } ] }, { items: [ { gap: 20px }, { gap: 5px } ] } ] }'
    const beside = measure(page(columns))
    expect(box(beside, 'item:s/0')).to.deep.equal([140, 0, 640, 50])
    expect(box(beside, 'item:s/2')).to.deep.equal([820, 20, 320, 5])
    expect(box(beside, 'section:s')?.[3]).to.equal(50)
    const stacked = measure(page(columns), 'phone')
    expect(box(stacked, 'item:s/1')).to.deep.equal([24, 90, 342, 20])
  })

  it('nested sections stand in the inside of the one around', () => {
    const m = measure(
      page('{ section: s, padding: 10px, items: [ { section: t, padding: 10%, items: [ { gap: 1px } ] } ] }'),
    )
    expect(box(m, 'inside:t')).to.deep.equal([248, 108, 784, 1])
  })

  it('what is hidden at a viewport has no box', () => {
    const m = measure(page('{ section: a, height: 10px, hide: [ phone ] }, { section: b, height: 10px }'), 'phone')
    expect(box(m, 'section:a')).to.equal(undefined)
    expect(box(m, 'section:b')?.[1]).to.equal(0)
  })

  it('sections aligned within sections are laid out in time that does not double with each', () => {
    const depth = 22
    let inner = '{ gap: 10px }'
    for (let n = 0; n < depth; n++)
      inner = `{ section: s${n}, minHeight: ${100 + n}px, align: center, items: [ ${inner} ] }`
    expect(box(measure(page(inner)), 'section:s0')?.[1]).to.be.closeTo((100 + depth - 1) / 2 - 50, 0.01)
  })
})

describe('certainty and the ledger', () => {
  it('a box is as certain as the least certain thing it rests on', () => {
    const m = measure(`${HEADER}${theme('')}
pages: { visit: { path: /visit, title: Visit, body: [ { section: a, height: 10px }, { section: b, items: [ { text: words } ] }, { section: c, height: 10px } ] } }`)
    expect(['header', 'section:a', 'section:b', 'section:c'].map((id) => m.box(id)?.certainty)).to.deep.equal([
      'computed',
      'computed',
      'estimated',
      'estimated',
    ])
  })

  it('the ledger adds up to the position, each step with its setting', () => {
    const m =
      measure(`${HEADER}theme: { layout: { header: { use: top, clearance: 4px }, title: { height: 50px }, spacing: 40px } }
pages: { visit: { path: /visit, title: Visit, body: [ { section: a, padding: 8px, items: [ { gap: 5px }, { gap: 6px } ] } ] } }`)
    const steps = m.box('item:a/1')?.ledger ?? []
    expect(steps.map((s) => s.px)).to.deep.equal([132, 4, 40, 50, 8, 5])
    expect(steps.map((s) => s.pointer).slice(1, 3)).to.deep.equal([
      '/theme/layout/header/clearance',
      '/theme/layout/spacing/before',
    ])
    for (const { y, ledger } of m.boxes) expect(ledger.reduce((sum, step) => sum + step.px, 0)).to.be.closeTo(y, 1e-6)
  })
})
