import { isEqual as equal } from 'es-toolkit'
import { fromPointer, toPointer, valueAt, type Json, type JsonObject } from '../model/json.js'
import { expandSite } from '../model/shorthand.js'
import type { Site } from '../model/site.js'
import { withTokens } from '../model/tokens.js'

/**
 * A part of a site as people wrote it, tokens and shorthand kept, where one file sets all of it; where several do, what
 * they come to together, with the tokens that stand for single values kept.
 *
 * @returns `undefined` where path does not exist.
 */
export function writtenValue(site: Site, pointer: string): Json | undefined {
  const value = valueAt(site.data as unknown as Json, pointer)
  if (value === undefined) return undefined
  const raw = rawAt(site, pointer)
  if (raw !== undefined && equal(expandedAt(site, pointer, raw), value)) return raw
  if (typeof value !== 'object' || value === null) return value
  const entries = Object.entries(value).map(([key]) => [key, writtenValue(site, pointer + toPointer([key])) ?? null])
  return Array.isArray(value) ? entries.map(([, each]) => each as Json) : (Object.fromEntries(entries) as Json)
}

function rawAt(site: Site, pointer: string): Json | undefined {
  const { pointer: local, source } = site.origin(pointer)
  return valueAt(source, local)
}

/** What a raw value at a place of the document comes to. */
function expandedAt(site: Site, pointer: string, raw: Json): Json | undefined {
  const value = withTokens(raw, site.tokens, () => undefined)
  const [section, id, ...rest] = fromPointer(pointer)
  if (section === undefined) return value
  const document = nested([section, ...(id === undefined ? [] : [id]), ...rest], value)
  return valueAt(
    expandSite(
      document as JsonObject,
      site.viewports.map((v) => v.name),
    ),
    pointer,
  )
}

const nested = (path: readonly string[], value: Json): Json =>
  path.reduceRight<Json>((inside, key) => (/^\d+$/.test(key) ? atIndex(Number(key), inside) : { [key]: inside }), value)

const atIndex = (index: number, value: Json): Json => [...new Array<Json>(index).fill(null), value]
