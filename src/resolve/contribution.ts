import { FACETS, type PropertyDefinition, type SettingPath } from '../model/facets.js'
import type { Json } from '../model/json.js'
import type { AssignData } from '../model/schema.js'
import type { LayerName } from '../model/site-data.js'
import type { Setting, Settings } from './settings.js'

/** What one layer (or one assign entry) sets, in its place of the order. */
export interface Contribution {
  readonly layer: LayerName
  /** Pointers are relative to the page's `layout` or to the assign entry; for all other layers they are whole. */
  readonly settings: Settings
  /** Who this is, for a chain: "template campaign"; of an assign entry, which pages it selects. */
  readonly name: string
  /** The assign entry that it comes from. */
  readonly entry?: AssignData
}

/** How a layer's word on a property ended. */
export type Outcome = 'wins' | 'same' | 'overridden' | 'locked' | 'skipped'

const values = new Map<SettingPath, Setting>()
for (const [facet, properties] of Object.entries(FACETS))
  for (const [property, definition] of Object.entries(properties as Record<string, PropertyDefinition>))
    if (definition.baseline !== null)
      values.set(`${facet}.${property}`, { value: definition.baseline as Json, pointer: '' })

/** The layer under all others: what holds when no layer sets it anything. */
export const BASELINE: Contribution = {
  layer: 'baseline',
  settings: { values, locks: new Map() },
  name: 'built-in default',
}
