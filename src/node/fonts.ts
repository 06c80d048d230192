import type * as Fontkit from 'fontkit'
import { createRequire } from 'node:module'
import { measurerOf } from '../fonts/measurer.js'
import type { TextMeasurer } from '../model/files.js'

const require = createRequire(import.meta.url)

/** A font to measure text by. The library that reads it is loaded with the first font. */
export function readFont(bytes: Uint8Array | undefined): TextMeasurer | undefined {
  if (!bytes) return undefined
  const { create } = require('#vendor/fontkit.cjs') as typeof Fontkit
  return measurerOf(create, bytes)
}
