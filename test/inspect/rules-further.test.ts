import { expect } from 'chai'
import { inspect, type Numbers } from 'wembra'
import { findingsOf, NOW, siteOf } from '../support/site.js'

const TEXT = 'body: [ { section: s, items: [ { text: words } ] } ]'
const page = (rest: string, more = ''): string => `pages: { visit: { path: /visit, title: Visit, ${rest} }${more} }\n`
const header = (layout: string, surround = 'height: 60px'): string =>
  `surrounds: { top: { as: header, ${surround} } }\ntheme: { layout: { header: { use: top, ${layout} } } }\n`
const MENU = 'rows: [ { items: [ { menu: m, height: 60px } ] } ]'
const over = (background: string, ink = '#fff'): string =>
  `menus: { m: [ { label: A, url: /a } ] }\nassets: { night: { width: 16, height: 9, range: [ "#000", "#222" ] }, day: { width: 16, height: 9, range: [ "#000", "#eee" ] }, gray: { width: 16, height: 9 } }
surrounds: { top: { as: header, ink: "${ink}", background: transparent, ${MENU} } }
theme: { layout: { header: { use: top, position: overlay }, title: absent, width: full, spacing: 0 } }
${page(`body: [ { section: s, padding: 90px, background: { ${background} }, items: [ { heading: 1, text: words } ] } ]`)}`

