import type { Json } from '../model/json.js'
import type { ItemDrafts } from './draft-items.js'
import { boxOf, isBand } from './draft-values.js'
import type { Observation, ObservedBox, OutlineNode } from './observation.js'

/** Parts of the theme that may be in the column. */
export const COLUMN_PARTS = ['title', 'byline', 'leadImage', 'comments'] as const
const DEFAULT = ['title', 'byline', 'leadImage', 'content', 'comments']

/** Whether a thing is content (`body`), or where around it it is; `undefined` for one that is not seen. */
export function placeOf({ parts }: Observation, items: ItemDrafts, node: OutlineNode): string | undefined {
  const { box, presence, at } = node
  const own = box && presence === 'shown' ? box : items.at(at).find((each) => each?.presence === 'shown')?.box
  if (!own) return undefined
  const [main, container, header] = [
    parts.content?.box,
    parts.container?.box,
    parts.header?.presence === 'shown' ? parts.header.box : undefined,
  ]
  if (!main || !container) return 'body'
  const middle = own.y + own.height / 2
  if (middle < main.y)
    return header && middle < header.y + header.height && parts.header?.position !== 'fixed'
      ? 'before-header'
      : 'after-header'
  if (middle > main.y + main.height) return 'before-footer'
  if (middle < container.y) return 'before-content'
  return middle > container.y + container.height ? 'after-content' : 'body'
}

/** Whether the title is in a band of the content. */
export const holdsTitle = (nodes: readonly OutlineNode[]): boolean =>
  nodes.some(({ title, items = [] }) => title === true || holdsTitle(items))

/** A page of which the title is among the content, and not where a theme puts it. */
export function withoutTitle(seen: Observation): Observation {
  const { title: _title, ...parts } = seen.parts
  return { ...seen, parts }
}

/** Free space in the column's order of things. */
export interface Gaps {
  readonly first?: Json | undefined
  readonly before?: Json | undefined
  readonly after?: Json | undefined
}

/**
 * Parts of the theme in the order they are seen, those that are not seen where they usually are; `undefined` where
 * that is what a template without `arrange` prints.
 */
export function arrangeOf({ parts }: Observation, content: readonly ObservedBox[], gaps: Gaps): Json | undefined {
  const order = COLUMN_PARTS.flatMap((part) => {
    const found = parts[part]
    return found?.presence === 'shown' && found.box ? [{ part: part as string, y: found.box.y }] : []
  })
  const column = parts.column?.box
  const y = content.length > 0 ? Math.min(...content.map((b) => b.y)) : (column?.y ?? 0) + (column?.height ?? 0) / 2
  const all = [...order, { part: 'content', y }].sort((a, b) => a.y - b.y).map(({ part }) => part)
  for (const [n, part] of DEFAULT.entries()) {
    if (all.includes(part)) continue
    const previous = DEFAULT.slice(0, n)
      .reverse()
      .find((each) => all.includes(each))
    all.splice(previous === undefined ? 0 : all.indexOf(previous) + 1, 0, part)
  }
  const gap = (value: Json | undefined): Json[] => (value === undefined ? [] : [{ gap: value }])
  const entries = [
    ...gap(gaps.first),
    ...all.flatMap((part) =>
      part === 'content' ? [...gap(gaps.before), 'content', ...gap(gaps.after)] : [part as Json],
    ),
  ]
  return JSON.stringify(entries) === JSON.stringify(DEFAULT) ? undefined : entries
}

/** Room at a place around the content that no part of the theme takes. */
export function roomAt(seen: Observation, at: string): number {
  const [header, main, container, footer] = (['header', 'content', 'container', 'footer'] as const).map((name) =>
    boxOf(seen, name),
  )
  if (!main) return 0
  const end = main.y + main.height
  switch (at) {
    case 'before-header':
      return Math.max(0, header && takesRoom(seen) ? header.y : 0)
    case 'after-header': {
      const bands = (['title', 'leadImage'] as const).reduce(
        (sum, name) => sum + (isBand(seen, name) ? (boxOf(seen, name)?.height ?? 0) : 0),
        0,
      )
      return Math.max(0, main.y - (header && takesRoom(seen) ? header.y + header.height : 0) - bands)
    }
    case 'before-content':
      return Math.max(0, (container?.y ?? main.y) - main.y)
    case 'after-content':
      return Math.max(0, end - (container ? container.y + container.height : end))
    default:
      return Math.max(0, (footer?.y ?? end) - end)
  }
}

/** Whether the page goes on below its header, or has none. */
export const takesRoom = ({ parts }: Observation): boolean =>
  parts.header?.presence !== 'shown' || !['fixed', 'absolute'].includes(parts.header.position ?? '')
