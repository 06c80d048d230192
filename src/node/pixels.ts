import type * as Webp from '@cwasm/webp'
import type * as Resvgs from '@resvg/resvg-js'
import type * as FastPng from 'fast-png'
import { imageSize } from 'image-size'
import type * as Jpeg from 'jpeg-js'
import { spawnSync } from 'node:child_process'
import { createRequire } from 'node:module'
import { inflateSync } from 'node:zlib'
import type { Pixels } from '../model/files.js'

/** What decodes a format is loaded with the first picture of it. */
const require = createRequire(import.meta.url)

/** Past these a picture is not decoded: it is no logo, and would only fill the memory. */
const LARGEST_FILE = 16 * 1024 * 1024
const MOST_POINTS = 16_000_000
/** A JPEG is sent in some ten scans at most; each is gone through whole. */
const MOST_SCANS = 100
/** A drawing that may take long is made by a process that is ended after so many ms. */
const LONGEST = 5000

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
    const { width, height, data, channels, depth } = decode(boundPng(bytes))
    return { width, height, data: toRgba(data, channels, depth, width * height) }
  },
  jpg: (bytes) => {
    const { decode } = require('#vendor/jpeg-js.cjs') as typeof Jpeg
    if (scansOf(bytes) > MOST_SCANS) throw new RangeError('a JPEG of very many scans')
    return decode(bytes, { useTArray: true, maxResolutionInMP: MOST_POINTS / 1e6 })
  },
  webp: (bytes) => {
    const { decode } = require('@cwasm/webp') as typeof Webp
    const { width, height, data } = decode(bytes)
    return { width, height, data: new Uint8Array(data) }
  },
  svg: (bytes) => {
    const text = new TextDecoder().decode(bytes)
    // In its error about such a character the drawing library ends the process.
    if (NO_XML.test(text)) throw new RangeError('a drawing with a character that XML does not allow')
    if (text.length > SHORT_SVG || MAY_TAKE_LONG.test(text)) return drawnApart(text)
    const { Resvg } = require('@resvg/resvg-js') as typeof Resvgs
    const image = new Resvg(text, { font: { loadSystemFonts: false } }).render()
    return { width: image.width, height: image.height, data: image.pixels }
  },
}

/** Characters that are in no XML document (XML 1.0, section 2.2). */
const NO_XML = /[^\t\n\r -\uFFFD]/

/** What of a PNG gives its points; all else is left out, for it may hold anything. */
const NEEDED_CHUNKS: ReadonlySet<string> = new Set(['IHDR', 'PLTE', 'tRNS', 'IDAT', 'IEND'])
const SIGNATURE = 8
/** Bytes of a chunk besides its data: length, name and check. */
const AROUND = 12
/** Samples of a point, by the color type of the header (PNG specification, section 11.2.1). */
const SAMPLES: Readonly<Record<number, number>> = { 0: 1, 2: 3, 3: 1, 4: 2, 6: 4 }

/**
 * The chunks of a PNG that its points need.
 *
 * @throws {RangeError} Where its data come to more than its points need.
 */
function boundPng(bytes: Uint8Array): Uint8Array {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const kept: Uint8Array[] = [bytes.subarray(0, SIGNATURE)]
  const packed: Uint8Array[] = []
  for (let at = SIGNATURE; at + AROUND <= bytes.length;) {
    const size = view.getUint32(at)
    const name = String.fromCharCode(...bytes.subarray(at + 4, at + 8))
    const chunk = bytes.subarray(at, at + AROUND + size)
    if (NEEDED_CHUNKS.has(name)) kept.push(chunk)
    if (name === 'IDAT') packed.push(bytes.subarray(at + 8, at + 8 + size))
    at += AROUND + size
  }
  const [width, height, depth, type] = [view.getUint32(16), view.getUint32(20), bytes[24] ?? 0, bytes[25] ?? 0]
  // A byte begins each line; of interlaced pictures there are twice the lines at most.
  const most = 2 * height * (1 + Math.ceil((width * depth * (SAMPLES[type] ?? 4)) / 8))
  inflateSync(Buffer.concat(packed), { maxOutputLength: most })
  return new Uint8Array(Buffer.concat(kept))
}

/** How often a JPEG begins a scan: the marker FF DA (ITU-T T.81, annex B). */
function scansOf(bytes: Uint8Array): number {
  let scans = 0
  for (let at = bytes.indexOf(0xff); at >= 0; at = bytes.indexOf(0xff, at + 1)) if (bytes[at + 1] === 0xda) scans += 1
  return scans
}

/** Drawings up to so many characters, without what repeats or blurs, are made at once. */
const SHORT_SVG = 200_000
const MAY_TAKE_LONG = /<(?:\w+:)?(?:filter|pattern|use|mask|image|marker)\b|<!ENTITY/i

/** Draws text from the standard input; answers with width and height, four bytes each, and the points. */
const DRAW = `
const { Resvg } = require(process.argv[1])
const image = new Resvg(require('node:fs').readFileSync(0, 'utf8'), { font: { loadSystemFonts: false } }).render()
const head = Buffer.alloc(8)
head.writeUInt32BE(image.width, 0)
head.writeUInt32BE(image.height, 4)
process.stdout.write(Buffer.concat([head, image.pixels]))
`

function drawnApart(text: string): Pixels {
  const { stdout, status } = spawnSync(process.execPath, ['-e', DRAW, require.resolve('@resvg/resvg-js')], {
    input: text,
    timeout: LONGEST,
    killSignal: 'SIGKILL',
    maxBuffer: 8 + 4 * MOST_POINTS,
  })
  if (status !== 0 || stdout.length < 8) throw new RangeError('the drawing did not end')
  return { width: stdout.readUInt32BE(0), height: stdout.readUInt32BE(4), data: new Uint8Array(stdout.subarray(8)) }
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
