import { calcFromComponentValues } from '@csstools/css-calc'
import {
  isCommentNode,
  isFunctionNode,
  isTokenNode,
  isWhitespaceNode,
  parseListOfComponentValues,
  type ComponentValue,
} from '@csstools/css-parser-algorithms'
import {
  isTokenDimension,
  isTokenNumber,
  isTokenPercentage,
  NumberType,
  stringify,
  tokenize,
  TokenType,
  type CSSToken,
  type TokenDimension,
} from '@csstools/css-tokenizer'

import { rememberedText } from './remembered-text.js'

/** What relative lengths are relative to. All in CSS px. */
export interface LengthContext {
  readonly width: number
  readonly height: number
  /** `typography.base`: one rem, and one em. */
  readonly rem: number
  /** What 100 % is; `undefined` where percentages have no meaning. */
  readonly percentOf?: number | undefined
}

/** A parsed length, as a function of its context. Compare by `source`. */
export interface Length {
  readonly source: string
  readonly usesPercent: boolean
  /** Pixels in the given context; not clamped, and never NaN or infinite. */
  readonly px: (context: LengthContext) => number
}

/** Past this many px a length is absurd: a browser's own layout units end near 2^25 (33 million) px. */
export const LARGEST_PX = 33_554_431

const limited = (px: number): number => (Number.isNaN(px) ? 0 : Math.min(LARGEST_PX, Math.max(-LARGEST_PX, px)))

/** Absolute units by CSS Values 4, section 6.2; relative ones by sections 6.1 and the contract (all kinds of vh are vh). */
const UNITS: Readonly<Record<string, (c: LengthContext) => number>> = {
  px: () => 1,
  in: () => 96,
  cm: () => 96 / 2.54,
  mm: () => 96 / 25.4,
  q: () => 96 / 101.6,
  pt: () => 96 / 72,
  pc: () => 16,
  rem: (c) => c.rem,
  em: (c) => c.rem,
  vw: (c) => c.width / 100,
  svw: (c) => c.width / 100,
  lvw: (c) => c.width / 100,
  dvw: (c) => c.width / 100,
  vh: (c) => c.height / 100,
  svh: (c) => c.height / 100,
  lvh: (c) => c.height / 100,
  dvh: (c) => c.height / 100,
  vmin: (c) => Math.min(c.width, c.height) / 100,
  vmax: (c) => Math.max(c.width, c.height) / 100,
}

const MATH = new Set(['calc', 'min', 'max', 'clamp'])

/** For how many texts what they mean is held. */
const MOST_PARSED = 20_000
const parsedLength = rememberedText(MOST_PARSED, read)
const parsedSides = rememberedText(MOST_PARSED, readSides)
const parsedList = rememberedText(MOST_PARSED, readList)

/**
 * Reads one CSS length.
 *
 * @param source - A bare number (px) or CSS text: a dimension, a percentage, `calc()`, `min()`, `max()`, `clamp()`.
 * @returns The length, or `null` where the text is not one.
 * @example
 * parseLength('calc(100vw - 2rem)')?.px({ width: 390, height: 844, rem: 16 }) // => 358
 */
export const parseLength = (source: number | string): Length | null =>
  typeof source === 'number' ? fixed(source, `${source}px`) : parsedLength(source)

function fixed(px: number, source: string): Length | null {
  if (!Number.isFinite(px)) return null
  const value = limited(px)
  return { source, usesPercent: false, px: () => value }
}

/** No length that somebody writes is longer, or goes deeper, than this. */
const LONGEST = 10_000
const DEEPEST = 100

function isTooMuch(source: string): boolean {
  if (source.length > LONGEST) return true
  let depth = 0
  for (const letter of source) {
    if (letter === '(' || letter === '[' || letter === '{') depth++
    if (depth > DEEPEST) return true
    if (letter === ')' || letter === ']' || letter === '}') depth--
  }
  return false
}

function read(source: string): Length | null {
  const values = components(source)
  return values?.length === 1 && values[0] ? readComponent(values[0]) : null
}

