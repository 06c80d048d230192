import { didYouMean } from '../model/did-you-mean.js'
import type { Rule } from '../inspect/rule.js'
import { RULES } from '../inspect/rules/index.js'
import { UsageError } from './io.js'

/** The rule of an id. @throws {UsageError} When there is none. */
export function ruleNamed(id: string): Rule {
  const rule = RULES.find((each) => each.id === id)
  if (rule) return rule
  const meant = didYouMean(
    id,
    RULES.map((each) => each.id),
  )
  throw new UsageError(
    `there is no rule "${id}"${meant ? `; did you mean "${meant}"?` : '; `wembra rules` lists them'}`,
  )
}

/** The clock that was given. @throws {UsageError} When it is no date. */
export function readClock(text: string | undefined): Date | undefined {
  if (text === undefined) return undefined
  const now = new Date(text)
  if (Number.isNaN(now.getTime())) throw new UsageError(`"${text}" is no date; write for example 2026-11-24`)
  return now
}
