/** A text with U+FFFD in place of the characters that XML 1.0 has no way to write (section 2.2). */
export const writableInXml = (text: string): string =>
  text.replace(/[^\t\n\r\u{20}-\u{D7FF}\u{E000}-\u{FFFD}\u{10000}-\u{10FFFF}]/gu, '�')

const TAG = /<[A-Za-z](?:[^"<>]|"[^"]*")*>/g
const QUOTED = /"[^"]*"/g

/** Elements written as HTML or SVG, as XML: there, unlike in HTML, `<` may not stand in the value of an attribute. */
export const asXml = (written: string): string =>
  writableInXml(written.replace(TAG, (tag) => tag.replace(QUOTED, (value) => value.replaceAll('<', '&lt;'))))
