import { LineCounter, parseDocument, type Document } from 'yaml'
import { rememberedText } from '../css/remembered-text.js'

/** A YAML 1.2 text as it was parsed, and where its lines begin. Whoever has it changes nothing in it. */
export interface YamlText {
  readonly document: Document.Parsed
  readonly lines: LineCounter
}

/** Of how many characters texts are held: in memory each takes some 40 bytes in a usual site file. */
const MOST_CHARACTERS = 250_000

/**
 * Parses a text, errors included. A site is read again when one of its files has changed, and by who checks what was
 * written: most of its texts are those of before.
 */
export const parseYaml = rememberedText(
  MOST_CHARACTERS,
  (text): YamlText => {
    const lines = new LineCounter()
    // Same keys are told in the words of a site file, and found in less time.
    return { document: parseDocument(text, { lineCounter: lines, version: '1.2', uniqueKeys: false }), lines }
  },
  ({ length }) => length,
)
