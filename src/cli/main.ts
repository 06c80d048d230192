import { Command, CommanderError } from 'commander'
import { ExitCode, type Io } from './io.js'
import { VERSION } from './version.js'

type Add = (program: Command, io: Io, done: (code: ExitCode) => void) => void

/** Each is loaded when it is asked for: starting all of them takes longer than most of them run. */
const COMMANDS: Readonly<Record<string, () => Promise<Add>>> = {
  adopt: async () => (await import('./adopt.js')).addAdopt,
  check: async () => (await import('./check.js')).addCheck,
  show: async () => (await import('./show.js')).addShow,
  why: async () => (await import('./why.js')).addWhy,
  table: async () => (await import('./table.js')).addTable,
  uses: async () => (await import('./uses.js')).addUses,
  diff: async () => (await import('./diff.js')).addDiff,
  draw: async () => (await import('./draw.js')).addDraw,
  css: async () => (await import('./css.js')).addCss,
  groups: async () => (await import('./groups.js')).addGroups,
  fix: async () => (await import('./fix.js')).addFix,
  observe: async () => (await import('./observe.js')).addObserve,
  open: async () => (await import('./open.js')).addOpen,
  pack: async () => (await import('./pack.js')).addPack,
  unpack: async () => (await import('./unpack.js')).addUnpack,
  rules: async () => (await import('./rules.js')).addRules,
  schema: async () => (await import('./schema.js')).addSchema,
  snapshot: async () => (await import('./snapshot.js')).addSnapshot,
  ways: async () => (await import('./ways.js')).addWays,
}

/** Runs a command line; returns the exit code and never ends the process itself. */
export async function main(args: readonly string[], io: Io): Promise<ExitCode> {
  let code: ExitCode = ExitCode.fine
  const done = (result: ExitCode): void => void (code = result)
  const program = new Command('wembra')
    .description('What each page of a site gets at each screen width, who decided it, and what is in conflict.')
    .version(VERSION)
    .exitOverride()
    .configureOutput({ writeOut: io.out, writeErr: io.err })
    .showHelpAfterError('(wembra --help lists the commands; each has examples of its own)')
  const [asked = ''] = args
  const isKnown = Object.hasOwn(COMMANDS, asked)
  for (const [name, load] of Object.entries(COMMANDS)) if (!isKnown || name === asked) (await load())(program, io, done)
  for (const command of program.commands) command.exitOverride().configureOutput({ writeOut: io.out, writeErr: io.err })
  try {
    await program.parseAsync([...args], { from: 'user' })
    return code
  } catch (error) {
    if (!(error instanceof CommanderError)) throw error
    return error.exitCode === 0 ? ExitCode.fine : ExitCode.badInput
  }
}
