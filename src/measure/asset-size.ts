import { imageSize } from 'image-size'
import { own } from '../model/json.js'
import type { Site } from '../model/site.js'

interface Size {
  readonly width: number
  readonly height: number
}

const known = new WeakMap<Site['files'], Map<string, Size | undefined>>()

/**
 * An asset's size in px: as declared, else read from its file's header (PNG, JPEG, SVG, WebP, …).
 * One declared side takes the other by the file's proportion.
 */
export function assetSize(site: Site, id: string): Size | undefined {
  const asset = own(site.data.assets, id)
  if (!asset) return undefined
  const { width, height, file } = asset
  if (width !== undefined && height !== undefined) return { width, height }
  const own_ = file === undefined ? undefined : fileSize(site, file)
  if (!own_) return undefined
  if (width !== undefined) return { width, height: (own_.height * width) / own_.width }
  if (height !== undefined) return { width: (own_.width * height) / own_.height, height }
  return own_
}

function fileSize(site: Site, file: string): Size | undefined {
  let sizes = known.get(site.files)
  if (!sizes) {
    sizes = new Map()
    known.set(site.files, sizes)
  }
  if (!sizes.has(file)) sizes.set(file, readSize(site, file))
  return sizes.get(file)
}

function readSize(site: Site, file: string): Size | undefined {
  const bytes = site.files.bytes(site.files.resolve(site.file, file))
  if (!bytes) return undefined
  try {
    const { width, height } = imageSize(bytes)
    return width > 0 && height > 0 ? { width, height } : undefined
  } catch {
    return undefined // a broken picture has no size; what is drawn with it is estimated
  }
}
