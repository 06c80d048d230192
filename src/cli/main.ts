import { Command, CommanderError } from 'commander'
import { ExitCode, type Io } from './io.js'
import { COMMANDS } from './commands.js'
import { VERSION } from './version.js'

/** Runs a command line; returns the exit code and never ends the process itself. */
export async function main(args: readonly string[], io: Io): Promise<ExitCode> {
  let code: ExitCode = ExitCode.fine
  const done = (result: ExitCode): void => void (code = result)
  const program = new Command('wembra')
    .description('Works out what each page of a site gets at each screen width, which setting decides it, and where they conflict.')
    .version(VERSION)
    .exitOverride()
    .configureOutput({ writeOut: io.out, writeErr: io.err })
    .showHelpAfterError('(wembra --help lists the commands; each has examples of its own)')
  const [asked = ''] = args
  // Of the others nothing but their summaries is needed: loading them takes longer than most commands run.
  for (const [name, { words, summary, load }] of Object.entries(COMMANDS))
    if (name === asked || asked === 'help') (await load())(program, io, done)
    else program.command(name).description(summary).usage(words)
  for (const command of program.commands) command.exitOverride().configureOutput({ writeOut: io.out, writeErr: io.err })
  try {
    await program.parseAsync([...args], { from: 'user' })
    return code
  } catch (error) {
    if (!(error instanceof CommanderError)) throw error
    return error.exitCode === 0 ? ExitCode.fine : ExitCode.badInput
  }
}
