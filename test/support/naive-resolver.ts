import type { SiteData } from 'wembra'

/**
 * The resolver of the contract's section 4, written a second time: for clarity, without sharing, index or cache, and
 * without a line of the fast one. It takes the merged document with shorthand expanded. Style is not its business.
 */
export interface NaivePage {
  readonly dormant: boolean
  readonly template: string | null
  readonly inserts: readonly string[]
  readonly ground: { readonly color: string; readonly ink: string }
  readonly value: (path: string, viewport: string) => unknown
}

type Any = any // eslint-disable-line @typescript-eslint/no-explicit-any -- reads the document as a reader of the contract would

const list = (value: Any): Any[] => (value === undefined ? [] : Array.isArray(value) ? value : [value])
const get = (map: Any, key: string): Any =>
  map && Object.prototype.hasOwnProperty.call(map, key) ? map[key] : undefined
const segments = (path: string): string[] => path.split('/').filter(Boolean)

const BASELINE: Record<string, unknown> = {
  'header.presence': 'shown',
  'footer.presence': 'shown',
  'title.presence': 'shown',
  'sidebar.presence': 'shown',
  'byline.presence': 'absent',
  'leadImage.presence': 'absent',
  'comments.presence': 'absent',
  'header.position': 'flow',
  'header.clearance': 0,
  'title.place': 'content',
  'leadImage.place': 'content',
  'title.padding': 0,
  'width.padding': 0,
  'sidebar.side': 'none',
  'sidebar.width': 300,
  'sidebar.gap': 40,
  'sidebar.stackAt': 900,
  'width.mode': 'boxed',
  'width.max': 1160,
  'width.gutter': 24,
  'spacing.before': 48,
  'spacing.after': 48,
  'findable.site': true,
  'findable.web': true,
}

