import { own } from '../model/json.js'
import type { Pixels } from '../model/files.js'
import type { Site } from '../model/site.js'
import { assetPath } from './asset-size.js'

/** Rows and columns of a picture, in its own px, in which nothing is drawn. */
export interface Margins {
  readonly top: number
  readonly right: number
  readonly bottom: number
  readonly left: number
}

/** Two colors nearer than this, in every channel of 0 to 255, count as one: JPEG's own noise. */
const SAME_COLOR = 8
const NONE: Margins = { top: 0, right: 0, bottom: 0, left: 0 }

const known = new WeakMap<Site['load'], Map<string, Margins | undefined>>()

/**
 * An asset's empty margins: as declared, else read from its file's points.
 *
 * @returns `undefined` when they are unknown.
 */
export function assetMargins(site: Site, id: string): Margins | undefined {
  const asset = own(site.data.assets, id)
  if (!asset) return undefined
  if (asset.margins) return { ...NONE, ...asset.margins } as Margins
  if (asset.file === undefined) return undefined
  const path = assetPath(site, id, asset.file)
  let ofSite = known.get(site.load)
  if (!ofSite) known.set(site.load, (ofSite = new Map()))
  if (!ofSite.has(path)) {
    const pixels = site.files.pixels?.(path)
    ofSite.set(path, pixels && emptyMargins(pixels))
  }
  return ofSite.get(path)
}

/**
 * The rows and columns at a picture's edges that show nothing: fully transparent, or of the color of all four corners.
 * A picture that shows nothing at all has no margins.
 *
 * ```
 *   . . . .   top 1
 *   . # # .   left 1, right 1
 *   . . . .   bottom 1
 * ```
 */
export function emptyMargins({ width, height, data }: Pixels): Margins {
  const isEmpty = emptiness(data, width, height)
  const rowEmpty = (y: number): boolean => every(width, (x) => isEmpty(x, y))
  const columnEmpty = (x: number): boolean => every(height, (y) => isEmpty(x, y))
  const top = lead(height, rowEmpty)
  if (top === height) return NONE
  const bottom = lead(height, (n) => rowEmpty(height - 1 - n))
  return { top, bottom, left: lead(width, columnEmpty), right: lead(width, (n) => columnEmpty(width - 1 - n)) }
}

function emptiness(data: Uint8Array, width: number, height: number): (x: number, y: number) => boolean {
  const at = (x: number, y: number): number => (y * width + x) * 4
  const same = (a: number, b: number): boolean =>
    [0, 1, 2, 3].every((c) => Math.abs((data[a + c] as number) - (data[b + c] as number)) < SAME_COLOR)
  const corners = [at(0, 0), at(width - 1, 0), at(0, height - 1), at(width - 1, height - 1)]
  const [first = 0] = corners
  const ground = corners.every((corner) => same(corner, first)) ? first : undefined
  return (x, y) => {
    const point = at(x, y)
    return data[point + 3] === 0 || (ground !== undefined && same(point, ground))
  }
}

function every(count: number, test: (n: number) => boolean): boolean {
  for (let n = 0; n < count; n++) if (!test(n)) return false
  return true
}

/** How many of the first hold. */
function lead(count: number, test: (n: number) => boolean): number {
  let n = 0
  while (n < count && test(n)) n += 1
  return n
}
