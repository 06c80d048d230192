import { toJSONSchema } from '#vendor/json-schema.js'
import { FACET_NAMES, FACETS, PRESENCES } from './facets.js'
import { isObject, type Json, type JsonObject } from './json.js'
import { sentencesFor } from './key-sentences.js'
import { createSiteSchema } from './schema.js'

const TITLE = 'A Wembra site file'
/** Keys that files laid over or under another need not repeat: they are asked of the merged result only. */
const PARTIAL = 'What a file leaves out, a file that it extends or includes may set.'

/**
 * The JSON Schema (2020-12) of site files as people write them: made from the schema that checks them, with shorthand,
 * tokens, `null` and the keys of several files let in.
 */
export function siteJsonSchema(): JsonObject {
  const made = toJSONSchema(createSiteSchema(null), { target: 'draft-2020-12', unrepresentable: 'any' }) as JsonObject
  const { $schema, ...rest } = made
  return { $schema: $schema as Json, title: TITLE, description: PARTIAL, ...(asWritten(rest, []) as JsonObject) }
}

const SHORTHAND_WORDS: Readonly<Record<string, readonly Json[]>> = {
  sidebar: ['none', 'left', 'right', ...PRESENCES],
  width: ['boxed', 'full'],
  findable: [true, false],
}

/** Lets in what is written but not checked as such: shorthand of facets, `null`, and the lack of required keys. */
function asWritten(schema: Json, path: readonly string[]): Json {
  if (Array.isArray(schema)) return (schema as readonly Json[]).map((each, n) => asWritten(each, [...path, String(n)]))
  if (!isObject(schema)) return schema
  const { required: _required, ...kept } = schema
  const out: Record<string, Json> = {}
  for (const [key, value] of Object.entries(kept)) out[key] = asWritten(value, [...path, key])
  const properties = out['properties']
  if (isObject(properties) && FACET_NAMES.every((facet) => Object.hasOwn(properties, facet)))
    out['properties'] = Object.fromEntries(
      Object.entries(properties).map(([name, each]) => [name, name === 'lock' ? each : withShorthand(name, each)]),
    )
  return explained(out)
}

/** A map's schema with a sentence for each of its keys. */
function explained(schema: JsonObject): JsonObject {
  const properties = schema['properties']
  if (!isObject(properties)) return schema
  const sentences = sentencesFor(Object.keys(properties))
  const described = ([key, each]: readonly [string, Json]): readonly [string, Json] => [
    key,
    isObject(each) && sentences ? { description: sentences[key] as Json, ...each } : each,
  ]
  return { ...schema, properties: Object.fromEntries(Object.entries(properties).map(described)) }
}

function withShorthand(facet: string, full: Json): Json {
  if (!Object.hasOwn(FACETS, facet)) return full
  const words = SHORTHAND_WORDS[facet] ?? PRESENCES
  const word: Json =
    facet === 'spacing'
      ? { type: ['string', 'number'], description: 'before and after: one length for both, or two' }
      : { enum: [...words, 'inherit', 'revert'] }
  return {
    anyOf: [full, word, { type: 'object', additionalProperties: word, description: 'the shorthand by viewport' }],
  }
}
