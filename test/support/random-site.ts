/** A small generator of numbers (mulberry32): the same sites from the same seed, on every machine. */
export class Random {
  #state: number

  constructor(seed: number) {
    this.#state = seed >>> 0
  }

  /** From 0 up to 1. */
  next(): number {
    this.#state = (this.#state + 0x6d2b79f5) >>> 0
    let t = this.#state
    t = Math.imul(t ^ (t >>> 15), t | 1)
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61)
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296
  }

  below(n: number): number {
    return Math.floor(this.next() * n)
  }

  chance(share: number): boolean {
    return this.next() < share
  }

  pick<T>(list: readonly T[]): T {
    return list[this.below(list.length)] as T
  }

  some<T>(list: readonly T[], share: number): T[] {
    return list.filter(() => this.chance(share))
  }

  shuffled<T>(list: readonly T[]): T[] {
    const rest = [...list]
    return list.map(() => rest.splice(this.below(rest.length), 1)[0] as T)
  }
}

type Json = Record<string, unknown>

/** A random site in two files, of every feature of the resolver. */
export interface RandomSite {
  readonly main: Json
  /** What the main file extends. */
  readonly vendor: Json
}

const VIEWPORTS = ['wide', 'middle', 'slim']
const PRESENCES = ['shown', 'visually-hidden', 'hidden', 'absent']
const KINDS = ['page', 'article', 'listing', 'product']
const TEMPLATES = ['t0', 't1', 't2', 't3', 't4']
const BUILDERS = ['stave', 'brick']
const TAGS = ['a', 'b', 'c']
const PAGES = Array.from({ length: 9 }, (_, n) => `p${n}`)
const HEADERS = ['h0', 'h1']
const GHOST = 'ghost'