/** Rule, what is the case, the site, and the numbers of its findings, in order; none where it does not hold. */
const CASES: readonly (readonly [string, string, string, readonly Numbers[]])[] = [
  [
    'template-copies',
    'two templates of one base, which have little of their own',
    `templates: { edge: { layout: { title: absent, width: full, spacing: 0 } }, a: { base: edge, layout: { header: absent } }, b: { base: edge, layout: { footer: absent } } }\n${page(`template: a, ${TEXT}`)}`,
    [],
  ],
  [
    'override-redundant',
    'a template with the effect of the one that would be used instead',
    `kinds: { page: { template: a } }\ntemplates: { a: { layout: { spacing: 60px } }, b: { layout: { spacing: 60px } } }\n${page(`template: b, ${TEXT}`)}`,
    [{}],
  ],
  [
    'override-redundant',
    'a named template where no other would be used',
    `templates: { a: {} }\n${page(`template: a, ${TEXT}`)}`,
    [],
  ],
  [
    'narrowed-by-padding',
    'a gutter alone',
    // 2·140 px are 21.9 % of 1280; on the phone 390 − 280 px are left, and 1280 − 280 px on the desk.
    `theme: { layout: { width: { gutter: 140px } } }\n${page(TEXT)}`,
    [{ left: 110, equivalent: 1000 }],
  ],
  [
    'widths-nearly-same',
    'the inside of a band beside a container',
    `${page('body: [ { section: s, breakout: true, maxWidth: 1120px, items: [ { text: words } ] } ]')}`,
    [{ apart: 40, width: 1120, other: 1160 }],
  ],
  [
    'content-at-edge',
    'a sidebar',
    `surrounds: { rail: { as: sidebar, items: [ { text: words } ] } }\ntheme: { layout: { width: full, sidebar: { side: left, use: rail } } }\n${page('body: [ { section: s, padding: 40px, items: [ { text: words } ] } ]')}`,
    [{ room: 0, side: 3 }],
  ],
  [
    'space-unclaimed',
    'side padding, which is no cap of the column',
    `theme: { layout: { width: { padding: 0 200px } } }\n${page(TEXT)}`,
    [],
  ],
  [
    'headline-lost',
    'a marked headline, where a heading 1 stands in for the title',
    `kinds: { article: { headline: marked } }\n${page('kind: article, layout: { title: absent }, body: [ { section: s, items: [ { heading: 1, text: Come } ] } ]')}`,
    [{}],
  ],
  [
    'clearance-wrong',
    'too little, where the spacing keeps the content clear',
    `${header('position: fixed, clearance: 20px')}${page(`layout: { spacing: 60px }, ${TEXT}`)}`,
    [{ off: 40, clearance: 20, needed: 60 }],
  ],
  [
    'clearance-wrong',
    'a clearance where no header is shown',
    `${header('presence: absent, clearance: 60px')}${page(TEXT)}`,
    [{ off: 60, clearance: 60, needed: 0 }],
  ],
  [
    'clearance-wrong',
    'a clearance under an overlay header',
    `${header('position: overlay, clearance: 60px')}${page(TEXT)}`,
    [{ off: 60, clearance: 60, needed: 0 }],
  ],
  ['clearance-wrong', 'auto is never wrong', `${header('position: overlay, clearance: auto')}${page(TEXT)}`, []],
  ['header-unreadable', 'a dark picture under light words', over('image: night'), []],
  [
    'header-unreadable',
    'a picture with light parts under light words',
    over('image: day'),
    [{ ratio: 1.16, needed: 4.5 }],
  ],
  ['header-unreadable', 'a picture of unknown colors', over('image: gray'), []],
  [
    'header-unreadable',
    'a picture multiplied with a dark color',
    over('color: "#111", image: day, blend: multiply'),
    [],
  ],
  [
    'header-unreadable',
    'dark words over the page’s own ground',
    `menus: { m: [ { label: A, url: /a } ] }\n${header('position: flow', `ink: "#333", ${MENU}`)}${page(TEXT)}`,
    [],
  ],
  [
    'overlay-misplaced',
    'an insert as wide as the window lies under it',
    `${header('position: overlay')}inserts: [ { id: i, at: after-header, where: { all: true }, background: { color: "#123" }, items: [ { gap: 20px } ] } ]\n${page(TEXT)}`,
    [],
  ],
  [
    'overlay-misplaced',
    'a fixed header that lets things show through',
    `${header('position: fixed, background: "#ffffff80", clearance: auto')}${page(TEXT)}`,
    [{}],
  ],
  [
    'overlay-misplaced',
    'a fixed header that does not',
    `${header('position: fixed, background: "#fff", clearance: auto')}${page(TEXT)}`,
    [],
  ],
  [
    'target-under-header',
    'only rows that stay count',
    `${header('position: sticky', 'rows: [ { items: [ { gap: 40px } ] }, { stays: true, items: [ { gap: 30px } ] } ]')}${page('body: [ { section: a, padding: 10px 0 0, items: [ { text: words, links: [ "#a" ] } ] } ]')}`,
    [{ needed: 30, hidden: 20 }],
  ],
  [
    'year-stale',
    'a short range',
    'surrounds: { foot: { as: footer, rows: [ { items: [ { text: "Copyright Quillmere 2019-24" } ] } ] } }\ntheme: { layout: { footer: { use: foot } } }',
    [{ year: 2024 }],
  ],
  [
    'year-stale',
    'a year of something else',
    'surrounds: { foot: { as: footer, rows: [ { items: [ { text: "Looking up since 1904" } ] } ] } }\ntheme: { layout: { footer: { use: foot } } }',
    [],
  ],
  [
    'overflow',
    'only what sticks out itself, not what stands in it',
    page(
      'body: [ { section: a, margin: 0 -300px, items: [ { text: words }, { section: b, items: [ { text: words } ] } ] } ]',
    ),
    [{ over: 276 }],
  ],
  [
    'overflow',
    'a logo that is wider than a phone',
    `assets: { mark: { width: 500, height: 50 } }\n${header('position: flow', 'rows: [ { items: [ { logo: mark } ] } ]')}`,
    [{ over: 110 }],
  ],
  [
    'columns-crushed',
    'many words need more room than few',
    page(
      `body: [ { section: s, columns: [ { items: [ { text: "${'word '.repeat(20)}" } ] }, { items: [ { text: few } ] } ], gap: 20px } ]`,
    ),
    [{ narrowest: 161, needed: 240 }],
  ],
  [
    'columns-crushed',
    'columns that go under one another',
    page(
      'body: [ { section: s, stackAt: 400px, columns: [ { items: [ { text: a } ] }, { items: [ { text: b } ] }, { items: [ { text: c } ] } ] } ]',
    ),
    [],
  ],
  [
    'screen-overrun',
    'content that spills out of a fixed height',
    page('body: [ { section: s, height: 50px, padding: 10px, items: [ { gap: 80px } ] } ]'),
    [{ spill: 50 }],
  ],
  [
    'content-at-edge',
    'text right under the header',
    `${header('position: flow')}${page(`layout: { title: absent, spacing: 0 }, ${TEXT}`)}`,
    [{ room: 0, side: 0 }],
  ],
  [
    'strip-under-header',
    'a clearance is not blank',
    `${header('position: fixed, clearance: auto')}${page('layout: { title: absent, width: full, spacing: 0 }, body: [ { section: s, band: full, background: { color: "#123" }, height: 50px } ]')}`,
    [],
  ],
  [
    'strip-under-header',
    'a margin of the band',
    page(
      'layout: { title: absent, width: full, spacing: 0, header: absent }, body: [ { section: s, margin: 30px 0 0, band: full, background: { color: "#123" }, height: 50px } ]',
    ),
    [{ strip: 30 }],
  ],
  [
    'text-unreadable',
    'ink of the section around it',
    page(
      'body: [ { section: a, ink: "#999", items: [ { section: b, background: { color: "#aaa" }, items: [ { text: words } ] } ] } ]',
    ),
    [{ ratio: 1.226, needed: 4.5 }],
  ],
  [
    'text-unreadable',
    'a half-transparent background over the page’s ground',
    page(
      'body: [ { section: a, ink: "#fff", background: { color: "rgb(0 0 0 / 40%)" }, items: [ { text: words } ] } ]',
    ),
    [{ ratio: 2.849, needed: 4.5 }],
  ],
  [
    'lead-image-doubled',
    'set, and never printed',
    `assets: { dome: { width: 16, height: 9 } }\n${page(`image: dome, ${TEXT}`)}`,
    [{ times: 0 }],
  ],
  [
    'front-unassigned',
    'another page claims its address',
    `purposes: { front: visit }\n${page(TEXT, ', b: { path: /, title: B }')}`,
    [{}],
  ],
  [
    'assign-tie',
    'of templates',
    `templates: { a: {}, b: {} }\nassign: [ { template: a, where: { tag: x } }, { template: b, where: { tag: y } } ]\n${page('tags: [ x, y ]')}`,
    [{}],
  ],
  [
    'assign-tie',
    'that gives the same',
    `templates: { a: {} }\nassign: [ { template: a, where: { tag: x } }, { template: a, where: { tag: y } } ]\n${page('tags: [ x, y ]')}`,
    [],
  ],
  [
    'override-redundant',
    'a template that is chosen anyway',
    `templates: { t: {} }\ntheme: { template: t }\n${page('template: t')}`,
    [{}],
  ],
  [
    'setting-asleep',
    'presence behind the template’s arrange',
    `templates: { t: { arrange: [ content ] } }\n${page(`template: t, layout: { title: visually-hidden }, ${TEXT}`)}`,
    [{}],
  ],
  [
    'redirect-broken',
    'by way of another members’ page to a public one',
    `pages:\n  visit: { path: /visit, title: Visit, access: members, sendTo: b }\n  b: { path: /b, title: B, access: members, sendTo: c }\n  c: { path: /c, title: C }`,
    [],
  ],
]

