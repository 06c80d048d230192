import type * as Webp from '@cwasm/webp'
import type * as Resvgs from '@resvg/resvg-js'
import type * as FastPng from 'fast-png'
import { imageSize } from 'image-size'
import type * as Jpeg from 'jpeg-js'
import { createRequire } from 'node:module'
import type { Pixels } from '../model/files.js'

/** What decodes a format is loaded with the first picture of it. */
const require = createRequire(import.meta.url)

/** Past these a picture is not decoded: it is no logo, and would only fill the memory. */
const LARGEST_FILE = 16 * 1024 * 1024
const MOST_POINTS = 16_000_000

/** The points of a PNG, JPEG, WebP or SVG picture; `undefined` for one that is broken, huge or of another format. */
export function decodePixels(bytes: Uint8Array): Pixels | undefined {
  if (bytes.length > LARGEST_FILE) return undefined
  try {
    const { width, height, type } = imageSize(bytes)
    if (width * height > MOST_POINTS) return undefined
    return DECODERS[type ?? '']?.(bytes)
  } catch {
    return undefined // a broken picture has no points; its margins are then those that are declared
  }
}

const DECODERS: Readonly<Record<string, (bytes: Uint8Array) => Pixels>> = {
  png: (bytes) => {
    const { decode } = require('#vendor/fast-png.cjs') as typeof FastPng
    const { width, height, data, channels, depth } = decode(bytes)
    return { width, height, data: toRgba(data, channels, depth, width * height) }
  },
  jpg: (bytes) => {
    const { decode } = require('#vendor/jpeg-js.cjs') as typeof Jpeg
    return decode(bytes, { useTArray: true, maxResolutionInMP: MOST_POINTS / 1e6 })
  },
  webp: (bytes) => {
    const { decode } = require('@cwasm/webp') as typeof Webp
    const { width, height, data } = decode(bytes)
    return { width, height, data: new Uint8Array(data) }
  },
  svg: (bytes) => {
    const { Resvg } = require('@resvg/resvg-js') as typeof Resvgs
    const image = new Resvg(new TextDecoder().decode(bytes), { font: { loadSystemFonts: false } }).render()
    return { width: image.width, height: image.height, data: image.pixels }
  },
}

/** Spreads gray, gray with alpha, or color without alpha, of 8 or 16 bits a channel, to four bytes a point. */
function toRgba(data: ArrayLike<number>, channels: number, depth: number, points: number): Uint8Array {
  const out = new Uint8Array(points * 4)
  const byte = (index: number): number => (depth === 16 ? (data[index] as number) >> 8 : (data[index] as number))
  const hasAlpha = channels === 2 || channels === 4
  for (let point = 0; point < points; point++) {
    const from = point * channels
    for (let channel = 0; channel < 3; channel++) out[point * 4 + channel] = byte(from + (channels < 3 ? 0 : channel))
    out[point * 4 + 3] = hasAlpha ? byte(from + channels - 1) : 255
  }
  return out
}
