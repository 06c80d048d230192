const ESCAPE = '\u001b'
/** What follows the escape where it sets a color: the only sequence that commands write themselves. */
const COLOR = /^\[[\d;]*m/
const LONGEST_COLOR = 24
const SHOWN = '\ufffd'

/**
 * What may be printed: words of site files and of strangers' pages cannot move the cursor, set the title of a window or
 * make a link. For a terminal what turns the direction of text is taken out as well; in a file it is part of the words.
 */
export function printable(text: string, isTerminal: boolean): string {
  const plain = text.replace(/\p{Cc}/gu, (control, at: number) => {
    if (control === '\n' || control === '\t') return control
    if (control === '\r') return text[at + 1] === '\n' ? control : SHOWN
    if (control === ESCAPE) return COLOR.test(text.slice(at + 1, at + LONGEST_COLOR)) ? control : SHOWN
    return control >= '\u0080' && !isTerminal ? control : SHOWN
  })
  return isTerminal ? plain.replace(/\p{Bidi_Control}/gu, SHOWN) : plain
}