describe('rules, further', () => {
  for (const [rule, what, site, numbers] of CASES)
    it(`${rule}: ${what}`, () => {
      expect(findingsOf(siteOf(site), rule).map((f) => f.numbers)).to.deep.equal(numbers)
    })

  it('assign-dangling: every sort of name that can lead nowhere', () => {
    const site = siteOf(`extensions: { shop: { enabled: false } }
kinds: { product: { from: shop }, event: { template: t9 } }
builders: { stave: { kinds: [ page, k9 ], template: t9 } }
surrounds: { top: { as: header, copyOf: s9, rows: [ { items: [ { logo: a9 }, { menu: m9 } ] } ] }, rail: { as: sidebar, items: [ { use: s9 } ] } }
templates: { t: { base: t9, builder: b9, for: [ page, k9 ], arrange: [ content, { image: a9 } ] } }
theme: { template: t9, layout: { header: { use: rail }, footer: { use: s9 }, sidebar: { menu: m9 } } }
menus: { m: [ { label: A, page: p9 }, { label: B, page: lamp } ] }
purposes: { front: p9, listing: { k9: visit } }
assign: [ { use: s9, where: { tag: t-9 } }, { template: t9, where: [ { under: p9 }, { builder: b9, kind: k9 } ] } ]
inserts: [ { id: i, at: after-header, where: { page: p9 }, from: x9 } ]
pages:
  visit: { path: /visit, title: Visit, parent: p9, sendTo: p9, template: t9, built: { with: b9, template: t9 }, image: a9, share: { image: a9 }, body: [ { section: s, background: { image: a9 }, items: [ { button: Go, page: p9 }, { text: x, links: [ p9, "#s", "https://x.example" ] }, { listing: k9 } ] } ] }
  lamp: { path: /lamp, title: Lamp, kind: product, parent: p9 }`)
    const found = inspect(site, { now: NOW, fixes: false }).filter((f) => f.rule === 'assign-dangling')
    expect(found.map((f) => f.at.pointer).sort()).to.deep.equal(
      [
        ...['/assign/0/use', '/assign/0/where/tag', '/assign/1/template', '/assign/1/where/0/under'],
        ...[
          '/assign/1/where/1/builder',
          '/assign/1/where/1/kind',
          '/builders/stave/kinds/1',
          '/builders/stave/template',
        ],
        ...['/inserts/0/from', '/kinds/event/template', '/kinds/product/from', '/menus/m/0/page', '/menus/m/1/page'],
        ...['/pages/visit/body/0/background/image', '/pages/visit/body/0/items/0/page'],
        ...[
          '/pages/visit/body/0/items/1/links/0',
          '/pages/visit/body/0/items/2/listing',
          '/pages/visit/built/template',
        ],
        ...['/pages/visit/built/with', '/pages/visit/image', '/pages/visit/parent', '/pages/visit/sendTo'],
        ...['/pages/visit/share/image', '/pages/visit/template', '/purposes/front', '/purposes/listing/k9'],
        ...['/surrounds/rail/items/0/use', '/surrounds/top/copyOf', '/surrounds/top/rows/0/items/0/logo'],
        ...['/surrounds/top/rows/0/items/1/menu', '/templates/t/arrange/1/image', '/templates/t/base'],
        ...['/templates/t/builder', '/templates/t/for/1', '/theme/layout/footer/use', '/theme/layout/header/use'],
        ...['/theme/layout/sidebar/menu', '/theme/template'],
      ].filter((pointer) => pointer !== '/kinds/product/from'),
    )
  })
})
