import { Option, type Command } from 'commander'
import { WembraError } from '../model/wembra-error.js'
import { COMMANDS, type CommandName } from './commands.js'
import { ExitCode, type Io } from './io.js'

/** Adds a command to a program. */
export type AddCommand = (program: Command, io: Io, done: (code: ExitCode) => void) => void

/** A command, declared. */
export interface CommandDefinition<O> {
  /** As the list of commands names it, where its arguments and summary are. */
  readonly name: CommandName
  readonly examples: readonly string[]
  readonly options?: readonly Option[]
  /** Returns the exit code; only the binary touches the process. */
  readonly run: (words: readonly string[], options: O) => ExitCode | Promise<ExitCode>
}

export const choice = (flags: string, text: string, choices: readonly string[], fallback: string): Option =>
  new Option(flags, text).choices(choices).default(fallback)

/** Adds a command with what all have: `--site`, examples in its help, and errors told the same way. */
export function addCommand<O>(
  program: Command,
  io: Io,
  done: (code: ExitCode) => void,
  definition: CommandDefinition<O>,
): void {
  const { words, summary } = COMMANDS[definition.name]
  const command = program.command(definition.name).description(summary).argument('[words...]', words)
  command.usage(`${words} [options]`)
  for (const option of definition.options ?? []) command.addOption(option)
  command.option('--site <file>', 'the site file; default: the one in this folder that no other extends')
  command.addHelpText('after', `\nExamples:\n${definition.examples.map((e) => `  $ ${e}`).join('\n')}`)
  command.action(async (given: readonly string[], options: O) => {
    done(await guarded(() => definition.run(given, options), definition.name, io))
  })
}

/** Bad input and bad use end with exit 2 and a message that says where and what to do; a bug of ours keeps its stack. */
async function guarded(run: () => ExitCode | Promise<ExitCode>, name: string, io: Io): Promise<ExitCode> {
  try {
    return await run()
  } catch (error) {
    if (!(error instanceof WembraError)) throw error
    // Each problem of a site names its own place.
    io.err(error.code === 'site' ? `${error.message}\n` : `wembra ${name}: ${error.message}\n`)
    return ExitCode.badInput
  }
}
