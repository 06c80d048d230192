import { InvalidArgumentError, Option } from 'commander'
import { SEVERITIES } from '../inspect/rule.js'
import { UsageError } from './io.js'

// The same option for the same thing in all commands.

export const choice = (flags: string, text: string, choices: readonly string[], fallback: string): Option =>
  new Option(flags, text).choices(choices).default(fallback)

/** `--format`, the first being the default. */
export const formatOption = (formats: readonly string[], text = 'how to print'): Option =>
  choice('--format <format>', text, formats, formats[0] ?? 'text')

export const outOption = (text = 'file to write to; default: standard output'): Option =>
  new Option('-o, --out <file>', text)

export const nowOption = (): Option => new Option('--now <date>', 'date used for years and countdowns; default: today')

export const viewportOption = (text = 'only at this viewport; default: all'): Option =>
  new Option('--viewport <name>', text)

export const failOnOption = (fallback: (typeof SEVERITIES)[number]): Option =>
  choice('--fail-on <severity>', 'exit with 1 when there is a finding of this severity or worse', SEVERITIES, fallback)

export const undoOption = (): Option => new Option('--undo <file>', 'save the patch that reverts the change')

/** An option that may be given again; with commas between, several at once. It never swallows the words after it. */
export const listOption = (flags: string, text: string): Option =>
  new Option(flags, `${text}; several with commas`).argParser((value: string, before: readonly string[] = []) => [
    ...before,
    ...value.split(',').map((each) => each.trim()),
  ])

/** An option that may be given again; its value may hold commas. */
export const againOption = (flags: string, text: string): Option =>
  new Option(flags, `${text}; may be repeated`).argParser((value: string, before: readonly string[] = []) => [
    ...before,
    value,
  ])

export const pageOption = (text = 'only these pages'): Option => listOption('--page <page>', text)

export const ruleOption = (): Option => listOption('--rule <rule>', 'only these rules; `wembra rules` lists them')

export const whereOption = (text = 'only pages that match: kind=article,tag=meteors'): Option =>
  againOption('--where <selector>', text)

/** A whole number from `least` on. */
export const numberOption = (flags: string, text: string, least = 0): Option =>
  new Option(flags, text).argParser((value: string) => {
    const n = Number(value)
    if (!Number.isInteger(n) || n < least)
      throw new InvalidArgumentError(`Expected a whole number${least > 0 ? ` from ${least}` : ''}.`)
    return n
  })

/** The clock that was given. @throws {UsageError} When it is no date. */
export function readClock(text: string | undefined): Date | undefined {
  if (text === undefined) return undefined
  const now = new Date(text)
  if (Number.isNaN(now.getTime())) throw new UsageError(`"${text}" is not a date; write it like 2026-11-24`)
  return now
}
