import * as z from '#vendor/zod-mini.js'
import { parseColor } from '../css/color.js'
import { parseLength, parseSides, type Length } from '../css/length.js'
import { didYouMean } from './did-you-mean.js'
import { sparse } from './sparse-schema.js'
import type { LengthValue } from './site-data.js'

/** `strictObject` that suggests the key that was probably meant. */
export function strict<S extends z.core.$ZodLooseShape>(shape: S) {
  const keys = Object.keys(shape)
  return sparse(
    z.strictObject(shape, {
      error: (issue) => (issue.code === 'unrecognized_keys' ? unknownKeys(issue.keys, keys) : undefined),
    }),
  )
}

function unknownKeys(found: readonly string[], known: readonly string[]): string {
  return found
    .map((key) => {
      const meant = didYouMean(key, known)
      return meant
        ? `unknown key "${key}"; did you mean "${meant}"?`
        : `unknown key "${key}"; known here: ${known.join(', ')}`
    })
    .join('; ')
}

/** What is said of keys that are no viewports. */
export const unknownViewports = (found: readonly string[], known: readonly string[]): string =>
  found.map((name) => unknownViewport(name, known)).join('; unknown key')

/** What is said of a name that is no viewport’s. */
export function unknownViewport(name: string, known: readonly string[]): string {
  const meant = didYouMean(name, known)
  return `unknown viewport "${name}"; ${meant ? `did you mean "${meant}"?` : `there are: ${known.join(', ')}`}`
}

const isLengthText = (v: LengthValue, test: (l: Length) => boolean = () => true): boolean => {
  const length = parseLength(v)
  return length !== null && test(length)
}
const LENGTH_UNITS = 'a CSS length such as 24px, 2rem or calc(100vw - 48px)'
const notNegative = (v: LengthValue): boolean => (typeof v === 'number' ? v >= 0 : !v.trim().startsWith('-'))

/** A CSS length, or one of some words. */
export const length = (words: readonly string[] = [], percent = true) =>
  z.union([z.number(), z.string()]).check(
    z.refine(
      (v) =>
        (typeof v === 'string' && words.includes(v)) ||
        (notNegative(v) && isLengthText(v, (l) => percent || !l.usesPercent)),
      {
        error: (issue) =>
          `${JSON.stringify(issue.input)} is not ${LENGTH_UNITS}${words.length ? `, nor ${words.join(', ')}` : ''}` +
          `${percent ? '' : '; percentages have no meaning here'}; negative lengths only in margins`,
      },
    ),
  )
/** One to four CSS lengths, as for a padding or margin. */
export const sides = (negative: boolean) =>
  z.union([z.number(), z.string()]).check(
    z.refine(
      (v) => {
        const four = parseSides(v)
        return (
          four !== null &&
          (negative || [four.top, four.right, four.bottom, four.left].every((l) => notNegative(l.source)))
        )
      },
      {
        error: (issue) =>
          `${JSON.stringify(issue.input)} is not one to four CSS lengths${negative ? '' : ', none negative'}`,
      },
    ),
  )
/** A CSS color. */
export const color = z
  .string()
  .check(
    z.refine((v) => parseColor(v) !== null, { error: (issue) => `${JSON.stringify(issue.input)} is not a CSS color` }),
  )

/** A list of at most so many entries. */
export const upTo = <T extends z.ZodMiniType>(most: number, schema: T) => z.array(schema).check(z.maxLength(most))
/** A value, or a list of such. */
export const oneOrMore = <T extends z.ZodMiniType>(schema: T) => z.union([schema, z.array(schema)])
/** The name of a thing. */
export const id = z.string().check(z.minLength(1))
