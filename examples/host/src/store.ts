/* oxlint-disable typescript/no-explicit-any -- what a YAML file holds is known once it is seeded */
import { readFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { globSync } from 'tinyglobby'
import { parse } from 'yaml'

/**
 * What the stand-in host keeps, in words of its own: the theme's options, types of entries, layouts, rules, regions
 * (what stands around an entry) and entries made of blocks. It knows nothing of Wembra.
 */
export type Value = string | number | boolean | null | readonly Value[] | { readonly [key: string]: Value }
export type Fields = { [key: string]: Value }
/** Settings of a page's looks: part, then property. */
export type Look = { [part: string]: Fields }
export type BySize<T> = T | ({ readonly else?: T } & { readonly [size: string]: T })

export interface Match {
  readonly address?: string | readonly string[]
  readonly beneath?: string | readonly string[]
  readonly type?: string | readonly string[]
  readonly label?: string | readonly string[]
  readonly entry?: string | readonly string[]
  readonly tool?: string | readonly string[]
  readonly role?: string | readonly string[]
}

export interface LayoutRecord {
  label?: string
  over?: string
  types?: readonly string[]
  tool?: string
  on: boolean
  plugin?: string
  look: Look
  fixed?: readonly string[]
  order?: readonly Value[]
}

export interface Rule {
  layout?: string
  region?: string
  look?: Look
  match: readonly Match[]
  except: readonly Match[]
}

export interface Entry {
  id: string
  address: string
  type: string
  heading: string
  state: 'live' | 'draft'
  beneath?: string
  labels: readonly string[]
  classes: readonly string[]
  layout?: string
  tool?: string
  toolLayout?: string
  look: Look
  picture?: string
  members: boolean
  door?: string
  share?: string
  blocks: readonly Fields[]
}

export interface Store {
  name: string
  address: string
  sizes: Record<string, { width: number; height: number }>
  type: {
    base: number
    line: number
    family: string
    font: string
    headings: Record<number, { size: number; line: number }>
  }
  ground: { color: string; ink: string }
  options: Look
  optionsLayout?: string
  types: Record<
    string,
    {
      label?: string
      plugin?: string
      parts?: readonly string[]
      look: Look
      layout?: string
      marked?: boolean
      listed?: boolean
    }
  >
  tools: Record<string, { label?: string; types?: readonly string[]; layout?: string; look: Look }>
  plugins: Record<string, { on: boolean; label?: string }>
  layouts: Record<string, LayoutRecord>
  rules: Rule[]
  regions: Record<string, Fields>
  menus: Record<string, readonly { label: string; entry?: string; url?: string }[]>
  media: Record<
    string,
    {
      file?: string
      width: number
      height: number
      color?: string
      range?: readonly [string, string]
      margins?: Fields
    }
  >
  strips: { id: string; at: string; match: readonly Match[]; except: readonly Match[]; block: Fields }[]
  roles: Record<string, Value>
  policies: readonly Value[]
  allowed: readonly Value[]
  css: string
  entries: Map<string, Entry>
  /** Where its files lie. */
  folder: string
}

/** Parts of a page in the host's words, and what its settings are called. */
export const PARTS: Readonly<Record<string, string>> = {
  header: 'top',
  footer: 'bottom',
  title: 'heading',
  byline: 'credits',
  leadImage: 'cover',
  sidebar: 'rail',
  comments: 'replies',
  findable: 'search',
}
export const KEYS: Readonly<Record<string, string>> = {
  presence: 'display',
  use: 'region',
  section: 'block',
  items: 'parts',
}
export const DISPLAYS: Readonly<Record<string, string>> = {
  shown: 'on',
  absent: 'off',
  hidden: 'kept',
  'visually-hidden': 'spoken',
}
const WHERE: Readonly<Record<string, keyof Match>> = {
  path: 'address',
  under: 'beneath',
  kind: 'type',
  tag: 'label',
  page: 'entry',
  builder: 'tool',
  purpose: 'role',
}

type Raw = Record<string, any>

/** Fills a store with the demo site, whose content is written down once, in YAML. */
export function seed(folder: string): Store {
  const raw = readLayered(join(folder, 'quillmere.site.yaml'))
  const tokens = readTokens(JSON.parse(readFileSync(join(folder, 'tokens.json'), 'utf8')) as Raw)
  const data = withTokens(raw, tokens) as Raw
  const match = (where: unknown): Match[] =>
    [where ?? []].flat().map((each) => rename(each as Raw, (key) => WHERE[key] ?? key) as Match)
  return {
    name: data['site'].name,
    address: data['site'].url,
    sizes: data['viewports'] ?? {
      desk: { width: 1280, height: 800 },
      tablet: { width: 768, height: 1024 },
      phone: { width: 390, height: 844 },
    },
    type: {
      base: 16,
      line: 1.5,
      family: data['typography'].family,
      font: data['typography'].file,
      headings: Object.fromEntries([40, 32, 24, 20, 18, 16].map((size, n) => [n + 1, { size, line: 1.2 }])),
    },
    ground: data['theme'].ground,
    options: lookOf(data['theme'].layout),
    types: mapValues(data['kinds'], (kind: Raw) => ({
      ...pick(kind, { label: 'label', from: 'plugin', template: 'layout', listed: 'listed' }),
      ...(kind['facets'] && { parts: kind['facets'].map((facet: string) => PARTS[facet] ?? facet) }),
      ...(kind['headline'] && { marked: true }),
      look: lookOf(kind['layout']),
    })),
    tools: mapValues(data['builders'], (tool: Raw) => ({
      ...pick(tool, { label: 'label', kinds: 'types', template: 'layout' }),
      look: lookOf(tool['layout']),
    })),
    plugins: mapValues(data['extensions'], (plugin: Raw) => ({ on: plugin['enabled'], label: plugin['label'] })),
    layouts: mapValues(data['templates'], (layout: Raw) => ({
      ...pick(layout, { label: 'label', base: 'over', for: 'types', builder: 'tool', from: 'plugin' }),
      ...pick(layout, { copyOf: 'copiedFrom' }),
      on: layout['enabled'] ?? true,
      look: lookOf(layout['layout'] && { ...layout['layout'], lock: undefined }),
      ...(layout['layout']?.lock && { fixed: layout['layout'].lock.map(pathName) }),
      ...(layout['arrange'] && {
        order: layout['arrange'].map((each: Value) =>
          typeof each === 'string' ? (PARTS[each] ?? each) : blockOf(each),
        ),
      }),
    })),
    rules: (data['assign'] ?? []).map((entry: Raw) => ({
      ...pick(entry, { template: 'layout', use: 'region' }),
      ...(entry['layout'] && { look: lookOf(entry['layout']) }),
      match: match(entry['where']),
      except: match(entry['except']),
    })),
    regions: mapValues(data['surrounds'], (region: Raw) => blockOf(region) as Fields),
    menus: mapValues(data['menus'], (menu: Raw[]) =>
      menu.map((each) => pick(each, { label: 'label', page: 'entry', url: 'url' })),
    ),
    media: data['assets'],
    strips: (data['inserts'] ?? []).map(({ id, at, where, except, ...block }: Raw) => ({
      ...{ id, at, match: match(where), except: match(except), block: blockOf(block) },
    })),
    roles: data['purposes'],
    policies: data['policies'] ?? [],
    allowed: data['allow'] ?? [],
    css: (data['styles'] ?? [])
      .map((style: Raw) => style['css'] ?? readFileSync(join(folder, style['file']), 'utf8'))
      .join('\n'),
    entries: new Map(Object.entries(data['pages'] as Record<string, Raw>).map(([id, page]) => [id, entryOf(id, page)])),
    folder,
  } as unknown as Store
}

function entryOf(id: string, page: Raw): Entry {
  return {
    id,
    address: page['path'],
    type: page['kind'] ?? 'page',
    heading: page['title'],
    state: page['status'] === 'draft' ? 'draft' : 'live',
    labels: page['tags'] ?? [],
    classes: page['classes'] ?? [],
    ...pick(page, { parent: 'beneath', template: 'layout', image: 'picture', sendTo: 'door' }),
    ...(page['share'] && { share: page['share'].image }),
    ...(page['built'] && pick(page['built'], { with: 'tool', template: 'toolLayout' })),
    members: page['access'] === 'members',
    look: lookOf(page['layout']),
    blocks: (page['body'] ?? []).map(blockOf),
  } as Entry
}

/** A file with those it extends laid underneath, and those it includes beside it. */
function readLayered(file: string): Raw {
  const own = parse(readFileSync(file, 'utf8'), { merge: true }) as Raw
  const folder = dirname(file)
  const beside = [own['include'] ?? []].flat().flatMap((glob) => globSync(glob, { cwd: folder }).sort())
  let all: Raw = own
  for (const name of beside) all = merge(all, parse(readFileSync(join(folder, name), 'utf8')) as Raw)
  const beneath = [own['extends'] ?? []].flat().map((name) => readLayered(join(folder, name)))
  return beneath.reduceRight((upper, lower) => merge(lower, upper), all)
}

function merge(lower: Raw, upper: Raw): Raw {
  const out: Raw = { ...lower }
  for (const [key, value] of Object.entries(upper)) {
    if (isRecord(value) && isRecord(out[key])) out[key] = merge(spread(out[key]), spread(value))
    else out[key] = value
  }
  return out
}

/** `spacing: 40px 72px` and the like stand for several settings, of which the upper file may give one. */
const spread = (value: Raw): Raw => mapValues(value, (each, part) => (isPart(part) ? partOf(part, each) : each))
const isPart = (name: string): boolean => name in PARTS || name === 'width' || name === 'spacing'

const isRecord = (value: unknown): value is Raw => typeof value === 'object' && value !== null && !Array.isArray(value)
const mapValues = <T>(value: Raw | undefined, to: (each: any, key: string) => T): Record<string, T> =>
  Object.fromEntries(Object.entries(value ?? {}).map(([key, each]) => [key, to(each, key)]))
const rename = (value: Raw, to: (key: string) => string): Raw =>
  Object.fromEntries(Object.entries(value).map(([key, each]) => [to(key), each]))
const pick = (value: Raw, names: Readonly<Record<string, string>>): Raw =>
  Object.fromEntries(
    Object.entries(names).flatMap(([from, to]) => (value[from] === undefined ? [] : [[to, value[from]]])),
  )

/** Settings of looks in the host's words, each part in full. */
function lookOf(layout: Raw | undefined): Look {
  const out: Look = {}
  for (const [facet, value] of Object.entries(layout ?? {})) {
    if (value === undefined || facet === 'lock') continue
    const settings = partOf(facet, value)
    out[PARTS[facet] ?? facet] = Object.fromEntries(
      Object.entries(settings).map(([key, each]) => [
        KEYS[key] ?? key,
        key === 'presence' || key === 'items' ? displayOf(each) : each,
      ]),
    ) as Fields
  }
  return out
}

const displayOf = (value: any): Value =>
  isRecord(value) ? (mapValues(value, displayOf) as Fields) : (DISPLAYS[value] ?? value)

const pathName = (path: string): string => {
  const [facet = '', key] = path.split('.')
  return [PARTS[facet] ?? facet, ...(key === undefined ? [] : [KEYS[key] ?? key])].join('.')
}

function partOf(facet: string, value: any): Raw {
  const bySize = isRecord(value) && Object.keys(value).some((key) => ['desk', 'tablet', 'phone', 'else'].includes(key))
  if (isRecord(value) && !bySize) return value
  if (facet === 'spacing') {
    const [before, after = before] = String(value).split(/\s+/)
    return { before, after }
  }
  if (facet === 'findable') return { site: value, web: value }
  if (facet === 'width') return { mode: value }
  if (facet === 'sidebar' && ['none', 'left', 'right'].includes(value)) return { side: value }
  return { presence: value }
}

/** A block in the host's words, at any depth. */
function blockOf(value: Value): Value {
  if (Array.isArray(value)) return value.map((each) => blockOf(each as Value))
  if (!isRecord(value)) return value
  return rename(mapValues(value, blockOf), (key) => KEYS[key] ?? key) as Fields
}

/** Design tokens by their dotted names, as CSS lengths or words. */
function readTokens(tokens: Raw, path: readonly string[] = []): Map<string, string> {
  const found = new Map<string, string>()
  for (const [key, value] of Object.entries(tokens)) {
    if (!isRecord(value)) continue
    const said = value['$value']
    const name = [...path, key].join('.')
    if (said !== undefined) found.set(name, isRecord(said) ? `${said['value']}${said['unit']}` : String(said))
    else for (const [inner, each] of readTokens(value, [...path, key])) found.set(inner, each)
  }
  return found
}

function withTokens(value: unknown, tokens: ReadonlyMap<string, string>): unknown {
  if (Array.isArray(value)) return value.map((each) => withTokens(each, tokens))
  if (isRecord(value)) return mapValues(value, (each) => withTokens(each, tokens))
  const name = typeof value === 'string' ? /^\{(.+)\}$/.exec(value)?.[1] : undefined
  return name === undefined ? value : withTokens(tokens.get(name), tokens)
}
