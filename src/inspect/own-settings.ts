import { partsOf, pathOf, type SettingPath } from '../model/facets.js'
import { toPointer, type Json } from '../model/json.js'
import type { Contribution } from '../resolve/contribution.js'
import type { LayerEntry } from '../resolve/layout.js'
import { sameValue } from '../resolve/page.js'
import { atViewport } from '../resolve/settings.js'
import type { PageSight } from './page-sight.js'
import type { Sight } from './sight.js'

/** One setting of a page's own layout, with its outcome at each viewport where it is set. */
export interface OwnSetting {
  readonly path: SettingPath
  readonly pointer: string
  readonly value: Json
  readonly views: readonly OwnView[]
  /** Whether what it sets is printed at any viewport. */
  readonly isAwake: boolean
}

interface OwnView {
  readonly sight: Sight
  readonly entry: LayerEntry
  /** Whether the value would be the same without it. */
  readonly isIdle: boolean
}

/** The page's own layer; `undefined` where the page overrides nothing. */
export const ownLayer = ({ page }: PageSight): Contribution | undefined =>
  page.layout.contributions.find((c) => c.layer === 'page')

/** Every setting of a page's own layout. */
export const ownSettings = (sight: PageSight): readonly OwnSetting[] => sight.once(findOwnSettings)

function findOwnSettings(sight: PageSight): readonly OwnSetting[] {
  const layer = ownLayer(sight)
  if (!layer) return []
  const { layout } = sight.page
  return [...layer.settings.values].map(([path, setting]): OwnSetting => {
    const speaking = sight.sights.filter(({ view }) => {
      const said = atViewport(setting.value, view.viewport.name)
      return said !== undefined && said !== 'inherit'
    })
    const views = speaking.flatMap((each): OwnView[] => {
      const { viewport } = each.view
      const same = (a: Json, b: Json): boolean => sameValue(a, b, viewport, sight.resolved.rem)
      const entry = layout.entries(path, viewport.name, same).find((v) => v.contribution === layer)
      if (!entry) return []
      const now = layout.decide(path, viewport.name).value
      return [{ sight: each, entry, isIdle: same(now, layout.decideWithout(path, viewport.name, layer)) }]
    })
    return {
      path,
      pointer: toPointer(['pages', sight.page.id, 'layout']) + setting.pointer,
      value: setting.value,
      views,
      isAwake: sight.some((each) => isAwakeAt(each, path)),
    }
  })
}

/** Facets that something is printed of, or not. */
const PRINTED = new Set(['header', 'footer', 'title', 'byline', 'leadImage', 'sidebar', 'comments'])

/**
 * Whether a setting of a property can be seen at a viewport: what it sets is printed there. Presence (of a sidebar
 * also its side) sleeps only behind a closed gate.
 */
export function isAwakeAt({ measure, view, page }: Sight, path: SettingPath): boolean {
  const { facet, property } = partsOf(path)
  if (!PRINTED.has(facet)) return true
  if (property === 'presence' || path === 'sidebar.side')
    return page.layout.decide(pathOf(facet, 'presence'), view.viewport.name).winner !== 'gate'
  return measure.box(facet) !== undefined
}
