import type { Json, Severity } from 'wembra'

/** A value as people read it. */
export function inWords(value: Json): string {
  if (value === null) return '–'
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  if (typeof value === 'number') return String(Math.round(value * 10) / 10)
  if (Array.isArray(value)) return value.map((each) => inWords(each as Json)).join(' ')
  if (typeof value === 'object')
    return Object.entries(value)
      .map(([key, each]) => `${key} ${inWords(each)}`)
      .join(', ')
  return value
}

/** What was typed, as a value: numbers, true, false and null are what they look like; all else is text. */
export function asValue(text: string): Json {
  const plain = text.trim()
  if (/^-?\d+(\.\d+)?$/.test(plain)) return Number(plain)
  if (plain === 'true' || plain === 'false') return plain === 'true'
  if (plain.startsWith('{') || plain.startsWith('[')) {
    try {
      return JSON.parse(plain) as Json
    } catch {
      return plain
    }
  }
  return plain
}

/** Each facet in a word or two. */
export function shortFacets(values: Readonly<Record<string, Json>>): readonly string[] {
  const value = (path: string): string => inWords(values[path] ?? null)
  const present = (facet: string, shown: string): string =>
    values[`${facet}.presence`] === 'shown' ? shown : value(`${facet}.presence`)
  const position = value('header.position')
  return [
    present('header', `${value('header.use')}${position === 'flow' ? '' : `, ${position}`}`),
    present('footer', value('footer.use')),
    present('title', value('title.place') === 'band' ? 'shown, band' : 'shown'),
    values['sidebar.side'] === 'none'
      ? 'none'
      : present('sidebar', `${value('sidebar.side')}, ${value('sidebar.use')}`),
    values['width.mode'] === 'full' ? 'full' : value('width.max'),
    `${value('spacing.before')} / ${value('spacing.after')}`,
  ]
}

export const count = (n: number, word: string): string => `${n} ${word}${n === 1 ? '' : 's'}`
export const sentence = (text: string): string =>
  `${text.charAt(0).toUpperCase()}${text.slice(1)}${/[?!]$/.test(text) ? '' : '.'}`

/** Told apart by lightness of ground and by their words as well; contrast at least 7. */
export const SEVERITY_COLORS: Readonly<Record<Severity, { readonly background: string; readonly color: string }>> = {
  error: { background: '#fbe0de', color: '#7d1a14' },
  warning: { background: '#fdeac4', color: '#5e3900' },
  note: { background: '#dde7fb', color: '#1b3a80' },
}
