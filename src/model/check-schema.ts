import type * as z from '#vendor/zod-mini.js'
import { didYouMean } from './did-you-mean.js'
import { isObject, type Json } from './json.js'
import type { ProblemCode } from './problem.js'
import { LIMITS } from './limits.js'
import { createSiteSchema, TOO_MANY_VIEWPORTS } from './schema.js'

/** What the schema rejects in a document, at a path of it. */
export interface SchemaProblem {
  readonly code: ProblemCode
  readonly path: readonly PropertyKey[]
  readonly message: string
  /** Whether the key is at fault or the value behind it. */
  readonly what: 'key' | 'value'
}

type Issue = z.core.$ZodIssue

const schemas = new Map<string, ReturnType<typeof createSiteSchema>>()

/** All that is wrong with a merged site document by its schema. */
export function checkSchema(document: Json, viewports: readonly string[]): SchemaProblem[] {
  // Each of them is part of the schema, which would take its time to make.
  if (viewports.length > LIMITS.viewports)
    return [{ code: 'wrong-value', path: ['viewports'], message: TOO_MANY_VIEWPORTS, what: 'value' }]
  const key = JSON.stringify(viewports)
  let schema = schemas.get(key)
  if (!schema) {
    schema = createSiteSchema(viewports)
    if (schemas.size > 20) schemas.clear()
    schemas.set(key, schema)
  }
  const result = schema.safeParse(document)
  return result.success ? [] : result.error.issues.flatMap((issue) => explain(issue, document, []))
}

function explain(issue: Issue, document: Json, above: readonly PropertyKey[]): SchemaProblem[] {
  const path = [...above, ...issue.path]
  const problem = (code: ProblemCode, message: string, what: 'key' | 'value' = 'value', at = path): SchemaProblem => ({
    code,
    path: at,
    message,
    what,
  })
  switch (issue.code) {
    case 'unrecognized_keys': {
      const messages = issue.message
        .split('; unknown key')
        .map((m, i) => (i === 0 || speaksOfViewport(m) ? m : `unknown key${m}`))
      return issue.keys.map((key, i) => {
        const message = messages[i] ?? issue.message
        return problem(speaksOfViewport(message) ? 'unknown-viewport' : 'unknown-key', message, 'key', [...path, key])
      })
    }
    case 'invalid_type': {
      const found = at(document, path)
      if (found !== undefined || path.length === 0)
        return [problem('wrong-type', `${shown(found)} is not ${article(issue.expected)}`)]
      return [missing(path)]
    }
    case 'invalid_value': {
      const found = at(document, path)
      if (found === undefined) {
        const hint = issue.message.startsWith('Invalid') ? 'it is required' : issue.message
        return [problem('missing-key', `"${String(path.at(-1))}" is missing here; ${hint}`, 'key', path.slice(0, -1))]
      }
      const words = issue.values.map(String).join(', ')
      const boolean = ['yes', 'no', 'on', 'off'].includes(String(found).toLowerCase()) ? '; write true or false' : ''
      return [
        problem(
          speaksOfViewport(issue.message) ? 'unknown-viewport' : 'wrong-value',
          issue.message.startsWith('Invalid')
            ? `${shown(found)} is not one of: ${words}${boolean || meant(found, issue.values)}`
            : issue.message,
        ),
      ]
    }
    case 'invalid_union':
      return explainUnion(issue.errors, document, path)
    case 'invalid_key':
      return [
        problem(
          'wrong-value',
          `"${String(path.at(-1))}" cannot be a key here: ${issue.issues[0]?.message ?? ''}`,
          'key',
        ),
      ]
    case 'too_small':
    case 'too_big': {
      const value = at(document, path)
      if (issue.code === 'too_big' && Array.isArray(value))
        return [problem('too-large', `${value.length} entries are too many: expected at most ${String(issue.maximum)}`)]
      return [problem('wrong-value', `${shown(value)} is out of bounds: expected ${boundOf(issue)}`)]
    }
    case 'invalid_format':
      return [
        problem(
          'wrong-value',
          issue.message.startsWith('Invalid')
            ? `${shown(at(document, path))} is not a date and time such as 2026-12-01T18:00Z (ISO 8601)`
            : issue.message,
        ),
      ]
    default:
      return [problem('wrong-value', issue.message)]
  }
}

