import { formatHex, formatHex8 } from 'culori/fn'
import type { Json } from '../model/json.js'
import type { Observation, ObservedBox, ObservedPart, OutlineNode } from './observation.js'
import { inWindow, sameColor } from './seen-words.js'

/** A page's observations by viewport, widest first. */
export type Views = readonly {
  readonly name: string
  readonly width: number
  readonly height: number
  readonly seen: Observation
}[]

/** Nearer than this two edges are one (design, section 5: half a CSS px). */
export const PX = 0.5
const rounded = (length: number): number => Math.round(length * 100) / 100 || 0

/** A value for all viewports, or a map of those that differ with the most frequent as `else`. */
export function byViewport(values: readonly (readonly [string, Json | undefined])[]): Json | undefined {
  const said = values.filter((each): each is readonly [string, Json] => each[1] !== undefined)
  const texts = said.map(([, value]) => JSON.stringify(value))
  const counts = new Map(texts.map((text) => [text, texts.filter((other) => other === text).length]))
  const [usual] = [...counts].sort(([, a], [, b]) => b - a)[0] ?? []
  if (usual === undefined) return undefined
  if (counts.size === 1) return JSON.parse(usual) as Json
  const own = said.filter(([, value]) => JSON.stringify(value) !== usual)
  return { ...Object.fromEntries(own), else: JSON.parse(usual) as Json }
}

/** A length as a site file has it. Where things overlap on a real page there is no room between them. */
export const px = (length: number | undefined): string | undefined =>
  length === undefined ? undefined : `${rounded(Math.max(0, length))}px`

/** A length in whole px: a part of one changes nothing that anybody sees, nor what is compared (1 px). */
export const wholePx = (length: number | undefined): string | undefined =>
  length === undefined ? undefined : `${Math.round(Math.max(0, length))}px`

export const shown = (part: ObservedPart | undefined): ObservedPart | undefined =>
  part?.presence === 'shown' ? part : undefined

/** Where a part is, if it is shown. */
export function boxOf(seen: Observation, name: keyof Observation['parts']): ObservedBox | undefined {
  const box = shown(seen.parts[name])?.box
  return box && inWindow(box, seen)
}

/** Whether a part is above the content, as wide as the window. */
export function isBand(seen: Observation, name: 'title' | 'leadImage'): boolean {
  const [box, main] = [boxOf(seen, name), boxOf(seen, 'content')]
  return box !== undefined && main !== undefined && box.height > 0 && box.y + box.height <= main.y + PX
}

/** Every node of an outline, by its place. */
export function nodesByPlace(outline: readonly OutlineNode[]): ReadonlyMap<string, OutlineNode> {
  const found = new Map<string, OutlineNode>()
  const look = (nodes: readonly OutlineNode[]): void => {
    for (const node of nodes) {
      found.set(node.at, node)
      look(node.items ?? [])
    }
  }
  look(outline)
  return found
}

/** Where a thing is, if it is shown and takes room. */
export const shownBox = (node: OutlineNode | undefined): ObservedBox | undefined =>
  node?.presence === 'shown' && node.box && node.box.height > 0 ? node.box : undefined

/** A color as people write it: hexadecimal, with alpha where it lets something through. */
export function writtenColor(text: string | undefined): string | undefined {
  const color = sameColor(text)
  if (color === undefined || color === 'transparent') return color
  return color.endsWith(', 1)') ? formatHex(color) : formatHex8(color)
}
