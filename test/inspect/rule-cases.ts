import type { RuleCase } from '../support/rule-cases.js'

const TEXT = 'body: [ { section: s, items: [ { text: words } ] } ]'
const page = (rest: string, more = ''): string => `pages: { visit: { path: /visit, title: Visit, ${rest} }${more} }\n`
const HEADER = 'surrounds: { top: { as: header, height: 60px } }\n'
const BAND =
  'body: [ { section: s, band: full, background: { color: "#123" }, padding: 40px, ink: "#fff", items: [ { heading: 1, text: words } ] } ]'
const DESK_TABLET = ['desk', 'tablet']

/** For every rule: where it holds (its own example, unless another is given), the nearest site where it does not, its fix. */
export const CASES: readonly RuleCase[] = [
  {
    rule: 'header-covers-content',
    nearest: `${HEADER}theme: { layout: { header: { use: top, position: fixed }, spacing: 60px } }\n${page(TEXT)}`,
    numbers: { covered: 70, room: 30, needed: 100 },
    at: '/theme/layout/header/position',
    fix: 'certain',
  },
  {
    rule: 'clearance-wrong',
    nearest: `surrounds: { top: { as: header, height: 96px } }\ntheme: { layout: { header: { use: top, position: fixed, clearance: 96px } } }\n${page(TEXT)}`,
    numbers: { off: 40, clearance: 136, needed: 96 },
    at: '/theme/layout/header/clearance',
    fix: 'certain',
  },
  {
    rule: 'header-unreadable',
    nearest: `menus: { m: [ { label: Visit, page: visit } ] }
surrounds: { top: { as: header, height: 60px, ink: "#fff", background: transparent, rows: [ { items: [ { menu: m } ] } ] } }
theme: { layout: { header: { use: top, position: overlay }, title: absent, width: full, spacing: 0 } }
${page('body: [ { section: s, padding: 90px, background: { color: "#222" }, ink: "#fff", items: [ { heading: 1, text: words } ] } ]')}`,
    // White on #eee by the formula of WCAG 2.2: (1 + 0.05) / (0.8550 + 0.05).
    numbers: { ratio: 1.16, needed: 4.5 },
    at: '/surrounds/top/ink',
    fix: 'certain',
  },
  {
    rule: 'overlay-misplaced',
    nearest: `${HEADER}theme: { layout: { header: { use: top, position: overlay }, title: absent, width: full, spacing: 0 } }\n${page(BAND)}`,
    numbers: {},
    at: '/theme/layout/header/position',
    fix: 'certain',
  },
  {
    rule: 'header-doubled',
    nearest: `${HEADER}theme: { layout: { header: { use: top } } }\n${page('body: [ { section: a, items: [ { text: words } ] }, { section: s, role: navigation, items: [ { text: words } ] } ]')}`,
    numbers: { sources: 2 },
    at: '/pages/visit/body/0',
    fix: 'certain',
  },
  {
    rule: 'nav-lost',
    nearest: `purposes: { front: home }
theme: { layout: { header: absent, footer: absent } }
pages:
  home: { path: /, title: Home }
  visit: { path: /visit, title: Visit, body: [ { section: s, items: [ { button: Home, page: home } ] } ] }`,
    numbers: { exits: 0 },
    at: '/templates/bare/layout/header/presence',
    fix: 'choice',
  },
  {
    rule: 'target-under-header',
    nearest: `${HEADER}theme: { layout: { header: { use: top, position: sticky } } }\n${page('body: [ { section: s, items: [ { button: Tickets, url: "#tickets" } ] }, { section: tickets, padding: 60px 0 0, items: [ { text: words } ] } ]')}`,
    numbers: { needed: 60, hidden: 60 },
    at: '/theme/layout/header/position',
    fix: 'none',
  },
  {
    rule: 'logo-margins',
    nearest: `assets: { mark: { width: 100, height: 60, margins: { top: 10, bottom: 10 } } }
surrounds: { top: { as: header, rows: [ { padding: 8px, items: [ { logo: mark, height: 60px }, { text: words, height: 60px } ] } ] } }
theme: { layout: { header: { use: top } } }`,
    numbers: { saved: 20, blank: 20 },
    at: '/assets/mark',
    fix: 'none',
  },
  {
    rule: 'header-tall',
    nearest: 'surrounds: { top: { as: header, height: 200px } }\ntheme: { layout: { header: { use: top } } }',
    numbers: { share: 0.28, height: 224 },
    at: '/surrounds/top',
    viewports: ['desk', 'phone'],
    fix: 'choice',
  },
  {
    rule: 'footer-doubled',
    nearest: `theme: { layout: { footer: absent } }\n${page('body: [ { section: s, role: contentinfo, items: [ { text: words } ] } ]')}`,
    numbers: { sources: 2 },
    at: '/pages/visit/body/0',
    fix: 'certain',
  },
  {
    rule: 'year-stale',
    nearest:
      'surrounds: { foot: { as: footer, rows: [ { items: [ { text: "© 2019–2026 Quillmere, founded 1904" } ] } ] } }\ntheme: { layout: { footer: { use: foot } } }',
    numbers: { year: 2019 },
    at: '/surrounds/foot/rows/0/items/0/text',
    fix: 'certain',
  },
  {
    rule: 'title-doubled',
    nearest: page('body: [ { section: s, items: [ { heading: 2, text: Come and see } ] } ]'),
    numbers: { titles: 2 },
    at: '/theme',
    fix: 'certain',
  },
  {
    rule: 'title-missing',
    nearest: `theme: { layout: { title: absent } }\n${page('body: [ { section: s, items: [ { heading: 1, text: Hello } ] } ]')}`,
    numbers: { hidden: 2, replaced: 1 },
    at: '/theme/layout/title/presence',
    fix: 'certain',
  },
  {
    rule: 'headline-lost',
    nearest: `theme: { layout: { title: { desk: absent, else: visually-hidden } } }\n${page('body: [ { section: s, items: [ { heading: 2, text: Come and see } ] } ]')}`,
    numbers: {},
    at: '/templates/bare/layout/title/presence',
    fix: 'certain',
  },
  {
    rule: 'byline-stranded',
    nearest: `theme: { layout: { byline: shown } }\n${page(TEXT)}`,
    numbers: {},
    at: '/theme/layout/title/presence',
    fix: 'certain',
  },
  {
    rule: 'headings-out-of-order',
    nearest: page(
      'body: [ { section: s, items: [ { heading: 2, text: Hours }, { heading: 3, text: In summer }, { heading: 2, text: Groups } ] } ]',
    ),
    numbers: { level: 4, before: 2 },
    at: '/pages/visit/body/0/items/1',
    fix: 'certain',
  },
  {
    rule: 'sidebar-empty',
    nearest: `surrounds: { rail: { as: sidebar, items: [ { text: words } ] } }\ntheme: { layout: { sidebar: { side: right, use: rail } } }\n${page(TEXT)}`,
    numbers: { reserved: 340 },
    at: '/theme/layout/sidebar/side',
    fix: 'choice',
  },
  {
    rule: 'sidebar-doubled',
    nearest: `surrounds: { rail: { as: sidebar, items: [ { text: words } ] } }\n${page('body: [ { section: s, items: [ { text: words }, { use: rail } ] } ]')}`,
    numbers: { times: 2 },
    at: '/pages/visit/body/0/items/1',
    fix: 'choice',
  },
  {
    rule: 'space-unclaimed',
    nearest: `theme: { layout: { width: { columnMax: 821px } } }\n${page(TEXT)}`,
    numbers: { unclaimed: 400 },
    at: '/theme/layout/width/columnMax',
    viewports: ['desk'],
    fix: 'certain',
  },
  {
    rule: 'column-squeezed',
    nearest: `theme: { layout: { width: { padding: { phone: 0 35px, else: 0 } } } }\n${page(TEXT)}`,
    // 390 − 2·24 − 2·80
    numbers: { column: 182 },
    at: '/theme/layout/width/padding',
    viewports: ['phone'],
    fix: 'certain',
  },
  {
    rule: 'boxed-in',
    nearest: `theme: { layout: { width: full } }\n${page('body: [ { section: s, band: full, background: { color: "#123" }, height: 80px } ]')}`,
    numbers: { short: 60 },
    at: '/theme',
    fix: 'certain',
  },
  {
    rule: 'narrowed-by-padding',
    nearest: `theme: { layout: { width: { padding: 0 128px } } }\n${page(TEXT)}`,
    numbers: { left: 22, equivalent: 840 },
    at: '/theme/layout/width/padding',
    fix: 'certain',
  },
  {
    rule: 'max-has-no-effect',
    nearest: page('body: [ { section: s, maxWidth: 90vw, items: [ { text: words } ] } ]'),
    numbers: { max: 1400, limit: 1160 },
    at: '/pages/visit/body/0/maxWidth',
    fix: 'certain',
  },
  {
    rule: 'overflow',
    nearest: `assets: { plate: { width: 900, height: 600 } }\n${page('body: [ { section: s, items: [ { image: plate, width: 366px } ] } ]')}`,
    // 24 + 600 − 390
    numbers: { over: 234 },
    at: '/pages/visit/body/0/items/0',
    viewports: ['phone'],
    fix: 'certain',
  },
  {
    rule: 'widths-nearly-same',
    nearest: `templates: { narrow: { layout: { width: { max: 1100px } } } }\n${page('tags: []', ', hours: { path: /hours, title: Hours }, b: { path: /b, title: B, template: narrow }')}`,
    numbers: { apart: 20, width: 1140, other: 1160 },
    at: '/templates/narrow/layout/width/max',
    pages: ['b'],
    fix: 'choice',
  },
  {
    rule: 'gutters-doubled',
    nearest: page(
      'body: [ { section: s, padding: 0 24px, background: { color: "#eee" }, items: [ { text: words } ] } ]',
    ),
    numbers: { edge: 48 },
    at: '/pages/visit/body/0/padding',
    viewports: ['tablet', 'phone'],
    fix: 'certain',
  },
  {
    rule: 'columns-crushed',
    nearest: page('body: [ { section: s, columns: [ { items: [ { text: one } ] }, { items: [ { text: two } ] } ] } ]'),
    numbers: { narrowest: 114, needed: 128 },
    at: '/pages/visit/body/0',
    viewports: ['phone'],
    fix: 'certain',
  },
  {
    rule: 'gap-left-behind',
    nearest: `templates: { t: { arrange: [ title, { gap: 64px }, content ] } }\n${page(`template: t, ${TEXT}`)}`,
    numbers: { px: 64 },
    at: '/templates/t/arrange/1',
    fix: 'certain',
  },
  {
    rule: 'strip-under-header',
    nearest: `${HEADER}theme: { layout: { header: { use: top }, title: absent, width: full, spacing: 0 } }\n${page(BAND)}`,
    numbers: { strip: 48 },
    at: '/theme/layout/spacing/before',
    fix: 'certain',
  },
  {
    rule: 'content-at-edge',
    nearest: `theme: { layout: { width: full, title: absent } }\n${page('body: [ { section: s, padding: 0 1px, items: [ { heading: 1, text: words } ] } ]')}`,
    numbers: { room: 0, side: 3 },
    at: '/pages/visit/body/0',
    fix: 'certain',
  },
  {
    rule: 'mixed-page-starts',
    nearest: `${HEADER}templates: { t: { layout: { header: { use: top }, title: absent, width: full, spacing: 48px } } }
pages:
  visit: { path: /visit, title: Visit, template: t, ${BAND} }
  hours: { path: /hours, title: Hours, template: t, body: [ { section: s, padding: 24px, items: [ { heading: 1, text: words } ] } ] }`,
    numbers: { bands: 1, texts: 1 },
    at: '/templates/t/layout/spacing/before',
    fix: 'certain',
  },
  {
    rule: 'screen-overrun',
    nearest: `${HEADER}theme: { layout: { header: { use: top, position: overlay }, title: absent, width: full, spacing: 0 } }\n${page('body: [ { section: s, height: 100vh, padding: 90px 24px, background: { color: "#123" }, items: [ { heading: 1, text: words } ] } ]')}`,
    numbers: { overrun: 60 },
    at: '/pages/visit/body/0/height',
    fix: 'certain',
  },
  {
    rule: 'content-left-out',
    nearest: `templates: { t: { arrange: [ title ] } }\n${page('template: t, body: [ { section: s } ]')}`,
    numbers: { words: 2, items: 1 },
    at: '/templates/t/arrange',
    fix: 'certain',
  },
  {
    rule: 'content-replaced',
    nearest: `kinds: { article: {} }\ntemplates: { t: { arrange: [ title, { listing: article }, content ] } }\n${page(`template: t, ${TEXT}`)}`,
    numbers: { words: 2, items: 1 },
    at: '/templates/t/arrange',
    fix: 'choice',
  },
  {
    rule: 'template-passed-over',
    nearest: `templates: { t: {} }\ntheme: { template: gone }\n${page(`template: t, ${TEXT}`)}`,
    numbers: {},
    at: '/pages/visit/template',
    fix: 'choice',
  },
  {
    rule: 'template-choice-disagrees',
    nearest: `builders: { stave: {} }\ntemplates: { a: {} }\n${page(`template: a, built: { with: stave, template: a }, ${TEXT}`)}`,
    numbers: {},
    at: '/pages/visit/built/template',
    fix: 'choice',
  },
  {
    rule: 'removed-by-builder',
    nearest: `${HEADER}theme: { layout: { header: { use: top } } }
builders: { stave: { layout: { header: absent } } }
pages: { visit: { path: /visit, title: Visit, built: { with: stave }, ${TEXT} }, hours: { path: /hours, title: Hours, layout: { header: absent } }, a: { path: /a, title: A, layout: { header: absent } }, b: { path: /b, title: B } }`,
    numbers: { share: 1 },
    at: '/builders/stave/layout/header/presence',
    fix: 'certain',
  },
  {
    rule: 'template-copies',
    nearest: `templates:
  a: { layout: { title: absent, spacing: 0, width: full } }
  b: { layout: { title: absent, spacing: 4px, width: boxed } }`,
    numbers: { differ: 1 },
    at: '/templates/b',
    pages: [],
    viewports: [],
    fix: 'certain',
  },
  {
    rule: 'template-unused',
    nearest: `extensions: { shop: { enabled: false } }\nkinds: { product: { from: shop } }\ntemplates: { spare: { layout: { title: absent } } }\n${page('kind: product, template: spare')}`,
    numbers: {},
    at: '/templates/spare',
    pages: [],
    viewports: [],
    fix: 'choice',
  },
  {
    rule: 'copy-drifted',
    nearest: `surrounds:
  top: { as: header, background: "#fff", rows: [ { id: bar, padding: 20px, items: [ { id: logo, text: Quillmere } ] } ] }
  night: { as: header, copyOf: top, own: [ background, bar.padding ], background: "#111", rows: [ { id: bar, padding: 16px, items: [ { id: logo, text: Quillmere } ] } ] }
theme: { layout: { header: { use: top } } }`,
    numbers: {},
    at: '/surrounds/night/rows/0/padding',
    pages: [],
    viewports: [],
    fix: 'choice',
  },
  {
    rule: 'assign-tie',
    nearest: `surrounds: { a: { as: header, height: 60px }, b: { as: header, height: 60px } }
assign: [ { use: a, where: { tag: old, kind: page } }, { use: b, where: { tag: new } } ]
${page('tags: [ old, new ]')}`,
    numbers: {},
    at: '/assign/0/use',
    fix: 'choice',
  },
  {
    rule: 'assign-shadowed',
    nearest: `surrounds: { a: { as: header, height: 60px }, b: { as: header, height: 60px } }
assign: [ { use: a, where: { kind: page } }, { use: b, where: { path: /visit } } ]
${page('tags: []', ', hours: { path: /hours, title: Hours }')}`,
    numbers: { pages: 1 },
    at: '/assign/0',
    fix: 'certain',
  },
  {
    rule: 'assign-dangling',
    nearest: 'menus: { m: [ { label: Visit, page: visit }, { label: Elsewhere, url: "https://elsewhere.example" } ] }',
    numbers: {},
    at: '/menus/m/0/page',
    pages: [],
    viewports: [],
    fix: 'choice',
  },
  {
    rule: 'builder-not-for-kind',
    nearest: `builders: { stave: { kinds: [ page ] } }\n${page(`built: { with: stave }, ${TEXT}`)}`,
    numbers: {},
    at: '/pages/visit/built/with',
    fix: 'choice',
  },
  {
    rule: 'override-redundant',
    nearest: `theme: { layout: { title: { phone: absent, else: shown } } }\n${page(`layout: { title: shown }, ${TEXT}`)}`,
    numbers: {},
    at: '/pages/visit/layout/title/presence',
    fix: 'certain',
  },
  {
    rule: 'override-outranked',
    nearest: `templates: { t: { layout: { title: shown } } }\n${page(`template: t, layout: { title: visually-hidden }, ${TEXT}`)}`,
    numbers: {},
    at: '/pages/visit/layout/title/presence',
    fix: 'choice',
  },
  {
    rule: 'override-locked',
    nearest: `templates: { t: { layout: { title: shown, lock: [ header ] } } }\n${page(`template: t, layout: { title: visually-hidden }, ${TEXT}`)}`,
    numbers: {},
    at: '/pages/visit/layout/title/presence',
    fix: 'choice',
  },
  {
    rule: 'setting-asleep',
    nearest: `surrounds: { rail: { as: sidebar, items: [ { text: words } ] } }\n${page(`layout: { sidebar: { side: right, use: rail, width: 240px } }, ${TEXT}`)}`,
    numbers: {},
    at: '/pages/visit/layout/sidebar/width',
    fix: 'choice',
  },
  {
    rule: 'override-repeated',
    nearest: `kinds: { event: {} }
pages:
  a: { path: /a, title: A, kind: event, layout: { title: visually-hidden } }
  b: { path: /b, title: B, kind: event, layout: { title: visually-hidden } }
  c: { path: /c, title: C, kind: event }`,
    numbers: { pages: 3, share: 1 },
    at: '/pages/a/layout/title/presence',
    pages: ['a', 'b', 'c'],
    fix: 'certain',
  },
  {
    rule: 'facet-not-for-kind',
    nearest: `kinds: { product: { facets: [ title, spacing ] } }\n${page(`kind: product, layout: { spacing: 0 }, ${TEXT}`)}`,
    numbers: {},
    at: '/pages/visit/layout/spacing',
    fix: 'certain',
  },
  {
    rule: 'odd-one-out',
    nearest: `kinds: { event: {} }
pages:
  a: { path: /a, title: A, kind: event }
  b: { path: /b, title: B, kind: event }
  c: { path: /c, title: C, kind: event }
  d: { path: /d, title: D, kind: event }
  e: { path: /e, title: E, kind: event }
  f: { path: /f, title: F, kind: event, layout: { spacing: 0 } }`,
    // 5 of 6
    numbers: { share: 0.833 },
    at: '/assign/0/layout/spacing/before',
    pages: ['f'],
    fix: 'none',
  },
  {
    rule: 'text-unreadable',
    nearest: page(
      'body: [ { section: s, background: { color: "#25305a" }, ink: "#8f9ac5", items: [ { text: words } ] } ]',
    ),
    numbers: { ratio: 3.763, needed: 4.5 },
    at: '/pages/visit/body/0/ink',
    fix: 'certain',
  },
  {
    rule: 'item-prints-nothing',
    holds: `surrounds: { top: { as: header, height: 60px }, foot: { as: footer, height: 60px } }
theme: { layout: { header: { use: top }, footer: { use: foot } } }
${page('body: [ { section: s, items: [ { text: words }, { social: [ { label: Notes, url: "https://notes.example" }, { label: Pictures } ] } ] } ]')}`,
    nearest: `surrounds: { top: { as: header, height: 60px }, foot: { as: footer, height: 60px } }
theme: { layout: { header: { use: top }, footer: { use: foot } } }
${page('body: [ { section: s, items: [ { form: letter, to: letters@quillmere.example } ] } ]')}`,
    numbers: { items: 1 },
    at: '/pages/visit/body/0/items/1/social',
    fix: 'choice',
  },
  {
    rule: 'lead-image-doubled',
    nearest: `assets: { dome: { width: 160, height: 90 } }\n${page('image: dome, layout: { leadImage: shown }, body: [ { section: a, items: [ { text: words } ] }, { section: s, items: [ { image: dome } ] } ]')}`,
    numbers: { times: 2 },
    at: '/pages/visit/image',
    fix: 'choice',
  },
  {
    rule: 'empty-page-live',
    nearest: page('status: draft'),
    numbers: {},
    at: '/pages/visit',
    fix: 'choice',
  },
  {
    rule: 'countdown-over',
    nearest: page('body: [ { section: s, items: [ { text: words }, { countdown: "2026-11-24T12:00:01Z" } ] } ]'),
    // From the first of January 2020 to the clock of these tests.
    numbers: { days: 2519.5 },
    at: '/pages/visit/body/0/items/1/countdown',
    fix: 'choice',
  },
  {
    rule: 'front-unassigned',
    nearest: `purposes: { front: visit }\n${page(TEXT)}`,
    numbers: {},
    at: '/site',
    pages: [],
    viewports: [],
    fix: 'certain',
  },
  {
    rule: 'front-unpublished',
    nearest: `purposes: { front: visit }\n${page(TEXT)}`,
    numbers: {},
    at: '/pages/visit/status',
    fix: 'choice',
  },
  {
    rule: 'listing-lost',
    nearest: `kinds: { article: {} }\npages: { visit: { path: /visit, title: Visit, kind: article }, all: { path: /all, title: All, body: [ { section: s, items: [ { listing: article } ] } ] } }`,
    numbers: { pages: 1 },
    at: '/kinds/article',
    fix: 'none',
  },
  {
    rule: 'hidden-but-linked',
    nearest: `menus: { m: [ { label: Visit, page: visit } ] }\n${page(`layout: { findable: false }, ${TEXT}`)}`,
    numbers: {},
    at: '/pages/visit/layout/findable/web',
    fix: 'choice',
  },
  {
    rule: 'redirect-broken',
    nearest: `purposes: { signIn: door }
pages:
  visit: { path: /visit, title: Visit, access: members, sendTo: rota }
  rota: { path: /rota, title: Rota, access: members }
  door: { path: /door, title: Sign in }`,
    numbers: {},
    at: '/pages/visit/sendTo',
    also: 1,
    fix: 'certain',
  },
  {
    rule: 'comments-outside',
    nearest: `theme: { layout: { comments: { presence: shown, maxWidth: 1044px } } }\n${page(TEXT)}`,
    numbers: { difference: 600 },
    at: '/theme/layout/comments/maxWidth',
    viewports: DESK_TABLET,
    fix: 'certain',
  },
  {
    rule: 'share-image-missing',
    nearest: page('layout: { findable: false }'),
    numbers: {},
    at: '/pages',
    fix: 'none',
  },
  {
    rule: 'style-not-understood',
    nearest: 'styles: [ { css: "#top { transform: none }" } ]',
    numbers: { declarations: 1 },
    at: '/styles/0#5:26',
    place: '/styles/0',
    fix: 'none',
  },
  {
    rule: 'policy-broken',
    nearest: `policies: [ { name: Titles, require: { title: { phone: [ shown, visually-hidden ], else: shown } } } ]\ntheme: { layout: { title: { phone: visually-hidden, else: shown } } }\n${page(TEXT)}`,
    numbers: {},
    at: '/policies/0/require/title',
    fix: 'certain',
  },
  {
    rule: 'allow-unused',
    nearest: `allow: [ { rule: [ header-tall, empty-page-live ], reason: Not written yet. } ]`,
    numbers: {},
    at: '/allow/0',
    pages: [],
    viewports: [],
    fix: 'certain',
  },
  {
    rule: 'surround-unused',
    nearest: `surrounds: { spare: { as: footer, height: 40px } }
theme: { layout: { footer: { use: spare } } }
${page(`layout: { footer: absent }, ${TEXT}`)}`,
    numbers: {},
    at: '/surrounds/spare',
    pages: [],
    viewports: [],
    fix: 'choice',
  },
  {
    rule: 'template-needs-builder',
    nearest: `builders: { stave: {} }\ntemplates: { bare: { builder: stave } }\n${page(`template: bare, built: { with: stave }, ${TEXT}`)}`,
    numbers: {},
    at: '/pages/visit/template',
    fix: 'none',
  },
]
