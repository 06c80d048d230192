/**
 * Measures text with font files.
 *
 * @module wembra/fonts
 */
import { create } from 'fontkit'
import type { TextMeasurer } from '../model/files.js'
import { measurerOf } from './measurer.js'

/**
 * Measures text by a font's own glyphs: advances, kerning and ligatures, as a browser sets it.
 *
 * @param bytes - A TrueType, OpenType, WOFF or WOFF2 file.
 * @returns `undefined` when the bytes are no font.
 * @example
 * const files = memoryFiles({ 'fonts/text.woff': bytes }, fontMeasurer)
 */
export const fontMeasurer = (bytes: Uint8Array): TextMeasurer | undefined => measurerOf(create, bytes)
