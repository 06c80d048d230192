import { Command, CommanderError } from 'commander'
import { ExitCode, type Io } from './io.js'
import type { AddCommand } from './command.js'
import { COMMANDS, type CommandName } from './commands.js'
import { VERSION } from './version.js'

/** What each command adds to a program, loaded when it is asked for. */
const LOADERS: Readonly<Record<CommandName, () => Promise<AddCommand>>> = {
  adopt: async () => (await import('./adopt.js')).addAdopt,
  check: async () => (await import('./check.js')).addCheck,
  show: async () => (await import('./show.js')).addShow,
  why: async () => (await import('./why.js')).addWhy,
  table: async () => (await import('./table.js')).addTable,
  uses: async () => (await import('./uses.js')).addUses,
  diff: async () => (await import('./diff.js')).addDiff,
  ways: async () => (await import('./ways.js')).addWays,
  fix: async () => (await import('./fix.js')).addFix,
  css: async () => (await import('./css.js')).addCss,
  groups: async () => (await import('./groups.js')).addGroups,
  draw: async () => (await import('./draw.js')).addDraw,
  open: async () => (await import('./open.js')).addOpen,
  observe: async () => (await import('./observe.js')).addObserve,
  snapshot: async () => (await import('./snapshot.js')).addSnapshot,
  pack: async () => (await import('./pack.js')).addPack,
  unpack: async () => (await import('./unpack.js')).addUnpack,
  rules: async () => (await import('./rules.js')).addRules,
  schema: async () => (await import('./schema.js')).addSchema,
}

/** Runs a command line; returns the exit code and never ends the process itself. */
export async function main(args: readonly string[], io: Io): Promise<ExitCode> {
  let code: ExitCode = ExitCode.fine
  const done = (result: ExitCode): void => void (code = result)
  const program = new Command('wembra')
    .description(
      'Works out what each page of a site gets at each screen width, which setting decides it, and where they conflict.',
    )
    .version(VERSION)
    .exitOverride()
    .configureOutput({ writeOut: io.out, writeErr: io.err })
    .showHelpAfterError('(wembra --help lists the commands; each has examples of its own)')
  const [asked = ''] = args
  // Of the others nothing but their summaries is needed: loading them takes longer than most commands run.
  for (const [name, { words, summary }] of Object.entries(COMMANDS))
    if (name === asked || asked === 'help') (await LOADERS[name as CommandName]())(program, io, done)
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
