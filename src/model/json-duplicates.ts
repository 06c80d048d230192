/**
 * Offsets of keys that repeat an earlier key of the same object. `JSON.parse` keeps the last one silently,
 * which would lose a page without a word.
 *
 * @param text - JSON that `JSON.parse` accepts; nothing else is checked here.
 */
export function duplicateKeys(text: string): number[] {
  const found: number[] = []
  const open: (Set<string> | null)[] = [] // a set for an object, null for an array
  let expectsKey = false
  for (let at = 0; at < text.length; at++) {
    switch (text.charCodeAt(at)) {
      case 0x7b: // {
        open.push(new Set())
        expectsKey = true
        break
      case 0x5b: // [
        open.push(null)
        expectsKey = false
        break
      case 0x7d: // }
      case 0x5d: // ]
        open.pop()
        expectsKey = false
        break
      case 0x2c: // ,
        expectsKey = open.at(-1) != null
        break
      case 0x22: {
        const end = endOfString(text, at)
        const keys = open.at(-1)
        if (expectsKey && keys) {
          const key = text.slice(at, end + 1)
          if (keys.has(key)) found.push(at)
          keys.add(key)
          expectsKey = false
        }
        at = end
        break
      }
    }
  }
  return found
}

/**
 * How many keys a text gives to its objects, repeated ones included.
 *
 * @param text - JSON that `JSON.parse` accepts.
 */
export function keysIn(text: string): number {
  let count = 0
  for (let at = text.indexOf('"'); at !== -1; at = text.indexOf('"', at)) {
    at = endOfString(text, at) + 1
    while (text.charCodeAt(at) <= 0x20) at++
    if (text.charCodeAt(at) === 0x3a) count++ // :
  }
  return count
}

/** The offset of the quotation mark that ends a text. */
export function endOfString(text: string, start: number): number {
  let end = text.indexOf('"', start + 1)
  while (isEscaped(text, end)) end = text.indexOf('"', end + 1)
  return end
}

function isEscaped(text: string, at: number): boolean {
  let backslashes = 0
  while (text.charCodeAt(at - 1 - backslashes) === 0x5c) backslashes++
  return backslashes % 2 === 1
}
