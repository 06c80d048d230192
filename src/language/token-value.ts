import type { Json } from '../model/json.js'
import { withTokens, type Tokens } from '../model/tokens.js'

/** What a token stands for, as it is put in its place: `24px`; empty for one that stands for nothing. */
export function tokenValue(tokens: Tokens, name: string): string {
  let isWrong = false
  const value: Json = withTokens(`{${name}}`, tokens, () => (isWrong = true))
  return isWrong ? '' : typeof value === 'string' ? value : JSON.stringify(value)
}
