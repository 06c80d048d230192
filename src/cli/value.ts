import { parse } from 'yaml'
import type { Json } from '../model/json.js'
import { tokenName } from '../model/tokens.js'
import { UsageError } from './io.js'

/**
 * A value as a person writes it on the command line: YAML, so that `true`, `0` and `{ phone: 0 }` are what they look
 * like. A token (`{page.width}`) is no map, and a color (`#ffffff`) no comment.
 *
 * @throws {UsageError} When it cannot be read.
 */
export function valueOf(text: string): Json {
  if (tokenName(text) !== undefined || text.startsWith('#')) return text
  try {
    return parse(text) as Json
  } catch {
    throw new UsageError(`cannot read the value "${text}" as YAML; put quotes inside: '"${text}"'`)
  }
}
