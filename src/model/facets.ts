/** How present a thing is; see the contract's section 2. */
export const PRESENCES = ['shown', 'visually-hidden', 'hidden', 'absent'] as const
/** How present a thing is: seen, only read aloud, only in the markup, or not at all. */
export type Presence = (typeof PRESENCES)[number]
const PRESENCE_WORDS: ReadonlySet<unknown> = new Set(PRESENCES)
/** Whether a value is a presence. */
export const isPresence = (value: unknown): value is Presence => PRESENCE_WORDS.has(value)

/** What a percentage of a length is of; `null` where percentages have no meaning. */
export type PercentBase = 'window' | 'container' | 'box' | null

/** What a property may be set to. */
export type PropertyType =
  | { readonly type: 'word'; readonly words: readonly string[] }
  | { readonly type: 'boolean' }
  | { readonly type: 'id'; readonly of: 'header' | 'footer' | 'sidebar' | 'asset' | 'menu' }
  | { readonly type: 'color' }
  | { readonly type: 'length'; readonly percentOf: PercentBase; readonly also?: 'auto' | 'none' }
  | { readonly type: 'sides'; readonly percentOf: PercentBase }
  /** A presence for each item or row id. */
  | { readonly type: 'presences' }

/** What a property may be set to, and its baseline. */
export type PropertyDefinition = PropertyType & { readonly baseline: string | number | boolean | null }

const word = <const W extends readonly string[]>(words: W, baseline: W[number] | null = null) =>
  ({ type: 'word', words, baseline }) as const
const presence = (baseline: Presence) => word(PRESENCES, baseline)
const id = (of: 'header' | 'footer' | 'sidebar' | 'asset' | 'menu') => ({ type: 'id', of, baseline: null }) as const
const color = { type: 'color', baseline: null } as const
const length = (percentOf: PercentBase, baseline: number | null = null, also?: 'auto' | 'none') =>
  ({ type: 'length', percentOf, baseline, ...(also && { also }) }) as const
const sides = (percentOf: PercentBase) => ({ type: 'sides', percentOf, baseline: 0 }) as const
const presences = { type: 'presences', baseline: null } as const
const yesNo = { type: 'boolean', baseline: true } as const

/**
 * Every facet, its properties, what each may be set to and its baseline: the one source of the schema,
 * the types, the shorthand, the baseline layer and the order in reports.
 */
export const FACETS = {
  header: {
    presence: presence('shown'),
    use: id('header'),
    position: word(['flow', 'sticky', 'fixed', 'overlay'], 'flow'),
    items: presences,
    logo: id('asset'),
    menu: id('menu'),
    ink: color,
    background: color,
    height: length(null),
    clearance: length(null, 0, 'auto'),
  },
  footer: { presence: presence('shown'), use: id('footer'), items: presences, menu: id('menu') },
  title: {
    presence: presence('shown'),
    place: word(['band', 'content'], 'content'),
    padding: sides('box'),
    background: color,
    height: length(null),
  },
  byline: { presence: presence('absent'), height: length(null) },
  leadImage: { presence: presence('absent'), place: word(['band', 'content'], 'content'), height: length(null) },
  sidebar: {
    presence: presence('shown'),
    side: word(['none', 'left', 'right'], 'none'),
    use: id('sidebar'),
    menu: id('menu'),
    width: length('container', 300),
    gap: length('container', 40),
    stackAt: length(null, 900),
  },
  width: {
    mode: word(['boxed', 'full'], 'boxed'),
    max: length('window', 1160, 'none'),
    gutter: length('window', 24),
    padding: sides('container'),
    columnMax: length('container', null, 'none'),
  },
  spacing: { before: length(null, 48), after: length(null, 48) },
  comments: { presence: presence('absent'), maxWidth: length('container', null, 'none'), height: length(null) },
  findable: { site: yesNo, web: yesNo },
} as const satisfies Record<string, Record<string, PropertyDefinition>>

/** The name of a facet: `header`, `footer`, `title`, … */
export type Facet = keyof typeof FACETS
/** The properties of a facet. */
export type FacetProperties<F extends Facet> = keyof (typeof FACETS)[F] & string
/** `facet.property`, or `facet.items.id` for one item. */
export type PropertyPath =
  | { [F in Facet]: `${F}.${FacetProperties<F>}` }[Facet]
  | `${'header' | 'footer'}.items.${string}`

