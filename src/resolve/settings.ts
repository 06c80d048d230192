import { FACETS, isFacet, type SettingPath } from '../model/facets.js'
import { isObject, toPointer, type Json } from '../model/json.js'
import type { Layout } from '../model/site-data.js'

/** What one place sets for one property. The pointer is relative to the place its settings hang from. */
export interface Setting {
  readonly value: Json
  readonly pointer: string
  /** The template that set it, where a template took it from its base. */
  readonly from?: string
}

/** Layout settings, property by property. */
export interface Settings {
  readonly values: ReadonlyMap<SettingPath, Setting>
  /** Locked facets and properties, with the pointer of the lock. */
  readonly locks: ReadonlyMap<string, string>
}

export const NO_SETTINGS: Settings = { values: new Map(), locks: new Map() }

/** Reads layout settings (shorthand expanded). `base` goes before the pointers. */
export function readSettings(layout: Layout | undefined, base: string, from?: string): Settings {
  if (!layout) return NO_SETTINGS
  const values = new Map<SettingPath, Setting>()
  const say = (path: SettingPath, value: Json, keys: readonly string[]): void => {
    values.set(path, { value, pointer: base + toPointer(keys), ...(from !== undefined && { from }) })
  }
  for (const [facet, properties] of Object.entries(layout)) {
    if (!isFacet(facet) || !isObject(properties)) continue
    for (const property of Object.keys(FACETS[facet])) {
      if (!Object.hasOwn(properties, property)) continue
      const value = properties[property] as Json
      if (property === 'items' && isObject(value))
        for (const [item, presence] of Object.entries(value))
          say(`${facet}.items.${item}`, presence, [facet, 'items', item])
      else say(`${facet}.${property}`, value, [facet, property])
    }
  }
  const locks = new Map((layout.lock ?? []).map((path, n) => [path, `${base}/lock/${n}`]))
  return { values, locks }
}

/** Settings laid over others, as `base` does: by property; locks add up. */
export function settingsOver(under: Settings, over: Settings): Settings {
  if (under.values.size === 0 && under.locks.size === 0) return over
  return { values: new Map([...under.values, ...over.values]), locks: new Map([...under.locks, ...over.locks]) }
}

/** What a value is at a viewport: its entry, else its `else`, else nothing. */
export function atViewport(value: Json | undefined, viewport: string): Json | undefined {
  if (!isObject(value)) return value
  return Object.hasOwn(value, viewport) ? value[viewport] : Object.hasOwn(value, 'else') ? value['else'] : undefined
}

/** The setting that applies to a path; `items: inherit` applies to every item. */
export function settingFor({ values }: Settings, path: SettingPath): Setting | undefined {
  const own = values.get(path)
  if (own) return own
  const item = path.indexOf('.items.')
  return item === -1 ? undefined : values.get(path.slice(0, item + '.items'.length))
}

/** The lock that covers a path: of itself, of `facet.items`, or of its facet. */
export function lockOn(settings: Settings, path: SettingPath): string | undefined {
  if (settings.locks.size === 0) return undefined
  const [facet = '', property = ''] = path.split('.')
  return settings.locks.get(path) ?? settings.locks.get(`${facet}.${property}`) ?? settings.locks.get(facet)
}
