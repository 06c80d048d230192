import { Random } from './random-site.js'

type Json = Record<string, unknown>

const WORDS = [
  ...[
    'observatory',
    'dome',
    'of',
    'the',
    'night',
    'AVATAR',
    'co-operate',
    'fjord',
    'a',
    'Wave,',
    'half-way',
    '“quoted”',
  ],
  ...['naïve', '1,024', 'office', '(see', 'below)', 'star—party', '50%', "it's", 'telescope', 'Moon', 'planets', 'x–y'],
]

/**
 * A site of random pages with every feature of the geometry: positions, clearance, inserts at every place, bands,
 * sidebars, caps, gaps, nested sections, margins that collapse, columns, and text that wraps.
 *
 * @param withFont - Whether texts are measured by the site's own font, which has to be `text.ttf`.
 */
export function randomPages(seed: number, count: number, withFont: boolean): Json {
  const r = new Random(seed)
  const maybe = (share: number, key: string, value: () => unknown): Json => (r.chance(share) ? { [key]: value() } : {})
  const round = (n: number): number => Math.round(n * 4) / 4
  const px = (most: number): string => `${round(r.next() * most)}px`
  const length = (most: number): string =>
    r.pick([
      () => px(most),
      () => px(most),
      () => `${round((r.next() * most) / 16)}rem`,
      () => `${round((r.next() * most) / 20)}vw`,
      () => `calc(${px(most / 2)} + 1vh)`,
    ])()
  const byViewport = (value: () => unknown): unknown =>
    r.chance(0.2) ? { [r.pick(['desk', 'tablet', 'phone'])]: value(), else: value() } : value()
  const sides = (most: number): unknown =>
    byViewport(() =>
      Array.from({ length: 1 + r.below(4) }, () => (r.chance(0.15) ? `${r.below(6)}%` : length(most))).join(' '),
    )
  const margin = (): unknown =>
    byViewport(
      () => `${round(r.next() * 60 - 20)}px ${r.pick(['0', '0', '5%', '12px'])} ${round(r.next() * 60 - 20)}px`,
    )
  const words = (most: number): string => Array.from({ length: 1 + r.below(most) }, () => r.pick(WORDS)).join(' ')
  const hide = (): Json => maybe(0.08, 'hide', () => [r.pick(['desk', 'tablet', 'phone'])])

  const item = (): Json => ({
    ...r.pick<() => Json>([
      () => ({ text: words(50) }),
      () => ({ heading: 1 + r.below(6), text: words(9) }),
      () => ({ gap: length(60) }),
      () => ({ image: r.pick(['wide', 'tall']), ...maybe(0.2, 'width', () => r.pick(['50%', '240px'])) }),
      () => ({ button: 'Go', url: '/' }),
      () => ({ form: 'f', fields: 1 + r.below(3), to: 'a@b.example' }),
      () => ({ embed: 'https://elsewhere.example' }),
      () => ({ listing: 'page', count: 1 + r.below(3) }),
      () => ({ title: true }),
      () => ({ social: [{ label: 'x', url: '/x' }] }),
      () => ({ text: words(4), width: '90px' }),
    ])(),
    ...hide(),
  })
  let sections = 0
  const section = (depth: number): Json => {
    const id = `s${sections++}`
    const inner = (most: number): Json[] =>
      Array.from({ length: r.below(most + 1) }, () => (depth > 0 && r.chance(0.3) ? section(depth - 1) : item()))
    return {
      section: id,
      ...hide(),
      ...maybe(0.3, 'band', () => 'full'),
      ...maybe(0.15, 'breakout', () => true),
      ...maybe(0.4, 'maxWidth', () => byViewport(() => r.pick(['60%', '480px', '30rem', 'none', 'min(90%, 640px)']))),
      ...maybe(0.6, 'padding', () => sides(40)),
      ...maybe(0.4, 'margin', margin),
      ...maybe(0.15, 'height', () => length(300)),
      ...maybe(0.2, 'minHeight', () => r.pick(['50vh', '200px', '20rem'])),
      ...maybe(0.3, 'align', () => r.pick(['start', 'center', 'end'])),
      ...maybe(0.4, 'background', () => ({ color: r.pick(['#eee', '#123', 'rgb(1 2 3 / 50%)']) })),
      ...(r.chance(0.25)
        ? {
            columns: Array.from({ length: 2 + r.below(2) }, () => ({
              ...maybe(0.5, 'share', () => 1 + r.below(3)),
              items: inner(2),
            })),
            ...maybe(0.7, 'gap', () => px(40)),
            ...maybe(0.7, 'stackAt', () => r.pick(['700px', '900px', '1px'])),
          }
        : { items: inner(4) }),
    }
  }
  const row = (n: number, name: string): Json => ({
    id: `${name}${n}`,
    padding: sides(20),
    ...hide(),
    items: Array.from({ length: 1 + r.below(2) }, (_, m) =>
      r.pick<Json>([
        { id: `i${n}${m}`, gap: px(40) },
        { id: `l${n}${m}`, logo: 'mark', height: px(60) },
        { id: `m${n}${m}`, menu: 'm', height: px(40) },
      ]),
    ),
  })
  const bar = (as: string): Json => ({
    as,
    ...maybe(0.2, 'height', () => byViewport(() => px(120))),
    ...maybe(0.15, 'measured', () => ({ desk: px(120) })),
    rows: Array.from({ length: 1 + r.below(2) }, (_, n) => row(n, as === 'header' ? 'r' : 'f')),
  })
  const presence = (): unknown =>
    byViewport(() => r.pick(['shown', 'shown', 'shown', 'hidden', 'absent', 'visually-hidden']))
  const layout = (): Json => ({
    header: {
      ...maybe(0.2, 'presence', presence),
      use: r.pick(['h0', 'h1']),
      ...maybe(0.7, 'position', () => byViewport(() => r.pick(['flow', 'sticky', 'fixed', 'overlay']))),
      ...maybe(0.4, 'clearance', () => byViewport(() => r.pick(['auto', '40px', '0']))),
      ...maybe(0.2, 'items', () => ({ r0: r.pick(['hidden', 'absent']) })),
    },
    footer: { use: 'f0', ...maybe(0.2, 'presence', presence) },
    title: {
      ...maybe(0.4, 'presence', presence),
      ...maybe(0.3, 'place', () => 'band'),
      ...maybe(0.3, 'padding', () => sides(30)),
      ...maybe(0.1, 'height', () => px(160)),
    },
    byline: { presence: presence(), ...maybe(0.3, 'height', () => px(40)) },
    leadImage: { presence: presence(), ...maybe(0.5, 'place', () => 'band'), ...maybe(0.4, 'height', () => px(300)) },
    sidebar: {
      ...maybe(0.6, 'side', () => byViewport(() => r.pick(['none', 'left', 'right']))),
      use: 'rail',
      ...maybe(0.3, 'width', () => r.pick(['30%', '280px', '15rem'])),
      ...maybe(0.3, 'gap', () => r.pick(['3%', '32px'])),
      ...maybe(0.3, 'stackAt', () => r.pick(['700px', '1100px'])),
    },
    width: {
      ...maybe(0.4, 'mode', () => byViewport(() => r.pick(['boxed', 'full']))),
      ...maybe(0.5, 'max', () => r.pick(['80vw', '960px', 'none', '60rem'])),
      ...maybe(0.4, 'gutter', () => r.pick(['2vw', '16px', '0'])),
      ...maybe(0.3, 'padding', () => r.pick(['0 5%', '0 24px', '0 10px 0 40px'])),
      ...maybe(0.3, 'columnMax', () => r.pick(['70%', '600px'])),
    },
    spacing: { ...maybe(0.5, 'before', () => byViewport(() => length(80))), ...maybe(0.5, 'after', () => length(80)) },
    comments: {
      presence: presence(),
      ...maybe(0.5, 'maxWidth', () => r.pick(['70%', '500px'])),
      ...maybe(0.4, 'height', () => px(200)),
    },
  })
  const insert = (n: number, at: string): Json => {
    const { section: _id, hide: _hide, ...box } = section(0)
    return { ...box, id: `n${n}`, at, where: { all: true }, ...hide() }
  }
  const places = ['before-header', 'after-header', 'before-content', 'after-content', 'before-footer']
  return {
    wembra: 1,
    site: { name: `Random ${seed}` },
    ...(withFont && {
      typography: {
        file: 'text.ttf',
        headings: Object.fromEntries([1, 2, 3, 4, 5, 6].map((n) => [n, { line: 1.25 }])),
      },
    }),
    assets: { wide: { width: 1600, height: 900 }, tall: { width: 400, height: 640 }, mark: { width: 120, height: 40 } },
    menus: { m: [{ label: 'A', url: '/' }] },
    surrounds: {
      h0: bar('header'),
      h1: bar('header'),
      f0: bar('footer'),
      rail: { as: 'sidebar', items: [{ gap: px(300) }, { embed: 'https://x.example' }] },
    },
    theme: { layout: layout() },
    templates: {
      t: {
        arrange: r.shuffled<unknown>([
          'title',
          'byline',
          'leadImage',
          'content',
          'comments',
          { gap: length(60) },
          { text: words(20) },
        ]),
      },
      u: { layout: layout(), arrange: ['content', { gap: '20px' }, 'title', 'comments'] },
    },
    inserts: Array.from({ length: r.below(5) }, (_, n) => insert(n, r.pick(places))),
    pages: Object.fromEntries(
      Array.from({ length: count }, (_, n) => [
        `p${n}`,
        {
          path: `/p${n}`,
          title: words(9),
          image: r.pick(['wide', 'tall']),
          ...maybe(0.5, 'template', () => r.pick(['t', 'u'])),
          ...maybe(0.7, 'layout', layout),
          body: Array.from({ length: 1 + r.below(4) }, () => section(2)),
        },
      ]),
    ),
  }
}
