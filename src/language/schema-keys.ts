import { isObject, type Json, type JsonObject } from '../model/json.js'
import { siteJsonSchema } from '../model/json-schema.js'

let root: JsonObject | undefined
const schema = (): JsonObject => (root ??= siteJsonSchema())

/** All shapes that a schema allows, references and alternatives resolved. */
function shapes(of: Json | undefined): readonly JsonObject[] {
  if (!isObject(of)) return []
  const ref = of['$ref']
  if (typeof ref === 'string') {
    const name = ref.split('/').at(-1) ?? ''
    const defs = schema()['$defs']
    return ref === '#' ? [schema()] : shapes(isObject(defs) ? defs[name] : undefined)
  }
  const alternatives = of['anyOf'] ?? of['oneOf'] ?? of['allOf']
  return Array.isArray(alternatives) ? (alternatives as readonly Json[]).flatMap(shapes) : [of]
}

/** What the schema of site files allows at a path. */
export function shapesAt(path: readonly string[]): readonly JsonObject[] {
  let here = shapes(schema())
  for (const step of path) {
    const named = here.flatMap(({ properties }) =>
      isObject(properties) && Object.hasOwn(properties, step) ? [properties[step] as Json] : [],
    )
    const others = here.map(({ items, additionalProperties }) =>
      items !== undefined && /^\d+$/.test(step) ? items : additionalProperties,
    )
    // A key that is known by its name is that; else it may be any.
    here = (named.length > 0 ? named : others).flatMap(shapes)
  }
  return here
}

/** The keys that a map at a path may have, each with its sentence. */
export function keysAt(path: readonly string[]): ReadonlyMap<string, string> {
  const found = new Map<string, string>()
  for (const { properties } of shapesAt(path))
    if (isObject(properties))
      for (const [key, each] of Object.entries(properties)) {
        const { description } = isObject(each) ? each : {}
        if (!found.has(key)) found.set(key, typeof description === 'string' ? description : '')
      }
  return found
}

/** The words that a value at a path may be. */
export const wordsAt = (path: readonly string[]): readonly string[] => [
  ...new Set(
    shapesAt(path).flatMap((shape) => {
      if (Array.isArray(shape['enum'])) return (shape['enum'] as readonly Json[]).map(String)
      if (shape['const'] !== undefined) return [String(shape['const'])]
      return shape['type'] === 'boolean' ? ['true', 'false'] : []
    }),
  ),
]

/** What a key is for, in a sentence. */
export const sentenceOf = (path: readonly string[]): string | undefined =>
  keysAt(path.slice(0, -1)).get(path.at(-1) ?? '') || undefined

/** A key with a value that fits into one field. */
export interface Field {
  readonly key: string
  /** What it is for. */
  readonly sentence: string
  /** What it may be; empty where it takes any text or number. */
  readonly words: readonly string[]
}

/**
 * The fields of a map at a path of a site file, for forms: keys whose value is a word, text or number, by viewport or not.
 *
 * @example
 * fieldsAt(['surrounds', 'top', 'rows', '0']).map(({ key }) => key) // => ['id', 'padding', 'stays']
 */
export function fieldsAt(path: readonly string[]): readonly Field[] {
  return [...keysAt(path)].flatMap(([key, sentence]) => {
    const here = shapesAt([...path, key])
    const isOne = here.some(
      ({ type, enum: words }) => words !== undefined || ![type].flat().some((t) => t === 'object' || t === 'array'),
    )
    if (!isOne) return []
    const isFree = here.some(
      ({ type, enum: words }) =>
        words === undefined && [type].flat().some((t) => t === 'string' || t === 'number' || t === 'integer'),
    )
    return [{ key, sentence, words: isFree ? [] : wordsAt([...path, key]) }]
  })
}
