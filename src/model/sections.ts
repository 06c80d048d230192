import type { SiteData } from './schema.js'

/** Properties of a section that other modules select sections by. */
interface Section {
  /** `map`: things by id. `list`: entries in order, joined from all files. `value`: anything else. */
  readonly holds: 'value' | 'map' | 'list'
  /** Whether pages print things from it by name, or their text measures depend on it. */
  readonly isPrinted?: true
  /** Whether a change to it may affect the settings of every page. */
  readonly isForAll?: true
  /** Whether `prepare` reads it once for all pages. */
  readonly isPrepared?: true
  /** Whether it refers to pages, kinds, templates or other things by name. */
  readonly hasNames?: true
  /** Whether its entries select pages. */
  readonly selects?: true
  /** Whether it can be changed by path, as with `--set`. */
  readonly isSettable?: true
}

/** Every section of the site document. Lists of sections in other modules are derived from this table. */
export const SECTIONS = {
  wembra: { holds: 'value' },
  site: { holds: 'value', isSettable: true },
  extends: { holds: 'value' },
  include: { holds: 'value' },
  tokens: { holds: 'value' },
  theme: { holds: 'value', isPrinted: true, isPrepared: true, hasNames: true, isSettable: true },
  kinds: { holds: 'map', isPrinted: true, isPrepared: true, hasNames: true, isSettable: true },
  templates: { holds: 'map', isPrepared: true, hasNames: true, isSettable: true },
  assign: { holds: 'list', isPrepared: true, hasNames: true, selects: true, isSettable: true },
  builders: { holds: 'map', isPrepared: true, hasNames: true, isSettable: true },
  surrounds: { holds: 'map', isPrinted: true, isPrepared: true, hasNames: true, isSettable: true },
  pages: { holds: 'map', isSettable: true },
  menus: { holds: 'map', isPrinted: true, isPrepared: true, hasNames: true, isSettable: true },
  assets: { holds: 'map', isPrinted: true, isPrepared: true, isSettable: true },
  inserts: { holds: 'list', isPrepared: true, hasNames: true, selects: true, isSettable: true },
  purposes: { holds: 'map', isPrepared: true, hasNames: true, isSettable: true },
  policies: { holds: 'list', hasNames: true, selects: true, isSettable: true },
  allow: { holds: 'list', hasNames: true, selects: true, isSettable: true },
  severity: { holds: 'value', isSettable: true },
  styles: { holds: 'list', isForAll: true, isPrepared: true, hasNames: true, selects: true, isSettable: true },
  extensions: { holds: 'map', isPrinted: true, isForAll: true, isPrepared: true, isSettable: true },
  typography: { holds: 'value', isPrinted: true, isForAll: true, isPrepared: true, isSettable: true },
  locators: { holds: 'value', isForAll: true, isPrepared: true, isSettable: true },
  viewports: { holds: 'map', isPrinted: true, isForAll: true, isPrepared: true },
  precedence: { holds: 'value', isForAll: true, isPrepared: true },
  choose: { holds: 'value', isForAll: true, isPrepared: true },
} as const satisfies Record<keyof SiteData, Section>

export type SectionName = keyof typeof SECTIONS

/** The names of the sections whose property `K` is `V`. */
type SectionsWith<K extends keyof Section, V> = {
  [S in SectionName]: (typeof SECTIONS)[S] extends Readonly<Record<K, V>> ? S : never
}[SectionName]

/** Lists the sections whose property `key` is `value`, in the table's order. */
export const sectionsWith = <K extends keyof Section, const V extends Section[K]>(key: K, value: V) =>
  Object.entries(SECTIONS as Readonly<Record<string, Section>>).flatMap(([name, section]) =>
    section[key] === value ? [name] : [],
  ) as unknown as readonly SectionsWith<K, V>[]

/** The sections that are lists joined from all files of a site. */
export const JOINED_LISTS: ReadonlySet<string> = new Set(sectionsWith('holds', 'list'))