/** A path as settings and styles have it: a `PropertyPath`, or one that only styles know, such as `ground.color`. */
export type SettingPath = string

/** A path apart: `header.items.nav` is the property `items` of the facet `header`. */
export interface PathParts {
  readonly facet: string
  readonly property: string
}

/** The paths of all properties, made once: a text that is put together anew has to be read through at each lookup. */
const PATHS: ReadonlyMap<string, ReadonlyMap<string, PropertyPath>> = new Map(
  Object.entries(FACETS).map(([facet, properties]) => [
    facet,
    new Map(Object.keys(properties).map((property) => [property, `${facet}.${property}` as PropertyPath])),
  ]),
)

/** The path of a facet's property. */
export const pathOf = (facet: string, property: string): PropertyPath =>
  PATHS.get(facet)?.get(property) ?? (`${facet}.${property}` as PropertyPath)

const PARTS: ReadonlyMap<string, PathParts> = new Map(
  [...PATHS].flatMap(([facet, properties]) =>
    [...properties].map(([property, path]) => [path, { facet, property }] as const),
  ),
)

/** The facet and property that a path names. */
export function partsOf(path: SettingPath): PathParts {
  const known = PARTS.get(path)
  if (known) return known
  const [facet = '', property = ''] = path.split('.')
  return { facet, property }
}

/** Whether a text is the path of a property, or of one item of a header or footer. */
export const isPropertyPath = (text: string): text is PropertyPath => definitionOf(text) !== undefined

/** Every facet, in the order of reports. */
export const FACET_NAMES = Object.keys(FACETS) as readonly Facet[]
/** Whether a text is the name of a facet. */
export const isFacet = (name: string): name is Facet => Object.hasOwn(FACETS, name)

/** Facets whose presence a template's `arrange` decides; the other entry, `content`, is the body. */
export const ARRANGED = ['title', 'byline', 'leadImage', 'comments'] as const
export const DEFAULT_ARRANGE = ['title', 'byline', 'leadImage', 'content', 'comments'] as const

/** Facets that have a presence. */
export type PresentFacet = 'header' | 'footer' | 'title' | 'byline' | 'leadImage' | 'sidebar' | 'comments'

/** Every property path, in order; items are listed as `header.items`. */
export const PROPERTY_PATHS: readonly PropertyPath[] = FACET_NAMES.flatMap((facet) =>
  Object.keys(FACETS[facet]).map((property) => pathOf(facet, property)),
)

const DEFINITIONS: ReadonlyMap<SettingPath, PropertyDefinition> = new Map(
  FACET_NAMES.flatMap((facet) =>
    Object.entries(FACETS[facet] as Record<string, PropertyDefinition>).map(
      ([property, definition]) => [pathOf(facet, property), definition] as const,
    ),
  ),
)

/** The definition of a property path; one of `header.items.nav` is a presence. `undefined` when there is none. */
export function definitionOf(path: SettingPath): PropertyDefinition | undefined {
  const definition = DEFINITIONS.get(path)
  if (definition) return definition
  const [facet = '', property = '', item, ...rest] = path.split('.')
  const holder = item === undefined || rest.length > 0 ? undefined : DEFINITIONS.get(`${facet}.${property}`)
  return holder?.type === 'presences' ? presence('shown') : undefined
}

/** What a facet's own name stands for in a policy, a lock or `why`: the property people mean by it. */
export const HEADLINE_PROPERTY: Readonly<Record<Facet, string>> = {
  header: 'presence',
  footer: 'presence',
  title: 'presence',
  byline: 'presence',
  leadImage: 'presence',
  sidebar: 'side',
  width: 'mode',
  spacing: 'before',
  comments: 'presence',
  findable: 'web',
}

type ValueOf<D> = D extends { type: 'word'; words: readonly (infer W)[] }
  ? W
  : D extends { type: 'boolean' }
    ? boolean
    : D extends { type: 'presences' }
      ? Readonly<Record<string, Presence>>
      : D extends { type: 'length' | 'sides' }
        ? string | number | null
        : string | null

/** A property's effective value, as it was set (lengths are not yet px). */
export type PropertyValue<F extends Facet, P extends FacetProperties<F>> = ValueOf<(typeof FACETS)[F][P]>