const missing = (path: readonly PropertyKey[]): SchemaProblem => ({
  code: 'missing-key',
  path: path.slice(0, -1),
  message: `"${String(path.at(-1))}" is missing here; it is required`,
  what: 'key',
})

/** What a number, text or list may be: `at least 1 character`, `less than 100000`. */
function boundOf(issue: z.core.$ZodIssueTooSmall | z.core.$ZodIssueTooBig): string {
  const unit = { string: ' character', array: ' entry' }[issue.origin as string] ?? ''
  if (issue.code === 'too_small') return `${issue.inclusive ? 'at least' : 'more than'} ${String(issue.minimum)}${unit}`
  return `${issue.inclusive ? 'at most' : 'less than'} ${String(issue.maximum)}${unit}`
}

/** The branch that was most likely meant: one that took the value as such and stumbled inside it. */
function explainUnion(
  branches: readonly (readonly Issue[])[],
  document: Json,
  path: readonly PropertyKey[],
): SchemaProblem[] {
  const value = at(document, path)
  if (value === undefined && path.length > 0) return [missing(path)]
  const inside = branches.filter((issues) => issues.some((i) => i.path.length > 0 || i.code === 'unrecognized_keys'))
  if (typeof value === 'object' && value !== null && inside.length > 0) {
    const best = inside.reduce((a, b) => (b.length < a.length ? b : a))
    return best.flatMap((issue) => explain(issue, document, path))
  }
  const flat = branches.flatMap((issues) => issues).flatMap((issue) => explain(issue, document, path))
  const custom = flat.find(
    (p) => p.code === 'wrong-value' && !p.message.includes(' is not one of: ') && p.path.length === path.length,
  )
  if (custom && typeof value !== 'object') return [custom]
  const words = flat.flatMap((p) => / is not one of: (.*)$/.exec(p.message)?.[1]?.split('; ')[0] ?? [])
  const kinds = flat.flatMap((p) => / is not (an? .*|true or false)$/.exec(p.message)?.[1] ?? [])
  const expected = [...new Set([...words, ...kinds])].join(', ')
  return [
    {
      code: words.length > 0 ? 'wrong-value' : 'wrong-type',
      path,
      what: 'value',
      message: `${shown(value)} is not one of: ${expected}${meant(
        value,
        words.flatMap((list) => list.split(', ')),
      )}`,
    },
  ]
}

/** For a mistyped word: which one was meant. */
function meant(found: Json | undefined, words: readonly unknown[]): string {
  const word = typeof found === 'string' ? didYouMean(found, words.map(String)) : undefined
  return word === undefined ? '' : `; did you mean "${word}"?`
}

const speaksOfViewport = (message: string): boolean => message.startsWith('unknown viewport')

function at(document: Json, path: readonly PropertyKey[]): Json | undefined {
  let value: Json | undefined = document
  for (const key of path) {
    if (Array.isArray(value)) value = (value as readonly Json[])[Number(key)]
    else if (isObject(value) && Object.hasOwn(value, key)) value = value[String(key)]
    else return undefined
  }
  return value
}

const ARTICLES: Readonly<Record<string, string>> = {
  object: 'a map of keys',
  record: 'a map of keys',
  array: 'a list',
  string: 'a text',
  number: 'a number',
  int: 'a whole number',
  boolean: 'true or false',
}
const article = (expected: string): string => ARTICLES[expected] ?? `a ${expected}`

const SHOWN_LENGTH = 60
function shown(value: Json | undefined): string {
  if (value === undefined) return 'nothing'
  if (Array.isArray(value)) return 'a list'
  if (typeof value === 'object' && value !== null) return 'a map of keys'
  const text = JSON.stringify(value)
  return text.length > SHOWN_LENGTH ? `${text.slice(0, SHOWN_LENGTH)}…` : text
}
