import { Command, CommanderError } from 'commander'
import { addCheck } from './check.js'
import { addCss } from './css.js'
import { addDiff } from './diff.js'
import { addDraw } from './draw.js'
import { ExitCode, type Io } from './io.js'
import { addGroups } from './groups.js'
import { addMend } from './mend.js'
import { addOpen } from './open.js'
import { addPack } from './pack.js'
import { addRules } from './rules.js'
import { addSchema } from './schema.js'
import { addShow } from './show.js'
import { addSnapshot } from './snapshot.js'
import { addTable } from './table.js'
import { addUnpack } from './unpack.js'
import { addUses } from './uses.js'
import { addWays } from './ways.js'
import { addWhy } from './why.js'
import { VERSION } from './version.js'

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
  for (const add of [
    addCheck,
    addShow,
    addWhy,
    addTable,
    addUses,
    addDiff,
    addDraw,
    addCss,
    addGroups,
    addMend,
    addOpen,
    addPack,
    addUnpack,
    addRules,
    addSchema,
    addSnapshot,
    addWays,
  ])
    add(program, io, done)
  for (const command of program.commands) command.exitOverride().configureOutput({ writeOut: io.out, writeErr: io.err })
  try {
    await program.parseAsync([...args], { from: 'user' })
    return code
  } catch (error) {
    if (!(error instanceof CommanderError)) throw error
    return error.exitCode === 0 ? ExitCode.fine : ExitCode.badInput
  }
}