export function randomSite(seed: number): RandomSite {
  const r = new Random(seed)
  const maybe = (share: number, key: string, value: () => unknown): Json => (r.chance(share) ? { [key]: value() } : {})

  const said = (value: () => unknown, deep = true): unknown => {
    if (deep && r.chance(0.25)) {
      const names = r.some([...VIEWPORTS, 'else'], 0.5)
      return Object.fromEntries((names.length > 0 ? names : ['else']).map((name) => [name, said(value, false)]))
    }
    return r.chance(0.12) ? 'inherit' : value()
  }
  const layout = (share: number, revert: boolean): Json => {
    const value = (make: () => unknown): unknown => (revert && r.chance(0.1) ? 'revert' : said(make))
    const presence = (): unknown => value(() => r.pick(PRESENCES))
    const length = (): unknown => value(() => r.pick([0, 8, '16px', '1rem', '2rem', '32px']))
    return {
      ...maybe(share, 'header', () => ({
        ...maybe(0.5, 'presence', presence),
        ...maybe(0.5, 'use', () => value(() => r.pick([...HEADERS, 'off', 'rail', GHOST]))),
        ...maybe(0.4, 'position', () => value(() => r.pick(['flow', 'sticky', 'fixed', 'overlay']))),
        ...maybe(0.3, 'items', () =>
          Object.fromEntries(r.some(['nav', 'logo', 'seek'], 0.5).map((id) => [id, said(() => r.pick(PRESENCES))])),
        ),
        ...maybe(0.2, 'logo', () => value(() => r.pick(['mark', GHOST]))),
        ...maybe(0.2, 'menu', () => value(() => r.pick(['primary', GHOST]))),
      })),
      ...maybe(share, 'title', () =>
        r.chance(0.4)
          ? presence()
          : {
              ...maybe(0.7, 'presence', presence),
              ...maybe(0.4, 'place', () => value(() => r.pick(['band', 'content']))),
            },
      ),
      ...maybe(share * 0.6, 'footer', () =>
        r.chance(0.5) ? presence() : { use: value(() => r.pick(['foot', GHOST])) },
      ),
      ...maybe(share * 0.6, 'byline', presence),
      ...maybe(share * 0.6, 'comments', () => ({ presence: presence(), ...maybe(0.5, 'maxWidth', length) })),
      ...maybe(share * 0.6, 'sidebar', () =>
        r.chance(0.4)
          ? r.pick(['none', 'left', 'right'])
          : {
              ...maybe(0.6, 'side', () => value(() => r.pick(['none', 'left', 'right']))),
              ...maybe(0.5, 'use', () => value(() => r.pick(['rail', GHOST]))),
              ...maybe(0.4, 'width', length),
            },
      ),
      ...maybe(share, 'width', () =>
        r.chance(0.3)
          ? r.pick(['boxed', 'full'])
          : { ...maybe(0.6, 'max', length), ...maybe(0.4, 'columnMax', length) },
      ),
      ...maybe(share, 'spacing', () =>
        r.chance(0.3)
          ? r.pick(['4px', '4px 9px', 'inherit'])
          : { ...maybe(0.6, 'before', length), ...maybe(0.6, 'after', length) },
      ),
      ...maybe(share * 0.4, 'findable', () => r.pick([true, false])),
      ...maybe(0.12, 'lock', () =>
        r.some(
          [
            'title',
            'title.presence',
            'header.use',
            'header.items',
            'header.items.nav',
            'spacing',
            'width.max',
            'sidebar.side',
          ],
          0.3,
        ),
      ),
    }
  }

  const oneOrMore = (list: readonly string[]): unknown => (r.chance(0.3) ? [r.pick(list), r.pick(list)] : r.pick(list))
  const selector = (template: boolean): Json => {
    const found = {
      ...maybe(0.25, 'kind', () => oneOrMore(KINDS)),
      ...maybe(0.15, 'page', () => oneOrMore([...PAGES, GHOST])),
      ...maybe(0.25, 'path', () => oneOrMore(['/', '/*', '/x/**', '/x/y/*', '/**/y*', '**', '/x/*/p8', '/z*'])),
      ...maybe(0.2, 'under', () => oneOrMore([...PAGES.slice(0, 4), GHOST])),
      ...maybe(0.25, 'tag', () => oneOrMore(TAGS)),
      ...maybe(0.15, 'purpose', () => oneOrMore(['front', 'listing', 'listing:article', 'search'])),
      ...maybe(0.12, 'builder', () => oneOrMore(BUILDERS)),
      ...(template ? maybe(0.15, 'template', () => oneOrMore(TEMPLATES)) : {}),
    }
    return Object.keys(found).length > 0 ? found : { all: true }
  }
  const where = (template = true): unknown =>
    r.chance(0.4) ? [selector(template), selector(template)] : selector(template)
  const assign = (): Json => {
    const kind = r.below(3)
    const what =
      kind === 0
        ? { template: r.pick([...TEMPLATES, 'none', GHOST]) }
        : kind === 1
          ? { use: r.pick([...HEADERS, 'foot', 'off', GHOST]) }
          : { layout: layout(0.4, true) }
    return { ...what, where: where(kind !== 0), ...maybe(0.25, 'except', () => where(kind !== 0)) }
  }

  const template = (n: number): Json => ({
    ...maybe(0.8, 'layout', () => layout(0.5, true)),
    ...(n > 0 ? maybe(0.4, 'base', () => r.pick([...TEMPLATES.slice(0, n), GHOST])) : {}),
    ...maybe(0.25, 'for', () => r.some(KINDS, 0.6)),
    ...maybe(0.1, 'enabled', () => r.chance(0.5)),
    ...maybe(0.1, 'from', () => r.pick(['shop', 'away'])),
    ...maybe(0.4, 'arrange', () => r.shuffled(r.some(['title', 'byline', 'leadImage', 'content', 'comments'], 0.6))),
    ...maybe(0.3, 'ground', () => ({ ...maybe(0.6, 'color', () => '#eee'), ...maybe(0.6, 'ink', () => '#111') })),
  })
  const paths = ['/', '/x', '/x/y', '/x/y/p3', '/x/w/p4', '/z1', '/z2/y1', '/q', '/x/v/p8']
  const page = (id: string, n: number): Json => ({
    path: paths[n],
    title: `Title ${id}`,
    ...maybe(0.7, 'kind', () => r.pick(KINDS)),
    ...(n > 0 ? maybe(0.5, 'parent', () => r.pick([...PAGES.slice(0, n), GHOST])) : {}),
    ...maybe(0.5, 'tags', () => r.some(TAGS, 0.5)),
    ...maybe(0.3, 'template', () => r.pick([...TEMPLATES, 'none', GHOST])),
    ...maybe(0.4, 'built', () => ({
      with: r.pick([...BUILDERS, GHOST]),
      ...maybe(0.5, 'template', () => r.pick([...TEMPLATES, GHOST])),
    })),
    ...maybe(0.5, 'layout', () => layout(0.4, true)),
  })

  const vendorTemplates = TEMPLATES.slice(0, 2)
  const entry = (id: string): [string, Json] => [id, template(TEMPLATES.indexOf(id))]
  const vendor: Json = {
    theme: { layout: layout(0.5, false), ...maybe(0.3, 'template', () => r.pick(TEMPLATES)) },
    templates: Object.fromEntries(vendorTemplates.map(entry)),
    assign: Array.from({ length: r.below(4) }, assign),
    kinds: {
      article: { layout: layout(0.3, false) },
      product: { from: 'shop', ...maybe(0.5, 'facets', () => r.some(['header', 'title', 'spacing', 'width'], 0.6)) },
    },
  }
  const main: Json = {
    wembra: 1,
    site: { name: `Random ${seed}` },
    extends: ['vendor.yaml'],
    viewports: {
      wide: { width: 1200, height: 800 },
      slim: { width: 400, height: 800 },
      middle: { width: 800, height: 1000 },
    },
    extensions: { shop: { enabled: r.chance(0.7) } },
    assets: { mark: { width: 10, height: 10 } },
    menus: { primary: [] },
    surrounds: {
      h0: { as: 'header' },
      h1: { as: 'header' },
      foot: { as: 'footer' },
      rail: { as: 'sidebar' },
      off: { as: 'header', from: 'away' },
    },
    ...maybe(0.3, 'precedence', () => [
      'baseline',
      'theme',
      'kind',
      ...r.shuffled(['template', 'assign', 'builder', 'page']),
    ]),
    ...maybe(0.3, 'choose', () => r.shuffled(['theme', 'kind', 'assign', 'builder', 'built', 'page'])),
    theme: maybe(0.6, 'layout', () => layout(0.4, false)),
    kinds: {
      listing: { layout: layout(0.4, false), ...maybe(0.4, 'template', () => r.pick([...TEMPLATES, GHOST])) },
      page: {},
    },
    builders: {
      stave: {
        ...maybe(0.5, 'kinds', () => r.some(KINDS, 0.6)),
        ...maybe(0.5, 'template', () => r.pick(TEMPLATES)),
        layout: layout(0.4, true),
      },
      brick: { ...maybe(0.3, 'from', () => 'shop'), layout: layout(0.4, true) },
    },
    templates: Object.fromEntries(TEMPLATES.slice(2).map(entry)),
    assign: Array.from({ length: r.below(7) }, assign),
    inserts: Array.from({ length: r.below(4) }, (_, n) => ({
      id: `i${n}`,
      at: 'after-header',
      where: where(),
      ...maybe(0.3, 'except', () => where()),
      ...maybe(0.2, 'from', () => 'shop'),
    })),
    purposes: {
      front: r.pick(PAGES),
      listing: { article: r.pick(PAGES), product: r.pick([...PAGES, GHOST]) },
      search: r.pick(PAGES),
    },
    pages: Object.fromEntries(PAGES.map((id, n) => [id, page(id, n)])),
  }
  return { main, vendor }
}
