import { parseColor } from './color.js'
import { parseLengths } from './length.js'

const SIDES = ['top', 'right', 'bottom', 'left'] as const

/**
 * Takes a shorthand apart into the longhands that it sets, as CSS Box 4 and Backgrounds 3 define; any other property is
 * for itself.
 *
 * @example
 * longhandsOf('padding', '0 20px') // => [['padding-top', '0'], ['padding-right', '20px'], …]
 */
export function longhandsOf(property: string, value: string): readonly (readonly [string, string])[] {
  switch (property) {
    case 'padding':
    case 'margin':
      return fourSides(property, value) ?? [[property, value]]
    case 'padding-inline':
    case 'margin-inline':
      return twoSides(property.replace('-inline', ''), ['left', 'right'], value) ?? [[property, value]]
    case 'padding-block':
    case 'margin-block':
      return twoSides(property.replace('-block', ''), ['top', 'bottom'], value) ?? [[property, value]]
    case 'inset':
      return fourSides('', value)?.map(([side, v]) => [side.slice(1), v] as const) ?? [[property, value]]
    case 'background':
      return [['background-color', backgroundColor(value)]]
    default:
      return [[LOGICAL[property] ?? property, value]]
  }
}

/** Logical sides of a page that is written from left to right, from top to bottom. */
const LOGICAL: Readonly<Record<string, string>> = {
  'padding-inline-start': 'padding-left',
  'padding-inline-end': 'padding-right',
  'padding-block-start': 'padding-top',
  'padding-block-end': 'padding-bottom',
  'margin-inline-start': 'margin-left',
  'margin-inline-end': 'margin-right',
  'margin-block-start': 'margin-top',
  'margin-block-end': 'margin-bottom',
  'max-inline-size': 'max-width',
  'inline-size': 'width',
  'block-size': 'height',
}

/** `auto` is a margin of 0 for what is in the flow and has its full width. */
const words = (value: string): readonly string[] | null => {
  const plain = value.replaceAll('auto', '0px')
  return parseLengths(plain)?.map((l) => l.source) ?? null
}

function fourSides(property: string, value: string): readonly (readonly [string, string])[] | null {
  const [top, right = top, bottom = top, left = right] = words(value) ?? []
  if (top === undefined || right === undefined || bottom === undefined || left === undefined) return null
  const values = [top, right, bottom, left]
  return SIDES.map((side, n) => [`${property}-${side}`, values[n] as string] as const)
}

function twoSides(
  property: string,
  sides: readonly string[],
  value: string,
): readonly (readonly [string, string])[] | null {
  const [start, end = start] = words(value) ?? []
  if (start === undefined || end === undefined) return null
  return sides.map((side, n) => [`${property}-${side}`, n === 0 ? start : end] as const)
}

/** The color among the words of a `background`; transparent where there is none. */
function backgroundColor(value: string): string {
  const found = splitWords(value).find((word) => parseColor(word) !== null)
  return found ?? 'transparent'
}

/** Words at the outermost level: white space inside brackets does not part them. */
function splitWords(value: string): string[] {
  const found: string[] = []
  let depth = 0
  let word = ''
  for (const character of value) {
    if (character === '(') depth += 1
    if (character === ')') depth -= 1
    if (depth === 0 && /[\s,/]/.test(character)) {
      if (word !== '') found.push(word)
      word = ''
    } else word += character
  }
  return word === '' ? found : [...found, word]
}
