import { isObject, traitsOf, type Json, type JsonObject } from './json.js'
import { LIMITS } from './limits.js'

/** A token that could not be used, with why. */
export class TokenError extends Error {
  override readonly name = 'TokenError'
  readonly token: string
  readonly code: 'unknown-token' | 'circle' | 'too-deep' | 'wrong-value'

  constructor(code: TokenError['code'], token: string, reason: string) {
    super(reason)
    this.code = code
    this.token = token
  }
}

/** Design tokens by dotted name. */
export type Tokens = ReadonlyMap<string, JsonObject>

/** `{group.name}` as the whole of a value. */
export function tokenName(value: Json): string | undefined {
  if (typeof value !== 'string' || !value.startsWith('{') || !value.endsWith('}')) return undefined
  const name = value.slice(1, -1)
  return name !== '' && !/[{}\s]/.test(name) ? name : undefined
}

/**
 * Every token of a file in the W3C community group's design-tokens format, by its dotted name.
 * A token is an object with `$value`; groups nest.
 */
export function readTokens(file: Json): Tokens {
  const tokens = new Map<string, JsonObject>()
  const walk = (group: Json, path: readonly string[], type: Json | undefined): void => {
    if (!isObject(group)) return
    const own = group['$type'] ?? type
    if (Object.hasOwn(group, '$value')) {
      tokens.set(path.join('.'), own === undefined ? group : { ...group, $type: own })
      return
    }
    for (const [key, each] of Object.entries(group)) if (!key.startsWith('$')) walk(each, [...path, key], own)
  }
  walk(file, [], undefined)
  return tokens
}

/**
 * A token's value as CSS text or a number, aliases followed.
 *
 * @throws {TokenError} When it is not there, its aliases go in a circle or too deep, or its value has no CSS form.
 */
export function tokenValue(tokens: Tokens, name: string): Json {
  const seen = new Set<string>()
  for (let here = name; ;) {
    if (seen.has(here)) throw new TokenError('circle', here, `the tokens ${[...seen, here].join(' → ')} go in a circle`)
    if (seen.size >= LIMITS.nesting) {
      const reason = `the token "${name}" stands for others more than ${LIMITS.nesting} deep; take some of these steps out`
      throw new TokenError('too-deep', name, reason)
    }
    seen.add(here)
    const token = tokens.get(here)
    if (!token) throw new TokenError('unknown-token', here, `there is no token "${here}"`)
    const value = token['$value'] as Json
    const alias = tokenName(value)
    if (alias === undefined) return cssOf(value, here)
    here = alias
  }
}

/** Dimension `{ value, unit }` and color `{ colorSpace, components, alpha, hex }` of the 2025.10 report; plain values as they are. */
function cssOf(value: Json, name: string): Json {
  if (!isObject(value)) return value
  if (typeof value['value'] === 'number' && typeof value['unit'] === 'string')
    return `${value['value']}${value['unit']}`
  const components = value['components']
  if (typeof value['colorSpace'] === 'string' && Array.isArray(components)) return cssColor(value['colorSpace'], value)
  throw new TokenError('wrong-value', name, `the token "${name}" is neither a dimension, a color nor a plain value`)
}

const FUNCTIONS = new Set(['hsl', 'hwb', 'lab', 'lch', 'oklab', 'oklch'])

function cssColor(space: string, value: JsonObject): string {
  const parts = (value['components'] as readonly Json[]).map(String)
  const percent = space === 'hsl' || space === 'hwb'
  const shown = percent ? parts.map((p, i) => (i === 0 || p === 'none' ? p : `${p}%`)) : parts
  const alpha = typeof value['alpha'] === 'number' ? ` / ${value['alpha']}` : ''
  return FUNCTIONS.has(space) ? `${space}(${shown.join(' ')}${alpha})` : `color(${space} ${shown.join(' ')}${alpha})`
}

/** Puts tokens in the place of `{names}`, anywhere in a value; `onError` gets the path of one that cannot be used. */
export function withTokens(
  value: Json,
  tokens: Tokens,
  onError: (error: TokenError, path: readonly string[]) => void,
): Json {
  return traitsOf(value).hasBraced ? replaced(value, tokens, onError, []) : value
}

function replaced(
  value: Json,
  tokens: Tokens,
  onError: (error: TokenError, path: readonly string[]) => void,
  path: readonly string[],
): Json {
  const name = tokenName(value)
  if (name !== undefined) {
    try {
      return tokenValue(tokens, name)
    } catch (error) {
      if (!(error instanceof TokenError)) throw error
      onError(error, path)
      return value
    }
  }
  if (typeof value !== 'object' || value === null) return value
  let changed = false
  const entries = Object.entries(value).map(([key, each]): [string, Json] => {
    const used = replaced(each as Json, tokens, onError, [...path, key])
    changed ||= used !== each
    return [key, used]
  })
  if (!changed) return value
  return Array.isArray(value) ? entries.map(([, each]) => each) : Object.fromEntries(entries)
}
