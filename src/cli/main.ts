import { Command, CommanderError } from 'commander'
import { ExitCode, type Io } from './io.js'
import type { AddCommand } from './command.js'
import pc from 'picocolors'
import { COMMANDS, usageOf, type CommandName, type CommandSummary } from './commands.js'
import { VERSION } from './version.js'

/** What each command adds to a program, loaded when it is asked for. */
type LoadedName = Exclude<CommandName, 'completion'>
const LOADERS: Readonly<Record<LoadedName, () => Promise<AddCommand>>> = {
  new: async () => (await import('./new.js')).addNew,
  draft: async () => (await import('./draft.js')).addDraft,
  import: async () => (await import('./import.js')).addImport,
  check: async () => (await import('./check.js')).addCheck,
  show: async () => (await import('./show.js')).addShow,
  why: async () => (await import('./why.js')).addWhy,
  table: async () => (await import('./table.js')).addTable,
  uses: async () => (await import('./uses.js')).addUses,
  diff: async () => (await import('./diff.js')).addDiff,
  how: async () => (await import('./how.js')).addHow,
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
  lsp: async () => (await import('./lsp.js')).addLsp,
}

/** Runs a command line; returns the exit code and never ends the process itself. */
export async function main(args: readonly string[], io: Io): Promise<ExitCode> {
  let code: ExitCode = ExitCode.fine
  const done = (result: ExitCode): void => void (code = result)
  const mine = args.includes('--no-color') ? { ...io, colors: pc.createColors(false) } : io
  const program = new Command('wembra')
    .description(
      'Works out what each page of a site gets at each screen width, which setting decides it, and where they conflict.',
    )
    .version(VERSION)
    .option('--no-color', 'print without color')
    .exitOverride()
    .configureOutput({ writeOut: io.out, writeErr: io.err })
    .addHelpText('after', '\nwembra <command> --help shows its options, with examples.')
    .showHelpAfterError('(wembra --help lists the commands; each has examples of its own)')
  program.addHelpCommand(
    new Command('help').argument('[command]').description('Show the help of a command').helpGroup('Look up'),
  )
  const asked = args.find((arg) => !arg.startsWith('-')) ?? ''
  const isCompletion = asked === 'completion' || asked === 'complete'
  // Of the others nothing but their summaries is needed: loading them takes longer than most commands run.
  for (const [name, declared] of Object.entries<CommandSummary>(COMMANDS))
    if (name !== 'completion' && (name === asked || asked === 'help' || isCompletion))
      (await LOADERS[name as LoadedName]())(program, mine, done)
    else if (!(isCompletion && name === 'completion'))
      program.command(name).helpGroup(declared.group).description(declared.summary).usage(usageOf(declared))
  if (isCompletion) (await import('./completion.js')).addCompletion(program)
  for (const command of program.commands) command.exitOverride().configureOutput({ writeOut: io.out, writeErr: io.err })
  try {
    await program.parseAsync([...args], { from: 'user' })
    return code
  } catch (error) {
    if (!(error instanceof CommanderError)) throw error
    return error.exitCode === 0 ? ExitCode.fine : ExitCode.badInput
  }
}
