import * as z from '#vendor/zod.js'
import { SiteError, type Problem } from '../model/problem.js'
import { readSource } from '../model/source.js'
import { hostileKeys, isObject, NO_KEY, toPointer, type Json, type JsonObject } from '../model/json.js'

/**
 * How another system's export becomes a site file: which records it has (JSONPath, RFC 9535, or the rows of a table),
 * where each goes, and what its fields are called and mean there.
 */
const scalar = z.union([z.string(), z.number(), z.boolean(), z.null()])
const table = z.record(z.string(), scalar)
const json: z.ZodType<Json> = z.json() as unknown as z.ZodType<Json>

const field = z.union([
  z.string().min(1),
  z.strictObject({
    /** JSONPath from the record (`$…`), or the name of a key or column. */
    at: z.string().min(1).optional(),
    /** A value given outright, whatever the record contains. */
    value: json.optional(),
    /** What words mean; a word that is not among them is `else`, or left out. Inside lists and maps others stay. */
    words: table.optional(),
    /** The same for what is under a key, at any depth. */
    wordsIn: z.record(z.string(), table).optional(),
    /** Other names for keys, at any depth. */
    keys: z.record(z.string(), z.string()).optional(),
    /** For a word that `words` does not have: reported as guessed. */
    else: json.optional(),
    /** Where the record has no value. */
    default: json.optional(),
    /** All that a JSONPath finds, instead of the first. */
    list: z.boolean().optional(),
    /** Splits a text into a list; with `parse`, one that does not parse. */
    split: z.string().min(1).optional(),
    /** What a text holds. */
    parse: z.enum(['json', 'number', 'boolean']).optional(),
  }),
])

const from = z.strictObject({
  /** Names of export files (glob); default all. */
  file: z.string().optional(),
  /** JSONPath of the records; default the rows of a table, or the document's own list. */
  at: z.string().optional(),
})

const record = z.strictObject({
  from: z.union([from, z.array(from)]).optional(),
  /** Only records that match. */
  where: table.optional(),
  /** JSON Pointer in the site file; `{name}` is the record's value, `-` adds to a list. */
  to: z.string().regex(/^(\/[^/]*)+$/, 'write a JSON Pointer such as /pages/{id}'),
  /** Keys of what is put there, by dots; `...` puts all keys of a value there. */
  fields: z.record(z.string(), field).optional(),
  /** What is put there, instead of fields. */
  value: field.optional(),
})

const mapping = z.strictObject({
  mapping: z.literal(1),
  /** Parts of the site file that no export has. */
  give: z.record(z.string(), json).optional(),
  records: z.array(record).min(1),
})

/** A mapping file: where an export has what. */
export type Mapping = z.infer<typeof mapping>
export type MappingField = z.infer<typeof field>
export type MappingRecord = z.infer<typeof record>

/** The JSON Schema (2020-12) of mapping files. */
export const mappingJsonSchema = (): JsonObject => ({
  $id: 'https://wembra.example/mapping.schema.json',
  title: 'Wembra mapping',
  ...(z.toJSONSchema(mapping, { target: 'draft-2020-12', unrepresentable: 'any' }) as JsonObject),
})

/** Reads a mapping file. @throws {SiteError} With every problem and its place. */
export function readMapping(text: string, file: string): Mapping {
  const { source, problems } = readSource(text, file)
  if (!source) throw new SiteError(problems)
  const read = mapping.safeParse(source.value)
  const hostile = hostileKeys(source.value).map((pointer): Problem => ({
    ...source.locate(pointer),
    file,
    code: 'wrong-value',
    message: NO_KEY,
  }))
  if (read.success && problems.length + hostile.length === 0) return read.data
  const found = (read.error?.issues ?? []).flatMap(flatIssue).map(({ path, message, code }): Problem => ({
    ...source.locate(toPointer(path)),
    file,
    code: code === 'unrecognized_keys' ? 'unknown-key' : 'wrong-type',
    message: `${path.join('.') || 'the mapping'}: ${message}; docs/mapping.md lists the keys of a mapping`,
  }))
  throw new SiteError([...problems, ...hostile, ...found])
}

interface Issue {
  readonly path: readonly PropertyKey[]
  readonly message: string
  readonly code: string
}

/** Of a union the branch that comes nearest: the one that does not fail at its root. */
function flatIssue(issue: z.core.$ZodIssue): readonly Issue[] {
  if (issue.code !== 'invalid_union') return [issue]
  const deep = issue.errors.filter((branch) =>
    branch.every((each) => each.path.length > 0 || each.code === 'unrecognized_keys'),
  )
  const [nearest] = deep
  if (!nearest) return [issue]
  return nearest.map((each) => ({ ...each, path: [...issue.path, ...each.path] }))
}

export const isTable = (value: Json): value is readonly JsonObject[] =>
  Array.isArray(value) && value.every((row) => isObject(row))
