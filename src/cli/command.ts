import { Argument, type Command, type Option } from 'commander'
import { fontProblem } from '../measure/font.js'
import { formatProblem } from '../model/problem.js'
import type { Site } from '../model/site.js'
import { WembraError } from '../model/wembra-error.js'
import { COMMANDS, usageOf, type CommandName, type CommandSummary } from './commands.js'
import { ExitCode, NO_PROGRESS, type Io } from './io.js'
import { splitWords, type SiteOptions } from './site-argument.js'

/** Adds a command to a program. */
export type AddCommand = (program: Command, io: Io, done: (code: ExitCode) => void) => void

/** A command, declared. */
export interface CommandDefinition<O> {
  /** As the list of commands names it, where its arguments and summary are. */
  readonly name: CommandName
  readonly examples: readonly string[]
  readonly options?: readonly Option[]
  /** Gets its own words, as many as its arguments allow, and the site; returns the exit code. */
  readonly run: (words: readonly string[], options: O, site: string, io: Io) => ExitCode | Promise<ExitCode>
}

interface CommonOptions extends SiteOptions {
  readonly quiet?: true
}

/** Adds a command with what all have: its site, `--quiet`, examples in its help, and errors reported the same way. */
export function addCommand<O>(
  program: Command,
  io: Io,
  done: (code: ExitCode) => void,
  definition: CommandDefinition<O>,
): void {
  const { name } = definition
  const declared: CommandSummary = COMMANDS[name]
  const command = program.command(name).helpGroup(declared.group).description(declared.summary)
  // One list is parsed, since the site is recognized by its form; help shows the arguments that a person writes.
  command.argument('[words...]').usage(`${usageOf(declared)} [options]`)
  command.configureHelp({ visibleArguments: () => argumentsOf(declared) })
  for (const option of definition.options ?? []) command.addOption(option)
  if (declared.site !== 'none') command.option('--site <file>', 'the site, where its name could be taken for a word')
  command.option('-q, --quiet', 'print nothing but errors').option('--no-color', 'print without color')
  command.addHelpText('after', `\nExamples:\n${definition.examples.map((e) => `  $ ${e}`).join('\n')}`)
  command.action(async (given: readonly string[], options: O & CommonOptions) => {
    const telling = tellingFonts(io)
    const mine: Io = options.quiet ? { ...telling, out: () => undefined, progress: () => NO_PROGRESS } : telling
    const run = (): ExitCode | Promise<ExitCode> => {
      const { words, site } = splitWords(name, given, options)
      return definition.run(words, options, site, mine)
    }
    done(await guarded(run, name, io))
    mine.looked?.()
  })
}

function argumentsOf({ args = [], site }: CommandSummary): Argument[] {
  const own = args.map(({ name, text }) => new Argument(`[${name}]`, text))
  if (site === 'none') return own
  const text =
    site === 'many'
      ? 'site files, or folders with one; default: this folder; - reads standard input'
      : 'site file, or folder with one; default: this folder; - reads standard input'
  return [...own, new Argument('[site]', text)]
}

/** Says, after a look at sites, which of their fonts were needed and could not be read. */
function tellingFonts(io: Io): Io {
  const sites = new Set<Site>()
  return {
    ...io,
    opened: (site) => {
      sites.add(site)
      io.opened?.(site)
    },
    looked: () => {
      const lines = [...sites].flatMap((site) => fontProblem(site) ?? []).map(formatProblem)
      for (const line of new Set(lines)) io.err(`${line}\n`)
      sites.clear()
    },
  }
}

/** Bad input and bad use end with exit 2 and a message with the place and what to do; a bug of ours keeps its stack. */
async function guarded(run: () => ExitCode | Promise<ExitCode>, name: string, io: Io): Promise<ExitCode> {
  try {
    return await run()
  } catch (error) {
    if (!(error instanceof WembraError)) throw error
    io.err(messageOf(error, name))
    return ExitCode.badInput
  }
}

/** An error as a command prints it. Each problem of a site names its own place. */
export const messageOf = (error: WembraError, name: string): string =>
  error.code === 'site' ? `${error.message}\n` : `wembra ${name}: ${error.message}\n`
