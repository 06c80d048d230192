import { WembraError } from '../model/wembra-error.js'
import { didYouMean } from '../model/did-you-mean.js'
import type { Selector } from '../model/site-data.js'

/** Thrown for words that are no selector, with what was probably meant. */
export class SelectorError extends WembraError {
  override readonly name = 'SelectorError'
  readonly code = 'selector'
}

const KEYS = ['kind', 'page', 'path', 'under', 'tag', 'purpose', 'builder', 'template']

/**
 * Reads `kind=article,tag=meteors`; several values with a bar between: `kind=article|listing`; `all` is every page.
 *
 * @throws {SelectorError} When it is none.
 */
export function parseSelector(text: string): Selector {
  if (text === 'all') return { all: true }
  const entries = text.split(',').map((part) => {
    const [key = '', ...value] = part.trim().split('=')
    if (!KEYS.includes(key) || value.length === 0) {
      const meant = didYouMean(key, KEYS)
      throw new SelectorError(
        `"${part}" is not a selector; ${meant && meant !== key ? `did you mean "${meant}="?` : `write for example kind=article,tag=meteors (keys: ${KEYS.join(', ')})`}`,
      )
    }
    const values = value.join('=').split('|')
    return [key, values.length === 1 ? values[0] : values]
  })
  return Object.fromEntries(entries) as Selector
}

/** Whether a word is meant as a selector: `all`, or begins with a selector's key. */
export const isSelector = (word: string): boolean => word === 'all' || KEYS.includes(word.split('=')[0] ?? '')
