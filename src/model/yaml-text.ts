import { LineCounter, parseDocument, type Document } from 'yaml'

/** A YAML 1.2 text as it was parsed, and where its lines begin. Whoever has it changes nothing in it. */
export interface YamlText {
  readonly document: Document.Parsed
  readonly lines: LineCounter
}

/** Of the texts that were parsed last, in characters: some 40 bytes are held for each. */
const MOST_HELD = 250_000

/** In the order in which they were asked for. */
const held = new Map<string, YamlText>()
let length = 0

/**
 * Parses a text, errors included. A site is read again when one of its files has changed, and by who checks what was
 * written: most of its texts are those of before.
 */
export function parseYaml(text: string): YamlText {
  const known = held.get(text)
  if (known) {
    held.delete(text)
    held.set(text, known)
    return known
  }
  const lines = new LineCounter()
  // Same keys are told in the words of a site file, and found in less time.
  const document = parseDocument(text, { lineCounter: lines, version: '1.2', uniqueKeys: false })
  const read = { document, lines }
  if (text.length > MOST_HELD) return read
  held.set(text, read)
  length += text.length
  for (const oldest of held.keys()) {
    if (length <= MOST_HELD) break
    held.delete(oldest)
    length -= oldest.length
  }
  return read
}
