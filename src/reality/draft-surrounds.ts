import type { Json, JsonObject } from '../model/json.js'
import { ItemDrafts } from './draft-items.js'
import type { Drafts } from './draft-shared.js'
import { byViewport, px, writtenColor, type Views } from './draft-values.js'
import type { OutlineNode } from './observation.js'

/** Headers, footers and sidebars, by equal markup, looks and heights. */
export class SurroundDrafts {
  readonly #drafts: Drafts

  constructor(drafts: Drafts) {
    this.#drafts = drafts
  }

  of(as: 'header' | 'footer' | 'sidebar', views: Views): string | undefined {
    const seen = views.filter(({ seen: { parts } }) => parts[as]?.presence === 'shown')
    const [widest] = seen
    if (!widest) return undefined
    const height = byViewport(seen.map((view) => [view.name, px(view.seen.parts[as]?.box?.height)]))
    const color = (key: 'background' | 'ink'): Json | undefined =>
      byViewport(
        seen.map((view) => [
          view.name,
          writtenColor(view.seen.parts[as]?.[key]) ?? (key === 'background' ? 'transparent' : undefined),
        ]),
      )
    const items = new ItemDrafts(this.#drafts, views, (o) => o.parts[as]?.outline ?? [], true)
    const outline = widest.seen.parts[as]?.outline ?? []
    const rows = outline.map((node): readonly OutlineNode[] =>
      node.kind === 'section' ? leaves(node.items ?? []) : [node],
    )
    const isOneRow = outline.every((node) => node.kind !== 'section')
    const value: JsonObject =
      as === 'sidebar'
        ? { as, items: items.column(leaves(outline), (seen) => seen.parts[as]?.box) }
        : {
            as,
            ...(height !== undefined && { height }),
            background: color('background') ?? 'transparent',
            ...(color('ink') !== undefined && { ink: color('ink') as Json }),
            rows: (isOneRow ? [rows.flat()] : rows)
              .map((nodes, n) => ({ id: `row-${n + 1}`, items: nodes.flatMap((node) => items.item(node) ?? []) }))
              .filter((row) => row.items.length > 0),
          }
    return this.#drafts.surrounds.of(value, as)
  }
}

/** What stands in a list, groups opened. */
const leaves = (nodes: readonly OutlineNode[]): readonly OutlineNode[] =>
  nodes.flatMap((node) => (node.kind === 'section' ? leaves(node.items ?? []) : [node]))