/** The component values of a text, without white space and comments; `null` where it is not CSS. */
function components(source: string): ComponentValue[] | null {
  if (isTooMuch(source)) return null
  let broken = false
  const onParseError = (): void => void (broken = true)
  const tokens: CSSToken[] = tokenize({ css: source.trim() }, { onParseError })
  const values = parseListOfComponentValues(tokens, { onParseError })
  return broken ? null : values.filter((v) => !isWhitespaceNode(v) && !isCommentNode(v))
}

function readComponent(value: ComponentValue): Length | null {
  if (isTokenNode(value)) return readToken(value.value)
  if (!isFunctionNode(value) || !MATH.has(value.getName().toLowerCase())) return null
  return readMath(value)
}

function readToken(token: CSSToken): Length | null {
  if (isTokenNumber(token)) return fixed(token[4].value, token[1])
  if (isTokenPercentage(token)) {
    const share = token[4].value / 100
    if (!Number.isFinite(share)) return null
    return { source: token[1], usesPercent: true, px: (c) => limited(share * (c.percentOf ?? 0)) }
  }
  if (!isTokenDimension(token)) return null
  const unit = UNITS[token[4].unit.toLowerCase()]
  const amount = token[4].value
  if (!unit || !Number.isFinite(amount)) return null
  return { source: token[1], usesPercent: false, px: (c) => limited(amount * unit(c)) }
}

function readMath(value: ComponentValue): Length | null {
  const text = stringify(...value.tokens())
  const usesPercent = value.tokens().some((t) => isTokenPercentage(t))
  const evaluate = (c: LengthContext): number | null => {
    const inPx = parseListOfComponentValues(value.tokens().map((t) => toPx(t, c)))
    const [result] = calcFromComponentValues([inPx], { precision: 12 })[0] ?? []
    if (!result || !isTokenNode(result)) return null
    const token = result.value
    return isTokenDimension(token) && token[4].unit === 'px' ? token[4].value : null
  }
  // Whether it is a length does not depend on the context, only on its units, so one trial decides.
  const trial = evaluate({ width: 1280, height: 800, rem: 16, percentOf: 1000 })
  if (trial === null) return null
  const answers = new Map<string, number>()
  const px = (c: LengthContext): number => {
    const key = `${c.width} ${c.height} ${c.rem} ${usesPercent ? (c.percentOf ?? 0) : ''}`
    let answer = answers.get(key)
    if (answer === undefined) {
      answer = limited(evaluate(c) ?? 0)
      if (answers.size > 1000) answers.clear()
      answers.set(key, answer)
    }
    return answer
  }
  return { source: text, usesPercent, px }
}

function toPx(token: CSSToken, c: LengthContext): CSSToken {
  if (isTokenPercentage(token)) return pxToken((token[4].value / 100) * (c.percentOf ?? 0), token)
  if (!isTokenDimension(token)) return token
  const unit = UNITS[token[4].unit.toLowerCase()]
  return unit ? pxToken(token[4].value * unit(c), token) : token
}

function pxToken(value: number, from: CSSToken): TokenDimension {
  return [TokenType.Dimension, `${value}px`, from[2], from[3], { value, unit: 'px', type: NumberType.Number }]
}

/** One value for each side. */
export interface Sides<T> {
  readonly top: T
  readonly right: T
  readonly bottom: T
  readonly left: T
}

/**
 * Reads one to four lengths as CSS's `padding` and `margin` do: top, right, bottom, left.
 *
 * @returns The four, or `null` where the text is not that.
 */
export const parseSides = (source: number | string): Sides<Length> | null =>
  typeof source === 'number' ? readSides(source) : parsedSides(source)

function readSides(source: number | string): Sides<Length> | null {
  const lengths = parseLengths(source)
  const [top, right = top, bottom = top, left = right] = lengths ?? []
  if (!top || !right || !bottom || !left || (lengths?.length ?? 0) > 4) return null
  return { top, right, bottom, left }
}

/** Reads a list of lengths with white space between; `null` where one of them is not a length. */
export function parseLengths(source: number | string): readonly Length[] | null {
  if (typeof source === 'string') return parsedList(source)
  const only = parseLength(source)
  return only && [only]
}

function readList(source: string): readonly Length[] | null {
  const lengths = components(source)?.map(readComponent)
  return lengths?.every((l) => l !== null) ? lengths : null
}
