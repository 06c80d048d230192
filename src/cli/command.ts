import { FetchError } from '../node/source.js'
import { DraftError } from '../reality/draft.js'
import { ObservationError } from '../reality/observation.js'
import { Option, type Command } from 'commander'
import { EditError } from '../change/edit-yaml.js'
import { PathError } from '../change/goals.js'
import { PackError } from '../change/pack.js'
import { PatchError } from '../model/patch.js'
import { SiteError } from '../model/problem.js'
import { SelectorError } from '../select/parse-selector.js'
import { ExitCode, UsageError, type Io } from './io.js'

/** A command, declared. */
export interface CommandDefinition<O> {
  readonly name: string
  /** Its words, as help shows them. */
  readonly words: string
  readonly summary: string
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
  const command = program
    .command(definition.name)
    .description(definition.summary)
    .argument('[words...]', definition.words)
  command.usage(`${definition.words} [options]`)
  for (const option of definition.options ?? []) command.addOption(option)
  command.option('--site <file>', 'the site file; default: the one in this folder that no other extends')
  command.addHelpText('after', `\nExamples:\n${definition.examples.map((e) => `  $ ${e}`).join('\n')}`)
  command.action(async (words: readonly string[], options: O) => {
    done(await guarded(() => definition.run(words, options), definition.name, io))
  })
}

/** Errors whose message says all that a person needs. */
const MEANT_FOR_PEOPLE = [
  UsageError,
  DraftError,
  EditError,
  FetchError,
  ObservationError,
  PackError,
  PatchError,
  PathError,
  SelectorError,
]

/** Bad input and bad use end with exit 2 and a message that says where and what to do; a bug of ours keeps its stack. */
async function guarded(run: () => ExitCode | Promise<ExitCode>, name: string, io: Io): Promise<ExitCode> {
  try {
    return await run()
  } catch (error) {
    if (error instanceof SiteError) io.err(`${error.message}\n`)
    else if (MEANT_FOR_PEOPLE.some((kind) => error instanceof kind))
      io.err(`wembra ${name}: ${(error as Error).message}\n`)
    else throw error
    return ExitCode.badInput
  }
}
