import { fromByteArray } from 'base64-js'
import type { Site } from '../model/site.js'

const addresses = new WeakMap<Site['load'], Map<string, string | undefined>>()

/**
 * A file of a site as a data address (RFC 2397), made once for each load of the site.
 *
 * @param path - As the site's files are reached.
 * @param type - Its media type.
 * @param most - Bytes that it may have.
 * @returns `undefined` where it is not there or larger.
 */
export function dataAddress(site: Site, path: string, type: string, most = Infinity): string | undefined {
  let known = addresses.get(site.load)
  if (!known) addresses.set(site.load, (known = new Map()))
  const key = `${type} ${path}`
  if (!known.has(key)) {
    const bytes = site.files.bytes(path)
    known.set(key, bytes && bytes.length <= most ? `data:${type};base64,${fromByteArray(bytes)}` : undefined)
  }
  return known.get(key)
}