/** @param vendorEntries - How many of the first assign entries come from the file underneath. */
export function naivePage(site: SiteData, id: string, vendorEntries: number): NaivePage {
  const data = site as Any
  const page = data.pages[id]
  const kind: string = page.kind ?? 'page'
  const isOn = (thing: Any): boolean =>
    thing !== undefined && (thing.from === undefined || get(data.extensions, thing.from)?.enabled === true)
  const dormant = get(data.kinds, kind) !== undefined && !isOn(get(data.kinds, kind))

  const purposesOf = (pageId: string): string[] => {
    const { listing = {}, ...single } = data.purposes ?? {}
    return [
      ...Object.keys(single).filter((p) => single[p] === pageId),
      ...Object.keys(listing)
        .filter((k) => listing[k] === pageId)
        .map((k) => `listing:${k}`),
    ]
  }
  const addressOf = (pageId: string): string => (data.purposes?.front === pageId ? '/' : data.pages[pageId].path)
  const ancestors = (): string[] => {
    const found: string[] = []
    for (let up = page.parent; up !== undefined; up = get(data.pages, up)?.parent) found.push(up)
    return found
  }
  const globMatches = (glob: string[], path: string[]): boolean => {
    const [first, ...rest] = glob
    if (first === undefined) return path.length === 0
    if (first === '**') return globMatches(rest, path) || (path.length > 0 && globMatches(glob, path.slice(1)))
    const [head, ...tail] = path
    if (head === undefined) return false
    const expression = new RegExp(
      `^${first
        .split('*')
        .map((p) => p.replace(/\W/g, '\\$&'))
        .join('.*')}$`,
    )
    return expression.test(head) && globMatches(rest, tail)
  }

  const selectorMatches = (s: Any, template: string | null): boolean => {
    const any = (key: string, test: (v: string) => boolean): boolean => s[key] === undefined || list(s[key]).some(test)
    return (
      any('kind', (v) => v === kind) &&
      any('page', (v) => v === id) &&
      any('path', (v) => globMatches(segments(v), segments(addressOf(id)))) &&
      any('under', (v) => ancestors().includes(v)) &&
      any('tag', (v) => (page.tags ?? []).includes(v)) &&
      any('purpose', (v) => purposesOf(id).some((p) => p === v || p.split(':')[0] === v)) &&
      any('builder', (v) => page.built?.with === v) &&
      any('template', (v) => template === v)
    )
  }
  const specificity = (s: Any): number[] => {
    const has = (key: string): number => (s[key] === undefined ? 0 : 1)
    const literal = Math.max(0, ...list(s.path).map((g) => segments(g).filter((part) => !part.includes('*')).length))
    const under = Math.max(0, ...list(s.under).map((p) => (get(data.pages, p) ? segments(addressOf(p)).length : 0)))
    return [has('page'), has('purpose'), literal + under, has('tag'), has('template') + has('builder'), has('kind')]
  }
  const compare = (a: number[], b: number[]): number => {
    for (let n = 0; n < a.length; n++) if (a[n] !== b[n]) return (a[n] as number) - (b[n] as number)
    return 0
  }
  /** Specificity of the strongest selector that matches; `undefined` for no match. */
  const matching = (entry: Any, template: string | null): number[] | undefined => {
    if (list(entry.except).some((s) => selectorMatches(s, template))) return undefined
    return list(entry.where)
      .filter((s) => selectorMatches(s, template))
      .map(specificity)
      .sort(compare)
      .at(-1)
  }
  /** Assign entries that match, weakest first. */
  const assigned = (template: string | null, wanted: (e: Any) => boolean): Any[] =>
    list(data.assign)
      .map((entry, index) => ({ entry, index, strength: matching(entry, template) }))
      .filter(({ entry, strength }) => strength !== undefined && wanted(entry))
      .sort((a, b) => {
        const vendor = (i: number): number => (i < vendorEntries ? 1 : 0)
        return (
          compare(a.strength as number[], b.strength as number[]) ||
          vendor(b.index) - vendor(a.index) ||
          b.index - a.index
        )
      })
      .map(({ entry }) => entry)

  // The template.
  const builder = page.built && get(data.builders, page.built.with)
  const builderCounts =
    builder !== undefined && isOn(builder) && (builder.kinds === undefined || builder.kinds.includes(kind))
  const withBase = (templateId: string, key: string): Any => {
    const t = get(data.templates, templateId)
    if (!isOn(t)) return undefined
    return t[key] ?? (t.base === undefined ? undefined : withBase(t.base, key))
  }
  const usable = (t: string): boolean => {
    if (t === 'none') return true
    const found = get(data.templates, t)
    if (!isOn(found) || found.enabled === false) return false
    const kinds = withBase(t, 'for')
    return kinds === undefined || kinds.includes(kind)
  }
  const candidates: Record<string, (string | undefined)[]> = {
    theme: [data.theme.template],
    kind: [get(data.kinds, kind)?.template],
    assign: assigned(null, (e) => e.template !== undefined).map((e) => e.template),
    builder: [builderCounts ? builder.template : undefined],
    built: [builderCounts ? page.built.template : undefined],
    page: [page.template],
  }
  const order: string[] = data.choose ?? ['theme', 'kind', 'assign', 'builder', 'built', 'page']
  const named = order.flatMap((layer) => candidates[layer] ?? []).filter((t) => t !== undefined)
  const chosen = named.filter((t) => usable(t)).at(-1)
  const template = dormant || chosen === undefined || chosen === 'none' ? null : chosen

  // The layers: each a list of statements, a later one over an earlier one.
  const chainOfBases = (t: string): Any[] => {
    const found = get(data.templates, t)
    if (!isOn(found)) return []
    return [...(found.base === undefined ? [] : chainOfBases(found.base)), found]
  }
  const mergedTemplate = (): Any => {
    if (template === null) return {}
    const merged: Any = { lock: [] }
    for (const t of chainOfBases(template)) {
      merged.lock.push(...(t.layout?.lock ?? []))
      for (const [facet, properties] of Object.entries(t.layout ?? {}) as [string, Any][]) {
        if (facet === 'lock') continue
        merged[facet] = { ...merged[facet], ...properties }
        const items = chainOfBases(template).map((each) => each.layout?.[facet]?.items)
        if (items.some((i) => i && typeof i === 'object')) merged[facet].items = mergedItems(template, facet)
      }
    }
    return merged
  }
  const mergedItems = (t: string, facet: string): Any =>
    Object.assign(
      {},
      ...chainOfBases(t).map((each) =>
        typeof each.layout?.[facet]?.items === 'object' ? each.layout[facet].items : {},
      ),
    )
  const asUse = (entry: Any): Any => {
    if (entry.layout) return entry.layout
    const surround = get(data.surrounds, entry.use)
    return isOn(surround) ? { [surround.as]: { use: entry.use } } : {}
  }
  const layers: Record<string, Any[]> = {
    theme: [data.theme.layout ?? {}],
    kind: [get(data.kinds, kind)?.layout ?? {}],
    template: [mergedTemplate()],
    assign: assigned(template, (e) => e.template === undefined).map(asUse),
    builder: [builderCounts ? (builder.layout ?? {}) : {}],
    page: [page.layout ?? {}],
  }
  const precedence: string[] = (
    data.precedence ?? ['baseline', 'theme', 'kind', 'template', 'assign', 'builder', 'page']
  ).filter((l: string) => l !== 'baseline')
  const statements = precedence.flatMap((layer) => (layers[layer] ?? []).map((layout) => ({ layer, layout })))
  const facetsAllowed: string[] | undefined = get(data.kinds, kind)?.facets

  const says = (layer: string, layout: Any, path: string, viewport: string): unknown => {
    const [facet = '', property = '', item] = path.split('.')
    const said = layout[facet]?.[property]
    const raw = item === undefined ? said : typeof said === 'string' ? said : said?.[item]
    const value = raw !== null && typeof raw === 'object' ? (raw[viewport] ?? raw['else']) : raw
    if (value === undefined || value === 'inherit') return undefined
    if (facetsAllowed && !['theme', 'kind'].includes(layer) && !facetsAllowed.includes(facet)) return undefined
    if (property === 'logo' && value !== 'revert' && get(data.assets, value) === undefined) return undefined
    if (property === 'menu' && value !== 'revert' && get(data.menus, value) === undefined) return undefined
    if (property === 'use' && value !== 'revert') {
      const surround = get(data.surrounds, value)
      if (!isOn(surround) || surround.as !== facet) return undefined
    }
    return value
  }
  const locks = (layout: Any, path: string): boolean => {
    const [facet = '', property = ''] = path.split('.')
    return (layout.lock ?? []).some((l: string) => l === facet || l === `${facet}.${property}` || l === path)
  }
  const fold = (all: typeof statements, path: string, viewport: string): unknown => {
    let value: unknown = BASELINE[path] ?? null
    let locked = false
    for (const { layer, layout } of all) {
      if (locked) break
      const said = says(layer, layout, path, viewport)
      if (said === 'revert')
        value = fold(
          statements.filter((s) => ['theme', 'kind'].includes(s.layer)),
          path,
          viewport,
        )
      else if (said !== undefined) value = said
      locked = locks(layout, path)
    }
    return value
  }
  const gate: string[] = (template !== null && withBase(template, 'arrange')) || [
    'title',
    'byline',
    'leadImage',
    'content',
    'comments',
  ]

  const grounds = template === null ? [] : chainOfBases(template).map((t) => t.ground ?? {})
  return {
    dormant,
    template,
    ground: Object.assign({ color: '#fff', ink: '#000' }, data.theme.ground, ...grounds),
    inserts: list(data.inserts)
      .filter((insert) => isOn(insert) && matching(insert, template) !== undefined)
      .map((insert) => insert.id),
    value: (path, viewport) => {
      const [facet = '', property] = path.split('.')
      const gated = ['title', 'byline', 'leadImage', 'comments'].includes(facet) && property === 'presence'
      return gated && !gate.includes(facet) ? 'absent' : fold(statements, path, viewport)
    },
  }
}
