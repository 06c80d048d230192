import { imageSize } from 'image-size'
import { own, toPointer } from '../model/json.js'
import type { Site } from '../model/site.js'

interface Size {
  readonly width: number
  readonly height: number
}

/** Sizes of files, for one load: another reads the files anew. */
const known = new WeakMap<Site['load'], Map<string, Size | undefined>>()

/**
 * An asset's size in px: as declared, else read from its file's header (PNG, JPEG, SVG, WebP, …).
 * One declared side takes the other by the file's proportion.
 */
export function assetSize(site: Site, id: string): Size | undefined {
  const asset = own(site.data.assets, id)
  if (!asset) return undefined
  const { width, height, file } = asset
  if (width !== undefined && height !== undefined) return { width, height }
  const own_ = file === undefined ? undefined : fileSize(site, assetPath(site, id, file))
  if (!own_) return undefined
  if (width !== undefined) return { width, height: (own_.height * width) / own_.width }
  if (height !== undefined) return { width: (own_.width * height) / own_.height, height }
  return own_
}

/** Where an asset's file is, as the site's files are reached: relative to the file that names it. */
export const assetPath = (site: Site, id: string, file: string): string =>
  site.files.resolve(site.origin(toPointer(['assets', id, 'file'])).file, file)

function fileSize(site: Site, file: string): Size | undefined {
  let sizes = known.get(site.load)
  if (!sizes) {
    sizes = new Map()
    known.set(site.load, sizes)
  }
  if (!sizes.has(file)) sizes.set(file, readSize(site, file))
  return sizes.get(file)
}

function readSize(site: Site, file: string): Size | undefined {
  const bytes = site.files.bytes(file)
  if (!bytes) return undefined
  try {
    const { width, height } = imageSize(bytes)
    return width > 0 && height > 0 ? { width, height } : undefined
  } catch {
    return undefined // a broken picture has no size; what is drawn with it is estimated
  }
}
